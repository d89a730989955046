"""Stands under the shell: dragged on the underside, packers worked out, put in."""

from collections.abc import Sequence
from dataclasses import replace

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext

from yellow_sill.core.datum.level import Levelled
from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import units
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..board_page import DatumPage
from ..board_services import EXAGGERATION, board_points
from ..forms import StandRows, StandsForm
from ..models import DatumPoint, Round, StandSet
from ..round_services import fit_of
from ..stand_services import (
    as_they_were,
    flats_of,
    keep_stands,
    levelled,
    log_entry,
    packers_in,
    require_fresh,
    stand_set,
    stands_drawn,
)
from .common import cells, drawing, tools


def _round_with_heights(request: HttpRequest, vehicle: Vehicle) -> Round | None:
    wanted = request.GET.get("round", "")
    rounds = vehicle.rounds.filter(readings__kind="height", readings__struck_why="").distinct()
    return rounds.last() if (number := whole_number(wanted)) is None else rounds.filter(number=number).first()


@with_vehicle
@open_to(Role.HELPER)
def stands(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Where the stands are, what to put on each, in which order."""
    stored, points = stand_set(vehicle), list(vehicle.datum_points.all())
    shown = _round_with_heights(request, vehicle)
    flats = flats_of(shown, points) if shown else []
    posted, ticked = request.method == "POST", _ticked(request, flats)
    form = StandsForm(
        request.POST or None,
        initial={
            "packers": " ".join(f"{p:g}" for p in stored.packers_mm),
            "rigid": stored.rigid,
            "version": stored.version,
        },
    )
    rows = StandRows(
        request.POST or None, initial=[*stored.stands, *[{}] * (4 - len(stored.stands))], prefix="s"
    )
    result = error = conflict = done = None
    if posted and form.is_valid() and rows.is_valid():
        values = {
            "stands": [row for each in rows if (row := each.stored())],
            "packers_mm": form.cleaned_data["packers"],
            "packers_typed": request.POST.get("packers", "")[:120],
        }
        try:
            return redirect(_stored(request, vehicle, form, values, shown, flats, ticked))
        except CoreError as refused:
            error = refused
        except ChangedMeanwhile as changed:
            stored = changed.stored
            told = [", ".join(row["id"] for row in rows) for rows in (values["stands"], stored.stands)]
            conflict = both_of(request, form, changed, rows=[("Stands", *told)])
    if not posted and stored.pk and flats:
        done = log_entry(stored, shown)
        try:
            if done is None:
                require_fresh(stored, shown)
            result = levelled(stored if done is None else as_they_were(stored, done), flats, ticked)
        except CoreError as refused:
            error = refused
    own = {flat.id: flat for flat in result.flats} if result else {}
    context = tools(vehicle, None) | _board(vehicle, stored, points, shown, ticked, result) | {
        "form": form,
        "rows": rows,
        "round": shown,
        "rounds": vehicle.rounds.filter(readings__kind="height").distinct(),
        "flats": [(point, height, point.code in ticked, own.get(point.code)) for point, height in flats],
        "result": result,
        "done": done,
        "error": error,
        "conflict": conflict,
        "stored": stored,
        "unit": units.unit.get(),
        "cells": cells(vehicle, ("Stands", len(stored.stands)), ("Round", shown.number if shown else "–"), ("Flats", len(ticked))),
    }  # fmt: skip
    return render(request, "datums/stands.html", context, status=409 if conflict else 422 if posted else 200)


def _ticked(request: HttpRequest, flats: Sequence[tuple[DatumPoint, float]]) -> list[str]:
    """The flats that count: those ticked on the page, else those trusted, else all."""
    if request.method == "POST":
        return request.POST.getlist("flat")
    trusted = [point.code for point, _ in flats if point.trusted]
    return request.GET.getlist("flat") or trusted or [point.code for point, _ in flats]


def _stored(
    request: HttpRequest,
    vehicle: Vehicle,
    form: StandsForm,
    values: dict,
    shown: Round | None,
    flats: Sequence[tuple[DatumPoint, float]],
    ticked: list[str],
) -> str:
    """Keep the stands and, where that was pressed, record that the packers are in.

    Returns: where to go on. Raises: CoreError, ChangedMeanwhile.
    """
    kept = keep_stands(
        vehicle,
        values | {"rigid": form.cleaned_data["rigid"]},
        version=form.cleaned_data["version"],
        by=request.user.get_username(),
    )
    if "packed" in request.POST and shown:
        require_fresh(kept, shown)
        packers_in(
            kept,
            levelled(kept, flats, ticked),
            shown,
            version=kept.version,
            by=request.user.get_username(),
        )
        messages.success(
            request,
            gettext("The packers are in. Let the shell settle, then take the heights again in a new round."),
        )
        return f"{request.path}?round={shown.number}"
    query = "&".join([f"round={shown.number}" if shown else "", *(f"flat={code}" for code in ticked)])
    return f"{request.path}?{query.strip('&')}"


def _board(
    vehicle: Vehicle,
    stored: StandSet,
    points: Sequence[DatumPoint],
    shown: Round | None,
    ticked: list[str],
    result: Levelled | None,
) -> dict:
    """The underside with the flats that are ticked and the stands."""
    view = (
        vehicle.views.defer("features", "silhouette").filter(name="underside").first()
        or vehicle.views.defer("features", "silhouette").first()
    )
    fit = fit_of(shown).result if shown else None
    drawn = board_points(view, points, fit)
    return drawing(view) | {
        "board": DatumPage(
            points=[replace(point, href="") for point in drawn if point.code in ticked],
            exaggeration=EXAGGERATION,
            stands=stands_drawn(stored, view, result),
        ),
    }
