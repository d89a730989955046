"""Orders: the basket that is proposed, suppliers, what was ordered and how far it is."""

import json
from decimal import Decimal
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.wire import ORDER_STATES
from yellow_sill.web.frame import days, jobs
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.files import shown
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile, Job
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.shells.unchanged import always_anew_with

from ..models import PartOrder, Supplier
from ..need_services import needs_of, told_of
from ..order_services import (
    ask_basket,
    ask_how_far,
    basket_values,
    drop_supplier,
    keep_supplier,
    key_of,
    offers_of,
    place_order,
    to_order,
)
from ..paper_services import order_paper
from ..trade_forms import SupplierForm


@always_anew_with("find")
@with_vehicle
def orders(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``find`` in the address shows a basket that was asked for, ``supplier`` opens one."""
    asked = whole_number(request.GET.get("supplier", ""))
    supplier = get_object_or_404(vehicle.suppliers, number=asked) if asked is not None else None
    form = SupplierForm(
        request.POST if request.POST.get("what") == "supplier" else None, initial=SupplierForm.of(supplier) if supplier else None
    )  # fmt: skip
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if done := _done(request, vehicle, supplier, form):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
            if refused.where in form.fields and form.is_bound:
                form.add_error(refused.where, refused.message)
        except ChangedMeanwhile as changed:
            if request.POST.get("what") != "supplier":
                say_meanwhile(request, changed, "this", then="say it again")
                return redirect("parts:orders", vehicle.pk)
            if not (conflict := both_of(request, form, changed, SupplierForm.NAMES)):
                return redirect("parts:orders", vehicle.pk)
            status = 409
    context = _page(vehicle, request.GET.get("find", "")) | {
        "supplier": supplier, "form": form, "error": error, "conflict": conflict, "stored": supplier,
    }  # fmt: skip
    return render(request, "parts/orders.html", context, status=status)


def _done(
    request: HttpRequest, vehicle: Vehicle, supplier: Supplier | None, form: SupplierForm
) -> HttpResponse | None:
    """Raises: CoreError, ChangedMeanwhile."""
    what, by, today = request.POST.get("what", ""), request.user.get_username(), days.today()
    page = reverse("parts:orders", args=[vehicle.pk])
    if what == "basket":
        return redirect(f"{page}?find={ask_basket(vehicle, today).fingerprint}")
    if what == "supplier":
        if not form.is_valid():
            return None
        keep_supplier(
            vehicle, form.values(), stored=supplier, version=form.cleaned_data["version"] or 0, by=by
        )
        return redirect("parts:orders", vehicle.pk)
    if what == "unsupplier" and supplier:
        drop_supplier(supplier, version=whole_number(request.POST.get("version", "")))
        messages.success(request, f"{supplier.name} is deleted; Changes takes that back.")
        return redirect("parts:orders", vehicle.pk)
    if what == "place":
        made = place_order(
            vehicle, request.POST.get("from", ""), request.POST.getlist("need"), why=request.POST.get("why", "").strip(),
            by_wire="wire" in request.POST, today=today, by=by,
        )  # fmt: skip
        messages.success(
            request, f"Order {made.number} to {made.supplier} is written down. {made.told}".strip()
        )
        return redirect("parts:orders", vehicle.pk)
    if what == "ask":
        number = whole_number(request.POST.get("order", ""))
        order = get_object_or_404(vehicle.part_orders, number=number)
        messages.success(request, f"Order {order.number}: {ask_how_far(order, by=by)}.")
        return redirect("parts:orders", vehicle.pk)
    raise BadField("Nothing of that kind can be done here.", "what")


def _page(vehicle: Vehicle, key: str) -> dict[str, Any]:
    today, needs = days.today(), needs_of(vehicle)
    told = {need.number: each for need, each in zip(needs, told_of(needs, today).needs, strict=True)}
    job = jobs.find(vehicle.pk, key) if key else None
    orders_ = list(vehicle.part_orders.prefetch_related("needs__steps", "needs__quotes"))
    rows = [(each, [(need, told[need.number]) for need in each.needs.all()], ORDER_STATES.get(each.state, "")) for each in orders_]  # fmt: skip
    open_ = to_order(vehicle)
    return {
        "current_stage": "parts",
        "find": key, "job": job, "lost": bool(key) and job is None, "orders": rows, "open": open_, "offers": offers_of(vehicle, open_),
        "suppliers": list(vehicle.suppliers.all()), "today": today,
        "late": [(need, told[need.number]) for need in needs if told[need.number].late],
        "basket": _basket(vehicle, job) if job and job.answer else None,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("To order", len(open_)), ("Orders", len(orders_)),
            ("Late", sum(each.late for each in told.values())), ("Currency", vehicle.currency),
        ],
    }  # fmt: skip


def _basket(vehicle: Vehicle, job: Job) -> dict[str, Any]:
    """A basket's answer as the page shows it; ``old``: the needs or quotes have changed since."""
    told, today = job.answer, days.today()
    wired = {each.name for each in vehicle.suppliers.all() if each.address}
    open_ = {key_of(each) for each in to_order(vehicle)}
    amount = lambda each: Money(Decimal(each["amount"]), each["currency"])  # noqa: E731
    try:
        values = basket_values(vehicle, today)
    except CoreError:
        values = None
    return {
        "words": told["words"], "total": amount(told["total"]), "bound": amount(told["bound"]), "gap": told["gap"], "proved": told["proved"],
        "saves": amount(told["saves"]), "lacking": told["lacking"], "old": values != json.loads(job.asked),
        "orders": [
            {
                "supplier": each["supplier"], "day": each["day"], "now": each["day"] <= f"{today:%Y-%m-%d}", "goods": amount(each["goods"]),
                "carriage": amount(each["carriage"]), "needs": [name for name in each["needs"] if name in open_], "wired": each["supplier"] in wired,
            }
            for each in told["orders"]
        ],
    }  # fmt: skip


@require_GET
@with_vehicle
def progress(request: HttpRequest, vehicle: Vehicle, key: str) -> JsonResponse:
    """How far a basket is."""
    job = jobs.find(vehicle.pk, key)
    if job is None:
        raise Http404
    return answer({"share": job.share, "done": job.done, "fault": job.fault})


@require_GET
@with_vehicle
def sheet(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """An order as paper to send."""
    order: PartOrder = get_object_or_404(vehicle.part_orders, number=number)
    return shown(order_paper(order), f"order-{order.number}.pdf")
