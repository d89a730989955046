"""The datum book: its points on every view, each with how to find it and where its nominal came from; and its history."""

from dataclasses import replace

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import units
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.tables import table_text
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import ShellView, Vehicle

from ..board_page import DatumPage
from ..board_services import EXAGGERATION, board_points
from ..book_services import (
    PointInUse,
    add_point,
    book_csv,
    bring_starting_set,
    change_point,
    delete_point,
    import_book,
    measured_nominal,
    mirrored_nominal,
    trust_points,
)
from ..forms import BookTableForm, PointForm
from ..history import history
from ..models import DatumPoint
from ..round_services import fit_of, latest_round
from .common import cells, drawing, tools


def _view(request: HttpRequest, vehicle: Vehicle) -> ShellView:
    views = ShellView.objects.defer("features", "silhouette").filter(vehicle=vehicle)
    return views.filter(name=request.GET.get("view", "underside")).first() or views.first()


def _board(request: HttpRequest, vehicle: Vehicle, chosen: str = "") -> dict:
    view, points = _view(request, vehicle), list(vehicle.datum_points.all())
    page = lambda code: f"{reverse('datums:point', args=[vehicle.pk, code])}?view={view.name}"  # noqa: E731
    drawn = [
        replace(point, href=page(point.code)) for point in board_points(view, points, None, None, chosen)
    ]
    trusted = sum(point.trusted for point in points)
    return tools(vehicle, view) | drawing(view) | {
        "points": points,
        "book_view": True,
        "board": DatumPage(points=drawn, exaggeration=EXAGGERATION),
        "cells": cells(vehicle, ("Points", len(points)), ("Trusted", trusted), ("View", view.title)),
    }  # fmt: skip


@require_GET
@with_vehicle
def book(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    return render(request, "datums/book.html", _board(request, vehicle) | {"table_form": BookTableForm()})


@require_POST
@with_vehicle
def starting_set(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    added = bring_starting_set(vehicle, by=request.user.get_username())
    if added:
        messages.success(
            request,
            f"{added} points of the body type are in the book. Check their nominals against your drawing.",
        )
    else:
        messages.warning(
            request, "This body type has nothing more to bring. Add your own points, or take in a table."
        )
    return redirect("datums:book", vehicle.pk)


@with_vehicle
def new(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    form = PointForm(request.POST or None, initial={"tolerance_mm": 3.0, "source": "drawing", "kind": "hole"})
    if request.method == "POST" and form.is_valid():
        try:
            made = add_point(vehicle, form.stored(), by=request.user.get_username())
            messages.success(request, f"{made.code} is in the book.")
            return redirect(made)
        except CoreError as error:
            form.add_error("code", error.message)
    return render(
        request,
        "datums/point.html",
        _board(request, vehicle) | {"form": form, "point": None},
        status=422 if form.errors else 200,
    )


@with_vehicle
def point(request: HttpRequest, vehicle: Vehicle, code: str) -> HttpResponse:
    """One point: changed, mirrored from the good side, and where it was over the years."""
    found = get_object_or_404(DatumPoint, vehicle=vehicle, code=code)
    found.vehicle = vehicle
    form, conflict, stored = PointForm.of(found, request.POST or None), None, None
    if request.method == "POST" and form.is_valid():
        try:
            change_point(
                found, form.stored(), version=form.cleaned_data["version"], by=request.user.get_username()
            )
            messages.success(request, f"{found.code} is stored.")
            return redirect(found)
        except CoreError as error:
            form.add_error("code", error.message)
        except ChangedMeanwhile as error:
            stored = error.stored
            conflict = both_of(request, form, error)
            if not conflict:
                return redirect(found)
    pair = vehicle.datum_points.filter(code=found.mirror_code).first() if found.mirror_code else None
    context = _board(request, vehicle, found.code) | {
        "point": found, "form": form, "conflict": conflict, "stored": stored, "pair": pair, "history": history(vehicle, found),
    }  # fmt: skip
    return render(
        request, "datums/point.html", context, status=409 if conflict else 422 if form.errors else 200
    )


@require_POST
@with_vehicle
def from_round(request: HttpRequest, vehicle: Vehicle, code: str) -> HttpResponse:
    """Make a measured place this point's nominal: its pair's, mirrored, or its own before anything is cut."""
    found = get_object_or_404(DatumPoint, vehicle=vehicle, code=code)
    found.vehicle = vehicle
    own = request.POST.get("what") == "own"
    wanted = request.POST.get("round", "")
    shown = (
        latest_round(vehicle)
        if (number := whole_number(wanted)) is None
        else vehicle.rounds.filter(number=number).first()
    )
    result = fit_of(shown).result if shown else None
    good = (
        next((each for each in result.points if each.id == (code if own else found.mirror_code)), None)
        if result
        else None
    )
    if good is None:
        messages.warning(
            request,
            f"{code if own else found.mirror_code or 'Its pair'} is not measured yet: take a round that reaches it.",
        )
        return redirect(found)
    x, y, z = measured_nominal(good.place) if own else mirrored_nominal(good.place)
    note = f"{good.id} in round {shown.number}{'' if own else ', mirrored'}"
    try:
        typed = request.POST.get("version", "")
        version = whole_number(typed)
        source = "measured" if own else "mirrored"
        values = {
            "code": found.code,
            "x_mm": x,
            "y_mm": y,
            "z_mm": z,
            "source": source,
            "source_note": note,
            "typed": [],
        }
        change_point(found, values, version=version, by=request.user.get_username())
        messages.success(request, f"{found.code} belongs at {x:g}, {y:g}, {z:g} mm now: {note}.")
    except ChangedMeanwhile as error:
        theirs = (error.stored.x_mm, error.stored.y_mm, error.stored.z_mm)
        rows = [
            (axis, units.length(wanted, 1), units.length(now, 1))
            for axis, wanted, now in zip("xyz", (x, y, z), theirs, strict=True)
        ]
        say_meanwhile(request, error, code, rows, "take it again")
    return redirect(found)


@require_POST
@with_vehicle
def trust(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Which points are trusted, all ticks of the list at once."""
    ticked = set(request.POST.getlist("trusted"))
    changed = trust_points(vehicle, ticked, by=request.user.get_username())
    messages.success(request, f"{len(ticked)} points are trusted now." if changed else "Nothing was changed.")
    return redirect("datums:book", vehicle.pk)


@require_POST
@with_vehicle
def delete(request: HttpRequest, vehicle: Vehicle, code: str) -> HttpResponse:
    found = get_object_or_404(DatumPoint, vehicle=vehicle, code=code)
    try:
        delete_point(found)
    except PointInUse as error:
        messages.warning(request, error.message)
        return redirect(found)
    messages.success(request, f"{code} is out of the book.")
    return redirect("datums:book", vehicle.pk)


@require_GET
@with_vehicle
def table(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    return attachment("\ufeff" + book_csv(vehicle), "datums.csv", "text/csv; charset=utf-8")


@require_POST
@with_vehicle
def take_in(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Points from a table: all rows or none."""
    form, refused = BookTableForm(request.POST, request.FILES), []
    if form.is_valid():
        upload = form.cleaned_data["table"]
        try:
            added, changed, refused = import_book(vehicle, table_text(upload), by=request.user.get_username())
            if not refused:
                messages.success(request, f"{added} points added, {changed} changed.")
                return redirect("datums:book", vehicle.pk)
        except CoreError as error:
            form.add_error("table", error.message)
    return render(
        request,
        "datums/book.html",
        _board(request, vehicle) | {"table_form": form, "refused": refused},
        status=422,
    )
