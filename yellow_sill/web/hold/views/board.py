"""The hold board: the shell's members in space and in each view, what is tried on them, and what that does."""

from collections.abc import Container
from dataclasses import replace

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.hold.bodies import ON_CHASSIS
from yellow_sill.core.hold.condition import LESS_METAL
from yellow_sill.core.hold.verdict import verdict_of
from yellow_sill.core.hold.words import head_words, node_name, part_name, said_plainly
from yellow_sill.core.said import joined
from yellow_sill.web.datums.board_services import body_lines
from yellow_sill.web.frame import days
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.shells.view_bar import view_bar

from ..board_services import board_data, brace_rows, part_rows, places, tap_data
from ..brace_services import parts_ahead, taken_out_too_early
from ..models import HoldSetup
from ..services import (
    Facts,
    advice,
    both_sides_of,
    facts_of,
    has_structure,
    held_of,
    is_surveyed,
    keep_setup,
    metal_of,
    request_of,
    stand_nodes,
    stands_of,
)
from ..setups import ENDS, TUBES, Setup, setup_of, tried
from .common import cells, none_yet

#: The layers of a side, as the buttons call them.
LAYER_WORDS = ((1, "Outer"), (2, "Middle"), (3, "Inner"))


@require_GET
@with_vehicle
def board(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The state as it stands, or as the query tries it."""
    stored = setup_of(vehicle)
    try:
        setup = tried(Setup.of(stored), request.GET)
    except CoreError as error:
        return _page(request, vehicle, stored, Setup.of(stored), status=422, error=error)
    return _page(request, vehicle, stored, setup, advise="advise" in request.GET)


def _told(facts: Facts) -> Setup:
    """The setup with its stands told one by one, so that the usual ones chosen are no change."""
    return replace(facts.setup, stands=tuple(stands_of(facts)))


def _query(request: HttpRequest) -> str:
    """What is tried, without the view."""
    data = (request.POST if request.method == "POST" else request.GET).copy()
    for name in ("view", "layer", "advise", "csrfmiddlewaretoken"):
        data.pop(name, None)
    return data.urlencode()


def _page(
    request: HttpRequest,
    vehicle: Vehicle,
    stored: HoldSetup,
    setup: Setup,
    *,
    advise: bool = False,
    status: int = 200,
    **more,
) -> HttpResponse:
    if not has_structure(vehicle):
        return none_yet(request)
    kept = Setup.of(stored)
    since = whole_number(request.GET.get("since", "")) if "try" in request.GET else None
    views = list(vehicle.views.all())
    view = next((each for each in views if each.name == request.GET.get("view")), None)
    layer = min(3, max(1, whole_number(request.GET.get("layer", "")) or 1))
    context = {
        "current_stage": "hold", "setup": setup, "stored": stored, "tubes": TUBES, "ends": ENDS, "view": view, "layer": layer, "query": _query(request),
        "views": [button[:2] for button in view_bar(views, view)], "layer_words": LAYER_WORDS, "svg": shell_svg(view, layer) if view else "",
        "has_chassis": vehicle.body_type in ON_CHASSIS,
        "less_metal": LESS_METAL, "since": stored.version if since is None else since,
        "changed": since is not None and since != stored.version,
    } | more  # fmt: skip
    try:
        metal = metal_of(vehicle)
        facts, as_kept = facts_of(vehicle, setup, metal), facts_of(vehicle, kept, metal)
        held = held_of(facts)
        asked = request_of(facts)
        differs = context["differs"] = _told(facts) != _told(as_kept)
        context |= {
            "held": held, "head": head_words(held), "before": held_of(as_kept) if differs else None,
            "sentences": [said_plainly(each) for each in held.sentences], "both_sides": both_sides_of(facts),
            "too_early": taken_out_too_early(kept, facts, held),
            "surveyed": is_surveyed(vehicle), "worst": node_name(held.worst_node),
            "checks": [(each, joined((node_name(name) for name in each.nodes), " to ")) for each in sorted(held.checks, key=lambda c: -abs(c.change_mm))[:6]],
            "mode_at": node_name(held.softest.most) if held.softest else "",
            "hold_data": board_data(asked, held, [brace.pair for brace in kept.braces], [] if view else body_lines(vehicle), view, vehicle.datum_points.all()),
            "tap_data": tap_data(vehicle, asked, setup, views),
        }  # fmt: skip
        if advise:
            context |= _advised(vehicle, facts, asked.parts)
    except CoreError as error:
        context |= {"error": error, "differs": True}
        status = 422
        try:  # not what is tried: the shell's own sizes
            facts = facts_of(
                vehicle, replace(Setup.of(HoldSetup(vehicle=vehicle)), on_chassis=setup.on_chassis)
            )
            asked = request_of(facts)
        except CoreError as of_sizes:
            return none_yet(request, of_sizes)
    context |= {
        "parts": part_rows(asked, setup, facts.openings), "braces": brace_rows(asked, setup), "places": places(asked),
        "stand_places": [(name, node_name(name), name in asked.stands) for name in stand_nodes(facts)], "stand_count": len(asked.stands),
        "cells": cells(vehicle, ("Out", len(setup.out) + len(setup.cuts)), ("Braces", len(setup.braces)), ("Stands", len(asked.stands))),
    }  # fmt: skip
    return render(request, "hold/board.html", context, status=status)


def _advised(vehicle: Vehicle, facts: Facts, known: Container[str]) -> dict:
    """Where a brace helps most. Args: known: the parts of the structure, by code."""
    plan = advice(facts, tuple(parts_ahead(vehicle, facts)))
    access = lambda offer: ", ".join(part_name(each) if each in known else each for each in offer.access)  # noqa: E731
    return {
        "plan": plan,
        "offers": [
            (o, node_name(o.start), node_name(o.end), verdict_of(o.j, 0), access(o)) for o in plan.offers
        ],
        "plan_words": [said_plainly(each) for each in plan.sentences],
    }


@require_POST
@with_vehicle
def keep(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Make what was tried the way the shell stands: unless another setup was kept since the trying began."""
    stored = setup_of(vehicle)
    try:
        setup = tried(Setup.of(stored), request.POST)
    except CoreError as error:
        return _page(request, vehicle, stored, Setup.of(stored), status=422, error=error)
    try:
        keep_setup(
            vehicle,
            setup,
            version=whole_number(request.POST.get("since", "")),
            by=request.user.get_username(),
            today=days.today(),
        )
    except ChangedMeanwhile as changed:
        return _page(
            request, vehicle, changed.stored, setup, status=409, changed=True, since=changed.stored.version
        )
    except CoreError:
        return _page(request, vehicle, stored, setup)
    messages.success(request, "Kept: the shell stands like this now.")
    return redirect(reverse("hold:hold", args=[vehicle.pk]))
