"""What a drawing tells of a panel's surroundings: rows of spot welds and the sheets in them, lines to end on, neighbours at its edge."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from shapely import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from ..outlines import Outline, length_of
from .stretches import MEETS_MM

#: A row of spot welds on the drawing belongs to a panel with so many of its welds on it, this near.
LEAST_WELDS, NEAR_MM = 3, 12.0
#: Most millimetres between welds of one row; a row that turns back is divided there.
MOST_RUN_MM = 120.0
#: A sheet belongs to a row where so many of its spot welds lie on it; a row joins so many sheets at most.
UNDER_ROW, MOST_SHEETS = 0.5, 4
#: A line of the drawing shorter than this is no place to end on, mm.
LEAST_LINE_MM = 60.0
#: What a row's pitch may be, mm.
LEAST_PITCH_MM, MOST_PITCH_MM = 8.0, 200.0

Xy = list[float]
#: The sheets that meet in a row of spot welds, from this side inwards, with their codes.
Sheets = list[tuple[str, dict[str, Any]]]


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnSheet:
    """A panel as the drawing shows it in one view."""

    code: str
    name: str
    layer: int
    thickness_mm: float
    outline: Outline


def rows_on(panel: Outline, welds: Sequence[Sequence[Sequence[float]]]) -> list[list[Xy]]:
    """The rows of spot welds that lie on a panel: neighbouring welds of each row of the drawing."""
    near = Polygon(panel).buffer(NEAR_MM)
    return [run for points in welds for run in _runs(points, near)]


def _runs(points: Sequence[Sequence[float]], outline: BaseGeometry) -> list[list[Xy]]:
    runs: list[list[Xy]] = [[]]
    for point in points:
        last = runs[-1][-1] if runs[-1] else None
        inside = outline.contains(Point(point))
        if not inside or (last and length_of([last, point]) > MOST_RUN_MM):
            runs.append([])
        if inside:
            runs[-1].append([float(point[0]), float(point[1])])
    return [run for run in runs if len(run) >= LEAST_WELDS]


def lines_on(panel: Outline, lines: Sequence[tuple[str, list[Xy]]]) -> list[tuple[str, list[Xy]]]:
    """Of the lines that stiffen a view's sheets (kind and points), those that run on a panel."""
    shape = Polygon(panel)
    return [line for line in lines if LineString(line[1]).intersects(shape)]


def behind_of(panel: DrawnSheet, others: Sequence[DrawnSheet]) -> list[int]:
    """Which of a view's other sheets lie behind a panel, near its metal: indices."""
    shape = Polygon(panel.outline)
    return [
        i
        for i, other in enumerate(others)
        if other.layer > panel.layer and Polygon(other.outline).buffer(NEAR_MM).intersects(shape)
    ]


def sheets_of_row(panel: DrawnSheet, row: Sequence[Xy], behind: Sequence[DrawnSheet]) -> Sheets:
    """The sheets that meet in a row: the panel, and in each deeper layer the one that lies under most of it."""
    sheets: Sheets = [(panel.code, {"name": panel.name, "thickness_mm": panel.thickness_mm, "stays": False})]
    for layer in sorted({other.layer for other in behind}):
        here = [(_share(other, row), other) for other in behind if other.layer == layer]
        share, other = max(here, key=lambda each: each[0])
        if share >= UNDER_ROW and len(sheets) < MOST_SHEETS:
            sheets.append(
                (other.code, {"name": other.name, "thickness_mm": other.thickness_mm, "stays": True})
            )
    if len(sheets) == 1:
        sheets.append(("", {"name": "the sheet behind", "thickness_mm": panel.thickness_mm, "stays": True}))
    return sheets


def _share(sheet: DrawnSheet, row: Sequence[Xy]) -> float:
    near = Polygon(sheet.outline).buffer(NEAR_MM)
    return sum(1 for point in row if near.contains(Point(point))) / len(row)


def row_pitch(run: Sequence[Xy]) -> float:
    """How far apart the welds of a row stand, mm.

    >>> row_pitch([[0, 0], [40, 0], [80, 0]])
    40.0
    """
    return min(MOST_PITCH_MM, max(LEAST_PITCH_MM, length_of(run) / (len(run) - 1)))


def meeting(panel: Outline, others: Sequence[Outline]) -> list[int]:
    """Which of a view's other panels meet a panel at its edge: indices."""
    rim = Polygon(panel).exterior.buffer(MEETS_MM)
    return [
        i for i, other in enumerate(others) if Polygon(other).exterior.intersection(rim).length > 4 * MEETS_MM
    ]


def off_panel_mm(points: Outline, closed: bool, panel: Outline) -> float:
    """How far something lies off a panel, mm. Args: points: an outline (closed) or a line."""
    shape = Polygon(points) if closed else LineString(points)
    return float(shape.distance(Polygon(panel)))
