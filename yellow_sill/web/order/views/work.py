"""The deeds of the day: start, pause, done, took longer. Each goes back to Today."""

from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.utils.html import format_html
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.repairs.hours import minutes as minutes_typed
from yellow_sill.core.said import Said
from yellow_sill.web.frame import days, units
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..time_services import drop_time, finish_step, pause, start, took_longer


@require_POST
@with_vehicle
@open_to(Role.HELPER, what=("start", "pause", "slip"))
def work(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Do what was asked with a step, and say what became of it."""
    try:
        if said := _done(request, vehicle):
            messages.success(request, units.said(said))
    except CoreError as refused:
        messages.warning(request, f"{units.said(refused.what)} {units.said(refused.mend)}".strip())
        if typed := {name: request.POST[name] for name in ("left", "minutes") if request.POST.get(name)}:
            kept = urlencode(typed | {"of": request.POST.get("step", "")})
            return redirect(f"{reverse('today:today', args=[vehicle.pk])}?{kept}")
    return redirect("today:today", vehicle.pk)


def _done(request: HttpRequest, vehicle: Vehicle) -> Said | None:
    """Raises: CoreError."""
    what, key = request.POST.get("what", ""), request.POST.get("step", "")
    who = {"now": timezone.localtime(), "today": days.today(), "by": request.user.get_username()}
    typed = request.POST.get("minutes", "").strip()
    if what == "start":
        return start(vehicle, key, **who)
    if what == "pause":
        return pause(vehicle, minutes=_minutes(typed) if typed else None, **who)
    if what == "slip":
        drop_time(vehicle)
        return Said("That time is forgotten.")
    if what == "longer":
        took_longer(vehicle, key, _minutes(request.POST.get("left", "")), today=who["today"], by=who["by"])
        return Said("Written down. Bring the plan up to date: later steps may move.")
    if what == "done":
        done = finish_step(vehicle, key, **who)
        if done.why:
            messages.warning(
                request,
                format_html('{} {} <a href="{}">To its log</a>', units.said(done.words), done.why, done.url),
            )
            return None
        return done.words
    raise BadField("Nothing of that kind can be done here.", "what")


def _minutes(typed: str) -> int:
    """Minutes as typed: 40, 40 min, 1:30 or 1.5 h. Raises: BadField."""
    text = typed.strip()
    return minutes_typed(f"{text} min" if text.isdigit() else text)
