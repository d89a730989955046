"""Cavities: which there are, what looks into them, where water leaves and where it stands."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.shell.cavity_records import Cavity
from yellow_sill.web.frame import units
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.frame.units import corners_typed

from ..access import with_vehicle
from ..drawing import shell_svg
from ..forms import OwnCavityForm, VolumeForm
from ..models import ShellView, Vehicle
from ..whole_services import (
    add_drain,
    cavities_here,
    drop_cavity,
    make_cavity,
    open_again,
    say_volume,
    stop_opening,
    undrained,
)

DONE = {
    "volume": "What it holds is stored.", "drain": "The drain is marked.", "stop": "That opening no longer counts.", "open": "That opening counts again.",
    "drop": "Your cavity is gone.",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class _Sent:
    """What became of a form that was not stored: forms and words to show again, the answer's status."""

    status: int = 200
    own_form: OwnCavityForm | None = None
    volume_form: VolumeForm | None = None
    fault: str = ""
    typed_at: str = ""


@with_vehicle
def cavities(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All cavities of a side on its drawing; ``cavity`` in the address opens one."""
    found = cavities_here(vehicle)
    chosen = next((each for each in found if each.code == request.GET.get("cavity")), None)
    sent = _stored(request, vehicle, chosen) if request.method == "POST" else _Sent()
    if isinstance(sent, HttpResponse):
        return sent
    asked = chosen.view if chosen else request.GET.get("view", "")
    names = list(dict.fromkeys(each.view for each in found)) or ["left"]
    view = get_object_or_404(vehicle.views, name=asked if asked in names else names[0])
    context = _board(vehicle, view, found, chosen) | {
        "sides": vehicle.views.filter(name__in=names).only("name", "title"), "own_form": sent.own_form or OwnCavityForm(), "fault": sent.fault,
        "volume_form": sent.volume_form or VolumeForm(initial=_volume(chosen)), "typed_at": sent.typed_at,
    }  # fmt: skip
    return render(request, "shells/cavities.html", context, status=sent.status)


def _stored(request: HttpRequest, vehicle: Vehicle, chosen: Cavity | None) -> _Sent | HttpResponse:
    """Store what was sent, or tell why not."""
    what, by, typed = request.POST.get("what", ""), request.user.get_username(), request.POST.get("at", "")
    if what == "own":
        return _own(request, vehicle, by)
    if chosen is None:
        messages.warning(request, "Choose a cavity first: tap it on the board or in the list.")
        return redirect("shells:cavities", vehicle.pk)
    if what == "volume":
        form = VolumeForm(request.POST)
        if not form.is_valid():
            return _Sent(status=422, volume_form=form)
        say_volume(vehicle, chosen.code, form.cleaned_data["volume_l"], by=by)
        return _done(request, vehicle, chosen.code, what)
    place = whole_number(request.POST.get("place"))
    try:
        _do(vehicle, what, chosen, typed, -1 if place is None else place, by)
    except CoreError as error:
        return _Sent(status=422, fault=error.message, typed_at=typed)
    return _done(request, vehicle, "" if what == "drop" else chosen.code, what)


def _own(request: HttpRequest, vehicle: Vehicle, by: str) -> _Sent | HttpResponse:
    """A cavity of one's own."""
    form = OwnCavityForm(request.POST)
    if form.is_valid():
        try:
            word = make_cavity(vehicle, by=by, **form.cleaned_data)
        except CoreError as error:
            form.add_error(error.where if error.where in form.fields else None, error.message)
        else:
            messages.success(request, f"{word.name} is a cavity now.")
            return redirect(f"{reverse('shells:cavities', args=[vehicle.pk])}?cavity={word.code}")
    return _Sent(status=422, own_form=form)


def _board(vehicle: Vehicle, view: ShellView, found: list[Cavity], chosen: Cavity | None) -> dict:
    """The cavities of a side on its drawing, the chosen one with its openings and its water."""
    word = vehicle.cavity_words.filter(code=chosen.code).first() if chosen else None
    return {
        "current_stage": "survey", "shell_tab": "cavities", "view": view, "svg": shell_svg(view, 1), "chosen": chosen,
        "cavities": [
            {"cavity": each, "rings": [view.in_shell(ring) for ring in each.outline]} for each in found if each.view == view.name
        ],
        "focus": chosen and bounds_of([at for ring in chosen.outline for at in view.in_shell(ring)]),
        "pockets": chosen and [view.in_shell(pocket.outline) for pocket in chosen.pockets],
        "openings": chosen and [{"opening": each, "at": view.in_shell([each.at])[0]} for each in chosen.openings],
        "stopped": word.stopped if word else [], "own": bool(word and word.outer),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Side", view.title), ("Cavities", len(found)),
            ("No drain known", undrained(found)), ("Units", units.unit.get()),
        ],
    }  # fmt: skip


def _volume(chosen: Cavity | None) -> dict:
    return {"volume_l": chosen.volume_l} if chosen and chosen.by_hand else {}


def _done(request: HttpRequest, vehicle: Vehicle, code: str, what: str) -> HttpResponse:
    messages.success(request, DONE[what])
    here = reverse("shells:cavities", args=[vehicle.pk])
    return redirect(f"{here}?cavity={code}" if code else here)


def _do(vehicle: Vehicle, what: str, chosen: Cavity, typed: str, place: int, by: str) -> None:
    """One change of a cavity. Raises: CoreError."""
    if what == "drain":
        places = corners_typed(typed)
        if len(places) != 1:
            raise CoreError(
                "Say where the drain is.", "at", "Tap it on the board, or type its place like 1200, 230."
            )
        add_drain(vehicle, chosen, places[0], by=by)
    elif what == "stop":
        stop_opening(vehicle, chosen, place, by=by)
    elif what == "open":
        open_again(vehicle, chosen.code, place, by=by)
    elif what == "drop":
        drop_cavity(vehicle, chosen.code, by=by)
    else:
        raise CoreError("Nothing was asked.", "what", "Reload the page.")
