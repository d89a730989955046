"""The hold board: the shell's members in space, what is tried on them, and what that does."""

from dataclasses import replace

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.hold.verdict import verdict_of
from yellow_sill.core.hold.words import head_words, node_name, said_plainly
from yellow_sill.web.datums.board_services import body_lines
from yellow_sill.web.frame import units
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from .board_services import board_data, brace_rows, order_chart, order_rows, part_rows, places
from .models import HoldSetup
from .services import (
    ENDS,
    MOST_PARTS,
    STAND_PLACES,
    TUBES,
    Setup,
    advice,
    facts_of,
    has_structure,
    held_of,
    keep_setup,
    order_plan,
    request_of,
    setup_of,
    tried,
)


@require_GET
@with_vehicle
def board(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The state as it stands, or as the query tries it."""
    stored = setup_of(vehicle)
    return _page(request, vehicle, stored, tried(Setup.of(stored), request.GET), advise="advise" in request.GET)


def _page(request: HttpRequest, vehicle: Vehicle, stored: HoldSetup, setup: Setup, *, advise: bool = False, status: int = 200, **more) -> HttpResponse:
    kept = Setup.of(stored)
    context = {"current_stage": "hold", "setup": setup, "stored": stored, "differs": setup != kept, "tubes": TUBES, "ends": ENDS} | more
    if not has_structure(vehicle):
        return render(request, "hold/none.html", context)
    facts = facts_of(vehicle, setup)
    try:
        held = held_of(facts)
        asked = request_of(facts)
        context |= {
            "held": held,
            "head": head_words(held),
            "before": held_of(replace(facts, setup=kept)) if setup != kept else None,
            "sentences": [said_plainly(each) for each in held.sentences],
            "checks": [(each, " to ".join(node_name(name) for name in each.nodes)) for each in sorted(held.checks, key=lambda c: -abs(c.change_mm))[:6]],
            "worst": node_name(held.worst_node),
            "mode_at": node_name(held.softest.most) if held.softest else "",
            "hold_data": board_data(asked, held, kept.braces, body_lines(vehicle)),
            "plan": advice(facts) if advise else None,
        }
        if context["plan"]:
            context["offers"] = [(offer, node_name(offer.start), node_name(offer.end), verdict_of(offer.j, 0)) for offer in context["plan"].offers]
            context["plan_words"] = [said_plainly(each) for each in context["plan"].sentences]
    except CoreError as error:
        context["error"], status = error, 422
        try:
            asked = request_of(replace(facts, setup=Setup.of(HoldSetup(vehicle=vehicle))))
        except CoreError:  # not what is tried: the shell's own sizes
            return render(request, "hold/none.html", context, status=status)
    context |= {
        "parts": part_rows(asked, setup, facts.openings),
        "braces": brace_rows(asked, setup),
        "stand_places": [(name, node_name(name), name in setup.stands) for name in STAND_PLACES],
        "places": places(asked),
        "cells": [("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Out", len(setup.out)), ("Braces", len(setup.braces)),
                  ("Stands", len(setup.stands)), ("Units", units.unit.get())],
    }  # fmt: skip
    return render(request, "hold/board.html", context, status=status)


@require_GET
@with_vehicle
def order(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """In which order to renew the parts that the query ticks."""
    setup, ticked = Setup.of(setup_of(vehicle)), tuple(dict.fromkeys(request.GET.getlist("job")))
    if not has_structure(vehicle):
        return render(request, "hold/none.html", {"current_stage": "hold"})
    context = {"current_stage": "hold", "most": MOST_PARTS, "ticked": ticked, "setup": setup}
    facts = facts_of(vehicle, setup)
    try:
        context["parts"] = sorted(part_rows(request_of(facts), setup, ()), key=lambda row: row["code"] not in ticked)
        if ticked:
            plan = order_plan(facts, ticked)
            context |= {
                "plan": plan, "rows": order_rows(plan.found), "chart": order_chart(plan),
                "locked_check": " to ".join(node_name(name) for name in plan.found.locked_in_check),
            }  # fmt: skip
    except CoreError as error:
        context["error"] = error
    context["cells"] = [("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Parts", len(ticked)), ("Braces", len(setup.braces)),
                        ("Stands", len(setup.stands)), ("Units", units.unit.get())]  # fmt: skip
    return render(request, "hold/order.html", context, status=422 if "error" in context else 200)


@require_POST
@with_vehicle
def keep(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Make what was tried the way the shell stands."""
    stored = setup_of(vehicle)
    setup = tried(Setup.of(stored), request.POST)
    told = request.POST.get("version", "")
    try:
        keep_setup(vehicle, setup, version=int(told) if told.isdigit() else None, by=request.user.get_username())
    except ChangedMeanwhile as changed:
        return _page(request, vehicle, changed.stored, setup, status=409, changed=True)
    except CoreError:
        return _page(request, vehicle, stored, setup)
    messages.success(request, "Kept: the shell stands like this now.")
    return redirect(reverse("hold:hold", args=[vehicle.pk]))
