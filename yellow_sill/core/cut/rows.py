"""A row of spot welds as it is found: its sheets, its path, how near its nuggets stand."""

from typing import Annotated

from pydantic import Field

from ..records import Point as At
from ..records import Record

#: Makers' usual distance of spot welds, of the first from the flange's end, and how far a mark may lie off its row, mm.
PITCH_MM, END_MM, OFF_ROW_MM = 40.0, 18.0, 25.0


MOST_ROWS, MOST_NUGGETS = 60, 400


class Sheet(Record):
    """One sheet of a row, from this side inwards: its name, its panel's code where it is known, thickness, and whether it stays."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    code: Annotated[str, Field(max_length=40)] = ""
    thickness_mm: Annotated[float, Field(gt=0, le=6)]
    stays: bool


class SpotRow(Record):
    """A row of old spot welds.

    ``path``: along the flange, mm; ``marks``: nuggets as they were clicked, instead of length, pitch and end margin;
    ``drill_here``, ``drill_behind``: whether a drill reaches the row from this side and from behind; ``both_sides``: whether a welder's arms do.
    """

    id: Annotated[str, Field(min_length=1, max_length=40)]
    path: Annotated[list[At], Field(min_length=2, max_length=500)]
    sheets: Annotated[list[Sheet], Field(min_length=2, max_length=4)]
    pitch_mm: Annotated[float, Field(ge=8, le=200)] = PITCH_MM
    end_mm: Annotated[float, Field(ge=0, le=200)] = END_MM
    marks: Annotated[list[At], Field(max_length=MOST_NUGGETS)] = []
    drill_here: bool = True
    drill_behind: bool = False
    both_sides: bool = False


#: Plug-weld hole by sheet, mm; source: docs/methods.md section 5.
PLUG_HOLES = ((0.9, 6.0), (1.5, 8.0), (99.0, 10.0))


def plug_hole_mm(thickness_mm: float) -> float:
    """Hole in the top sheet for a plug weld."""
    return next(hole for most, hole in PLUG_HOLES if thickness_mm <= most)
