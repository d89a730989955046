"""What is wanted: every need at its place on the shell, and by state in a list."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.parts.needs import STATES
from yellow_sill.web.frame import days
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.fields import PlaceField
from yellow_sill.web.frame.files import shown
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role, Vehicle
from yellow_sill.web.shells.views.common import view_chosen

from ..forms import NeedForm
from ..models import Need
from ..need_services import keep_need, lacking, needs_of, put_at, state_of, told_of, want_missing
from ..paper_services import to_find, wanted_paper

#: Needs in these states are still to be found.
TO_FIND = ("wanted", "quoted", "returned")


@require_GET
@with_vehicle
def paper(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What nobody has ordered yet as paper for a breaker or a forum; ``need`` in the address chooses some."""
    chosen = {whole_number(each) for each in request.GET.getlist("need")}
    needs = [
        each
        for each in needs_of(vehicle)
        if (
            each.number in chosen
            if chosen
            else (step := state_of(each)) is None or (step.state in TO_FIND and to_find(each))
        )
    ]
    return shown(wanted_paper(vehicle, needs), "wanted.pdf")


@with_vehicle
@open_to(Role.HELPER, what=("keep", "missing", "place"))
def wanted(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``state`` filters, ``view`` chooses the drawing, ``place`` opens a need to be put on it."""
    needs, number = needs_of(vehicle), whole_number(request.GET.get("place", ""))
    placed = next((need for need in needs if need.number == number), None)
    views, view = view_chosen(request, vehicle, placed.view_id if placed else None)
    what = request.POST.get("what", "")
    sent = (request.POST, request.FILES) if what == "keep" else (None, None)
    form, error, status = NeedForm(*sent, repairs=list(vehicle.repairs.all())), None, 200
    if request.method == "POST":
        try:
            if done := _done(request, vehicle, view, form, placed):
                messages.success(request, f"{done.number} {done.name}: kept.")
                return redirect("parts:need", vehicle.pk, done.number)
            status = 422
        except CoreError as refused:
            error, status = refused, 422
    told, state = told_of(needs, days.today()), request.GET.get("state", "")
    rows = [
        (need, each, STATES[each.state])
        for need, each in zip(needs, told.needs, strict=True)
        if not state or each.state == state
    ]
    context = {
        "current_stage": "parts", "view": view, "views": views, "svg": shell_svg(view, 1), "form": form,
        "error": error, "rows": rows, "told": told, "state": state, "missing": lacking(vehicle), "placed": placed,
        "states": [(key, words, told.counts[key]) for key, words in STATES.items() if told.counts[key]],
        "tags": [
            Tag.of(need.number, [*need.at, *need.at], href=reverse("parts:need", args=[vehicle.pk, need.number]), name=f"{need.number} {need.name}")
            for need, *_ in rows if need.at and need.view_id == view.pk
        ],
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Wanted", told.counts["wanted"] + told.counts["quoted"]),
            ("Ordered", told.counts["ordered"]), ("Here", told.counts["arrived"] + told.counts["checked"]), ("Late", told.late),
        ],
    }  # fmt: skip
    return render(request, "parts/wanted.html", context, status=status)


def _done(request: HttpRequest, vehicle: Vehicle, view, form: NeedForm, placed: Need | None) -> Need | None:
    """The need that was stored; None where the form shows why not. Raises: CoreError."""
    by, today = request.user.get_username(), days.today()
    if request.POST.get("what") == "missing":
        return want_missing(vehicle, request.POST.get("key", ""), today=today, by=by)
    if request.POST.get("what") == "place" and placed is not None:
        try:
            at = PlaceField().clean(request.POST.get("at", ""))
        except ValidationError as error:
            raise BadField(error.messages[0], "at") from None
        put_at(placed, view, at, by=by)
        return placed
    if not form.is_valid():
        return None
    values = form.values() | {"view": view if form.cleaned_data["at"] else None}
    return keep_need(
        vehicle, values, photo=form.cleaned_data["photo"], stored=None, version=None, today=today, by=by
    )
