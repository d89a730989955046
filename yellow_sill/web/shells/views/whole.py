"""The whole shell looked through: a section at any place, and a side taken apart."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.shell.apart import pulled_apart
from yellow_sill.core.shell.sections import SHOWS, Section, labels, middle_of, traced
from yellow_sill.web.frame import units

from ..access import with_vehicle
from ..drawing import shell_svg
from ..forms import SectionForm
from ..models import ShellView, Vehicle
from ..whole_services import reach_of, section_of

#: The view that shows where an axis is cut, those that are there first.
SHOWN_ON = {"x": ("left", "top", "underside"), "y": ("top", "underside", "front"), "z": ("left", "front")}
AXES = (("x", "Across"), ("y", "Along"), ("z", "Level"))


@require_GET
@with_vehicle
def section(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """A cut through the shell: its lines, and the sheets it meets from the outside in."""
    axis = request.GET.get("axis", "x")
    axis = axis if axis in SHOWS else "x"
    low, high = reach_of(vehicle, axis)
    middle = middle_of(low, high, axis)
    form = SectionForm(request.GET)
    error, at = "", form.cleaned_data["at"] if form.is_valid() else None
    try:
        found = section_of(vehicle, axis, middle if at is None else at)
    except CoreError as refused:
        error, found = refused.message, section_of(vehicle, axis, middle)
    error = error or " ".join(form.errors.get("at", ()))
    views = {view.name: view for view in vehicle.views.defer("features")}
    where = next((views[name] for name in SHOWN_ON[axis] if name in views), None)
    numbers = labels(found)
    rows = [
        {"n": each.n, "code": each.code, "met": next(met for met in found.sheets if met.code == each.code)}
        for each in numbers
    ]
    context = {
        "current_stage": "survey", "shell_tab": "section", "axis": axis, "axes": AXES, "found": found, "labels": numbers, "rows": rows, "low": low,
        "high": high, "where": where, "where_svg": where and shell_svg(where, 1), "trace": where and traced(where.plane, axis, found.at_mm, where.bounds),
        "error": error, "typed": request.GET.get("at", ""), "cells": _cells(vehicle, found, len(numbers)),
    }  # fmt: skip
    return render(request, "shells/section.html", context, status=422 if error else 200)


def _cells(vehicle: Vehicle, found: Section, sheets: int) -> list:
    return [
        ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Cut", f"{found.axis} {units.length(found.at_mm)}"),
        ("Sheets", sheets), ("Shows", ", ".join(found.shows)), ("Units", units.unit.get()),
    ]  # fmt: skip


@require_GET
@with_vehicle
def apart(request: HttpRequest, vehicle: Vehicle, view_name: str) -> HttpResponse:
    """A side taken apart: its layers one beneath another."""
    view = get_object_or_404(ShellView, vehicle=vehicle, name=view_name, layered=True)
    layers, bounds = pulled_apart(view.bounds)
    sheets = list(view.panels.order_by("layer", "code"))
    context = {
        "current_stage": "survey", "shell_tab": "apart", "view": view, "bounds": bounds, "names": [{"name": each.name, "at": each.named_at} for each in layers],
        "layers": [
            {"pulled": each, "svg": shell_svg(view, each.layer), "panels": [panel for panel in sheets if panel.layer == each.layer]} for each in layers
        ],
        "sides": vehicle.views.filter(layered=True).only("name", "title"),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Side", view.title), ("Sheets", len(sheets)), ("Layers", len(layers)),
            ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "shells/apart.html", context)
