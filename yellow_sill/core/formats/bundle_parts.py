"""Everything known of one vehicle, as one record."""

from typing import Literal

from ..records import Record
from .bundle_cut import RulesPart
from .bundle_datums import DatumsPart
from .bundle_hold import HoldPart, HoldSetupPart
from .bundle_record import CostPart, WorkPart
from .bundle_repairs import RepairPart
from .bundle_shell import VehiclePart
from .bundle_survey import FindingPart, PanelNotesPart, SurveyPhotoPart


class Bundle(Record):
    """Everything known of one vehicle."""

    format: Literal["yellow-sill.bundle/1"]
    vehicle: VehiclePart
    findings: list[FindingPart]
    panel_notes: list[PanelNotesPart]
    survey_photos: list[SurveyPhotoPart]
    datums: DatumsPart = DatumsPart()
    hold_setup: HoldSetupPart | None = None
    hold: HoldPart = HoldPart()
    plan_rules: RulesPart | None = None
    repairs: list[RepairPart]
    work: list[WorkPart]
    costs: list[CostPart]
