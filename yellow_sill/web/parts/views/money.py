"""The ledger: figures, the step line, the lines by filter, budget and terms; the tables out and in."""

from decimal import Decimal
from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.ledger_tables import ledger_csv, ledger_xlsx
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.ledger import Ledger
from yellow_sill.core.parts.money_drawing import money_drawing
from yellow_sill.web.frame import days
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..models import KINDS, Budget
from ..money_forms import BudgetForm, TermsForm
from ..money_services import (
    FILTERS,
    drop_budget,
    filtered,
    keep_budget,
    keep_terms,
    ledger_of,
    table_of,
    terms_of,
)
from ..services import total_of, with_sums

#: Lines on a page.
A_PAGE = 30
#: By what the lines are added up, in words.
GROUPS = {"kind": "Kind", "supplier": "Supplier", "repair": "Repair", "month": "Month"}


@with_vehicle
def money(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``budget`` in the address opens one; ``by`` says how lines are added up; see FILTERS for what else it may ask."""
    asked = whole_number(request.GET.get("budget", ""))
    budget = get_object_or_404(vehicle.budgets, number=asked) if asked is not None else None
    forms, what = _forms(request, vehicle, budget), request.POST.get("what", "")
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if _done(request, vehicle, budget, forms):
                return redirect("parts:money", vehicle.pk)
            status = 422
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            form = forms["terms" if what == "terms" else "budget"]
            if not (conflict := both_of(request, form, changed, form.NAMES)):
                return redirect("parts:money", vehicle.pk)
            status = 409
    context = _page(request, vehicle) | {
        "budget": budget, "budget_form": forms["budget"], "terms_form": forms["terms"], "error": error, "conflict": conflict,
        "stored": budget or terms_of(vehicle),
    }  # fmt: skip
    return render(request, "parts/money.html", context, status=status)


def _forms(request: HttpRequest, vehicle: Vehicle, budget: Budget | None) -> dict[str, Any]:
    what = request.POST.get("what", "")
    return {
        "budget": BudgetForm(
            request.POST if what == "budget" else None, initial=BudgetForm.of(budget) if budget else None, repairs=list(vehicle.repairs.all())
        ),
        "terms": TermsForm(request.POST if what == "terms" else None, initial=TermsForm.of(terms_of(vehicle))),
    }  # fmt: skip


def _done(request: HttpRequest, vehicle: Vehicle, budget: Budget | None, forms: dict[str, Any]) -> bool:
    """Raises: CoreError, ChangedMeanwhile."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    if what == "unbudget" and budget is not None:
        drop_budget(budget, version=whole_number(request.POST.get("version", "")))
        messages.success(request, f"{budget.name} is deleted; Changes takes that back.")
        return True
    form = forms.get(what)
    if form is None or not form.is_valid():
        return False
    version = form.cleaned_data["version"]
    if what == "terms":
        keep_terms(vehicle, form.values(), version=version, by=by)
    else:
        keep_budget(vehicle, form.values(), stored=budget, version=version or 0, by=by)
    return True


def _page(request: HttpRequest, vehicle: Vehicle) -> dict[str, Any]:
    terms, today = terms_of(vehicle), days.today()
    told = ledger_of(vehicle, today, hour=terms.hour)
    asked = {name: request.GET.get(name, "")[:80] for name in FILTERS}
    lines = filtered(vehicle, asked)
    page = Paginator(lines, A_PAGE).get_page(request.GET.get("page"))
    by = request.GET.get("by") if request.GET.get("by") in GROUPS else "kind"
    set_aside = sum((each.amount for each in told.budgets), Money(Decimal(0), vehicle.currency))
    kept = {name: value for name, value in asked.items() if value}
    return {
        "current_stage": "parts", "told": told, "terms": terms, "page": page, "rows": with_sums(vehicle, page.object_list), "kinds": KINDS,
        "filter": asked, "filtered": bool(kept), "kept": urlencode(kept), "shown_sum": total_of(vehicle, lines) if kept else told.total,
        "by": by, "groups": list(GROUPS.items()), "rows_by": _grouped(vehicle, told, by),
        "chart": money_drawing(told.steps, told.committed, told.finish, set_aside if told.budgets else None, today),
        "budgets": [(record, each) for record, each in zip(vehicle.budgets.all(), told.budgets, strict=True)],
        "repairs": list(vehicle.repairs.all()),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Lines", sum(each.count for each in told.by_kind)),
            ("Spent", told.total.gross), ("Currency", vehicle.currency), ("Day", f"{today:%d.%m.%Y}"),
        ],
    }  # fmt: skip


def _grouped(vehicle: Vehicle, told: Ledger, by: str) -> list[tuple[str, str, Any]]:
    """Sums by one of GROUPS: the value that filters by it, its words, the sum."""
    groups = getattr(told, f"by_{by}")
    if by == "kind":
        return [(each.name, dict(KINDS).get(each.name, each.name), each) for each in groups]
    if by == "repair":
        codes = {str(each.number): each.code for each in vehicle.repairs.all()}
        return [(each.name, codes.get(each.name, "the vehicle"), each) for each in groups]
    return [(each.name, each.name or "nobody", each) for each in groups]


@require_GET
@with_vehicle
def table(request: HttpRequest, vehicle: Vehicle, kind: str) -> HttpResponse:
    """The lines that the filter asks for, as CSV or as a workbook with the sums beside them."""
    asked = {name: request.GET.get(name, "")[:80] for name in FILTERS}
    rows = table_of(vehicle, filtered(vehicle, asked))
    if kind == "csv":
        return attachment(("\ufeff" + ledger_csv(rows)).encode(), "costs.csv", "text/csv; charset=utf-8")
    if kind != "xlsx":
        raise Http404
    told = ledger_of(vehicle, days.today(), hour=terms_of(vehicle).hour)
    groups = {
        words: [(name, each.count, each.sum.net.amount, each.sum.gross.amount) for _, name, each in _grouped(vehicle, told, key)]
        for key, words in GROUPS.items()
    }  # fmt: skip
    return attachment(
        ledger_xlsx(rows, groups),
        "costs.xlsx",
        "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    )
