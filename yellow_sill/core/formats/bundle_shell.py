"""The vehicle and its shell in a bundle."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ..records import Corners, Record
from ..shell.cavity_records import CavitySaid
from ..shell.curvature import CurveSaid
from ..shell.edges import EdgeSaid
from ..shell.file import ViewPart as ShellViewPart
from ..shell.gaps import MOST_MM
from .bundle_base import Name


class LookedPart(Record):
    layer: Annotated[int, Field(ge=1, le=4)]
    outline: Corners
    method: Annotated[str, Field(max_length=10)]
    made_on: date
    made_by: Name


class ViewPart(ShellViewPart):
    """A view with the regions looked at in it."""

    looked: list[LookedPart]


class VehiclePart(Record):
    make: Annotated[str, Field(min_length=1, max_length=60)]
    model: Annotated[str, Field(min_length=1, max_length=60)]
    year: Annotated[int, Field(ge=1880, le=2100)] | None
    body_no: Annotated[str, Field(max_length=40)]
    body_type: Annotated[str, Field(max_length=60)]
    dimensions_mm: dict[str, float]
    dimensions_typed: dict[str, str]
    currency: Annotated[str, Field(min_length=3, max_length=3)]
    steering: Literal["", "left", "right"] = ""
    views: Annotated[list[ViewPart], Field(min_length=1, max_length=40)]


class EdgeWordPart(EdgeSaid):
    """What was said of a stretch of a sheet's edge."""

    view: Name
    panel: Name


class CurveWordPart(CurveSaid):
    """How a sheet was said to be curved."""

    view: Name
    panel: Name


class CavityWordPart(CavitySaid):
    """What was said of a cavity; of a person's own also its name and the sheets that close it."""

    name: Annotated[str, Field(max_length=80)] = ""
    outer: Annotated[str, Field(max_length=20)] = ""
    inner: Annotated[str, Field(max_length=20)] = ""


class HungWordPart(Record):
    """What was said of a hung part."""

    code: Annotated[str, Field(max_length=20)]
    off: bool
    hinged_at: Literal["", "front", "rear", "bolts", "welds"]
    nominal_mm: dict[str, Annotated[float, Field(gt=0, le=MOST_MM)]]


class GapRoundPart(Record):
    """A round of gaps, by place, as measured and as typed."""

    name: Annotated[str, Field(max_length=60)]
    taken_on: date
    gaps_mm: dict[str, Annotated[float, Field(ge=0, le=MOST_MM)]]
    typed: dict[str, Annotated[str, Field(max_length=20)]]
    note: Annotated[str, Field(max_length=2000)]


class ShellWordsPart(Record):
    """What was said of the shell beyond its drawing, and the gaps round its hung parts."""

    edges: Annotated[list[EdgeWordPart], Field(max_length=4_000)] = []
    curves: Annotated[list[CurveWordPart], Field(max_length=2_000)] = []
    cavities: Annotated[list[CavityWordPart], Field(max_length=400)] = []
    hung: Annotated[list[HungWordPart], Field(max_length=60)] = []
    gap_rounds: Annotated[list[GapRoundPart], Field(max_length=200)] = []
