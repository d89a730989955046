"""The bench's sums: gauge numbers, a panel's shape, something pressed, a jig."""

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.patch.gauges import gauge_rows
from yellow_sill.core.patch.tiles import PAPERS_MM
from yellow_sill.web.frame import units
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..models import BenchSum
from ..sum_forms import FORMS
from ..sum_services import Worked, asked_gauge, datum_marks, drop_sum, keep_sum, sum_file, worked

TABS = [
    ("shape", "Shape of a panel"),
    ("pressed", "Recess, beads, ribs"),
    ("jig", "Jig"),
    ("gauge", "Gauge number"),
]


@with_vehicle
def sums(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """One kind of sum; ``sum`` in the address is one that was kept; a POST works it out, and keeps it where "keep" was pressed."""
    stored, kind = _asked(request, vehicle)
    context: dict = {"error": None, "conflict": None, "result": None}
    status = 200
    if kind == "gauge":
        return _page(request, vehicle, kind, None, 200, **_gauge(request))
    if request.method == "POST" and request.POST.get("what") == "drop" and stored:
        try:
            drop_sum(stored, version=whole_number(request.POST.get("version", "")))
            messages.success(request, f"{stored.title} is thrown away; Changes takes that back.")
        except ChangedMeanwhile as error:
            say_meanwhile(request, error, "this sum", then="throw it away")
        return redirect(_here(vehicle, kind))
    form = FORMS[kind](request.POST if request.method == "POST" else None, initial=_initial(stored))
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                if request.POST.get("what") == "try":
                    context["result"], status = worked(kind, form.typed()), 200
                elif request.POST.get("what") == "keep":
                    kept = _keep(request, vehicle, kind, form, stored)
                    messages.success(request, "Stored.")
                    return redirect(f"{_here(vehicle, kind)}&sum={kept.number}")
            except CoreError as error:
                form.add_error(error.where if error.where in form.fields else None, units.said(error.message))
            except ChangedMeanwhile as error:
                rows = [
                    ("The sum", "as you typed it", f"as {error.stored.changed_by or 'somebody'} stored it")
                ]
                context |= {"conflict": both_of(request, form, error, rows=rows), "stored": error.stored}
                status = 409
    elif stored:
        try:
            context["result"] = worked(kind, stored.typed)
        except CoreError as error:
            context["error"] = error
    if kind == "jig" and not stored:
        context["datum_marks"] = datum_marks(vehicle)
    return _page(request, vehicle, kind, stored, status, form=form, **context)


def _keep(request: HttpRequest, vehicle: Vehicle, kind: str, form, stored: BenchSum | None) -> BenchSum:
    return keep_sum(
        vehicle, kind, form.cleaned_data["title"], form.typed(), stored=stored, version=form.cleaned_data["version"],
        by=request.user.get_username(),
    )  # fmt: skip


def _asked(request: HttpRequest, vehicle: Vehicle) -> tuple[BenchSum | None, str]:
    """The sum that the address names, and its kind. Raises: Http404 for one that is gone."""
    number = request.GET.get("sum")
    stored = get_object_or_404(BenchSum, vehicle=vehicle, number=whole_number(number)) if number else None
    kind = stored.kind if stored else request.GET.get("kind", "shape")
    if kind not in dict(TABS):
        raise Http404
    return stored, kind


def _here(vehicle: Vehicle, kind: str) -> str:
    return f"{reverse('patch:sums', args=[vehicle.pk])}?kind={kind}"


def _initial(stored: BenchSum | None) -> dict:
    return {**stored.typed, "title": stored.title, "version": stored.version} if stored else {}


def _gauge(request: HttpRequest) -> dict:
    text = request.GET.get("text", "")
    told: dict = {"text": text, "gauges": gauge_rows()}
    if text:
        try:
            told["told"] = asked_gauge(text[:40])
        except CoreError as error:
            told["error"] = error
    return told


def _page(request: HttpRequest, vehicle: Vehicle, kind: str, stored, status: int, **more) -> HttpResponse:
    result: Worked | None = more.get("result")
    context = {
        "current_stage": "repairs", "kind": kind, "tabs": TABS, "chosen": stored, "kept": BenchSum.objects.filter(vehicle=vehicle),
        "papers": PAPERS_MM, "told": result.told if result else None, "drawings": result.drawings if result else [],
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Sum", stored.title if stored else "not kept"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "patch/sums.html", context | more, status=status)


@require_GET
@with_vehicle
def sum_download(request: HttpRequest, vehicle: Vehicle, number: int, sheet: str, form: str) -> HttpResponse:
    """A drawing of a kept sum at full size."""
    stored = get_object_or_404(BenchSum, vehicle=vehicle, number=number)
    if form not in ("svg", "dxf", "pdf"):
        raise Http404
    try:
        data, mime, name = sum_file(stored, sheet, form, request.GET.get("paper", "A4"))
    except KeyError:
        raise Http404 from None
    return attachment(data, name, mime)
