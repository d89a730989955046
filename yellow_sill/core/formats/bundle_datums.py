"""The measuring room in a bundle."""

from datetime import date, datetime
from typing import Annotated, Any

from pydantic import Field

from ..datum.network import KINDS as KINDS_OF_READING
from ..datum.network import LEAST_SIGMA_MM, MOST_POINTS, TRUST_SIGMA_MM
from ..datum.starting_set import POINT_KINDS, SOURCES
from ..datum.walk import STAGES as ROUND_STAGES
from ..records import Coordinate, OneOf, Record
from .bundle_base import Name, Number
from .datum_table import CODE


class DatumPointPart(Record):
    code: Annotated[str, Field(pattern=CODE.pattern)]
    name: Annotated[str, Field(max_length=60)]
    kind: Annotated[str, OneOf(POINT_KINDS)]
    how: Annotated[str, Field(max_length=200)]
    x_mm: Coordinate
    y_mm: Coordinate
    z_mm: Coordinate
    typed: list[Annotated[str, Field(max_length=20)]]
    source: Annotated[str, OneOf(SOURCES)]
    source_note: Annotated[str, Field(max_length=200)]
    tolerance_mm: Annotated[float, Field(gt=0, le=100)]
    trusted: bool
    trust_sigma_mm: Annotated[float, Field(ge=LEAST_SIGMA_MM, le=20)] = TRUST_SIGMA_MM
    mirror_code: Annotated[str, Field(max_length=12)]


class DatumReadingPart(Record):
    kind: Annotated[str, OneOf(KINDS_OF_READING)]
    codes: Annotated[list[str], Field(min_length=1, max_length=3)]
    value: float
    typed: Annotated[str, Field(max_length=40)]
    by: Name
    made_at: datetime
    device: Annotated[str, Field(max_length=6)]
    struck_why: Annotated[str, Field(max_length=200)]


class RoundPart(Record):
    number: Number
    stage: Annotated[str, OneOf(ROUND_STAGES)]
    about: Annotated[str, Field(max_length=12)]
    taken_on: date
    by: Name
    note: Annotated[str, Field(max_length=2000)]
    tape_sigma_mm: Annotated[float, Field(gt=0, le=100)]
    height_sigma_mm: Annotated[float, Field(gt=0, le=100)]
    plan: Annotated[list[tuple[Annotated[str, OneOf(KINDS_OF_READING)], list[str]]], Field(max_length=2000)]
    readings: list[DatumReadingPart]


class StandPart(Record):
    id: Annotated[str, Field(min_length=1, max_length=6)]
    x_mm: Coordinate
    y_mm: Coordinate
    packed_mm: Annotated[float, Field(ge=0, le=1000)]
    most_mm: Annotated[float, Field(gt=0, le=1000)]


class StandSetPart(Record):
    stands: Annotated[list[StandPart], Field(max_length=4)]
    packers_mm: Annotated[list[Annotated[float, Field(gt=0, le=200)]], Field(max_length=20)]
    packers_typed: Annotated[str, Field(max_length=120)]
    rigid: bool
    log: list[dict[str, Any]]


class DatumsPart(Record):
    """The datum book, the measuring rounds and the stands."""

    points: Annotated[list[DatumPointPart], Field(max_length=MOST_POINTS)] = []
    rounds: list[RoundPart] = []
    stand_set: StandSetPart | None = None
