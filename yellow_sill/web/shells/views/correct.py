"""Correcting the shell: move a corner, add a panel, a hole, a bracket, delete what this vehicle does not have."""

from django.contrib import messages
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.shell import LAYERS
from yellow_sill.web.frame import units
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.frame.units import corners_text, corners_typed

from ..access import with_vehicle
from ..correct_services import (
    add_bracket,
    add_hole,
    delete_panel,
    drop_bracket,
    drop_hole,
    is_alone,
    keep_panel,
)
from ..drawing import shell_svg
from ..drawing_files import outline_of_drawing
from ..forms import DrawingFileForm, PanelForm
from ..models import Panel, ShellView, Vehicle
from ..services import draw_missing_views, views_missing
from ..view_bar import view_bar

DONE = {
    "panel": "The panel is stored.", "hole": "The hole is cut in the drawing.", "bracket": "The bracket is drawn.", "drop-hole": "The hole is closed.",
    "drop-bracket": "The bracket is gone.", "delete": "The panel is gone from this view.",
}  # fmt: skip


@with_vehicle
def correct(request: HttpRequest, vehicle: Vehicle, view_name: str) -> HttpResponse:
    """The shell as a board of panels; ``panel`` in the address opens one, ``what`` in a POST says what is done to it."""
    view = get_object_or_404(ShellView, vehicle=vehicle, name=view_name)
    name = request.GET.get("layer", LAYERS[0])
    layer = LAYERS.index(name) + 1 if name in LAYERS else 1
    panels = view.panels.filter(layer=layer) if view.layered else view.panels.all()
    chosen = panels.filter(code=request.GET.get("panel", "")).first()
    here = f"{reverse('shells:correct', args=[vehicle.pk, view.name])}?layer={LAYERS[layer - 1]}"
    form, conflict, status, given = _form(view, chosen, layer), None, 200, ""
    if request.method == "POST":
        what = request.POST.get("what", "")
        form = PanelForm(request.POST) if what == "panel" else form
        try:
            if what == "views":
                added = draw_missing_views(vehicle, by=request.user.get_username())
                messages.success(
                    request, f"Drawn: {', '.join(added)}." if added else "All views are drawn already."
                )
                return redirect(here)
            if what == "drawing":
                given = _drawing(request, view)
            elif what != "panel" or form.is_valid():
                code = _do(what, request, view, chosen, layer, form)
                messages.success(request, DONE[what])
                return redirect(f"{here}&panel={code}")
        except CoreError as error:
            status = 422
            place = view.place_words(error.at)
            if what == "panel":
                form.add_error(
                    error.where if error.where in form.fields else "corners", error.message + place
                )
            else:
                messages.warning(request, error.message + place)
                given = request.POST.get("corners", "")
        except ChangedMeanwhile as error:
            status, conflict = (
                409,
                [("Panel", request.POST.get("code", ""), "somebody corrected this view meanwhile")],
            )
            form = (
                PanelForm({**request.POST.dict(), "version": error.stored.version})
                if what == "panel"
                else _form(view, chosen, layer)
            )
            view = error.stored
        if what == "panel" and form.errors and status == 200:
            status = 422
    if given:
        form = PanelForm(initial={**form.initial, "corners": given})
    context = _board(vehicle, view, layer, panels, chosen) | {
        "form": form,
        "here": here,
        "conflict": conflict,
    }
    return render(request, "shells/correct.html", context, status=status)


def _board(
    vehicle: Vehicle, view: ShellView, layer: int, panels: QuerySet[Panel], chosen: Panel | None
) -> dict:
    """The panels of a layer on their drawing, with the one that is open."""
    return {
        "current_stage": "survey",
        "view": view,
        "layer_name": LAYERS[layer - 1],
        "layers": LAYERS if view.layered else (),
        "panels": panels.order_by("code"),
        "views": [button[:2] for button in view_bar(vehicle.views.defer("features", "silhouette"), view)],
        "svg": shell_svg(view, layer),
        "panel": chosen,
        "stored": view,
        "missing": views_missing(vehicle),
        "drawing_form": DrawingFileForm(),
        "brackets": [
            feature
            for feature in view.features
            if feature["kind"] == "bracket" and feature["layer"] in (0, layer)
        ],
        "rings": [each.outline for each in panels if each != chosen],
        "focus": chosen and bounds_of(chosen.outline),
        "cells": _cells(vehicle, view, panels.count(), chosen),
    }


def _cells(vehicle: Vehicle, view: ShellView, count: int, chosen: Panel | None) -> list:
    panel = chosen.code if chosen else "new"
    corrected = ("Corrected", f"{view.version - 1} times")
    return [
        ("Vehicle", vehicle.model),
        ("Body no.", vehicle.body_no or "–"),
        ("Panels", count),
        ("Panel", panel),
        corrected,
        ("Units", units.unit.get()),
    ]


def _form(view: ShellView, panel: Panel | None, layer: int) -> PanelForm:
    if panel is None:
        return PanelForm(initial={"version": view.version, "layer": layer, "thickness_mm": 1.0})
    initial = {
        name: getattr(panel, name) for name in ("code", "name", "mirror_code", "layer", "thickness_mm")
    }
    return PanelForm(
        initial=initial | {"version": view.version, "corners": corners_text(view.in_shell(panel.outline))}
    )


def _drawing(request: HttpRequest, view: ShellView) -> str:
    """The corners of an uploaded drawing, as typed text. Raises: CoreError."""
    form = DrawingFileForm(request.POST, request.FILES)
    if not form.is_valid():
        raise CoreError(next(iter(form.errors.values()))[0], "drawing")
    places = corners_typed(form.cleaned_data["at"] or "0, 0")
    at = view.in_shell(places)[0] if places else (0.0, 0.0)
    upload = form.cleaned_data["drawing"]
    return corners_text(
        view.in_shell(outline_of_drawing(upload.read(), upload.name, at, form.cleaned_data["unit"]))
    )


def _do(
    what: str, request: HttpRequest, view: ShellView, panel: Panel | None, layer: int, form: PanelForm
) -> str:
    """Do one correction; returns the code of the panel to open next. Raises: CoreError, ChangedMeanwhile."""
    by, typed = request.user.get_username(), request.POST.get("version", "")
    version = whole_number(typed)
    if what == "panel":
        values = dict(form.cleaned_data)
        corners = view.in_shell(corners_typed(values.pop("corners")))
        kept = keep_panel(view, panel, version=values.pop("version"), by=by, corners=corners, **values)
        if is_alone(kept):
            messages.warning(
                request,
                f"{kept.code} lies on nothing: no other sheet of this view comes near it. Its edges count as free, and it closes no cavity.",
            )
        return kept.code
    if what == "bracket":
        add_bracket(
            view, layer, view.in_shell(corners_typed(request.POST.get("corners", ""))), version=version, by=by
        )
    elif what == "drop-bracket":
        drop_bracket(view, _number(request.POST.get("place")), version=version, by=by)
    elif panel is None:
        raise CoreError("Choose a panel first.", "panel", "Tap it on the board or in the list.")
    elif what == "hole":
        add_hole(
            view, panel, view.in_shell(corners_typed(request.POST.get("corners", ""))), version=version, by=by
        )
    elif what == "drop-hole":
        drop_hole(view, panel, _number(request.POST.get("place")), version=version, by=by)
    elif what == "delete":
        delete_panel(view, panel, version=version, by=by)
        return ""
    else:
        raise CoreError("Nothing was asked.", "what", "Reload the page.")
    return panel.code if panel else ""


def _number(text) -> int:
    return -1 if (number := whole_number(text)) is None else number
