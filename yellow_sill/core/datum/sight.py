"""Which pairs of points a tape can reach: within its length, with no sheet of the shell in between as far as the shell says."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely import contains_xy, union_all
from shapely.geometry.base import BaseGeometry

from ..geometry import outline_polygon
from ..records import FARTHEST_MM, Corners, Record
from .network import Place

#: A pocket tape, mm; a hook pulls true no farther.
TAPE_MM = 3000.0
#: A point this near a sheet lies on it, and is not hidden by it, mm.
ON_SHEET_MM = 40.0
#: A point this near a bar's side sits on it, mm.
ON_BAR_MM = 80.0
#: Points as low as this share of all the points' height are reached from below.
LOW_SHARE = 0.58
#: Pointers of a tram gauge lower the line between two points reached from below by this, mm; rule of thumb.
POINTER_MM = 200.0
_PLANE = {"x": (0, 1, 2), "y": (1, 0, 2), "z": (2, 0, 1)}


class Sheet(Record):
    """A flat sheet that hides one side from the other: at one value of an axis, its outlines in the two other axes (xyz order)."""

    axis: Literal["x", "y", "z"]
    at_mm: Annotated[float, Field(ge=-FARTHEST_MM, le=FARTHEST_MM)]
    outlines: Annotated[list[Corners], Field(min_length=1, max_length=200)]
    holes: Annotated[list[Corners], Field(max_length=200)] = []


class Plate(Record):
    """A flat sheet of the structure, three or four corners in order round it, mm."""

    name: Annotated[str, Field(max_length=60)]
    corners: Annotated[list[Place], Field(min_length=3, max_length=4)]


class Bar(Record):
    """A rail, post or member of the structure: between two places, as thick as twice its radius, mm."""

    name: Annotated[str, Field(max_length=60)]
    start: Place
    end: Place
    radius_mm: Annotated[float, Field(gt=0, le=500)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Reach:
    """Which pairs a tape can join (indices, the lower first), and what hides the others within its length."""

    pairs: list[tuple[int, int]]
    hidden: dict[tuple[int, int], str]


def in_reach(
    places: np.ndarray,
    sheets: Sequence[Sheet] = (),
    tape_mm: float = TAPE_MM,
    *,
    plates: Sequence[Plate] = (),
    bars: Sequence[Bar] = (),
) -> list[tuple[int, int]]:
    """Pairs of points that a tape can join. Args, raises: see ``reach``."""
    return reach(places, sheets, tape_mm, plates=plates, bars=bars).pairs


def reach(
    places: np.ndarray,
    sheets: Sequence[Sheet] = (),
    tape_mm: float = TAPE_MM,
    *,
    plates: Sequence[Plate] = (),
    bars: Sequence[Bar] = (),
) -> Reach:
    """Pairs of points that a tape can join, and what hides the others.

    Two points that are both reached from below may also be joined by a tram gauge, whose pointers lower the line.

    Args: places: n x 3, mm; sheets, plates, bars: what hides; tape_mm: length of the tape.
    Raises: BadOutline for a sheet that crosses itself.
    Source: a straight line against flat sheets and round bars; docs/methods.md section 7.
    """
    first, second = np.triu_indices(len(places), 1)
    length = np.linalg.norm(places[first] - places[second], axis=1)
    near = np.flatnonzero((length <= tape_mm) & (length > 0))
    first, second = first[near], second[near]
    metal = [_sheet_metal(sheet, i) for i, sheet in enumerate(sheets)]
    by = _hidden_by(places[first], places[second], metal, plates, bars)
    low = (
        places[:, 2] <= places[:, 2].min() + LOW_SHARE * np.ptp(places[:, 2])
        if len(places)
        else np.zeros(0, bool)
    )
    again = np.flatnonzero((by != "") & low[first] & low[second])
    if len(again):
        lowered = np.array([0, 0, POINTER_MM])
        by[again] = _hidden_by(
            places[first[again]] - lowered, places[second[again]] - lowered, metal, plates, bars
        )
    pairs = list(zip(first.tolist(), second.tolist(), strict=True))
    return Reach(
        pairs=[pair for pair, name in zip(pairs, by, strict=True) if not name],
        hidden={pair: str(n) for pair, n in zip(pairs, by, strict=True) if n},
    )


def _sheet_metal(sheet: Sheet, number: int) -> tuple[Sheet, BaseGeometry]:
    metal = union_all([outline_polygon(ring, f"sheets[{number}]") for ring in sheet.outlines])
    holes = [outline_polygon(ring, f"sheets[{number}].holes") for ring in sheet.holes]
    return sheet, metal.difference(union_all(holes)) if holes else metal


def _hidden_by(
    a: np.ndarray,
    b: np.ndarray,
    metal: Sequence[tuple[Sheet, BaseGeometry]],
    plates: Sequence[Plate],
    bars: Sequence[Bar],
) -> np.ndarray:
    """The name of the first thing between each pair of places (k x 3 each), empty where there is none."""
    by = np.full(len(a), "", dtype="U60")
    for sheet, shape in metal:
        axis, u, v = _PLANE[sheet.axis]
        above, below = a[:, axis] - sheet.at_mm, b[:, axis] - sheet.at_mm
        rows = np.flatnonzero(
            (by == "") & (above * below < 0) & (np.abs(above) > ON_SHEET_MM) & (np.abs(below) > ON_SHEET_MM)
        )
        if len(rows):
            crossing = a[rows] + (above[rows] / (above[rows] - below[rows]))[:, None] * (b[rows] - a[rows])
            by[rows[contains_xy(shape, crossing[:, u], crossing[:, v])]] = "the floor"
    for plate in plates:
        corners = np.array(plate.corners, float)
        for triangle in (corners[[0, 1, 2]], corners[[0, 2, 3]]) if len(corners) == 4 else (corners,):
            by[(by == "") & _through(a, b, triangle)] = plate.name
    for bar in bars:
        by[(by == "") & _past(a, b, bar)] = bar.name
    return by


def _through(a: np.ndarray, b: np.ndarray, triangle: np.ndarray) -> np.ndarray:
    """Which lines go through a triangle that neither of their ends lies on (Moeller and Trumbore 1997)."""
    corner, e, f = triangle[0], triangle[1] - triangle[0], triangle[2] - triangle[0]
    normal = np.cross(e, f)
    size = float(np.linalg.norm(normal))
    if size < 1e-6:
        return np.zeros(len(a), bool)
    from_a, from_b = (a - corner) @ normal / size, (b - corner) @ normal / size
    apart = (from_a * from_b < 0) & (np.abs(from_a) > ON_SHEET_MM) & (np.abs(from_b) > ON_SHEET_MM)
    share = np.where(apart, from_a / np.where(apart, from_a - from_b, 1), 0)
    at = a + share[:, None] * (b - a) - corner
    inverse = np.linalg.pinv(np.column_stack([e, f]))
    u, v = inverse @ at.T
    return apart & (u >= 0) & (v >= 0) & (u + v <= 1)


def _past(a: np.ndarray, b: np.ndarray, bar: Bar) -> np.ndarray:
    """Which lines pass through a bar that neither of their ends lies on."""
    start, end = np.array(bar.start, float), np.array(bar.end, float)
    along = end - start
    long = float(along @ along)
    if long < 1e-6:
        return np.zeros(len(a), bool)
    on = [
        np.linalg.norm(p - start - np.clip((p - start) @ along / long, 0, 1)[:, None] * along, axis=1)
        < bar.radius_mm + ON_BAR_MM
        for p in (a, b)
    ]
    d, r = b - a, a - start
    aa, bb, c, f = (d * d).sum(axis=1), d @ along, (d * r).sum(axis=1), r @ along
    slant = aa * long - bb * bb
    s = np.where(slant > 1e-9, np.clip((bb * f - c * long) / np.where(slant > 1e-9, slant, 1), 0, 1), 0)
    t = np.clip((bb * s + f) / long, 0, 1)
    s = np.clip((bb * t - c) / np.maximum(aa, 1e-9), 0, 1)
    gap = np.linalg.norm(r + s[:, None] * d - t[:, None] * along, axis=1)
    return ~on[0] & ~on[1] & (gap < bar.radius_mm)
