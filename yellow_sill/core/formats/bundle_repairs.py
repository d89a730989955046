"""Repairs in a bundle, with their cuts, patches and welds."""

from datetime import date
from typing import Annotated, Any, Literal

from pydantic import Field

from ..cut.asked import Millimetres, Thickness
from ..cut.lost import LOST_KINDS
from ..cut.stretches import SaidOfStretch
from ..patch.opening import EdgeSaid
from ..patch.part import Hole
from ..records import Corners, OneOf, Point, Record
from ..repairs.ribbon import STATES as RIBBON
from ..repairs.sheets import SHEET_STATES
from ..weld.checks import Pinhole
from .bundle_base import Name, Number
from .bundle_cut import ChoicePart, GrowthPart, NuggetPart, OwnPlanPart
from .bundle_protect import BoxPart, FacePart
from .bundle_record import CostPart, NotePart, PhotoPart, WorkPart


class StepPart(Record):
    state: Annotated[str, OneOf(RIBBON)]
    made_on: date
    by: Name
    note: Annotated[str, Field(max_length=300)]
    despite: Annotated[str, Field(max_length=2000)] = ""


class SheetStepPart(Record):
    state: Annotated[str, OneOf(SHEET_STATES)]
    made_on: date
    by: Name
    note: Annotated[str, Field(max_length=300)] = ""
    despite: Annotated[str, Field(max_length=2000)] = ""


class TransferPart(Record):
    number: Number
    name: Annotated[str, Field(max_length=60)]
    kind: Annotated[str, OneOf(LOST_KINDS)]
    first_name: Annotated[str, Field(max_length=40)]
    second_name: Annotated[str, Field(max_length=40)]
    first_at: Point
    second_at: Point
    apart_mm: float | None
    way: Literal["distances", "offset"]
    first_mm: float
    second_mm: float
    near: Point
    at: Point
    error_mm: float
    remarks: list[dict[str, Any]]
    measured_on: date
    by: Name


class PatchPart(Record):
    thickness_mm: Thickness
    gap_mm: Millimetres
    k_factor: float
    trim_allowance_mm: Millimetres
    sides: dict[str, dict[str, Any]]
    mirror_hand: bool
    made: Annotated[list[EdgeSaid], Field(max_length=600)] = []
    opening: Annotated[list[Point], Field(max_length=2000)] = []
    holes: Annotated[list[Hole], Field(max_length=200)] = []


class FitGapPart(Record):
    """A tapped place of an offer-up: the gap there, mm, and as it was typed."""

    at: Point
    gap_mm: Annotated[float, Field(ge=-100, le=100)]
    typed: Annotated[str, Field(max_length=40)] = ""


class FitOfferPart(Record):
    number: Number
    offered_on: date
    school: Literal["template", "overlay"]
    process: Literal["mig", "tig", "braze", "spot"]
    gaps: Annotated[list[FitGapPart], Field(max_length=400)] = []
    note: Annotated[str, Field(max_length=2000)] = ""
    by: Name


class BenchTick(Record):
    """A step of the bench card: who ticked it, and on which day."""

    step: Annotated[str, Field(max_length=60)]
    by: Name
    on: date


class BenchWorkPart(Record):
    ticks: Annotated[list[BenchTick], Field(max_length=200)] = []
    measured_mm: dict[str, Millimetres] = {}
    typed: dict[str, str] = {}
    of: Annotated[str, Field(max_length=16)] = ""


class WeldEventPart(Record):
    """What became of a tack: its seam, place, what, when and by whom."""

    seam: Annotated[int, Field(ge=0, le=100)]
    at: Point
    what: Literal["done", "missed", "blown", "again"]
    when: Annotated[str, Field(max_length=40)]
    by: Name


class WeldPart(Record):
    process: Literal["mig", "tig", "spot", "braze"]
    joint: Literal["butt", "lap", "joggle", "plug"]
    pitch_mm: Millimetres
    cooling: Literal["still", "blown"]
    backing: bool = False
    limit_c: float
    ambient_c: float
    tack_energy_j: float | None
    cautions: list[str]
    cautions_on: date | None = None
    proved: Annotated[str, Field(max_length=300)]
    pull: dict[
        Literal["shrink_mm", "clamps", "clear_mm", "crown_mm"], Annotated[float, Field(ge=0, le=100_000)]
    ] = {}
    tack_plans: list[dict[str, Any]]
    events: Annotated[list[WeldEventPart], Field(max_length=12_000)] = []


class JointPart(Record):
    """What was said of a joint, by a place on its edge, and when it was made."""

    at: Point
    process: Literal["", "mig", "tig", "spot", "braze"] = ""
    both_sides: bool | None = None
    from_side: Annotated[str, Field(max_length=60)] = ""
    fixes_datum: bool = False
    made_brazed: bool = False
    tight_end: Literal["", "first", "last"] = ""
    made_on: date | None = None
    made_by: Annotated[str, Field(max_length=150)] = ""
    how: Annotated[str, Field(max_length=300)] = ""


class GaugePart(Record):
    at: Point
    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    by: Annotated[str, Field(max_length=150)] = ""


class WeldCheckPart(Record):
    lamp: bool | None = None
    back_seen: bool | None = None
    pinholes: Annotated[list[Pinhole], Field(max_length=2000)] = []
    readings: Annotated[list[GaugePart], Field(max_length=2000)] = []


class CutPart(Record):
    number: Number
    view: str
    panel: str
    findings: Annotated[list[int], Field(max_length=500)]
    proposed_corners: Corners
    corners: Corners
    outline: Corners
    weld_length_mm: float
    area_mm2: float
    remarks: list[dict[str, Any]]
    patch: PatchPart | None
    bench_work: BenchWorkPart | None = None
    fit_offers: Annotated[list[FitOfferPart], Field(max_length=200)] = []
    weld: WeldPart | None
    joints: Annotated[list[JointPart], Field(max_length=400)] = []
    weld_check: WeldCheckPart | None = None
    faces: Annotated[list[FacePart], Field(max_length=200)] = []
    transfer_marks: Annotated[list[TransferPart], Field(max_length=500)] = []
    said: Annotated[list[SaidOfStretch], Field(max_length=200)] = []
    sheet_steps: Annotated[list[SheetStepPart], Field(max_length=2000)] = []


class NothingLostPart(Record):
    """Who said on which day that nothing goes with a repair's pieces; ``cuts`` marks the cuts it was said of."""

    on: date
    by: Name
    cuts: Annotated[str, Field(max_length=16)]


class RepairPart(Record):
    number: Number
    title: Annotated[str, Field(max_length=80)]
    findings: Annotated[list[int], Field(max_length=500)]
    style: Literal["rectangle", "hull"]
    margin_mm: Millimetres
    corner_radius_mm: Millimetres
    web_mm: Millimetres
    nothing_lost: NothingLostPart | None = None
    box: BoxPart | None = None
    steps: Annotated[list[StepPart], Field(min_length=1, max_length=2000)]
    cuts: Annotated[list[CutPart], Field(max_length=200)]
    choices: Annotated[list[ChoicePart], Field(max_length=100)] = []
    growths: Annotated[list[GrowthPart], Field(max_length=500)] = []
    nuggets: Annotated[list[NuggetPart], Field(max_length=5000)] = []
    own_plans: Annotated[list[OwnPlanPart], Field(max_length=200)] = []
    work: Annotated[list[WorkPart], Field(max_length=20_000)]
    costs: Annotated[list[CostPart], Field(max_length=10_000)]
    notes: Annotated[list[NotePart], Field(max_length=5_000)]
    photos: Annotated[list[PhotoPart], Field(max_length=4_000)]
