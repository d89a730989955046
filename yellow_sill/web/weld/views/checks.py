"""A welded sheet looked through: lamp, back, dressed thickness, datum; pinholes and readings are tapped on its drawing."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.web.cut.views.common import chosen_cut, repair_context
from yellow_sill.web.frame import units
from yellow_sill.web.frame.typed import place_typed, whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role

from ..check_services import (
    check_of,
    checks_told,
    drop_pinhole,
    drop_reading,
    mark_pinhole,
    read_thickness,
    say_look,
)
from ..services import weld_of
from ..shop_forms import ThicknessForm


@with_repair
@open_to(Role.HELPER)
def checks(request: HttpRequest, repair: Repair) -> HttpResponse:
    """``what`` in a POST says what was looked at."""
    cuts, cut = chosen_cut(request, repair, "patch", "weld", "weld_check")
    context = repair_context(repair, "weld", cuts, cut)
    if cut is None:
        return render(request, "weld/checks.html", context)
    here = f"{reverse('weld:checks', args=[repair.vehicle_id, repair.number])}?cut={cut.number}"
    what, by = request.POST.get("what", ""), request.user.get_username()
    form = ThicknessForm(request.POST if what == "reading" else None)
    error, status = None, 200
    if request.method == "POST":
        try:
            if what in ("lamp", "back_seen"):
                say_look(cut, what, request.POST.get("value", ""), by=by)
            elif what == "pinhole":
                mark_pinhole(cut, _place(request.POST.get("at", "")), by=by)
            elif what == "drop_pinhole":
                drop_pinhole(cut, whole_number(request.POST.get("number", "")) or 0, by=by)
            elif what == "drop_reading":
                drop_reading(cut, whole_number(request.POST.get("number", "")) or 0, by=by)
            elif what == "reading":
                if not form.is_valid():
                    raise BadField(next(iter(form.errors.values()))[0], "thickness_mm")
                read_thickness(cut, _place(form.cleaned_data["at"]), form.cleaned_data["thickness_mm"], by=by)
            return redirect(here)
        except CoreError as refused:
            error, status = refused, 422
    told, check, view = checks_told(cut), check_of(cut), cut.panel.view
    context |= {
        "told": told, "check": check, "form": form, "error": error,
        "readings": [(n, each, n in told.thin) for n, each in enumerate(check.readings, start=1)],
        "paths": [each["path"] for plan in weld_of(cut).tack_plans for each in plan.get("paths") or [plan]],
        "svg": shell_svg(view, cut.panel.layer if view.layered else 1), "bounds": bounds_of(cut.outline),
        "board": {"pinholes": check.pinholes, "readings": [each | {"thin": n in told.thin} for n, each in enumerate(check.readings, start=1)]},
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Sheet", cut.panel.code), ("Pinholes", len(check.pinholes)),
            ("Readings", len(check.readings)), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "weld/checks.html", context, status=status)


def _place(text: str) -> list[float]:
    """Raises: BadField for what is no place."""
    place = place_typed(text)
    if place is None:
        raise BadField("That place is not on the drawing.", "at", "Tap the seam where it is.")
    return place
