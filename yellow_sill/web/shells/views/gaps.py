"""Gaps round doors, bonnet and lids: rounds of them, judged part by part."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import cast

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number

from ..access import open_to, with_vehicle
from ..drawing import shell_svg
from ..forms import GapRoundForm, GapsForm, HungForm
from ..gap_services import (
    GapRow,
    PartGaps,
    drop_round,
    gaps_of,
    held_of,
    keep_gaps,
    measured_of,
    parts_of,
    say_hung,
    sides_of,
    start_round,
)
from ..models import GapRound, Role, Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class _Sent:
    """What became of a form that was not stored: forms to show again, both versions of a round, the answer's status."""

    status: int = 200
    round_form: GapRoundForm | None = None
    gaps_form: GapsForm | None = None
    conflict: list | None = None
    round_: GapRound | None = None


@with_vehicle
@open_to(Role.HELPER, what=("round", "gaps"))
def gaps(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The gaps of a round, part by part; ``round`` and ``part`` in the address choose, ``what`` in a POST says what is done."""
    rounds = list(vehicle.gap_rounds.all())
    round_ = _asked(request, rounds)
    sent: _Sent | HttpResponse = _Sent()
    if request.method == "POST":
        try:
            sent = _DEEDS.get(request.POST.get("what", ""), _keep)(request, vehicle, round_)
        except CoreError as error:
            messages.warning(request, error.message)
            sent = _Sent(status=422)
    if isinstance(sent, HttpResponse):
        return sent
    return render(
        request,
        "shells/gaps.html",
        _page(request, vehicle, rounds, sent.round_ or round_, sent),
        status=sent.status,
    )


def _asked(request: HttpRequest, rounds: list[GapRound]) -> GapRound | None:
    """The round that the form or the address names; else the last. Raises: Http404 for one that is gone."""
    asked = request.POST.get("round") or request.GET.get("round")
    if not asked:
        return rounds[-1] if rounds else None
    found = next((each for each in rounds if each.pk == whole_number(asked)), None)
    if found is None:
        raise Http404("That round of gaps is gone.")
    return found


def _here(request: HttpRequest, vehicle: Vehicle, round_: GapRound | None = None) -> HttpResponse:
    """Back to the page as it was looked at, or at another round."""
    asked = request.GET.copy()
    if round_ is not None:
        asked["round"] = str(round_.pk)
    return redirect(f"{reverse('shells:gaps', args=[vehicle.pk])}?{asked.urlencode()}")


def _begin(request: HttpRequest, vehicle: Vehicle, round_: GapRound | None) -> _Sent | HttpResponse:
    form = GapRoundForm(request.POST)
    if not form.is_valid():
        return _Sent(status=422, round_form=form)
    made = start_round(vehicle, by=request.user.get_username(), **form.cleaned_data)
    messages.success(request, "Go round with the gauge; a place left empty is not measured.")
    return _here(request, vehicle, made)


def _hang(request: HttpRequest, vehicle: Vehicle, round_: GapRound | None) -> _Sent | HttpResponse:
    form = HungForm(request.POST)
    if not form.is_valid():
        return _Sent(status=422)
    say_hung(vehicle, by=request.user.get_username(), **form.cleaned_data)
    messages.success(request, "Stored.")
    return _here(request, vehicle)


def _drop(request: HttpRequest, vehicle: Vehicle, round_: GapRound | None) -> _Sent | HttpResponse:
    if round_ is None:
        raise BadField("There is no round to throw away.", "round")
    try:
        drop_round(round_, version=whole_number(request.POST.get("version")), by=request.user.get_username())
    except ChangedMeanwhile as error:
        stored = cast(GapRound, error.stored)
        return _Sent(
            status=409, conflict=[("The round", "thrown away", f"{len(stored.gaps_mm)} gaps")], round_=stored
        )
    messages.success(request, "The round is thrown away; Changes takes that back.")
    return redirect("shells:gaps", vehicle.pk)


def _keep(request: HttpRequest, vehicle: Vehicle, round_: GapRound | None) -> _Sent | HttpResponse:
    if round_ is None:
        raise BadField("Begin a round first.", "round")
    form = GapsForm(request.POST, places=_places(vehicle))
    if not form.is_valid():
        return _Sent(status=422, gaps_form=form)
    try:
        keep_gaps(
            round_, version=form.cleaned_data["version"], gaps_mm=form.gaps(), typed=form.typed(), by=request.user.get_username()
        )  # fmt: skip
    except ChangedMeanwhile as error:
        stored = cast(GapRound, error.stored)
        again = form.sent_again(stored.version)
        return _Sent(status=409, gaps_form=again, conflict=form.against(stored), round_=stored)
    messages.success(request, "The gaps are stored.")
    return _here(request, vehicle)


_DEEDS: dict[str, Callable[[HttpRequest, Vehicle, GapRound | None], _Sent | HttpResponse]] = {
    "round": _begin,
    "hung": _hang,
    "drop": _drop,
    "gaps": _keep,
}


def _places(vehicle: Vehicle) -> list[str]:
    return [place.code for part in parts_of(vehicle) for place in part.places]


def _page(request: HttpRequest, vehicle: Vehicle, rounds: list, round_: GapRound | None, sent: _Sent) -> dict:
    """The board, and the forms beside it."""
    earlier = rounds[: rounds.index(round_)] if round_ in rounds else []
    before = earlier[-1] if earlier else None
    parts = gaps_of(vehicle, round_, before)
    asked = request.GET.get("part")
    chosen = next((each for each in parts if each.part.code == asked), parts[0] if parts else None)
    form = sent.gaps_form or (
        GapsForm(initial=GapsForm.of(round_), places=_places(vehicle)) if round_ else None
    )
    others = [row.code for each in parts if each is not chosen for row in each.rows]
    return _board(vehicle, round_, parts, chosen) | {
        "rounds": rounds, "before": before, "round_form": sent.round_form or GapRoundForm(initial={"taken_on": days.today()}),
        "gaps_form": form, "conflict": sent.conflict, "fields": [(row, form[row.code]) for row in chosen.rows] if form and chosen else [],
        "others": [form[code] for code in others] if form else [],
    }  # fmt: skip


def _board(vehicle: Vehicle, round_: GapRound | None, parts: list[PartGaps], chosen: PartGaps | None) -> dict:
    """The chosen part on its drawing with its gaps."""
    view = get_object_or_404(vehicle.views, name=chosen.part.view) if chosen else vehicle.views.first()
    beside = (
        chosen
        and chosen.part.side != chosen.part.view
        and vehicle.views.filter(name=chosen.part.side).first()
    )
    marks = [
        {"code": row.code, "at": view.in_shell([row.at])[0], "gap": _told(row), "out": row.out}
        for row in (chosen.rows if chosen else ())
    ]
    return {
        "current_stage": "survey", "shell_tab": "gaps", "round": round_, "parts": parts, "chosen": chosen, "view": view,
        "svg": shell_svg(view, 1), "around": beside and shell_svg(beside, 1), "held": held_of(chosen.part) if chosen else [],
        "marks": marks, "beside": sides_of(vehicle, round_),
        "focus": bounds_of([mark["at"] for mark in marks]) if marks else view.bounds,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Round", round_.name if round_ else "none"),
            ("Measured", "{} of {}".format(*measured_of(parts))), ("Day", round_.taken_on if round_ else "–"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip


def _told(row: GapRow) -> str:
    return "?" if row.gap_mm is None else units.reading(row.gap_mm)
