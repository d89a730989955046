"""What happened at a place on the shell: everything whose outline it lies in, or comes near."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import shapely
from pydantic import Field

from ..records import Point, Record
from ..said import Count, Mm, Said

#: So near counts as there, mm.
NEAR_MM = 120.0
_Outline = Annotated[
    list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(min_length=1, max_length=4000)
]


class PlacedThing(Record):
    """Something with a place: what it is known by, its outline, or its one point, mm in the view."""

    key: Annotated[str, Field(min_length=1, max_length=80)]
    outline: _Outline


class PointRequest(Record):
    """A place in a view, mm, how near counts, and all that lies in that view."""

    at: Point
    near_mm: Annotated[float, Field(ge=0, le=5000)] = NEAR_MM
    things: Annotated[list[PlacedThing], Field(max_length=50_000)]


@dataclass(frozen=True, slots=True, kw_only=True)
class AtPoint:
    """Keys of what is there, the nearest first (0: the place lies in it), each with how far off, mm."""

    keys: list[str]
    off_mm: list[float]
    words: Said


def at_point(request: PointRequest) -> AtPoint:
    """What lies at a place, or comes within so much of it.

    Args: request: see PointRequest. Returns: the nearest first, equals in the order of the request; an outline that crosses itself is taken as its lines.
    Source: distance from a point to a polygon; a box round each outline sorts out what is far.
    """
    u, v = request.at
    found: list[tuple[float, int]] = []
    here = shapely.Point(u, v)
    for n, thing in enumerate(request.things):
        us, vs = zip(*thing.outline, strict=True)
        off = max(min(us) - u, u - max(us), min(vs) - v, v - max(vs))
        if off > request.near_mm:
            continue
        far = float(shapely.distance(_shape(thing.outline), here))
        if far <= request.near_mm:
            found.append((round(far, 1), n))
    found.sort()
    return AtPoint(
        keys=[request.things[n].key for _, n in found], off_mm=[far for far, _ in found],
        words=Said("{things} within {near} of there.", things=Count(len(found), "thing", "things"), near=Mm(request.near_mm)),
    )  # fmt: skip


def _shape(outline: Sequence[Sequence[float]]) -> shapely.Geometry:
    if len(outline) < 3:
        return shapely.LineString(outline) if len(outline) == 2 else shapely.Point(outline[0])
    shape = shapely.Polygon(outline)
    return shape if shape.is_valid else shapely.LineString([*outline, outline[0]])


def ring(at: Sequence[float], radius_mm: float = NEAR_MM) -> list[list[float]]:
    """A circle as an outline of 48 corners, as it is drawn round a place."""
    return [
        [float(u), float(v)]
        for u, v in shapely.Point(at[0], at[1]).buffer(radius_mm, quad_segs=12).exterior.coords[:-1]
    ]
