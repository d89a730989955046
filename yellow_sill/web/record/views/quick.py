"""The quick log: from any page by one key or one thumb, and back there."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import days, units
from yellow_sill.web.order.time_services import running
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..forms import QuickForm
from ..quick_services import Written, in_hand, write_down


@with_vehicle
@open_to(Role.HELPER)
def quick(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``from`` is the page one came from: it tells the repair, and there it goes back."""
    back = request.GET.get("from", "")
    if not url_has_allowed_host_and_scheme(back, allowed_hosts=None):
        back = reverse("logbook:logbook", args=[vehicle.pk])
    repairs, hand, error = list(vehicle.repairs.all()), in_hand(vehicle, back, days.now()), None
    first = {"repair": hand.repair.number if hand.repair else None, "kind": hand.kind}
    sent = request.method == "POST"
    form = QuickForm(
        request.POST if sent else None, request.FILES if sent else None, repairs=repairs, initial=first
    )
    if sent and form.is_valid():
        told = form.cleaned_data
        repair: Repair | None = next((each for each in repairs if each.number == told["repair"]), None)
        what = Written(
            text=told["text"],
            about=told["about"],
            minutes=told["minutes"],
            kind=told["kind"],
            photo=told["photo"],
        )
        try:
            said = write_down(vehicle, repair, what, today=days.today(), by=request.user.get_username())
            messages.success(request, units.said(said))
            return redirect(back)
        except CoreError as refused:
            error = refused
            where = {"typed": "minutes"}.get(refused.where, refused.where)
            if where in form.fields:
                form.add_error(where, refused.message)
    context = {
        "current_stage": "logbook", "form": form, "error": error, "hand": hand, "back": back, "under_way": running(vehicle),
        "cells": [("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Day", f"{days.today():%d.%m.}"), ("Units", units.unit.get())],
    }  # fmt: skip
    return render(request, "record/quick.html", context, status=422 if form.is_bound else 200)
