"""What the cuts of a panel meet and the drawing does not show: tapped on the board, taken from a photo, listed."""

from django.contrib import messages
from django.db.models import Q
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.web.frame import units
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Panel, Role

from ..around_services import keep_surrounding, nuggets_from, on_drawing, own_of, swages
from ..forms import SurroundingForm
from ..models import Surrounding
from .common import chosen_cut, repair_context

#: Metal shown round the panel, mm.
ROUND_MM = 90.0
COLUMNS = (
    "kind",
    "name",
    "points",
    "marked",
    "pitch_mm",
    "survives",
    "drill_here",
    "drill_behind",
    "both_sides",
)


def _initial(own: Surrounding | None, view, points: list) -> dict:
    if own is None:
        row = {"kind": "row", "marked": True} if points else {"kind": "row"}
        return row | {"pitch_mm": "", "drill_here": True, "points": units.corners_text(view.in_shell(points))}
    return {name: getattr(own, name) for name in (*COLUMNS, "version")} | {
        "points": units.corners_text(view.in_shell(own.points))
    }


@with_repair
@open_to(Role.HELPER)
def around(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The list of a panel of this repair, and a form for one more or the one that ``?own=`` names."""
    cuts, cut = chosen_cut(request, repair)
    panels = list(
        Panel.objects.filter(Q(findings__repairs=repair) | Q(cuts__repair=repair))
        .distinct()
        .select_related("view")
    )
    wanted = request.GET.get("panel", "")
    panel = next((each for each in panels if str(each.pk) == wanted), None) or next(
        (each for each in panels if cut and each.pk == cut.panel_id), panels[0]
    )
    context = repair_context(repair, "around", cuts, cut) | {"panels": panels, "panel": panel}
    view = panel.view
    own = panel.surroundings.filter(pk=whole_number(request.GET.get("own"))).first()
    points, error, conflict = [], None, None
    if photo := request.GET.get("photo"):
        try:
            points = nuggets_from(repair.vehicle, panel, photo)
        except CoreError as refused:
            error = refused
    form = SurroundingForm(request.POST or None, view=view, initial=_initial(own, view, points))
    here = f"{reverse('cut:around', args=[repair.vehicle_id, repair.number])}?panel={panel.pk}"
    if request.method == "POST" and form.is_valid():
        values = {name: form.cleaned_data[name] for name in COLUMNS}
        try:
            kept = keep_surrounding(
                panel, values, own=own, version=form.cleaned_data["version"], by=request.user.get_username()
            )
            messages.success(request, f"{kept} is kept: cuts of {panel.code} mind it from now on.")
            return redirect(here)
        except CoreError as refused:
            form.add_error(refused.where if refused.where in form.fields else "points", refused.message)
        except ChangedMeanwhile as changed:
            conflict = both_of(request, form, changed, COLUMNS)
            if not conflict:
                return redirect(here)
            context["stored"] = changed.stored
    things, here_cuts = own_of(panel), [each for each in cuts if each.panel_id == panel.pk]
    context |= {
        "form": form, "own": own, "error": error, "conflict": conflict, "things": things, "told": on_drawing(panel), "view": view,
        "photos": panel.photos.order_by("taken_on"), "svg": shell_svg(view, panel.layer if view.layered else 1),
        "bounds": list(widened(bounds_of([point for each in here_cuts for point in each.outline] or panel.outline), ROUND_MM)),
        "findings": [finding for finding in repair.findings.all() if finding.panel_id == panel.pk],
        "other_cuts": here_cuts,
        "board": {"panel": panel.outline, "lines": swages(panel), "outlines": list(Surrounding.OUTLINES)},
        "cells": [("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Panel", panel.code), ("Things", len(things)),
                  ("Steel, mm", f"{panel.thickness_mm:g}"), ("Units", units.unit.get())],
    }  # fmt: skip
    return render(
        request,
        "cut/around.html",
        context,
        status=409 if conflict else 422 if form.errors or error else 200,
    )


@require_POST
@with_repair
def delete_surrounding(request: HttpRequest, repair: Repair, pk: int) -> HttpResponse:
    own = get_object_or_404(Surrounding, pk=pk, panel__view__vehicle=repair.vehicle)
    messages.success(request, f"{own} is taken out of the list.")
    own.delete()
    return redirect(f"{reverse('cut:around', args=[repair.vehicle_id, repair.number])}?panel={own.panel_id}")
