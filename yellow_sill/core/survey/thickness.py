"""Thickness readings in a grid over a finding, and how much of the panel's nominal thickness is lost."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from shapely import prepare
from shapely.geometry import Polygon, box

from ..errors import BadField
from ..said import Mm, Said

PITCH_MM = 20.0  #: a probe's foot is some 10 mm wide
LEAST_PITCH_MM, MOST_PITCH_MM = 5.0, 200.0
MOST_CELLS = 400
#: A cell belongs to the grid when at least this share of it lies on the outline grown by half a pitch.
LEAST_SHARE = 0.35
MOST_MM = 20.0

Cell = tuple[int, int]


@dataclass(frozen=True, slots=True, kw_only=True)
class GridSummary:
    """What the readings say together: the least one, the mean, the loss in per cent of the nominal thickness (least and mean)."""

    count: int
    cells: int
    least_mm: float
    mean_mm: float
    worst_loss_pct: float
    mean_loss_pct: float
    worst_cell: Cell


def grid_cells(outline: Sequence[Sequence[float]], pitch_mm: float) -> list[Cell]:
    """The cells of a grid over an outline, row by row from the top left.

    Cells stand at multiples of the pitch, so that they keep their readings when the outline grows.

    Args: outline: mm in the view's plane; pitch_mm: side of a cell.
    Returns: (column, row) of each cell, counted from the view's own zero.
    Raises: BadField for a pitch out of range or a grid of more than MOST_CELLS.
    """
    if not LEAST_PITCH_MM <= pitch_mm <= MOST_PITCH_MM:
        raise BadField(
            Said("A pitch of {pitch_mm} cannot be used.", pitch_mm=Mm(pitch_mm)),
            "pitch_mm",
            Said(
                "Take {least_pitch_mm} to {most_pitch_mm}.",
                least_pitch_mm=Mm(LEAST_PITCH_MM, bare=True),
                most_pitch_mm=Mm(MOST_PITCH_MM),
            ),
        )
    shape = Polygon(outline)
    u0, v0, u1, v1 = shape.bounds
    columns, rows = (
        range(math.floor(u0 / pitch_mm), math.ceil(u1 / pitch_mm)),
        range(math.floor(v0 / pitch_mm), math.ceil(v1 / pitch_mm)),
    )
    if len(columns) * len(rows) > 4 * MOST_CELLS:
        raise BadField(
            Said("That would be {columns} cells.", columns=len(columns) * len(rows)),
            "pitch_mm",
            "Take a wider pitch.",
        )
    prepare(shape)
    cells = [
        (i, j)
        for j in reversed(rows)
        for i in columns
        if shape.intersection(box(i * pitch_mm, j * pitch_mm, (i + 1) * pitch_mm, (j + 1) * pitch_mm)).area
        >= LEAST_SHARE * pitch_mm**2
    ]
    if not cells:  # a finding smaller than a cell
        middle = shape.representative_point()
        cells = [(math.floor(middle.x / pitch_mm), math.floor(middle.y / pitch_mm))]
    if len(cells) > MOST_CELLS:
        raise BadField(
            Said("That would be {cells} cells.", cells=len(cells)), "pitch_mm", "Take a wider pitch."
        )
    return cells


def loss_pct(thickness_mm: float, nominal_mm: float) -> float:
    """Loss in per cent of the nominal thickness; negative where the sheet is thicker than nominal.

    >>> loss_pct(0.75, 1.0)
    25.0
    """
    return round(100 * (1 - thickness_mm / nominal_mm), 1)


def check_reading(thickness_mm: float, where: str = "thickness_mm") -> float:
    """A reading that can be: 0 (a hole) to MOST_MM. Raises: BadField."""
    if not 0 <= thickness_mm <= MOST_MM or not math.isfinite(thickness_mm):
        raise BadField(
            Said("{thickness_mm} is no sheet thickness.", thickness_mm=Mm(thickness_mm)),
            where,
            "Type millimetres such as 0.74; 0 where it is through.",
        )
    return thickness_mm


def summary(readings: Mapping[Cell, float], cells: Iterable[Cell], nominal_mm: float) -> GridSummary | None:
    """What the readings of a grid say; None while there is none."""
    if not readings:
        return None
    worst = min(readings, key=lambda cell: (readings[cell], cell))
    mean = sum(readings.values()) / len(readings)
    return GridSummary(
        count=len(readings),
        cells=len(set(cells) | set(readings)),
        least_mm=readings[worst],
        mean_mm=round(mean, 3),
        worst_loss_pct=loss_pct(readings[worst], nominal_mm),
        mean_loss_pct=loss_pct(mean, nominal_mm),
        worst_cell=worst,
    )
