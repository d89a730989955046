"""What can I do: forty minutes, without sparks, alone, in the cold."""

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.fields import NumberField, QuickSelect
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.shells.unchanged import by_the_clock

from ..forms import HANDS
from ..now_services import can_now, reasons


class NowForm(forms.Form):
    """What there is."""

    minutes = forms.IntegerField(min_value=1, max_value=1440, label="Minutes")
    hands = forms.TypedChoiceField(choices=HANDS, coerce=int, label="Hands", widget=QuickSelect)
    sparks = forms.ChoiceField(
        choices=[("yes", "may fly"), ("no", "none")], label="Sparks", widget=QuickSelect
    )
    at_c = NumberField(least=-40, most=50, unit="°C", required=False, label="How warm it is")
    off_the_shell = forms.ChoiceField(
        choices=[("no", "may be touched"), ("yes", "is left alone")], label="The shell", widget=QuickSelect
    )


@by_the_clock
@require_GET
@with_vehicle
def now(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The form; with ``minutes`` in the address what fits."""
    usual = {"minutes": 40, "hands": 1, "sparks": "yes", "off_the_shell": "no"}
    form = NowForm(request.GET if "minutes" in request.GET else None, initial=usual)
    found, steps, error = None, {}, None
    if form.is_bound and form.is_valid():
        told = form.cleaned_data
        asked = {name: told[name] for name in ("minutes", "hands", "at_c")}
        asked |= {"sparks": told["sparks"] == "yes", "off_the_shell": told["off_the_shell"] == "yes"}
        try:
            found, steps = can_now(vehicle, asked, days.now())
        except CoreError as refused:
            error = refused
    context = {
        "current_stage": "order", "form": form, "found": found, "error": error,
        "can": [steps[key] for key in found.can] if found else [], "why_not": reasons(found, steps) if found else [],
        "cells": [("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Units", units.unit.get())],
    }  # fmt: skip
    return render(request, "order/now.html", context)
