"""Steel in stock: what there is, patterns laid out on it, a plan kept and cut."""

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.patch.tiles import PAPERS_MM
from yellow_sill.web.frame import days, jobs, units
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle
from yellow_sill.web.shells.unchanged import always_anew_with

from ..models import CuttingPlan
from ..stock_forms import NestForm, StockForm
from ..stock_services import (
    add_sheet,
    asked_of,
    change_sheet,
    changed_since,
    cut_plan,
    drop_plan,
    drop_sheet,
    keep_plan,
    laid,
    lay_out,
    nest_request,
    patterns_of,
    plan_file,
    sheets_of,
    words_of,
)


@always_anew_with("find")
@with_vehicle
def stock(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What is in stock; ``sheet`` in the address is changed, ``find`` is a layout that is worked out; ``what`` in a POST says what is done."""
    sheets, status = sheets_of(vehicle), 200
    asked = request.POST.get("sheet") or request.GET.get("sheet")
    chosen = next((each for each in sheets if each.number == whole_number(asked or "")), None)
    if asked and chosen is None and request.method == "POST":
        raise Http404("That piece is not in stock any more.")
    what = request.POST.get("what", "")
    context = {"conflict": None, "error": None}
    form = StockForm(
        request.POST if what == "sheet" else None, initial=StockForm.of(chosen) if chosen else None
    )
    if what == "drop" and chosen:
        try:
            drop_sheet(chosen, version=whole_number(request.POST.get("version", "")))
            messages.success(request, f"{chosen} is taken out of stock; Changes takes that back.")
        except ChangedMeanwhile as error:
            say_meanwhile(request, error, "this piece", then="take it out")
        return redirect("patch:stock", vehicle.pk)
    if what == "sheet":
        status = 422
        if form.is_valid():
            try:
                _keep(request, vehicle, chosen, form)
                return redirect("patch:stock", vehicle.pk)
            except CoreError as error:
                form.add_error(error.where if error.where in form.fields else None, units.said(error.message))
            except ChangedMeanwhile as error:
                if not (found := both_of(request, form, error)):
                    return redirect("patch:stock", vehicle.pk)
                context |= {"conflict": found, "stored": error.stored}
                status = 409
    return _page(request, vehicle, sheets, status, form=form, chosen=chosen, **context)


def _keep(request: HttpRequest, vehicle: Vehicle, chosen, form: StockForm) -> None:
    by = request.user.get_username()
    if chosen is None:
        made = add_sheet(vehicle, form.values(), by=by)
        messages.success(request, f"{made} is in stock. Write {made} on it.")
    else:
        change_sheet(chosen, form.values(), version=form.cleaned_data["version"], by=by)
        messages.success(request, "Stored.")


def _page(request: HttpRequest, vehicle: Vehicle, sheets, status: int, **more) -> HttpResponse:
    key = request.GET.get("find", "")
    search = jobs.find(vehicle.pk, key) if key else None
    patterns = patterns_of(vehicle)
    told = search.answer if search and search.answer else None
    nest_form = more.pop("nest_form", None) or NestForm(
        patterns=patterns, sheets=sheets, initial=NestForm.of(asked_of(search)) if search else None
    )
    context = {
        "current_stage": "repairs",
        "sheets": [(sheet, _drawn(sheet)) for sheet in sheets],
        "patterns": patterns,
        "nest_form": nest_form,
        "search": search,
        "find": key,
        "lost": bool(key) and search is None,
        "told": told,
        "laid": laid(told) if told else [],
        "said": words_of(told) if told else None,
        "plans": list(vehicle.cutting_plans.all()),
        "cells": [
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("In stock", len(sheets)),
            ("Patterns", len(patterns)),
            ("Units", units.unit.get()),
        ],
    }
    return render(request, "patch/stock.html", context | more, status=status)


def _drawn(sheet) -> dict:
    """A piece as the list draws it."""
    outline = sheet.outline or [
        [0, 0],
        [sheet.length_mm, 0],
        [sheet.length_mm, sheet.width_mm],
        [0, sheet.width_mm],
    ]
    u0, v0, u1, v1 = bounds_of(outline)
    return {"outline": outline, "bounds": [u0, v0, u1, v1], "size": (u1 - u0, v1 - v0)}


@require_POST
@with_vehicle
@open_to(Role.VIEWER)
def nest(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Begin to lay out; the page asks how far it is."""
    sheets, patterns = sheets_of(vehicle), patterns_of(vehicle)
    form = NestForm(request.POST, patterns=patterns, sheets=sheets)
    error = None
    if form.is_valid():
        try:
            job = lay_out(vehicle, nest_request(vehicle, form.chosen(), form.stock(), form.how()))
            return redirect(f"{reverse('patch:stock', args=[vehicle.pk])}?find={job.fingerprint}")
        except CoreError as refused:
            error = refused
    return _page(request, vehicle, sheets, 422, form=StockForm(), chosen=None, nest_form=form, error=error)


@require_GET
@with_vehicle
def progress(request: HttpRequest, vehicle: Vehicle, key: str) -> JsonResponse:
    """How far a layout is."""
    search = jobs.find(vehicle.pk, key)
    if search is None:
        raise Http404
    return answer({"share": search.share, "done": search.done, "fault": search.fault})


@require_POST
@with_vehicle
def keep(request: HttpRequest, vehicle: Vehicle, key: str) -> HttpResponse:
    """Keep a layout as a plan."""
    job = jobs.find(vehicle.pk, key)
    if job is None or not job.answer:
        messages.warning(request, "That layout is not kept any more. Lay the patterns out again.")
        return redirect("patch:stock", vehicle.pk)
    try:
        plan = keep_plan(
            vehicle, asked_of(job), job.answer, today=days.today(), by=request.user.get_username()
        )
    except CoreError as error:
        messages.warning(request, units.said(error.message))
        return redirect(f"{reverse('patch:stock', args=[vehicle.pk])}?find={key}")
    messages.success(request, f"Kept as {plan}.")
    return redirect("patch:plan", vehicle.pk, plan.number)


@with_vehicle
def plan(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """A plan that was kept; a POST says that it was cut, or throws it away."""
    one = get_object_or_404(CuttingPlan, vehicle=vehicle, number=number)
    error, status = None, 200
    if request.method == "POST":
        version = whole_number(request.POST.get("version", ""))
        try:
            if request.POST.get("what") == "drop":
                drop_plan(one, version=version)
                messages.success(request, "The plan is thrown away; Changes takes that back.")
                return redirect("patch:stock", vehicle.pk)
            if request.POST.get("what") == "cut":
                rests, by = request.POST.getlist("rest"), request.user.get_username()
                cut_plan(one, rests, version=version, today=days.today(), by=by)
                messages.success(request, "Cut: the pieces left the stock, the offcuts you ticked are in it.")
                return redirect("patch:plan", vehicle.pk, number)
        except ChangedMeanwhile as changed:
            say_meanwhile(request, changed, "this plan", then="say it again")
            return redirect("patch:plan", vehicle.pk, number)
        except CoreError as refused:
            error, status = refused, 422
    pieces = laid(one.told)
    context = {
        "current_stage": "repairs", "plan": one, "told": one.told, "said": words_of(one.told), "laid": pieces, "error": error, "papers": PAPERS_MM,
        "changed": changed_since(one),
        "ticked": request.POST.getlist("rest"),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Pieces", len(pieces)),
            ("Kerf, mm", f"{one.asked['kerf_mm']:g}"), ("Cut", f"{one.cut_on:%d.%m.%Y}" if one.cut_on else "not yet"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "patch/plan.html", context, status=status)


@require_GET
@with_vehicle
def plan_download(request: HttpRequest, vehicle: Vehicle, number: int, form: str) -> HttpResponse:
    """The plan as SVG, DXF (both full size) or PDF (to scale)."""
    if form not in ("svg", "dxf", "pdf"):
        raise Http404
    one = get_object_or_404(CuttingPlan, vehicle=vehicle, number=number)
    data, mime, name = plan_file(one, form, request.GET.get("paper", "A4"))
    return attachment(data, name, mime)
