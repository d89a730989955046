"""The ways to renew a panel side by side; and the release list of old spot welds for the bench."""

from datetime import date

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.core.repair.hours import KIND_WORDS, clock
from yellow_sill.web.frame import units
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.shells.models import Panel

from ..forms import OptionsForm
from ..models import PanelChoice, Repair
from ..option_services import choose_option, options_of
from ..release_services import release_list, tick_nugget
from ..rule_services import told_rules
from .common import chosen_cut, repair_context, with_repair

#: Metal shown round a panel on its little drawings, mm.
ROUND_MM = 20.0


def _today() -> date:
    return date.today()  # noqa: DTZ011 - the garage's own day


@with_repair
def options(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The ways compared as the query prices them; a POST chooses one."""
    cuts, cut = chosen_cut(request, repair)
    panels = list(Panel.objects.filter(findings__repairs=repair).distinct().select_related("view"))
    asked = request.POST if request.method == "POST" else request.GET
    panel = next((each for each in panels if str(each.pk) == asked.get("panel")), cut.panel if cut else (panels[0] if panels else None))
    context = repair_context(repair, "options", cuts, cut) | {"panels": panels, "panel": panel}
    if panel is None:
        return render(request, "repairs/options.html", context)
    rules = told_rules(repair.vehicle)
    form = OptionsForm(asked if "hour" in asked else None, rules=rules)
    valid = form.is_bound and form.is_valid()
    told = form.told() if valid else rules
    stored, status = PanelChoice.objects.filter(repair=repair, panel=panel).first(), 200
    if request.method == "POST" and valid:
        version, by = request.POST.get("version", ""), request.user.get_username()
        try:
            choose_option(
                repair, panel, request.POST.get("name", ""), told, why=request.POST.get("why", ""), version=int(version) if version.isdigit() else None, by=by,
                today=_today(),
            )  # fmt: skip
            messages.success(request, "Written into the record; the cuts are drawn to it.")
            return redirect(reverse("repairs:cut", args=[repair.vehicle_id, repair.number]))
        except CoreError as error:
            context["error"], status = error, 422
        except ChangedMeanwhile as changed:
            context["changed"], stored, status = True, changed.stored, 409
    context |= {"form": form, "stored": stored, "why": request.POST.get("why", "") or (stored.why if stored else ""), "kinds": KIND_WORDS}
    try:
        worked = options_of(repair, panel, told)
    except CoreError as error:
        return render(request, "repairs/options.html", context | {"error": error}, status=422)
    view = panel.view
    context |= {
        "worked": worked, "bounds": widened(bounds_of(panel.outline), ROUND_MM),
        "rows": [{"option": option, "hours": clock(round(option.hours * 60)), "spots": sum(option.release.values())} for option in worked.options],
        "rust": [finding for finding in repair.findings.all() if finding.panel_id == panel.pk], "view": view,
        "cells": [("Repair", repair.code), ("Panel", panel.code), ("Ways", len(worked.options)), ("Units", units.unit.get())],
    }  # fmt: skip
    return render(request, "repairs/options.html", context, status=422 if form.is_bound and not valid else status)


@with_repair
def release(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The old spot welds that the cuts take, to print, and to tick off."""
    cuts, cut = chosen_cut(request, repair)
    context = repair_context(repair, "release", cuts, cut)
    try:
        context["panels"] = release_list(repair)
    except CoreError as error:
        return render(request, "repairs/release.html", context | {"error": error}, status=422)
    context["total"] = sum(each["count"] for each in context["panels"])
    context["minutes"] = clock(sum(each["minutes"] for each in context["panels"]))
    for each in context["panels"]:
        places = [point for cut_ in each["cuts"] for point in cut_.outline]
        each["bounds"] = widened(bounds_of(places), 40.0)
        u0, _, u1, _ = each["bounds"]
        each["size"] = max(7.0, (u1 - u0) / 110)
    return render(request, "repairs/release.html", context)


@require_POST
@with_repair
def tick(request: HttpRequest, repair: Repair, panel_id: int, nugget: int) -> HttpResponse:
    """Tick one nugget off, or take the tick back."""
    panel = get_object_or_404(Panel.objects.filter(cuts__repair=repair).distinct(), pk=panel_id)
    try:
        tick_nugget(repair, panel, nugget, done="undo" not in request.POST, by=request.user.get_username(), today=_today())
    except CoreError as error:
        messages.warning(request, f"{error.what} {error.mend}")
    return redirect(f"{reverse('repairs:release', args=[repair.vehicle_id, repair.number])}#p{panel.pk}")
