"""Thickness readings in a grid over a finding, typed or from the gauge."""

from dataclasses import dataclass, replace
from datetime import date

from yellow_sill.core.errors import BadField
from yellow_sill.core.survey.grading import grade_by_gauge
from yellow_sill.core.survey.thickness import Cell, GridSummary, check_reading, grid_cells, loss_pct, summary
from yellow_sill.web.frame.changes import one_change

from .models import Finding, GridReading
from .services import regrade


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnCell:
    """A cell as the board draws it: its square in the view's plane, mm; its reading, grade and loss, None while it has none."""

    column: int
    row: int
    square: list[float]
    mm: float | None = None
    grade: str | None = None
    loss: float | None = None


def grid_of(finding: Finding) -> list[DrawnCell]:
    """Every cell of a finding's grid, and those that were read outside of it."""
    pitch, nominal = finding.grid_pitch_mm, finding.panel.thickness_mm
    readings = {(r.column, r.row): r.thickness_mm for r in finding.readings.all()}
    cells = grid_cells(finding.outline, pitch)
    cells += [cell for cell in readings if cell not in set(cells)]
    drawn = []
    for column, row in cells:
        square = [column * pitch, row * pitch, (column + 1) * pitch, (row + 1) * pitch]
        cell, read = DrawnCell(column=column, row=row, square=square), readings.get((column, row))
        if read is not None:
            grade = grade_by_gauge(read, nominal).name.lower()
            cell = replace(cell, mm=read, grade=grade, loss=loss_pct(read, nominal))
        drawn.append(cell)
    return drawn


def grid_summary(finding: Finding) -> GridSummary | None:
    readings = {(r.column, r.row): r.thickness_mm for r in finding.readings.all()}
    return (
        summary(readings, grid_cells(finding.outline, finding.grid_pitch_mm), finding.panel.thickness_mm)
        if readings
        else None
    )


@one_change
def keep_reading(
    finding: Finding,
    cell: Cell,
    thickness_mm: float | None,
    *,
    by: str,
    read_on: date,
    by_gauge: bool = False,
) -> None:
    """Store a reading in its cell, or take it away (None). The least one speaks in the grade.

    Raises: BadField: a cell that the grid does not have, or no thickness that can be.
    """
    if (
        cell not in grid_cells(finding.outline, finding.grid_pitch_mm)
        and not finding.readings.filter(column=cell[0], row=cell[1]).exists()
    ):
        raise BadField("There is no such cell in this grid.", "cell", "Tap one on the board.")
    if thickness_mm is None:
        finding.readings.filter(column=cell[0], row=cell[1]).delete()
    else:
        values = {
            "thickness_mm": check_reading(thickness_mm),
            "by_gauge": by_gauge,
            "read_on": read_on,
            "by": by,
        }
        GridReading.objects.update_or_create(finding=finding, column=cell[0], row=cell[1], defaults=values)
    regrade(Finding.objects.select_related("panel").get(pk=finding.pk), by=by)


@one_change
def set_pitch(finding: Finding, pitch_mm: float, *, by: str) -> None:
    """Another pitch; only while there is no reading, since a reading belongs to its cell.

    Raises: BadField.
    """
    if finding.readings.exists():
        raise BadField(
            "There are readings in this grid already.", "pitch_mm", "Take them away first, or keep the pitch."
        )
    grid_cells(finding.outline, pitch_mm)
    finding.set_fields(by, grid_pitch_mm=pitch_mm)
