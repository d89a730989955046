"""Bank statements: brought in, their columns chosen once, each payment booked by a yes."""

from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.parts.amount import Money
from yellow_sill.web.frame.meanwhile import say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.tables import table_text
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..bank_forms import ColumnsForm, PaymentForm
from ..bank_services import (
    book_as_cost,
    book_payment,
    drop_statement,
    keep_statement,
    leave_payment,
    proposals,
    rows_of,
    take_lines,
    to_pay,
    told_of,
)
from ..models import BankLine, Receipt

A_PAGE = 25
STATES = {"open": "to look at", "booked": "booked", "left": "not of this vehicle"}


@with_vehicle
def bank(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``state`` filters, ``line`` opens one payment."""
    line = _line(request, vehicle)
    what = request.POST.get("what", "")
    form = PaymentForm(
        request.POST if what == "cost" else None,
        vehicle=vehicle,
        initial=PaymentForm.of(line) if line else None,
    )
    error, status = None, 200
    if request.method == "POST":
        try:
            if done := _done(request, vehicle, line, form):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
    state = request.GET.get("state") if request.GET.get("state") in STATES else "open"
    counts = {key: vehicle.bank_lines.filter(state=key).count() for key in STATES}
    lines = vehicle.bank_lines.filter(state=state).select_related("receipt", "line")
    page = Paginator(lines, A_PAGE).get_page(request.GET.get("page"))
    owed = to_pay(vehicle, [each.day for each in page.object_list]) if state == "open" else {}
    found = proposals(vehicle, list(page.object_list), owed) if state == "open" else {}
    context = {
        "current_stage": "parts", "statements": list(vehicle.statements.defer("rows")), "error": error, "state": state, "page": page, "line": line,
        "states": [(key, words, counts[key]) for key, words in STATES.items()], "form": form,
        "rows": [(each, Money(each.amount, vehicle.currency), found.get(each.pk), owed.get(found[each.pk].receipt) if each.pk in found else None)
                 for each in page.object_list],
        "owed": [(key, _words(each)) for key, each in to_pay(vehicle, [line.day]).items()] if line else [],
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("To look at", counts["open"]), ("Booked", counts["booked"]),
            ("Left", counts["left"]), ("Currency", vehicle.currency),
        ],
    }  # fmt: skip
    return render(request, "parts/bank.html", context, status=status)


def _words(owed: Any) -> str:
    if isinstance(owed, Receipt):
        return f"receipt of {owed.supplier}, {owed.day:%d.%m.%Y}"
    return f"{owed.item}, {owed.supplier}, {owed.bought_on:%d.%m.%Y}"


def _line(request: HttpRequest, vehicle: Vehicle) -> BankLine | None:
    asked = whole_number(request.GET.get("line", "") or request.POST.get("line", ""))
    return get_object_or_404(vehicle.bank_lines, pk=asked) if asked is not None else None


def _done(
    request: HttpRequest, vehicle: Vehicle, line: BankLine | None, form: PaymentForm
) -> HttpResponse | None:
    """Raises: CoreError."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    here = redirect(
        f"{reverse('parts:bank', args=[vehicle.pk])}?{request.GET.urlencode() if not request.GET.get('line') else ''}"
    )
    if what == "statement":
        upload = request.FILES.get("table")
        if not upload:
            raise BadField("Choose the file that the bank gave out.", "table")
        stored = keep_statement(vehicle, upload.name or "statement", rows_of(table_text(upload)), by=by)
        return redirect("parts:statement", vehicle.pk, stored.number)
    if line is None:
        return None
    if what == "yes":
        book_payment(line, request.POST.get("key", ""), by=by)
    elif what in ("left", "open"):
        leave_payment(line, open_=what == "open", by=by)
    elif what == "cost":
        if not form.is_valid():
            return None
        book_as_cost(line, form.values(), by=by)
    else:
        return None
    messages.success(request, f"'{line.text[:60]}': {'booked' if what in ('yes', 'cost') else STATES[what]}.")
    return here


@with_vehicle
def statement(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """One statement: which of its columns hold what, and what they would tell, before a line is taken."""
    stored = get_object_or_404(vehicle.statements, number=number)
    head = stored.rows[0] if stored.rows else []  # brought in with a bundle: its payments only
    form = ColumnsForm(
        request.POST if request.POST.get("what") in ("look", "take") else None, initial=ColumnsForm.of(stored), head=head
    )  # fmt: skip
    error, status, told = None, 200, None
    try:
        if request.POST.get("what") == "drop":
            drop_statement(stored, version=whole_number(request.POST.get("version", "")))
            messages.success(request, f"{stored.name} is deleted; Changes takes that back.")
            return redirect("parts:bank", vehicle.pk)
        if form.is_bound and form.is_valid():
            columns, heading = form.columns(), form.cleaned_data["heading"]
            told = told_of(stored, columns, heading)
            if request.POST["what"] == "take":
                count = take_lines(
                    stored, columns, heading, version=form.cleaned_data["version"] or 0, by=request.user.get_username()
                )  # fmt: skip
                again = len(told.lines) - count
                messages.success(
                    request, f"{count} payments are new, {again} were known already. Nothing is booked yet."
                )
                return redirect("parts:bank", vehicle.pk)
        elif form.is_bound:
            status = 422
        elif stored.columns:
            told = told_of(stored, stored.columns, stored.heading)
    except CoreError as refused:
        error, status = refused, 422
    except ChangedMeanwhile as changed:
        say_meanwhile(request, changed, "this statement", then="take its lines")
        return redirect("parts:statement", vehicle.pk, number)
    context = {
        "current_stage": "parts", "statement": stored, "form": form, "error": error, "told": told, "preview": stored.rows[:6], "rows": len(stored.rows),
        "told_lines": [(each, Money(each.amount, vehicle.currency)) for each in told.lines[:10]] if told else [], "stored": stored,
    }  # fmt: skip
    return render(request, "parts/statement.html", context, status=status)
