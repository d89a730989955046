"""The check of what came, against the car, before any old metal goes."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from yellow_sill.core.errors import CoreError
from yellow_sill.core.parts.arrival import VERDICTS
from yellow_sill.core.parts.needs import STATES
from yellow_sill.web.frame import days
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..arrival_services import drop_check, keep_check, told_of_check
from ..need_services import last_check, state_of, taken
from ..trade_forms import ArrivalForm


@with_vehicle
@open_to(Role.HELPER, what=("check", "uncheck"))
def arrival(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """``what`` in a POST says what is done."""
    need = get_object_or_404(vehicle.needs.prefetch_related("steps", "quotes", "checks"), number=number)
    need.vehicle = vehicle
    today, what, by = days.today(), request.POST.get("what", ""), request.user.get_username()
    checks = list(need.checks.all())
    form = ArrivalForm(
        request.POST if what == "check" else None,
        initial=ArrivalForm.of(checks[-1] if checks else None, need.sizes),
    )
    error, status = None, 200
    if request.method == "POST":
        try:
            if what == "uncheck":
                drop_check(need, whole_number(request.POST.get("key", "")) or 0)
                return redirect("parts:arrival", vehicle.pk, number)
            status = 422
            if what == "check" and form.is_valid():
                kept = keep_check(need, form.asked(), note=form.cleaned_data["note"], today=today, by=by)
                messages.success(request, f"{need.name}: {VERDICTS[kept.verdict]}.")
                return redirect("parts:arrival", vehicle.pk, number)
        except CoreError as refused:
            error = refused
    step, last = state_of(need), last_check(need)
    context = {
        "current_stage": "parts", "need": need, "form": form, "error": error, "checks": checks, "last": last, "verdicts": VERDICTS,
        "told": told_of_check(need, last.asked, today) if last else None, "state": STATES[step.state if step else "wanted"], "quote": taken(need),
        "here": bool(step and step.state in ("arrived", "checked")),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Need", need.number), ("Checks", len(checks)),
            ("Hand", need.hand or "–"), ("Units", "mm"),
        ],
    }  # fmt: skip
    return render(request, "parts/arrival.html", context, status=status)
