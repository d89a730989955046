"""Hot work: what is seen to before the first arc, the last spark, the fire watch."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from yellow_sill.core.errors import CoreError
from yellow_sill.core.weld.cautions import FIRE_WATCH_MIN, HOT_WORK, STANDING
from yellow_sill.web.frame import units
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle
from yellow_sill.web.shells.unchanged import by_the_clock

from ..hot_services import begin, end_watch, last_spark, running, to_move, watched_until
from ..shop_forms import WatchForm


@by_the_clock
@with_vehicle
@open_to(Role.HELPER)
def hot(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The session under way, or what is seen to before one; ``what`` in a POST says what is done."""
    now, by, what = timezone.now(), request.user.get_username(), request.POST.get("what", "")
    work = running(vehicle, now)
    form = WatchForm(request.POST if what == "end" else None, initial={"watched_by": by})
    error, status = None, 200
    ticks, moved = request.POST.getlist("tick"), request.POST.getlist("moved")
    if request.method == "POST":
        try:
            if what == "begin":
                begin(vehicle, ticks, moved, now=now, by=by)
            elif work is None:
                messages.warning(request, "No session is under way.")
            elif what == "spark":
                last_spark(work, now=now, by=by)
            elif what == "end" and form.is_valid():
                values = form.cleaned_data
                end_watch(work, watched_by=values["watched_by"], note=values["note"], now=now, by=by)
                messages.success(request, "The watch is over and in the record.")
            return redirect("weld:hot", vehicle.pk)
        except CoreError as refused:
            error, status = refused, 422
    until = watched_until(work) if work else None
    context = {
        "current_stage": "repairs",
        "work": work,
        "until": until,
        "over": bool(until and until <= now),
        "left_min": max(0, -(-int((until - now).total_seconds()) // 60)) if until else None,
        "cautions": [(caution, caution.key in ticks) for caution in HOT_WORK],
        "things": [(each, each.key in moved) for each in to_move(vehicle)],
        "past": list(vehicle.hot_works.exclude(watch_ended_at=None).order_by("-number")[:10]),
        "standing": STANDING,
        "form": form,
        "error": error,
        "watch_min": FIRE_WATCH_MIN,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Session", work.number if work else "none"),
            ("Begun", f"{timezone.localtime(work.begun_at):%H:%M}" if work else "–"), ("Watch", f"{FIRE_WATCH_MIN} min"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "weld/hot.html", context, status=status)
