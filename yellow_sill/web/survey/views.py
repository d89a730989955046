from datetime import date

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import middle_of
from yellow_sill.core.shell import LAYERS
from yellow_sill.core.survey.grading import Grade
from yellow_sill.web.frame.board_json import corner_list, json_body
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg, silhouette_svg
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle

from .forms import FindingForm
from .models import Finding
from .services import FindingInUse, create_finding, delete_finding, mirror_state, preview, stack_at, update_finding, where_words


def _layer(request: HttpRequest) -> int:
    name = request.GET.get("layer", "")
    return LAYERS.index(name) + 1 if name in LAYERS else 1


def _tag(finding: Finding, chosen: Finding | None) -> dict:
    return {
        "n": finding.number,
        "letter": finding.grade or "?",
        "at": middle_of(finding.bounds_mm),
        "bounds": finding.bounds_mm,
        "selected": finding == chosen,
        "href": finding.get_absolute_url(),
        "name": f"Finding {finding.number}, {finding.grade_word}",
    }


#: What the board needs of each finding; outlines of panels are long.
LIGHT = ("vehicle_id", "number", "title", "grade", "outline", "bounds_mm", "changed_at", "panel__name", "panel__layer", "panel__view_id")


def _context(vehicle: Vehicle, view: ShellView, layer: int, chosen: Finding | None = None) -> dict:
    """What the board needs: the drawing, the findings on it, the buttons."""
    views = list(vehicle.views.defer("features"))
    marks = list(vehicle.findings.values_list("pk", "panel_id", "panel__view_id", "panel__layer", "grade", "outline", named=True))
    shown = vehicle.findings.filter(panel__view=view)
    if view.layered:
        shown = shown.filter(panel__layer=layer)
    here = list(shown.select_related("panel").only(*LIGHT))
    pks = {f.pk for f in here}
    ghosts = [m for m in marks if m.panel__view_id == view.pk and m.pk not in pks]
    others = [
        {
            "view": other,
            "svg": shell_svg(other, 1),
            "findings": [m for m in marks if m.panel__view_id == other.pk and (m.panel__layer == 1 or not other.layered)],
        }
        for other in views
        if other.pk != view.pk
    ]
    counts = {grade.value: sum(1 for m in marks if m.grade == grade.value) for grade in Grade}
    return {
        "current_stage": "survey",
        "finding": chosen,
        "view": view,
        "layer": layer,
        "layer_name": LAYERS[layer - 1],
        "views": [(v, silhouette_svg(v), sum(1 for m in marks if m.panel__view_id == v.pk)) for v in views],
        "layers": LAYERS if view.layered else (),
        "svg": shell_svg(view, layer),
        "findings": here,
        "ghosts": ghosts,
        "marks": marks,
        "others": others,
        "tags": [_tag(f, chosen) for f in here],
        "counts": [(grade, counts[grade.value]) for grade in Grade],
        "cells": [
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("Findings", f"{len(here)} of {len(marks)}"),
            ("Layer", LAYERS[layer - 1] if view.layered else "all"),
            ("Drawn", f"{max((f.changed_at for f in here), default=vehicle.changed_at):%d %b %Y}"),
            ("Units", "mm"),
        ],
    }


