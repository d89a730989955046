from dataclasses import dataclass
from datetime import date

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET

from yellow_sill.core.geometry import bounds_of
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.frame.stages import Alert, told
from yellow_sill.web.keeping.services import worry
from yellow_sill.web.order.day_services import DayShown, quiet_day
from yellow_sill.web.order.models import WorkTime
from yellow_sill.web.order.time_services import running
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import may_make, with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import ShellView, Vehicle
from yellow_sill.web.shells.unchanged import by_the_clock

from .services import FEW_BARS, MOST_BARS, Located, MoneySoFar, NextRemoval, hours, money, order_ahead, plan


@require_GET
def home(request: HttpRequest) -> HttpResponse:
    """The vehicle worked on last; the first visit goes on to make one, and a helper without one is told so."""
    vehicle = Vehicle.objects.seen_by(request.user).order_by("-changed_at").first()
    if vehicle:
        return redirect("today:today", vehicle.pk)
    return redirect("shells:new" if may_make(request.user) else "shells:vehicles")


@dataclass(frozen=True, slots=True, kw_only=True)
class TodayPage(Page):
    """``now``: the day; ``view``: the one drawn, where the first step lies, with what was found (``here``) and is cut in it."""

    open_repairs: list[Repair]
    finding_count: int
    loose: list
    loose_count: int
    steps: list[Located]
    ahead: NextRemoval | None
    now: date
    view: ShellView
    svg: str
    here: list
    cuts: list[Cut]
    tags: list[Tag]
    money: MoneySoFar
    hours_total: str
    worry: str
    clocks: list[Alert]
    day: DayShown | None
    under_way: WorkTime | None


def _tag(number: int, located: Located, vehicle: Vehicle) -> Tag:
    log = located.repair and reverse("logbook:log", args=[vehicle.pk, located.repair.number])
    page = log or located.url or (located.finding and located.finding.get_absolute_url())
    return Tag.of(
        number,
        bounds_of(located.outline),
        selected=number == 1,
        href=page or reverse("order:plan", args=[vehicle.pk]),
        name=f"Next step {number}: {located.step.what}",
    )


@by_the_clock
@require_GET
@with_vehicle
def today(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What is open, what is next, money so far."""
    now, day = days.today(), quiet_day(vehicle, days.now())
    facts = plan(vehicle, day.steps if day else ())
    views = list(vehicle.views.defer("features", "silhouette"))
    first = next((located.view.pk for located in facts.steps if located.view), None)
    view = next((v for v in views if v.pk == first), views[0])
    page = TodayPage(
        current_stage="today",
        open_repairs=facts.open_repairs,
        finding_count=facts.finding_count,
        loose=facts.loose,
        loose_count=facts.loose_count,
        steps=facts.steps,
        ahead=order_ahead(vehicle),
        now=now,
        view=view,
        svg=shell_svg(view, 1),
        here=list(
            vehicle.findings.filter(
                panel__view=view, panel__layer__in=[1] if view.layered else [1, 2, 3]
            ).only("vehicle_id", "grade", "outline")
        ),
        cuts=list(Cut.objects.filter(repair__in=facts.open_repairs, panel__view=view).only("outline")),
        tags=[
            _tag(i, located, vehicle)
            for i, located in enumerate(facts.steps, start=1)
            if located.view and located.view.pk == view.pk
        ],
        money=money(vehicle, now, FEW_BARS if day else MOST_BARS),
        hours_total=hours(vehicle),
        worry=worry(request.user),
        day=day,
        under_way=running(vehicle),
        clocks=[alert for say in told("today") for alert in say(vehicle, timezone.now())],
        cells=[
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("Open", len(facts.open_repairs)),
            ("Findings", facts.finding_count),
            ("View", view.title),
            ("Units", units.unit.get()),
        ],
    )
    return show(request, "today/today.html", page)
