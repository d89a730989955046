"""The time line of the shell, and the shell as it stood at any day."""

from dataclasses import dataclass
from datetime import date

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.template.loader import render_to_string
from django.views.decorators.http import require_GET

from yellow_sill.core.days import day_words
from yellow_sill.core.record.at_point import ring
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.frame.typed import place_typed, whole_number
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import ShellView, Vehicle
from yellow_sill.web.shells.unchanged import by_the_clock

from ..line_services import Asked, AtDay, LineTold, line_of, shell_at
from .common import tags_of, view_for


@dataclass(frozen=True, slots=True, kw_only=True)
class LinePage(Page):
    """``asked``: what is shown of it; ``at``: the shell at that day; ``stops``: the days of the slider, ``stop``: which of them is shown."""

    asked: Asked
    told: LineTold
    at: AtDay
    stops: list[str]
    stop: int
    repairs: list[Repair]
    views: list[ShellView]
    view: ShellView
    svg: str
    tags: list[Tag]
    query: str
    here: list[list[float]]
    here_words: str


def _place(request: HttpRequest) -> tuple[float, float] | None:
    found = place_typed(request.GET.get("at", "").replace(",", " "))
    return (found[0], found[1]) if found else None


def _asked(request: HttpRequest, view: int = 0) -> Asked:
    try:
        until = date.fromisoformat(request.GET.get("day", ""))
    except ValueError:
        until = None
    return Asked(
        until=until, kind=request.GET.get("kind", ""), repair=whole_number(request.GET.get("repair", "")) or 0,
        panel=request.GET.get("panel", "")[:20], begin=max(0, whole_number(request.GET.get("from", "")) or 0),
        at=_place(request) if view else None, view=view,
    )  # fmt: skip


@by_the_clock
@require_GET
@with_vehicle
def line(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Everything in order, the newest first; ``day`` is the last that is told and drawn."""
    tapped = view_for(vehicle, request.GET.get("view", ""), ()).pk if _place(request) else 0
    asked, today = _asked(request, tapped), days.today()
    told = line_of(vehicle, asked)
    hits = [hit for each in told.days for hit in each.hits]
    day = asked.until or today
    view = view_for(vehicle, request.GET.get("view", ""), [hit.place for hit in hits[:8]])
    stops = [each.isoformat() for each in told.all_days if each <= today] or [today.isoformat()]
    kept = request.GET.copy()
    kept.pop("from", None)
    page = LinePage(
        current_stage="record",
        asked=asked,
        told=told,
        at=shell_at(vehicle, view, day),
        stops=stops,
        stop=max((n for n, each in enumerate(stops) if each <= day.isoformat()), default=0),
        repairs=list(vehicle.repairs.all()),
        views=list(vehicle.views.defer("features", "silhouette")),
        view=view,
        svg=shell_svg(view, 1),
        tags=tags_of(hits[:12], view),
        query=kept.urlencode(),
        here=ring(asked.at) if asked.at else [],
        here_words=" ".join(f"{each:g}" for each in asked.at) if asked.at else "",
        cells=[
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("Told", told.count),
            ("Days", len(stops)),
            ("View", view.title),
            ("Units", units.unit.get()),
        ],
    )
    return show(request, "record/line.html", page)


@require_GET
@with_vehicle
def at(request: HttpRequest, vehicle: Vehicle) -> JsonResponse:
    """The shell at the end of a day, drawn, for the slider."""
    day = _asked(request).until or days.today()
    shown = shell_at(vehicle, view_for(vehicle, request.GET.get("view", ""), ()), day)
    return answer(
        {
            "day": day_words(day),
            "words": shown.told.words,
            "svg": render_to_string("record/_at.html", {"at": shown}),
        }
    )
