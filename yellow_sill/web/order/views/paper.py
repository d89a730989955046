"""The plan given out and taken in: a slot's card, the wall picture, calendars."""

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.plan_paper import WALLS
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.files import attachment, shown
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..day_services import quiet_shopping
from ..forms import CalendarForm
from ..models import CalendarAddress
from ..paper_services import (
    address_of,
    calendar_of,
    card_of,
    end_address,
    new_address,
    take_calendar,
    wall_of,
)


@require_GET
@with_vehicle
def card(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The slot that is on, or the next, as paper."""
    try:
        return shown(card_of(vehicle, days.now()), "slot.pdf")
    except CoreError as error:
        raise Http404(str(error.message)) from None


@require_GET
@with_vehicle
def wall(request: HttpRequest, vehicle: Vehicle, sheet: str) -> HttpResponse:
    """From the first day to the likely finish, as paper."""
    if sheet not in WALLS:
        raise Http404
    return shown(wall_of(vehicle, days.today(), sheet), f"wall-{sheet}.pdf")


@require_GET
@with_vehicle
def ics(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    return attachment(calendar_of(vehicle, days.now()), "garage.ics", "text/calendar; charset=utf-8")


@require_GET
def feed(request: HttpRequest, token: str) -> HttpResponse:
    """The calendar for whoever knows its address: no sign-in, since calendar programs have none."""
    address = get_object_or_404(CalendarAddress.objects.select_related("vehicle"), token=token)
    return HttpResponse(
        calendar_of(address.vehicle, days.now()),
        content_type="text/calendar; charset=utf-8",
        headers={"Cache-Control": "no-store"},
    )


@with_vehicle
def calendars(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Take a calendar in, give the own one out."""
    form = CalendarForm(request.POST or None, request.FILES or None)
    status = 200
    if request.method == "POST":
        what, by = request.POST.get("what", ""), request.user.get_username()
        if what in ("address", "end"):
            (new_address if what == "address" else end_address)(vehicle)
            return redirect("order:calendars", vehicle.pk)
        status = 422
        if form.is_valid():
            try:
                told = form.cleaned_data
                count, found = take_calendar(vehicle, told["file"].read(), days.today(), told["weeks"], by=by)
                words = [
                    f"{count} new slots." if count != 1 else "One new slot.",
                    *map(units.said, found.left_out),
                ]
                messages.success(request, " ".join(words))
                return redirect("order:plan", vehicle.pk)
            except CoreError as refused:
                words = f"{units.said(refused.what)} {units.said(refused.mend)}".strip()
                words = f"{units.said(refused.what)} {units.said(refused.mend)}".strip()
                form.add_error(refused.where if refused.where in form.fields else "file", words)
    address = address_of(vehicle) if vehicle.owner_id == request.user.pk else None
    context = {
        "current_stage": "order", "form": form, "shopping": quiet_shopping(vehicle, days.now()),
        "address": request.build_absolute_uri(reverse("order:feed", args=[address.token])) if address else "",
        "cells": [("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Units", units.unit.get())],
    }  # fmt: skip
    return render(request, "order/calendars.html", context, status=status)
