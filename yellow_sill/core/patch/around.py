"""What stands round an opening and on its patch: neighbours' ribs, new plug welds, edges that can be dragged, the card before the steel."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from shapely.geometry import LineString, Point, Polygon, box

from ..geometry import Xy, bounds_of, widened
from .opening import BENT, EdgeMade
from .part import PartRequest
from .seen import Seen

#: Neighbours' ribs are shown so far round the opening, mm; a card is so thick that no bend takes any of it, mm.
ROUND_MM, CARD_MM = 60.0, 0.01
#: A weld nearer to the rim is the seam's, mm.
RIM_MM = 5.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Grip:
    """Where an edge's width can be dragged: the edge, which of its sizes, its place on the flat's rim, the direction that makes it wider."""

    edge: str
    size: str
    at: Xy
    out: Xy


def lines_near(
    lines: Iterable[Sequence[Sequence[float]]], opening: Sequence[Sequence[float]]
) -> list[list[Xy]]:
    """The parts of lines (ribs, creases) within ROUND_MM of an opening's box."""
    frame = box(*widened(bounds_of(opening), ROUND_MM))
    found: list[list[Xy]] = []
    for line in lines:
        if len(line) < 2:
            continue
        cut = LineString(line).intersection(frame)
        parts = getattr(cut, "geoms", [cut])
        found += [
            [(round(u, 2), round(v, 2)) for u, v in part.coords]
            for part in parts
            if part.geom_type == "LineString" and part.length > 1
        ]
    return found


def grips(seen: Sequence[Seen], made: Mapping[str, EdgeMade], flat: Sequence[Sequence[float]]) -> list[Grip]:
    """Where widths can be dragged: outward of the middle of each edge that has one, on the flat's rim."""
    if len(flat) < 3:
        return []
    shape = Polygon(flat)
    found = []
    for edge in seen:
        how = made[edge.name]
        if how.treatment not in (*BENT, "lap"):
            continue
        line = LineString(edge.path)
        middle = line.interpolate(0.5, normalized=True)
        before, after = line.interpolate(line.length / 2 - 1), line.interpolate(line.length / 2 + 1)
        far = math.hypot(after.x - before.x, after.y - before.y) or 1.0
        out = ((after.y - before.y) / far, -(after.x - before.x) / far)
        ends = [_rim(shape, (middle.x, middle.y), way) for way in (out, (-out[0], -out[1]))]
        at, way = min(
            zip(ends, (out, (-out[0], -out[1])), strict=True),
            key=lambda each: math.dist(each[0], (middle.x, middle.y)),
        )
        size = "second" if how.treatment == "return" else "leg"
        found.append(Grip(edge=edge.name, size=size, at=at, out=(round(way[0], 5), round(way[1], 5))))
    return found


def _rim(shape: Polygon, start: Xy, way: Xy) -> Xy:
    """Where a ray from a place leaves a shape for the last time."""
    ray = LineString([start, (start[0] + 2000 * way[0], start[1] + 2000 * way[1])])
    crossed = ray.intersection(shape.exterior)
    points = [
        Point(at) for part in getattr(crossed, "geoms", [crossed]) for at in getattr(part, "coords", [])
    ]
    if not points:
        return start
    last = max(points, key=lambda point: point.distance(Point(start)))
    return round(last.x, 2), round(last.y, 2)


def card_part(part: PartRequest) -> PartRequest:
    """The same part in card: it folds on its mould lines, so that no bend takes or gives anything."""
    runs = [run.model_copy(update={"inside_radius_mm": 0.0}) for run in part.runs]
    return part.model_copy(
        update={"thickness_mm": CARD_MM, "inside_radius_mm": 0.0, "k_factor": 0.5, "runs": runs}
    )


def within(places: Iterable[Sequence[float]], opening: Sequence[Sequence[float]]) -> list[Xy]:
    """Those of some places that lie in the opening and not on its rim, where the seam runs."""
    shape = Polygon(opening).buffer(-RIM_MM)
    return [
        (round(float(at[0]), 2), round(float(at[1]), 2))
        for at in places
        if shape.contains(Point(at[0], at[1]))
    ]


#: A weld of a row belongs to the edge of the flange within this, a tapped gap to the edge within the second, mm.
ON_FLANGE_MM, ON_EDGE_MM = 30.0, 6.0


def places_along(places: Sequence[Sequence[float]], path: Sequence[Sequence[float]]) -> list[list[float]]:
    """Those of some places that lie along an edge, in their order along it."""
    line = LineString(path)
    near = [
        (line.project(Point(at)), [float(at[0]), float(at[1])])
        for at in places
        if line.distance(Point(at)) <= ON_FLANGE_MM
    ]
    return [at for _, at in sorted(near)]


def worst_gap_along(
    gaps: Sequence[tuple[Sequence[float], float]], path: Sequence[Sequence[float]]
) -> float | None:
    """The gap farthest from nothing that was tapped on an edge, mm; None where nothing was. Args: gaps: place and gap."""
    line = LineString(path)
    near = [gap for at, gap in gaps if line.distance(Point(at)) <= ON_EDGE_MM]
    return max(near, key=abs, default=None)
