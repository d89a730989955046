"""What if: no Saturdays in March, a panel three weeks late, a friend in May."""

from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.order.what_if import WhatIfRequest, what_if
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.fields import DateField, QuickSelect
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.shells.unchanged import by_the_clock

from ..forms import WEEKDAYS
from ..plan_services import asked_of


class WhatIfForm(forms.Form):
    """What would be otherwise."""

    without_weekday = forms.TypedChoiceField(
        choices=[("", "as they are"), *((n, f"without {day}s") for n, day in enumerate(WEEKDAYS))], coerce=int, empty_value=None,
        required=False, label="Slots", widget=QuickSelect,
    )  # fmt: skip
    helped = forms.ChoiceField(
        choices=[("", "as it is"), ("yes", "somebody helps")],
        required=False,
        label="Hands",
        widget=QuickSelect,
    )
    first = DateField(required=False, label="From", to_come=True)
    last = DateField(required=False, label="To", to_come=True)
    late_repair = forms.TypedChoiceField(
        coerce=int, empty_value=0, required=False, label="What it waits for is late", widget=QuickSelect
    )
    late_weeks = forms.IntegerField(min_value=0, max_value=52, required=False, label="By so many weeks")

    def __init__(self, *args: Any, repairs: Any = (), **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["late_repair"].choices = [
            ("", "nothing"),
            *((each.number, f"{each.code} {each.title}") for each in repairs),
        ]


@by_the_clock
@require_GET
@with_vehicle
def page(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The form; sent, both sides."""
    form = WhatIfForm(request.GET or None, repairs=vehicle.repairs.all())
    found, error = None, None
    if form.is_bound and form.is_valid():
        told = form.cleaned_data
        asked = told | {"helped": bool(told["helped"]), "late_weeks": told["late_weeks"] or 0}
        try:
            found = what_if(WhatIfRequest.read(asked_of(vehicle, days.now())[0] | asked))
        except CoreError as refused:
            error = refused
    context = {
        "current_stage": "order", "form": form, "found": found, "error": error,
        "sides": [("As it is", found.now), ("As it would be", found.then)] if found else [],
        "cells": [("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Units", units.unit.get())],
    }  # fmt: skip
    return render(request, "order/what_if.html", context)
