"""Rounds: a list, a new one, and entering its readings one by one, from a device, or from a sheet filled by hand."""

from dataclasses import asdict
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.datum.drawn import verdict_words
from yellow_sill.core.datum.network import KIND_WORDS
from yellow_sill.core.datum.next_reading import HEIGHT_SIGMA_MM, TAPE_SIGMA_MM
from yellow_sill.core.datum.walk import reading_key
from yellow_sill.core.days import day_words
from yellow_sill.core.device_lines import LEVEL, TAPE, settled
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.said import joined
from yellow_sill.core.units import exact_length
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.board_json import answer, json_body
from yellow_sill.web.frame.devices import stream_of
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import say_meanwhile
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.gap_services import rounds_told
from yellow_sill.web.shells.models import Role, Vehicle

from ..forms import RoundCorrectionForm, RoundForm
from ..models import Round
from ..plan_services import open_round
from ..reading_services import Kept, expected_value, keep_reading, strike
from ..round_services import fit_of, proposals, read_counts
from ..sheet import measuring_sheet
from ..subjects import subjects
from ..walk import ReadValue, step_of, steps_of
from .common import cells, drawing, tools


@with_vehicle
@open_to(Role.HELPER)
def rounds(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All rounds, and a form for the next one."""
    found = list(vehicle.rounds.all())
    initial = {
        "stage": request.GET.get("stage", ""), "about": request.GET.get("about", ""), "taken_on": days.today(),
        "tape_sigma_mm": TAPE_SIGMA_MM, "height_sigma_mm": HEIGHT_SIGMA_MM,
    }  # fmt: skip
    form = RoundForm(request.POST or None, subjects=subjects(vehicle), initial=initial)
    if request.method == "POST" and form.is_valid():
        try:
            return redirect(open_round(vehicle, by=request.user.get_username(), **form.cleaned_data))
        except CoreError as error:
            form.add_error(error.where if error.where in form.fields else None, error.message)
    points = list(vehicle.datum_points.all())
    rows, counts = [], read_counts(vehicle)
    for each in found:
        fit = fit_of(each)
        words = verdict_words(fit.result, None)[0] if fit.result else fit.error.what
        rows.append(
            {
                "round": each,
                "read": counts.get(each.pk, 0),
                "planned": len(each.plan),
                "words": words,
                "errors": fit.result.gross_errors if fit.result else (),
            }
        )
    context = tools(vehicle, None) | {
        "rows": rows, "form": form, "has_points": len(points) >= 3, "gap_rounds": rounds_told(vehicle),
    }  # fmt: skip
    return render(request, "datums/rounds.html", context, status=422 if form.errors else 200)


def _one(vehicle: Vehicle, number: int) -> Round:
    found = get_object_or_404(Round, vehicle=vehicle, number=number)
    found.vehicle = vehicle
    return found


@require_GET
@with_vehicle
def enter(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """Enter readings one after another in walking order; the pair is drawn on the board."""
    round_ = _one(vehicle, number)
    view = (
        vehicle.views.defer("features", "silhouette").filter(name="underside").first()
        or vehicle.views.defer("features", "silhouette").first()
    )
    views = {}
    for each in vehicle.views.only("name", "title", "u_axis", "v_axis"):
        views[each.name] = {p.code: each.plane.drawn(p.nominal) for p in vehicle.datum_points.all()}
    context = tools(vehicle, None) | drawing(view) | {
        "round": round_,
        "steps": [asdict(step) for step in steps_of(round_)],
        "places": views[view.name],
        "kinds": [(kind, word) for kind, word in KIND_WORDS.items() if kind != "height"],
        "codes": list(vehicle.datum_points.values_list("code", flat=True)),
        "cells": cells(vehicle, ("Round", round_.number), ("Stage", round_.get_stage_display()), ("Day", day_words(round_.taken_on))),
    }  # fmt: skip
    return render(request, "datums/enter.html", context)


@require_GET
@with_vehicle
def state(request: HttpRequest, vehicle: Vehicle, number: int) -> JsonResponse:
    """The round as it is now, for whoever enters on another device."""
    return answer({"steps": [asdict(step) for step in steps_of(_one(vehicle, number))]})


def _told(round_: Round, kept: Kept, codes: list[str]) -> dict[str, Any]:
    """What a board is answered: the reading, its step as it is now, and what is asked about it."""
    reading, meant = kept.reading, kept.meant
    return {
        "value": asdict(ReadValue.of(reading)),
        "step": asdict(step_of(round_, reading.kind, codes)),
        "question": kept.question,
        "meant": None if meant is None else units.reading(meant),
        "meant_typed": None if meant is None else exact_length(meant, units.unit.get()),
        "spread": kept.spread,
    }


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def save(request: HttpRequest, vehicle: Vehicle, number: int) -> JsonResponse:
    """Store one reading, typed or taken from a device."""
    round_, values = _one(vehicle, number), json_body(request)
    kind, codes = str(values.get("kind", "")), values.get("points")
    if not isinstance(codes, list) or not all(isinstance(code, str) for code in codes):
        return error_json(BadField("Which points are measured?", "points", "Choose them in the list."))
    try:
        taken = _from_device(round_, kind, codes) if values.get("device") is True else None
        replaces = values.get("replaces")
        typed = str(values.get("value", "")) if taken is None else f"{taken[1]:.1f}"
        kept = keep_reading(
            round_,
            kind,
            codes,
            typed,
            by=request.user.get_username(),
            device=taken[0] if taken else "",
            value=taken[1] if taken else None,
            replaces=replaces if isinstance(replaces, int) else None,
        )
    except CoreError as error:
        return error_json(error)
    return answer(_told(round_, kept, codes))


def _from_device(round_: Round, kind: str, codes: list[str]) -> tuple[str, float]:
    """Raises: LostReading; BadField for a kind no device reads."""
    device = {"distance": TAPE, "plumb": TAPE, "height": LEVEL}.get(kind)
    if device is None:
        raise BadField("No device reads this kind.", "kind", "Type it.")
    points = list(round_.vehicle.datum_points.filter(code__in=codes))
    about = (
        points[0].z_mm
        if kind == "height" and points
        else expected_value(round_, kind, points)[0]
        if len(points) == 2
        else 0.0
    )
    with stream_of(device, f"{' '.join(codes)} {about:.1f}") as lines:
        return device.name, settled(device, lines)


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def strike_reading(request: HttpRequest, vehicle: Vehicle, number: int) -> JsonResponse:
    """Strike a reading, or take it back in."""
    round_, values = _one(vehicle, number), json_body(request)
    why = "" if values.get("back") else (str(values.get("why") or "struck while entering").strip())[:120]
    try:
        strike(round_, whole_number(values.get("reading")) or 0, why, by=request.user.get_username())
    except CoreError as error:
        return error_json(error)
    return answer({"steps": [asdict(step) for step in steps_of(round_)]})


@require_GET
@with_vehicle
def next_ones(request: HttpRequest, vehicle: Vehicle, number: int) -> JsonResponse:
    """The five readings that would shrink the worst uncertainty most."""
    try:
        told = proposals(_one(vehicle, number))
    except CoreError as error:
        return error_json(error)
    if told is None:
        return error_json(
            BadField("Nothing is read yet.", "round", "Read a few heights and distances first.")
        )
    hidden = joined(each.why for each in told.unreached)
    readings = [
        {
            "kind": each.kind,
            "points": each.points,
            "text": each.words,
            "key": reading_key(each.kind, each.points),
        }
        for each in told.readings
    ]
    worst = f"Worst now: {told.worst_point}. {told.candidates} readings were tried. {hidden}".strip()
    return answer({"worst": worst, "readings": readings})


@with_vehicle
@open_to(Role.HELPER)
def type_in(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """All boxes of the measuring sheet in the same order, to type in what was written by hand."""
    round_ = _one(vehicle, number)
    steps = steps_of(round_)
    if request.method == "POST":
        stored, faults = 0, 0
        for place, step in enumerate(steps):
            step.text = request.POST.get(f"r{place}", "").strip()
            if not step.text:
                continue
            try:
                kept = keep_reading(round_, step.kind, step.points, step.text, by=request.user.get_username())
                step.values.append(ReadValue.of(kept.reading))
                step.question, step.text = kept.question, ""
                stored += 1
            except CoreError as error:
                step.fault = error.message
                faults += 1
        asked = sum(bool(step.question) for step in steps)
        if stored:
            messages.success(request, f"{stored} reading{'s are' if stored > 1 else ' is'} stored.")
        if not faults and not asked:
            return redirect("datums:type_in", vehicle.pk, number)
    else:
        faults = 0
    return render(
        request,
        "datums/type_in.html",
        tools(vehicle, None) | {"round": round_, "steps": steps},
        status=422 if faults else 200,
    )


@require_GET
@with_vehicle
def sheet_pdf(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """The measuring sheet: the drawing and empty boxes in walking order."""
    round_ = _one(vehicle, number)
    name = f"round-{number}-sheet.pdf"
    return attachment(measuring_sheet(round_, steps_of(round_)), name, "application/pdf")


@require_POST
@with_vehicle
def correct(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """Put right at which stage and on which day a round was taken."""
    round_, form = _one(vehicle, number), RoundCorrectionForm(request.POST)
    if form.is_valid():
        values = form.cleaned_data
        try:
            round_.save_as(
                values["version"],
                request.user.get_username(),
                stage=values["stage"],
                taken_on=values["taken_on"],
            )
            messages.success(request, f"{round_}, {day_words(round_.taken_on)}.")
        except ChangedMeanwhile as error:
            rows = [
                ("the stage", values["stage"], error.stored.stage),
                ("the day", day_words(values["taken_on"]), day_words(error.stored.taken_on)),
            ]
            say_meanwhile(request, error, f"round {number}", rows, "correct it")
    else:
        messages.error(request, " ".join(error for errors in form.errors.values() for error in errors))
    return redirect(f"{reverse('datums:datums', args=[vehicle.pk])}?round={number}")


@require_POST
@with_vehicle
def delete(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """Throw away a round in which nothing was read."""
    round_ = _one(vehicle, number)
    if round_.readings.exists():
        messages.warning(request, f"Round {number} has readings: it stays in the record.")
        return redirect(round_)
    round_.delete()
    messages.success(request, f"Round {number} is thrown away; nothing was read in it.")
    return redirect("datums:rounds", vehicle.pk)
