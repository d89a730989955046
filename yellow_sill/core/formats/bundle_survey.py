"""The survey in a bundle: findings, looks, what is known of the panels, photos."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from ..records import Corners, OneOf, Record
from ..survey.growth import STAGES
from ..survey.rectify import Pixel
from ..survey.thickness import LEAST_PITCH_MM, MOST_MM, MOST_PITCH_MM
from .bundle_base import PHOTO_FILE, Name, Number, Text
from .bundle_cut import SurroundingPart


class EvidencePart(Record):
    method: Literal["seen", "lamp", "tap", "probe", "scaler", "gauge", "sign"]
    result: Annotated[str, Field(max_length=12)]
    hits: int | None
    tries: int | None
    thickness_mm: float | None
    made_on: date
    made_by: Name


class InspectionPart(Record):
    stage: Annotated[str, OneOf(STAGES)]
    made_on: date
    made_by: Name
    outline: Corners
    area_mm2: float
    perimeter_mm: float
    evidence: Annotated[list[EvidencePart], Field(max_length=200)]


class ReadingPart(Record):
    column: int
    row: int
    thickness_mm: Annotated[float, Field(ge=0, le=MOST_MM)]
    by_gauge: bool
    read_on: date
    by: Name


class FarSidePart(Record):
    answer: Text
    method: Annotated[str, Field(max_length=10)]
    answered_on: date
    by: Name
    whole: bool = False
    boxes: Annotated[list[tuple[float, float, float, float]], Field(max_length=2000)] = []


class PanelItemPart(Record):
    kind: Literal["behind", "salvage", "lacking", "missing"]
    text: Annotated[str, Field(max_length=200)]
    done: bool
    by: Name


class PanelNotesPart(Record):
    """What is known of one panel beyond its findings."""

    view: str
    panel: str
    far_side: FarSidePart | None
    items: Annotated[list[PanelItemPart], Field(max_length=500)]
    surroundings: Annotated[list[SurroundingPart], Field(max_length=200)] = []


class SurveyPhotoPart(Record):
    view: str
    panel: str
    finding: Number | None
    file: Annotated[str, Field(pattern=PHOTO_FILE)]
    caption: Annotated[str, Field(max_length=200)]
    taken_on: date
    by: Name
    trace: Annotated[list[Pixel], Field(max_length=5_000)]
    reference: list[Pixel]
    size_mm: list[float] | None
    distances_mm: list[float] | None
    marks: Annotated[list[Pixel], Field(max_length=1_000)]
    on_panel: list[Pixel]
    seen_from: Literal["", "drawn", "behind"] = ""


class FindingPart(Record):
    number: Number
    view: str
    panel: str
    title: Annotated[str, Field(max_length=80)]
    outline: Corners
    outline_typed: Text
    area_mm2: float
    bounds_mm: Annotated[list[float], Field(min_length=4, max_length=4)]
    grade: Literal["", "O", "S", "P", "T", "H", "F"]
    why: Text
    note: Text
    found_on: date
    found_by: Name
    overruled_to: Literal["", "O", "S", "P", "T", "H", "F"]
    overruled_reason: Text
    old_kind: Annotated[str, Field(max_length=10)]
    old_test: Annotated[str, Field(max_length=10)]
    old_verdict: Literal["", "undo", "keep"]
    grid_pitch_mm: Annotated[float, Field(ge=LEAST_PITCH_MM, le=MOST_PITCH_MM)]
    inspections: Annotated[list[InspectionPart], Field(min_length=1, max_length=200)]
    readings: Annotated[list[ReadingPart], Field(max_length=3_000)]
