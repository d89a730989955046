"""The closing check of the box that a repair closes."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.web.cut.views.common import repair_context
from yellow_sill.web.frame import units
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.unchanged import by_the_clock

from ..closing_services import Box, box_of, keep_box
from ..forms import BoxForm


@by_the_clock
@with_repair
def box(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The list, where water goes, and what a person knows of both."""
    now = timezone.now()
    context = repair_context(repair, "protect", list(repair.cuts.without_drawings()), None)
    error, conflict, status, found = None, None, 200, None
    try:
        found = box_of(repair, now)
    except CoreError as fault:
        error, status = fault, 422
    if found is None:
        return render(request, "protect/box.html", context | {"error": error, "cells": []}, status=status)
    cavities = [(each.code, each.name) for each in found.cavities]
    word = found.word
    initial = {"cavity": word.cavity, "version": word.version} if word else {"version": 0}
    form = BoxForm(request.POST if request.method == "POST" else None, cavities=cavities, initial=initial)
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                keep_box(
                    repair,
                    form.values(),
                    version=form.cleaned_data["version"],
                    by=request.user.get_username(),
                )
                messages.success(request, "Stored.")
                return redirect(reverse("protect:box", args=[repair.vehicle_id, repair.number]))
            except CoreError as refused:
                error = refused
            except ChangedMeanwhile as changed:
                rows = _both(form.values(), changed.stored)
                if not (conflict := both_of(request, form, changed, rows=rows)):
                    return redirect(reverse("protect:box", args=[repair.vehicle_id, repair.number]))
                status = 409
    context |= _page(repair, found, form) | {
        "form": form,
        "error": error,
        "conflict": conflict,
        "stored": word,
    }
    return render(request, "protect/box.html", context, status=status)


def _both(mine: dict, stored) -> list[tuple]:
    told = lambda rows: ", ".join(str(next(iter(row.values()))) for row in rows) or "nothing"  # noqa: E731
    return [
        (label, told(mine[name]), told(getattr(stored, name)))
        for name, label in (("pockets", "Pockets"), ("still", "Still to be done"))
        if mine[name] != getattr(stored, name)
    ]


def _page(repair: Repair, found: Box, form: BoxForm) -> dict:
    bound = form.is_bound
    pockets = (
        form.rows("pocket", "to", "litres")
        if bound
        else [(each["name"], ", ".join(each["to"]), f"{each['litres']:g}") for each in found.pockets]
    )
    still = form.rows("what_still", "tool", "reaches") if bound else [
        (each["what"], each["tool"], {True: "yes", False: "no"}.get(each["reaches"], "")) for each in found.still
    ]  # fmt: skip
    poured = [row[0] for row in form.rows("poured")] if bound else found.poured
    cavity = found.cavity
    view = repair.vehicle.views.filter(name=cavity.view).first() if cavity else None
    outline = [at for part in cavity.outline for at in part] if cavity else []
    return {
        "box": found, "pockets": [(name, to, litres, name in poured) for name, to, litres in pockets], "still": still,
        "view": view, "svg": shell_svg(view, 1) if view else "", "bounds": bounds_of(outline) if outline else [0, 0, 1, 1],
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Box", cavity.name if cavity else "–"),
            ("Open", sum(item.ready is False for item in found.told.items)), ("Not known", sum(item.ready is None for item in found.told.items)),
            ("Units", units.unit.get()),
        ],
    }  # fmt: skip
