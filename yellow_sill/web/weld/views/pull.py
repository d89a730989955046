"""How far welding pulls the patch of a cut, order beside order."""

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.weld.distortion import Pulled
from yellow_sill.core.weld.orders import drawn_edge
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.views.common import chosen_cut, repair_context
from yellow_sill.web.frame import units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.fields import NumberField
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.drawing import shell_svg

from ..models import WeldPlan
from ..pull_services import keep_pull, pulled
from ..services import weld_of

#: The movement is drawn so many times larger.
TIMES = 60
NAMES = ("shrink_mm", "clamps", "clear_mm", "crown_mm")


class PullForm(forms.Form):
    """What the person knows better than the rules of thumb."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    shrink_mm = NumberField(
        least=0, most=3, required=False, label="One tack shrank the seam by, mm", help_text="Two marks across it, before and after a tack on scrap."
    )  # fmt: skip
    clamps = NumberField(least=0, most=100, unit="", required=False, label="Clamps and magnets that hold it")
    clear_mm = NumberField(least=1, most=5000, required=False, label="Flat panel beside it up to a fold, mm")
    crown_mm = NumberField(least=50, most=100_000, required=False, label="Radius of its crown, mm")

    def values(self) -> dict[str, Any]:
        clean = {name: self.cleaned_data[name] for name in NAMES}
        return clean | {"clamps": None if clean["clamps"] is None else round(clean["clamps"])}


@with_repair
def pull(request: HttpRequest, repair: Repair) -> HttpResponse:
    """Movement and squeeze of each order; ``order`` in the address is the one drawn."""
    cuts, cut = chosen_cut(request, repair, "patch", "weld")
    context = repair_context(repair, "weld", cuts, cut)
    if cut is None:
        return render(request, "weld/pull.html", context)
    weld = weld_of(cut)
    form = PullForm(
        request.POST if request.method == "POST" else None, initial={**weld.pull, "version": weld.version}
    )
    error, conflict, status = None, None, 200
    if request.method == "POST":
        status = 422
        try:
            if form.is_valid():
                version = form.cleaned_data["version"]
                keep_pull(cut, form.values(), version=version, by=request.user.get_username())
                messages.success(request, "Worked out with what you know.")
                return redirect(_here(repair, cut))
        except CoreError as refused:
            error = refused
        except ChangedMeanwhile as changed:
            if not (conflict := both_of(request, form, changed, rows=_both(form, changed.stored))):
                return redirect(_here(repair, cut))
            status = 409
    context |= {"form": form, "conflict": conflict, "stored": weld}
    return _page(request, repair, cut, weld, context, error, status)


def _here(repair: Repair, cut: Cut) -> str:
    return f"{reverse('weld:pull', args=[repair.vehicle_id, repair.number])}?cut={cut.number}"


def _both(form: PullForm, stored: WeldPlan) -> list[tuple]:
    return [
        (str(form.fields[name].label), value, stored.pull.get(name))
        for name, value in form.values().items()
        if value != stored.pull.get(name)
    ]


def _page(
    request: HttpRequest, repair: Repair, cut: Cut, weld: WeldPlan, context: dict, error: CoreError | None, status: int
) -> HttpResponse:  # fmt: skip
    told = shown = None
    places: list = []
    try:
        told, places = pulled(weld, weld.pull)
        shown = next((each for each in told.orders if each.name == request.GET.get("order")), None)
        shown = shown or next(each for each in told.orders if each.name == told.best)
    except CoreError as fault:
        error, status = error or fault, 422
    view = cut.panel.view
    context |= _drawn(places, shown) | {
        "told": told, "shown": shown, "error": error, "times": TIMES,
        "svg": shell_svg(view, cut.panel.layer if view.layered else 1), "bounds": bounds_of(cut.outline),
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Tacks", len(places)), ("Drawn", f"×{TIMES}"),
            ("Free field, mm", f"{told.free_mm:.0f}" if told else "–"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "weld/pull.html", context, status=status)


def _drawn(places: list, shown: Pulled | None) -> dict:
    """Where the edge goes, and the runs to hammer with their letters."""
    if shown is None:
        return {"moved": [], "hammered": [], "tags": []}
    runs = [
        (letter, places[each.first - 1 : each.last], each)
        for letter, each in zip("ABCDEF", shown.hammer, strict=False)
    ]
    tags = [Tag.of(letter, bounds_of(run), name=str(each.words)) for letter, run, each in runs]
    return {"moved": drawn_edge(places, shown.edge, TIMES), "hammered": runs, "tags": tags}
