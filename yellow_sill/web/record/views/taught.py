"""What the shell taught, as drawings with a sentence each."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect

from yellow_sill.core.cut.rates import Logged
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.record.taught import Taught
from yellow_sill.core.repairs.hours import KIND_WORDS
from yellow_sill.web.cut.hours import logged_hours, say_pace
from yellow_sill.web.frame import units
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.logbook.models import Note
from yellow_sill.web.repairs.rule_services import rules_of
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..taught_services import Bar, grew_bars, kind_bars, quarter_bars, taught_of, went_bars


@dataclass(frozen=True, slots=True, kw_only=True)
class Pace:
    """The own pace of a kind of work: what the log shows, whether estimates are reckoned with it (None: nobody was asked)."""

    kind: str
    words: str
    logged: Logged
    counts: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class TaughtPage(Page):
    """``told``: the sentences; the bars of each part; notes of mistakes and of what was learnt."""

    told: Taught
    parts: list[tuple[str, str, list[Bar]]]
    notes: list[Note]
    paces: list[Pace]


@with_vehicle
def page(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Estimates against what it was, where the hours went, growth, pace, settings; whether the own pace is reckoned with is asked here."""
    if request.method == "POST":
        return _said(request, vehicle)
    told = taught_of(vehicle)
    notes = Note.objects.filter(repair__vehicle=vehicle).exclude(about="").select_related("repair")
    shown = TaughtPage(
        current_stage="record", told=told, notes=list(notes),
        paces=_paces(vehicle),
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


def _paces(vehicle: Vehicle) -> list[Pace]:
    said = rules_of(vehicle).own_pace
    return [
        Pace(kind=kind, words=KIND_WORDS[kind], logged=each, counts=said.get(kind))
        for kind, each in logged_hours(vehicle).items()
        if each.jobs
    ]


def _said(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    kind, counts = request.POST.get("kind", ""), request.POST.get("counts")
    try:
        if counts not in ("yes", "no"):
            raise BadField("Say yes or no.", "counts")
        say_pace(vehicle, kind, counts == "yes", by=request.user.get_username())
        words = (
            "your own pace counts in every estimate"
            if counts == "yes"
            else "the rates count, not your own pace"
        )
        messages.success(request, f"{KIND_WORDS[kind]}: {words} from now on.")
    except CoreError as refused:
        messages.warning(request, units.said(refused.message))
    return redirect("record:taught", vehicle.pk)
