"""How cuts are planned, as parts of the bundle: ways chosen, lines that grew, spot welds drilled, own plans, what cuts meet, rules."""

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field

from ..cut.asked import Millimetres
from ..cut.rates import Prices, Rates, Weights
from ..records import Coordinate, Corners, Point, Record

Name = Annotated[str, Field(max_length=150)]
Number = Annotated[int, Field(ge=1, le=1_000_000)]


class ChoicePart(Record):
    """Which way a panel is renewed, and the ways it was compared with."""

    view: str
    panel: str
    chosen: Annotated[str, Field(max_length=60)]
    words: Annotated[str, Field(max_length=60)]
    why: Annotated[str, Field(max_length=300)]
    tips: Annotated[str, Field(max_length=300)]
    turns: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=20)]
    options: Annotated[list[dict[str, Any]], Field(max_length=20)]
    priced: dict[str, Any] = {}
    decided_on: date


class GrowthPart(Record):
    """A cut that had to be drawn larger than planned."""

    view: str
    panel: str
    cut_number: Number
    planned: Corners
    outline: Corners
    added_weld_mm: float
    added_area_mm2: float
    added_min: float
    added_money: float
    words: Annotated[str, Field(max_length=200)]
    made_on: date
    by: Name


class NuggetPart(Record):
    """An old spot weld that is drilled: its number on the release list of its day, and its place (older bundles have none)."""

    view: str
    panel: str
    number: Number
    at: Annotated[list[Coordinate], Field(max_length=2)] = []
    done_on: date
    by: Name


class RulesPart(Record):
    """What planning counts with on this vehicle; see the core's rates and clearances."""

    margin_mm: Millimetres
    corner_radius_mm: Millimetres
    web_mm: Millimetres
    step_mm: Millimetres
    row_clear_mm: Millimetres
    snap_mm: Millimetres
    rates: Rates
    prices: Prices
    weights: Weights
    processes: Annotated[list[Annotated[str, Field(max_length=10)]], Field(max_length=6)]
    own_pace: dict[Annotated[str, Field(max_length=10)], bool] = {}


class OwnPlanPart(Record):
    """A plan of the person's own for a panel."""

    view: str
    panel: str
    name: Annotated[str, Field(min_length=1, max_length=60)]
    outlines: Annotated[list[Corners], Field(min_length=1, max_length=60)]


class SurroundingPart(Record):
    """Something that cuts of a panel meet and the drawing does not show."""

    kind: Literal["row", "seam", "swage", "flange", "curve", "keep-out", "fitting"]
    name: Annotated[str, Field(min_length=1, max_length=60)]
    points: Annotated[list[Point], Field(min_length=2, max_length=2000)]
    marked: bool
    pitch_mm: Annotated[float, Field(ge=8, le=200)]
    survives: Annotated[str, Field(max_length=60)]
    drill_here: bool
    drill_behind: bool
    both_sides: bool
