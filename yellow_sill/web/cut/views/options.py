"""The ways to renew a panel side by side; and the release list of old spot welds for the bench."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from yellow_sill.core.cut.plans import Options
from yellow_sill.core.cut.ranking import shares
from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of, shaped, widened
from yellow_sill.core.repairs.hours import KIND_WORDS, clock
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.rule_services import told_rules
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.models import Panel, Role

from ..forms import OptionsForm
from ..layer_services import Stack, stacks_of
from ..models import PanelChoice
from ..option_services import choose_option, options_of, own_plan
from ..release_services import release_list, tick_nugget
from .common import chosen_cut, repair_context

METHOD_WORDS = {"drill": "drilled", "grind": "ground off", "drill through": "drilled through"}
#: Metal shown round the cuts on their little drawings, mm; how much wider than high a card's drawing is.
ROUND_MM, CARD_SHAPE = 30.0, 1.7


@with_repair
def options(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The ways compared as the query prices them; a POST chooses one."""
    cuts, cut = chosen_cut(request, repair)
    stacks = stacks_of(repair)
    asked = request.POST if request.method == "POST" else request.GET
    stack = next(
        (each for each in stacks if str(each.front.pk) == asked.get("panel")), stacks[0] if stacks else None
    )
    panel = stack.front if stack else None
    context = repair_context(repair, "options", cuts, cut) | {
        "panels": [each.front for each in stacks],
        "panel": panel,
    }
    if stack is None:
        return render(request, "cut/options.html", context)
    rules = told_rules(repair.vehicle)
    stored, status = PanelChoice.objects.filter(repair=repair, panel=panel).first(), 200
    form = OptionsForm(
        asked if "hour" in asked else None, rules=rules, priced=stored.priced if stored else None
    )
    valid = form.is_bound and form.is_valid()
    told = form.told() if valid else form.priced
    if request.method == "POST" and valid:
        version, by = request.POST.get("version", ""), request.user.get_username()
        try:
            choose_option(
                repair, stack, request.POST.get("name", ""), told, why=request.POST.get("why", ""), version=whole_number(version), by=by,
                today=days.today(),
            )  # fmt: skip
            messages.success(request, "Written into the record; the cuts are drawn to it.")
            return redirect(reverse("cut:cut", args=[repair.vehicle_id, repair.number]))
        except CoreError as error:
            context["error"], status = error, 422
        except ChangedMeanwhile as changed:
            context["changed"], stored, status = True, changed.stored, 409
    context |= {
        "form": form,
        "stored": stored,
        "why": request.POST.get("why", "") or (stored.why if stored else ""),
        "kinds": KIND_WORDS,
    }
    try:
        worked = options_of(repair, stack, told)
    except CoreError as error:
        return render(request, "cut/options.html", context | {"error": error}, status=422)
    context |= _compared(repair, stack, worked, stored)
    return render(request, "cut/options.html", context, status=422 if form.is_bound and not valid else status)


def _compared(repair: Repair, stack: Stack, worked: Options, stored: PanelChoice | None) -> dict:
    """The ways beside each other, as rows and bars."""
    panel, sheets = stack.front, stack.panels
    bars = shares(worked.options)
    own = {plan.name: plan for plan in repair.own_plans.filter(panel=panel)}
    return {
        "worked": worked, "bounds": _shown(worked, stack), "stack": stack, "view": panel.view,
        "rows": [
            {
                "option": option, "hours": clock(round(option.hours * 60)), "spots": sum(option.release.values()), "own": own.get(option.name),
                "bar": bars[option.name], "css": " is-chosen" if stored and stored.chosen == option.name else "",
                "how": ", ".join(f"{count} {METHOD_WORDS[how]}" for how, count in option.release.items() if count),
            }
            for option in worked.options
        ],
        "rust": [finding for sheet in sheets for finding in stack.findings.get(sheet.pk, [])],
        "cells": [("Repair", repair.code), ("Panel", panel.code), ("Ways", len(worked.options)), ("Units", units.unit.get())],
    }  # fmt: skip


def _shown(worked, stack) -> tuple[float, float, float, float]:
    """The part of the panel that its little drawings show: rust and cuts, in the shape of a card."""
    places = [
        point
        for panel in stack.panels
        for finding in stack.findings.get(panel.pk, [])
        for point in finding.outline
    ]
    for option in worked.options:
        if option.name != "whole":
            places += [
                point
                for outline in (
                    *option.outlines,
                    *(each for sheet in option.inner for each in sheet.outlines),
                )
                for point in outline
            ]
    return shaped(widened(bounds_of(places), ROUND_MM), CARD_SHAPE)


@require_POST
@with_repair
def own(request: HttpRequest, repair: Repair) -> HttpResponse:
    """Keep the cuts as drawn as a plan of one's own, or take one out (``remove``)."""
    here = reverse("cut:options", args=[repair.vehicle_id, repair.number])
    panel = get_object_or_404(
        Panel.objects.filter(view__vehicle=repair.vehicle), pk=whole_number(request.POST.get("panel"))
    )
    if plan := repair.own_plans.filter(panel=panel, pk=whole_number(request.POST.get("remove"))).first():
        messages.success(request, f"{plan} is taken out.")
        plan.delete()
        return redirect(f"{here}?panel={panel.pk}")
    try:
        plan = own_plan(repair, panel, request.POST.get("own_name", ""), by=request.user.get_username())
        messages.success(request, f"{plan} is compared with the others from now on.")
    except CoreError as error:
        messages.warning(request, error.message)
    return redirect(f"{here}?panel={panel.pk}")


@with_repair
def release(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The old spot welds that the cuts take, to print, and to tick off."""
    cuts, cut = chosen_cut(request, repair)
    context = repair_context(repair, "release", cuts, cut)
    try:
        context["panels"] = release_list(repair)
    except CoreError as error:
        return render(request, "cut/release.html", context | {"error": error}, status=422)
    context["total"] = sum(each.count for each in context["panels"])
    context["minutes"] = clock(sum(each.minutes for each in context["panels"]))
    return render(request, "cut/release.html", context)


@require_POST
@with_repair
@open_to(Role.HELPER)
def tick(request: HttpRequest, repair: Repair, panel_id: int, nugget: int) -> HttpResponse:
    """Tick one nugget off, or take the tick back."""
    panel = get_object_or_404(Panel.objects.filter(cuts__repair=repair).distinct(), pk=panel_id)
    by_board = "application/json" in request.headers.get("Accept", "")
    try:
        tick_nugget(
            repair,
            panel,
            nugget,
            done="undo" not in request.POST,
            by=request.user.get_username(),
            today=days.today(),
        )
        if by_board:
            return JsonResponse({"done": "undo" not in request.POST})
    except CoreError as error:
        if by_board:
            return error_json(error)
        messages.warning(request, units.said(error.message))
    return redirect(f"{reverse('cut:release', args=[repair.vehicle_id, repair.number])}#p{panel.pk}")
