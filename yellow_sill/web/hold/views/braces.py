"""Braces as they are fitted: tube, ends and day of each, the cut list, what each is in the way of; and a person's own panels."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.hold.own_panels import MOST_PLACES
from yellow_sill.core.hold.verdict import Held
from yellow_sill.core.hold.words import node_name, reason
from yellow_sill.core.said import joined
from yellow_sill.web.frame import days
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..board_services import places
from ..brace_services import TooEarly, brace_sheet, change_brace, tie_panel, uncounted_panels
from ..services import has_structure, held_of, request_of
from ..setups import ENDS, TUBES, Setup, setup_of
from .common import cells, kept_facts, none_yet


@with_vehicle
def braces(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The sheet of braces; a POST changes one, takes one out, or ties a panel."""
    if not has_structure(vehicle):
        return none_yet(request)
    context, status = {"slots": [(k, "") for k in range(MOST_PLACES)]}, 200
    if request.method == "POST":
        version, by = whole_number(request.POST.get("version", "")), request.user.get_username()
        try:
            if "tie" in request.POST:
                slots = [request.POST.get(f"place{k}", "") for k in range(MOST_PLACES)]
                nodes = [name for name in slots if name]
                context |= {"tie_typed": request.POST["tie"], "slots": list(enumerate(slots))}
                tie_panel(
                    vehicle,
                    request.POST["tie"],
                    [] if "untie" in request.POST else nodes,
                    version=version,
                    by=by,
                    today=days.today(),
                )
                messages.success(
                    request,
                    "Kept: the panel counts for nothing."
                    if "untie" in request.POST
                    else "Kept: the panel counts for the hold now.",
                )
            else:
                change_brace(vehicle, request.POST, version=version, by=by, today=days.today())
                messages.success(request, "The brace is out." if request.POST.get("remove") else "Kept.")
            return redirect(reverse("hold:braces", args=[vehicle.pk]))
        except TooEarly as early:
            context |= {"early": "-".join(early.fitted.pair), "early_words": _words(early.now, early.held)}
            status = 409
        except ChangedMeanwhile:
            context["changed"], status = True, 409
        except CoreError as error:
            there = {"-".join(brace.pair) for brace in Setup.of(setup_of(vehicle)).braces}
            context |= {
                "error": error,
                "wrong": pair if (pair := request.POST.get("pair")) in there else "",
                "typed": request.POST,
            }
            status = 422
    try:
        setup, facts = kept_facts(vehicle)
        held = held_of(facts)
        rows, bar = brace_sheet(vehicle, facts)
    except CoreError as error:
        return none_yet(request, error)
    asked = request_of(facts)
    context |= {
        "current_stage": "hold", "setup": setup, "stored": setup_of(vehicle), "rows": rows, "bar": bar, "tubes": TUBES, "ends": ENDS, "held": held,
        "uncounted": uncounted_panels(vehicle, facts), "places": places(asked), "today": days.today().isoformat(),
        "ties": [(panel, joined((node_name(name) for name in nodes), ", ")) for panel, nodes in setup.ties],
        "cells": cells(vehicle, ("Braces", len(setup.braces)), ("Tubes, m", f"{sum(bar.values()) / 1000:.1f}")),
    }  # fmt: skip
    return render(request, "hold/braces.html", context, status=status)


def _words(now: Held, without: Held) -> str:
    return f"{now.verdict} now, {without.verdict} without it. {reason(without)}"
