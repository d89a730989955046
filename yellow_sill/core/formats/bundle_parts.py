"""Everything known of one vehicle, as one record."""

from typing import Annotated, Literal

from pydantic import Field

from ..records import Record
from ..survey.growth import MOST_FINDINGS
from .bundle_bench import BenchPart
from .bundle_cut import RulesPart
from .bundle_datums import DatumsPart
from .bundle_hold import HoldPart, HoldSetupPart
from .bundle_money import MoneyPart
from .bundle_needs import NeedPart
from .bundle_order import CalendarPart
from .bundle_protect import ProtectionPart
from .bundle_record import CostPart, DonorPart, PhotoPairPart, PhotoPart, Ranks, WorkPart
from .bundle_repairs import RepairPart
from .bundle_shell import ShellWordsPart, VehiclePart
from .bundle_strip import StripPartPart
from .bundle_survey import FindingPart, PanelNotesPart, SurveyPhotoPart
from .bundle_weld import WeldingPart


class Bundle(Record):
    """Everything known of one vehicle."""

    format: Literal["yellow-sill.bundle/1", "yellow-sill.bundle/2"]
    vehicle: VehiclePart
    findings: Annotated[list[FindingPart], Field(max_length=MOST_FINDINGS)]
    panel_notes: Annotated[list[PanelNotesPart], Field(max_length=2_000)]
    survey_photos: Annotated[list[SurveyPhotoPart], Field(max_length=4_000)]
    shell: ShellWordsPart = ShellWordsPart()
    datums: DatumsPart = DatumsPart()
    hold_setup: HoldSetupPart | None = None
    hold: HoldPart = HoldPart()
    plan_rules: RulesPart | None = None
    bench: BenchPart = BenchPart()
    welding: WeldingPart = WeldingPart()
    protection: ProtectionPart = ProtectionPart()
    money: MoneyPart = MoneyPart()
    needs: Annotated[list[NeedPart], Field(max_length=3000)] = []
    strip: Annotated[list[StripPartPart], Field(max_length=3000)] = []
    calendar: CalendarPart = CalendarPart()
    ranks: Ranks = {}
    photos: Annotated[list[PhotoPart], Field(max_length=20_000)] = []
    donors: Annotated[list[DonorPart], Field(max_length=200)] = []
    photo_pairs: Annotated[list[PhotoPairPart], Field(max_length=5000)] = []
    repairs: Annotated[list[RepairPart], Field(max_length=1_000)]
    work: Annotated[list[WorkPart], Field(max_length=60_000)]
    costs: Annotated[list[CostPart], Field(max_length=30_000)]
