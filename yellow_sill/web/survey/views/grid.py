"""The thickness grid of a finding: typed readings, and the gauge's."""

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.survey.thickness import LEAST_PITCH_MM, MOST_PITCH_MM
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.board_json import answer, json_body
from yellow_sill.web.frame.fields import NumberField, length_typed
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role, Vehicle

from ..gauge import read_gauge
from ..grid_services import grid_of, grid_summary, keep_reading, set_pitch
from ..models import Finding


class PitchForm(forms.Form):
    pitch_mm = NumberField(least=LEAST_PITCH_MM, most=MOST_PITCH_MM, label="Pitch of the grid, mm")


def _one(vehicle: Vehicle, number: int) -> Finding:
    found = (
        Finding.objects.select_related("panel__view")
        .prefetch_related("readings")
        .defer("panel__view__features", "panel__view__silhouette")
    )
    return get_object_or_404(found, vehicle=vehicle, number=number)


@require_GET
@with_vehicle
def grid(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    chosen = _one(vehicle, number)
    context = _state(chosen) | {
        "current_stage": "survey",
        "finding": chosen,
        "view": chosen.panel.view,
        "svg": shell_svg(chosen.panel.view, chosen.panel.layer),
        "pitch_form": PitchForm(initial={"pitch_mm": chosen.grid_pitch_mm}),
        "cells": [
            ("Finding", chosen.number), ("Body no.", vehicle.body_no or "–"), ("Panel", chosen.panel.code),
            ("Sheet, mm", f"{chosen.panel.thickness_mm:g}"), ("Pitch", f"{chosen.grid_pitch_mm:g}"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "survey/grid.html", context)


def _state(chosen: Finding) -> dict:
    return {"grid": grid_of(chosen), "summary": grid_summary(chosen)}


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def reading(request: HttpRequest, vehicle: Vehicle, number: int) -> JsonResponse:
    """Store the reading of one cell: typed, taken from the gauge, or taken away."""
    chosen, values = _one(vehicle, number), json_body(request)
    try:
        cell = (int(values["column"]), int(values["row"]))
        by_gauge = values.get("gauge") is True
        thickness = read_gauge(chosen.panel.thickness_mm) if by_gauge else _typed(values.get("mm", ""))
    except (KeyError, TypeError, ValueError):
        return error_json(BadField("There is no such cell in this grid.", "cell", "Tap one on the board."))
    except CoreError as error:
        return error_json(error)
    try:
        keep_reading(
            chosen,
            cell,
            thickness,
            by=request.user.get_username(),
            read_on=days.today(),
            by_gauge=by_gauge,
        )
    except CoreError as error:
        return error_json(error)
    fresh = _state(_one(vehicle, number))
    told = fresh["summary"]
    summary = told and {
        "least": f"{told.least_mm:.2f}", "mean": f"{told.mean_mm:.2f}", "worst": f"{told.worst_loss_pct:.0f}", "count": f"{told.count} of {told.cells}",
    }  # fmt: skip
    return answer(
        {"grid": fresh["grid"], "summary": summary, "grade": Finding.objects.get(pk=chosen.pk).grade_word}
    )


def _typed(text) -> float | None:
    """Raises: BadField."""
    try:
        return length_typed(str(text), "mm")  # a sheet's thickness is in mm, whatever the rest is shown in
    except forms.ValidationError as error:
        raise BadField(error.message, "thickness_mm") from None


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def pitch(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    chosen, form = _one(vehicle, number), PitchForm(request.POST)
    try:
        if not form.is_valid():
            raise BadField(next(iter(form.errors.values()))[0], "pitch_mm")
        set_pitch(chosen, form.cleaned_data["pitch_mm"], by=request.user.get_username())
    except CoreError as error:
        messages.warning(request, error.message)
    return redirect("survey:grid", vehicle.pk, number)
