"""Which pairs of points a tape can reach: within its length, with no sheet of the shell in between as far as the shell says."""

from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely import contains_xy, union_all
from shapely.geometry import Polygon

from ..geometry import outline_polygon
from ..records import FARTHEST_MM, Corners, Record

#: A pocket tape, mm; a hook pulls true no farther.
TAPE_MM = 3000.0
#: A point this near a sheet lies on it, and is not hidden by it, mm.
ON_SHEET_MM = 40.0
_PLANE = {"x": (0, 1, 2), "y": (1, 0, 2), "z": (2, 0, 1)}


class Sheet(Record):
    """A flat sheet that hides one side from the other: at one value of an axis, its outlines in the two other axes (xyz order)."""

    axis: Literal["x", "y", "z"]
    at_mm: Annotated[float, Field(ge=-FARTHEST_MM, le=FARTHEST_MM)]
    outlines: Annotated[list[Corners], Field(min_length=1, max_length=200)]
    holes: Annotated[list[Corners], Field(max_length=200)] = []


def in_reach(places: np.ndarray, sheets: Sequence[Sheet] = (), tape_mm: float = TAPE_MM) -> list[tuple[int, int]]:
    """Pairs of points that a tape can join.

    Args: places: n x 3, mm; sheets: what hides; tape_mm: length of the tape.
    Returns: pairs of indices, the lower first.
    Raises: BadOutline for a sheet that crosses itself.
    """
    first, second = np.triu_indices(len(places), 1)
    length = np.linalg.norm(places[first] - places[second], axis=1)
    free = (length <= tape_mm) & (length > 0)
    for i, sheet in enumerate(sheets):
        axis, a, b = _PLANE[sheet.axis]
        metal = union_all([outline_polygon(ring, f"sheets[{i}]") for ring in sheet.outlines])
        metal = metal.difference(union_all([Polygon(ring) for ring in sheet.holes])) if sheet.holes else metal
        above, below = places[first, axis] - sheet.at_mm, places[second, axis] - sheet.at_mm
        through = free & (above * below < 0) & (np.abs(above) > ON_SHEET_MM) & (np.abs(below) > ON_SHEET_MM)
        rows = np.flatnonzero(through)
        if len(rows):
            share = (above[rows] / (above[rows] - below[rows]))[:, None]
            crossing = places[first[rows]] + share * (places[second[rows]] - places[first[rows]])
            free[rows[contains_xy(metal, crossing[:, a], crossing[:, b])]] = False
    return [(int(i), int(k)) for i, k in zip(first[free], second[free], strict=True)]
