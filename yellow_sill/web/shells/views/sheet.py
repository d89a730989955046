"""One sheet of the shell in full: its edges stretch by stretch, its curve, the cavities it looks into."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.shell.edges import EdgeStretch
from yellow_sill.web.frame import units
from yellow_sill.web.frame.typed import whole_number

from ..access import with_vehicle
from ..drawing import shell_svg
from ..forms import CurveForm, EdgeForm
from ..models import CurveWord, Panel, Vehicle
from ..whole_services import (
    cavities_here,
    curves_of,
    say_curve,
    say_edge,
    stretches_of,
    unsay_curve,
    unsay_edge,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Sent:
    """What became of a form that was not stored: the form to show again."""

    edge_form: EdgeForm | None = None
    curve_form: CurveForm | None = None


@with_vehicle
def sheet(request: HttpRequest, vehicle: Vehicle, view_name: str, code: str) -> HttpResponse:
    """A sheet; ``edge`` in the address opens a stretch of its outline, ``what`` in a POST says what is said of it."""
    panel = get_object_or_404(
        Panel.objects.select_related("view"), view__vehicle=vehicle, view__name=view_name, code=code
    )
    stretches = stretches_of(vehicle, panel)
    number = whole_number(request.GET.get("edge"))
    chosen = stretches[number] if number is not None and number < len(stretches) else None
    sent: _Sent | HttpResponse = _Sent()
    if request.method == "POST":
        sent = _said(request, panel, chosen)
    if isinstance(sent, HttpResponse):
        return sent
    context = _board(vehicle, panel, stretches) | {
        "chosen": chosen, "number": number, "edge_form": sent.edge_form or _edge_form(chosen), "curve_form": sent.curve_form or _curve_form(panel),
    }  # fmt: skip
    return render(request, "shells/sheet.html", context, status=422 if request.method == "POST" else 200)


def _said(request: HttpRequest, panel: Panel, chosen: EdgeStretch | None) -> _Sent | HttpResponse:
    """Store what a person says of an edge or of the curve, or take it back."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    words = "Stored: what you say goes before the drawing."
    if what == "edge" and chosen is not None:
        edge_form = EdgeForm(request.POST)
        if not edge_form.is_valid():
            return _Sent(edge_form=edge_form)
        say_edge(panel, chosen, by=by, **edge_form.said())
    elif what == "curve":
        curve_form = CurveForm(request.POST)
        if not curve_form.is_valid():
            return _Sent(curve_form=curve_form)
        say_curve(panel, by=by, **curve_form.cleaned_data)
    elif what == "drawn-edge" and chosen is not None:
        unsay_edge(panel, chosen, by=by)
        words = "The drawing counts again."
    elif what == "drawn-curve":
        unsay_curve(panel, by=by)
        words = "The drawing counts again."
    else:
        messages.warning(request, "That stretch is gone: the drawing changed meanwhile. Tap it again.")
        words = ""
    if words:
        messages.success(request, words)
    return redirect("shells:sheet", panel.view.vehicle_id, panel.view.name, panel.code)


def _board(vehicle: Vehicle, panel: Panel, stretches: list[EdgeStretch]) -> dict:
    """The sheet on its drawing with its edges and zones, and what it looks into."""
    zones = curves_of(vehicle, panel)
    into = [
        {"cavity": cavity, "lies": face.lies}
        for cavity in cavities_here(vehicle)
        for face in cavity.faces
        if face.code == panel.code
    ]
    return {
        "current_stage": "survey", "panel": panel, "view": panel.view, "svg": shell_svg(panel.view, panel.layer), "stretches": stretches, "zones": zones,
        "into": into, "here": reverse("shells:sheet", args=[vehicle.pk, panel.view.name, panel.code]), "focus": bounds_of(panel.outline),
        "drawn_zones": [
            {"kind": zone.kind, "outline": panel.view.in_shell(outline)} for zone in zones for outline in zone.outlines if len(zones) > 1
        ],
        "said_curve": CurveWord.objects.filter(panel=panel).exists(),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Sheet", panel.code), ("Edges", len(stretches)),
            ("Steel", f"{panel.thickness_mm:g} mm"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip


def _edge_form(chosen: EdgeStretch | None) -> EdgeForm | None:
    if chosen is None:
        return None
    return EdgeForm(
        initial={
            "kind": chosen.kind, "meets": ", ".join(chosen.meets), "height_mm": chosen.height_mm, "inside_radius_mm": chosen.inside_radius_mm,
            "direction": chosen.direction,
        }
    )  # fmt: skip


def _curve_form(panel: Panel) -> CurveForm:
    word = CurveWord.objects.filter(panel=panel).first()
    names = ("kind", "radius_mm", "other_radius_mm")
    return CurveForm(initial={name: getattr(word, name) for name in names} if word else None)
