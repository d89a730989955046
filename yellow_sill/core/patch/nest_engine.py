"""The packing engine (spyrrow) on one whole sheet: shorter, where it finds a layout that reaches less far.

The engine stops by the clock. With one worker, the layouts that it finds come in the same order for the same seed, so a stated number of
them is looked through and the clock only ends what takes too long: that is told (docs/decisions/0026).
"""

import time
from collections.abc import Sequence

import spyrrow
from shapely import affinity

from .nest_fill import Layout
from .nest_shapes import Region, Turned

#: How long the engine may look for layouts, seconds, and how long it may press the last one together (its least).
SECONDS, PRESSING_S = 3, 0
#: Overlap of two grown patterns that is rounding, mm2.
ROUNDING_MM2 = 0.5


def packed(
    region: Region, ways: Sequence[Sequence[Turned]], finds: int, seed: int
) -> tuple[Layout | None, bool]:
    """Pack all of some patterns along a sheet.

    Args:
        region: a box; ways: for each pattern the ways it may lie, all of one hand; finds: layouts that are looked through; seed: as for the nest.
    Returns: the layout that reaches least far and lies within the region, or None; whether the clock ended the search before the finds were through.
    """
    u0, v0, u1, v1 = region.shape.bounds
    base = [each[0] for each in ways]
    items = [
        spyrrow.Item(
            str(number),
            list(each[0].grown.exterior.coords[:-1]),
            1,
            sorted({way.turned_deg - each[0].turned_deg for way in each}),
        )
        for number, each in enumerate(ways)
    ]
    queue = spyrrow.ProgressQueue()
    config = spyrrow.StripPackingConfig(
        total_computation_time=None, exploration_time=SECONDS, compression_time=PRESSING_S, num_workers=1, seed=seed
    )  # fmt: skip
    began = time.monotonic()
    try:
        spyrrow.StripPackingInstance("", v1 - v0, items).solve(config, queue)
    except (ValueError, RuntimeError):
        return None, False
    took = time.monotonic() - began
    found = [solution for kind, solution in queue.drain() if kind == spyrrow.ReportType.ExplFeas]
    by_clock = len(found) < finds and took >= SECONDS
    for solution in reversed(found[:finds]):
        if solution.width > u1 - u0:
            return None, by_clock
        layout = _read(region, base, ways, solution)
        if layout is not None:
            return layout, by_clock
    return None, by_clock


def _read(
    region: Region,
    base: Sequence[Turned],
    ways: Sequence[Sequence[Turned]],
    solution: spyrrow.StripPackingSolution,
) -> Layout | None:
    """The engine's layout as ours; None where it does not keep the kerf or leaves the region."""
    u0, v0, _, _ = region.shape.bounds
    layout = Layout()
    shapes = []
    for item in solution.placed_items:
        number = int(item.id)
        angle = (base[number].turned_deg + item.rotation) % 360
        way = min(
            ways[number],
            key=lambda each: abs((each.turned_deg - angle + 180) % 360 - 180),
        )
        at = (item.translation[0] + u0, item.translation[1] + v0)
        layout.places.append((way, at))
        shapes.append(affinity.translate(way.grown, *at))
    inside = all(shape.difference(region.shape).area < ROUNDING_MM2 for shape in shapes)
    apart = all(
        shape.intersection(other).area < ROUNDING_MM2
        for number, shape in enumerate(shapes)
        for other in shapes[:number]
    )
    return layout if inside and apart and len(shapes) == len(base) else None
