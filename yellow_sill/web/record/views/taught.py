"""What the shell taught, as drawings with a sentence each."""

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_GET

from yellow_sill.core.record.taught import Taught
from yellow_sill.web.frame import units
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.logbook.models import Note
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..taught_services import Bar, grew_bars, kind_bars, quarter_bars, taught_of, went_bars


@dataclass(frozen=True, slots=True, kw_only=True)
class TaughtPage(Page):
    """``told``: the sentences; the bars of each part; notes of mistakes and of what was learnt."""

    told: Taught
    parts: list[tuple[str, str, list[Bar]]]
    notes: list[Note]


@require_GET
@with_vehicle
def page(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Estimates against what it was, where the hours went, growth, pace, settings."""
    told = taught_of(vehicle)
    notes = Note.objects.filter(repair__vehicle=vehicle).exclude(about="").select_related("repair")
    shown = TaughtPage(
        current_stage="record", told=told, notes=list(notes),
        parts=[
            ("Planned and spent", told.kinds_words, kind_bars(told)), ("Where the hours went", told.went_words, went_bars(told)),
            ("How the bad metal grew", told.grew_words, grew_bars(told)), ("Your pace by the season", told.quarters_words, quarter_bars(told)),
            ("Settings", told.settings_words, []),
        ],
        cells=[
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Kinds told", len(told.kinds)), ("Notes", len(notes)),
            ("Repairs", vehicle.repairs.count()), ("Units", units.unit.get()),
        ],
    )  # fmt: skip
    return show(request, "record/taught.html", shown)
