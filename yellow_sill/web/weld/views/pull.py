"""How far welding pulls the patch of a cut, order beside order."""

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.weld.orders import drawn_edge
from yellow_sill.web.cut.views.common import chosen_cut, repair_context
from yellow_sill.web.frame import units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.fields import NumberField
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.drawing import shell_svg

from ..pull_services import pulled
from ..services import weld_of

#: The movement is drawn so many times larger.
TIMES = 60


class PullForm(forms.Form):
    """What the person knows better than the rules of thumb."""

    shrink_mm = NumberField(
        least=0, most=3, required=False, label="One tack shrank the seam by, mm", help_text="Two marks across it, before and after a tack on scrap."
    )  # fmt: skip
    clamps = NumberField(least=0, most=100, unit="", required=False, label="Clamps and magnets that hold it")
    clear_mm = NumberField(least=1, most=5000, required=False, label="Flat panel beside it up to a fold, mm")
    crown_mm = NumberField(least=50, most=100_000, required=False, label="Radius of its crown, mm")

    def values(self) -> dict:
        clean = dict(self.cleaned_data)
        return clean | {"clamps": None if clean["clamps"] is None else round(clean["clamps"])}


@require_GET
@with_repair
def pull(request: HttpRequest, repair: Repair) -> HttpResponse:
    """Movement and squeeze of each order; ``order`` in the address is the one drawn."""
    cuts, cut = chosen_cut(request, repair, "patch", "weld")
    context = repair_context(repair, "weld", cuts, cut)
    if cut is None:
        return render(request, "weld/pull.html", context)
    form = PullForm(request.GET if "clamps" in request.GET else None)
    told = shown = error = None
    places: list = []
    if not form.is_bound or form.is_valid():
        try:
            told, places = pulled(weld_of(cut), form.values() if form.is_bound else {})
            shown = next((each for each in told.orders if each.name == request.GET.get("order")), None)
            shown = shown or next(each for each in told.orders if each.name == told.best)
        except CoreError as fault:
            error = fault
    view = cut.panel.view
    query = request.GET.copy()
    query.pop("order", None)
    context |= {
        "form": form, "told": told, "shown": shown, "error": error, "times": TIMES, "query": query.urlencode(), "places": places,
        "moved": drawn_edge(places, shown.edge, TIMES) if shown else [],
        "hammered": [(letter, places[each.first - 1 : each.last], each) for letter, each in zip("ABCDEF", shown.hammer, strict=False)] if shown else [],
        "tags": [
            Tag.of(letter, bounds_of(places[each.first - 1 : each.last]), name=str(each.words)) for letter, each in zip("ABCDEF", shown.hammer, strict=False)
        ] if shown else [],
        "svg": shell_svg(view, cut.panel.layer if view.layered else 1), "bounds": bounds_of(cut.outline),
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Tacks", len(places)), ("Drawn", f"×{TIMES}"),
            ("Free field, mm", f"{told.free_mm:.0f}" if told else "–"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "weld/pull.html", context, status=422 if error or form.errors else 200)