@require_GET
@with_vehicle
def survey(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    first = vehicle.views.only("name").first()
    return redirect("survey:board", vehicle.pk, first.name)


@require_GET
@with_vehicle
def board(request: HttpRequest, vehicle: Vehicle, view_name: str) -> HttpResponse:
    view = get_object_or_404(ShellView.objects.defer("features"), vehicle=vehicle, name=view_name)
    layer = _layer(request)
    panels = _panels(view, layer).only("view_id", "code", "name", "mirror_code", "layer", "thickness_mm")
    return render(request, "survey/board.html", _context(vehicle, view, layer) | {"panels": panels})


def _panels(view: ShellView, layer: int):
    panels = view.panels.order_by("code")
    return panels.filter(layer=layer) if view.layered else panels


@with_vehicle
def new(request: HttpRequest, vehicle: Vehicle, view_name: str) -> HttpResponse:
    """Draw or type a new finding."""
    view = get_object_or_404(ShellView.objects.defer("features"), vehicle=vehicle, name=view_name)
    layer = _layer(request)
    panels = _panels(view, layer)
    form = FindingForm(request.POST or None, view=view, panels=panels, initial={"panel": request.GET.get("panel", "")})
    if request.method == "POST" and form.is_valid():
        try:
            made = create_finding(vehicle, by=request.user.get_username(), **form.stored())
            messages.success(request, f"Finding {made.number} is stored.")
            return redirect(made)
        except CoreError as error:
            form.refuse(error)
    context = _context(vehicle, view, layer) | _form_context(form, panels, reverse("survey:check", args=[vehicle.pk]))
    return render(request, "survey/edit.html", context, status=422 if form.errors else 200)


def _form_context(form: FindingForm, panels, check_url: str) -> dict:
    rings = {panel.code: {"outline": panel.outline, "holes": panel.holes, "name": panel.name, "mm": panel.thickness_mm} for panel in panels}
    return {"form": form, "panel_rings": rings, "check_url": check_url}


@with_vehicle
def finding(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """One finding: shown with its detail; ``?edit`` opens the form."""
    chosen = get_object_or_404(
        Finding.objects.select_related("panel__view").prefetch_related("evidence", "repairs").defer("panel__view__features", "panel__view__silhouette"),
        vehicle=vehicle,
        number=number,
    )
    view, layer = chosen.panel.view, chosen.panel.layer
    context = _context(vehicle, view, layer if view.layered else 1, chosen)
    if request.method != "POST" and "edit" not in request.GET:
        mirror, mirrored = mirror_state(chosen)
        stack = stack_at(chosen, view.panels.all(), context["marks"])
        context |= where_words(chosen, view)
        context |= {"mirror_panel": mirror, "mirrored": mirrored, "stack": stack, "repairs": chosen.repairs.all()}
        return render(request, "survey/finding.html", context)
    panels = _panels(view, layer)
    form = FindingForm(request.POST or None, view=view, panels=panels, finding=chosen)
    conflict = None
    if request.method == "POST" and form.is_valid():
        values = form.cleaned_data
        try:
            update_finding(chosen, version=values["version"], by=request.user.get_username(), **form.stored())
            messages.success(request, f"Finding {number} is stored.")
            return redirect(chosen)
        except CoreError as error:
            form.refuse(error)
        except ChangedMeanwhile as error:
            stored = error.stored
            conflict = [
                ("Panel", values["panel"], stored.panel),
                ("Name", values["title"], stored.title),
                ("Corners", f"{len(values['corners'])} corners", f"{len(stored.outline)} corners, {stored.area_mm2:.0f} mm²"),
                ("Grade", "by your evidence", stored.grade_word),
                ("Note", values["note"], stored.note),
            ]
            form.data = form.data.copy()
            form.data["version"] = stored.version
            context["stored"] = stored
    context |= _form_context(form, panels, reverse("survey:check", args=[vehicle.pk])) | {"conflict": conflict}
    return render(request, "survey/edit.html", context, status=409 if conflict else 422 if form.errors else 200)


@require_POST
@with_vehicle
def delete(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    chosen = get_object_or_404(Finding, vehicle=vehicle, number=number)
    view_name = chosen.panel.view.name
    try:
        delete_finding(chosen)
    except FindingInUse as error:
        messages.warning(request, f"Finding {number} is mended by {error}; it stays in the record.")
        return redirect(chosen)
    messages.success(request, f"Finding {number} is deleted.")
    return redirect("survey:board", vehicle.pk, view_name)


@require_POST
@with_vehicle
def check(request: HttpRequest, vehicle: Vehicle) -> JsonResponse:
    """What the core says of a finding that is being drawn."""
    values = json_body(request)
    name, code = str(values.get("view", "")), str(values.get("panel", ""))
    panel = get_object_or_404(Panel.objects.select_related("view"), view__vehicle=vehicle, view__name=name, code=code)
    evidence = [{"made_on": date.today().isoformat(), **row} for row in values.get("evidence", []) if isinstance(row, dict)]  # noqa: DTZ011
    try:
        extent, grading = preview(panel, corner_list(values.get("corners")), evidence)
    except CoreError as error:
        return error_json(error, place=panel.view.place_words(error.at))
    return JsonResponse(
        {
            "size_mm": extent and [round(size, 1) for size in extent.size_mm],
            "area_mm2": extent and extent.area_mm2,
            "grade": grading.grade.value if grading.grade else "",
            "word": grading.grade.word if grading.grade else "Not graded",
            "why": grading.why,
        }
    )
