"""The structure of a vehicle: the laid-out body carried to its own dimensions, and its parts told from the panels of its shell."""

from collections.abc import Collection, Mapping, Sequence

from ..shell.body_types import checked_sizes
from ..shell.saloon import stretches
from ..shell.stations import piecewise
from .unitary import saloon_nodes, saloon_structure

#: Body types that have a structure.
BODIES = ("saloon-2-door-unitary",)
#: Stations of the laid-out structure and where the same places are on the reference drawing, mm.
_ALONG = ((60, 650, 1120, 1180, 1680, 2200, 2470, 2950, 3020, 3640), (-560, 0, 560, 700, 1260, 1850, 2060, 2400, 2460, 3240))
_ACROSS = ((0, 400, 450, 540, 640), (0, 380, 470, 560, 722))
_UPWARDS = ((200, 240, 430, 820, 1280, 1300), (260, 290, 420, 870, 1262, 1285))
#: Panels of the shell that each part is; ``*`` stands for L and R. Parts that no drawing shows have none.
PANELS = {
    "sill_outer_*": ("*-SILL",), "sill_diaph_*": ("*-SILLM",), "sill_inner_*": ("*-SILLI",), "floor_*": ("*-FLOOR",), "tunnel": ("TUN",),
    "toe_xm_*": ("*-TOE", "*-OUTR"), "bulkhead": ("BULK",), "scuttle": ("SCUTTLE",), "apost_outer_*": ("*-APOST",), "apost_inner_*": ("*-APOSTM",),
    "screen_pillar_*": ("*-PILLM",), "bpost_outer_*": ("*-BPOST",), "bpost_inner_*": ("*-BPOSTI",), "cantrail_*": ("*-CANT", "*-CANTM"), "roof": ("ROOF",),
    "quarter_*": ("*-QTR",), "front_panel": ("NOSE",), "rear_panel": ("TAIL",), "wheelarch_*": ("*-ARCHI",), "front_rail_*": ("*-LEG",),
    "inner_wing_*": ("*-IWING",), "front_xm": ("XMF",), "rear_rail_*": ("*-RAIL",), "boot_floor": ("BOOT",), "seat_pan": ("SEAT",),
}  # fmt: skip


#: What lies under what: the second comes off before the first, and goes on after it.
UNDER = (("sill_inner_*", "floor_*"), ("sill_diaph_*", "sill_outer_*"), ("apost_outer_*", "sill_outer_*"))


def rules_of(parts: Collection[str]) -> list[list[str]]:
    """Which of some parts lies under which other: [under, over].

    >>> rules_of(["floor_L", "sill_inner_L", "sill_inner_R"])
    [['sill_inner_L', 'floor_L']]
    """
    both = ([name.replace("*", side) for name in pair] for pair in UNDER for side in "LR")
    return [pair for pair in both if set(pair) <= set(parts)]


def all_out_first(parts: Sequence[str]) -> list[str]:
    """The order that people fall into: everything out, outermost first, then everything in, the other way round."""
    over = {under: [b for a, b in rules_of(parts) if a == under] for under in parts}
    outermost = sorted(parts, key=lambda part: len(over[part]))
    return [f"-{part}" for part in outermost] + [f"+{part}" for part in reversed(outermost)]


def vehicle_structure(body: str, dimensions_mm: Mapping[str, float]) -> dict | None:
    """The structure of a vehicle as plain values for ``HoldRequest``; None where its body type has none yet.

    Args: body: name of the body type; dimensions_mm: by name, one left out is as usual.
    Raises: BadField: a dimension out of range, or some that cannot go together.
    """
    if body not in BODIES:
        return None
    along, across, upwards = stretches(checked_sizes(body, dimensions_mm))
    to_x, to_y, to_z = piecewise(*_ALONG), piecewise(*_ACROSS), piecewise(*_UPWARDS)
    nodes = {}
    for name, (x, y, z) in saloon_nodes().items():
        side = -1.0 if y < 0 else 1.0
        nodes[name] = [along(to_x(x)), side * across(to_y(abs(y))), upwards(to_z(z))]
    return saloon_structure(nodes)


def panels_of(part: str) -> tuple[str, ...]:
    """Codes of the panels that a part is."""
    if part in PANELS:
        return PANELS[part]
    stem, _, hand = part.rpartition("_")
    return tuple(code.replace("*", hand) for code in PANELS.get(f"{stem}_*", ()))
