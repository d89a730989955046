"""What is sold on, and the sheets for a customer."""

from decimal import Decimal

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.customer import NO_TAX_PAPER
from yellow_sill.web.frame import days
from yellow_sill.web.frame.files import shown
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.pictures import picture_response
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..models import CustomerPaper, Surplus
from ..money_services import terms_of
from ..need_services import needs_of, state_of
from ..paper_services import customer_paper
from ..services import with_sums
from ..trade_forms import AgreeForm, PaperForm, SaleForm, SurplusForm
from ..trade_services import (
    agree,
    agreed_before,
    disagree,
    drop_paper,
    drop_surplus,
    keep_surplus,
    make_paper,
    sell,
    sheet_of,
    unsell,
)


@with_vehicle
def surplus(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``thing`` in the address opens one."""
    asked, what = whole_number(request.GET.get("thing", "")), request.POST.get("what", "")
    thing = get_object_or_404(vehicle.surplus, number=asked) if asked is not None else None
    sent = (request.POST, request.FILES) if what == "keep" else (None, None)
    form = SurplusForm(*sent, initial=SurplusForm.of(thing) if thing else None)
    sale = SaleForm(request.POST if what == "sell" else None)
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if _sold_done(request, vehicle, thing, form, sale):
                return redirect("parts:surplus", vehicle.pk)
            status = 422
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            if what != "keep":
                say_meanwhile(request, changed, "this", then="say it again")
                return redirect("parts:surplus", vehicle.pk)
            if not (conflict := both_of(request, form, changed, SurplusForm.NAMES)):
                return redirect("parts:surplus", vehicle.pk)
            status = 409
    things = list(vehicle.surplus.select_related("line"))
    sold = with_sums(vehicle, [each.line for each in things if each.line])
    fetched_for = {line: told.gross * Decimal(-1) for line, told in sold}
    rows = [
        (
            each,
            None if each.asking is None else Money(each.asking, vehicle.currency),
            fetched_for.get(each.line),
        )
        for each in things
    ]
    asking = sum(
        (amount for each, amount, got in rows if amount and not got), Money(Decimal(0), vehicle.currency)
    )
    fetched = sum((got for _, _, got in rows if got), Money(Decimal(0), vehicle.currency))
    context = {
        "current_stage": "parts", "rows": rows, "thing": thing, "form": form, "sale": sale, "error": error, "conflict": conflict, "stored": thing,
        "sold_needs": [each for each in needs_of(vehicle) if (step := state_of(each)) and step.state == "sold"], "asking": asking, "fetched": fetched,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("To sell", sum(got is None for *_, got in rows)),
            ("Asked", asking), ("Fetched", fetched), ("Currency", vehicle.currency),
        ],
    }  # fmt: skip
    return render(request, "parts/surplus.html", context, status=status)


def _sold_done(
    request: HttpRequest, vehicle: Vehicle, thing: Surplus | None, form: SurplusForm, sale: SaleForm
) -> bool:
    """Raises: CoreError, ChangedMeanwhile."""
    what, by, version = (
        request.POST.get("what", ""),
        request.user.get_username(),
        whole_number(request.POST.get("version", "")),
    )
    if what == "keep":
        if not form.is_valid():
            return False
        clean = form.cleaned_data
        keep_surplus(
            vehicle, form.values(), photo=clean["photo"], stored=thing, version=clean["version"] or 0, by=by
        )
    elif thing is None:
        return False
    elif what == "sell":
        if not sale.is_valid():
            return False
        clean = sale.cleaned_data
        sell(thing, price=clean["price"], to=clean["to"], day=clean["sold_on"], today=days.today(), by=by)
        messages.success(request, f"{thing.name}: sold; the income stands in the ledger.")
    elif what == "unsell":
        unsell(thing, by=by)
    elif what == "drop":
        drop_surplus(thing, version=version)
        messages.success(request, f"{thing.name} is deleted; Changes takes that back.")
    return True


@require_GET
@with_vehicle
def surplus_photo(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """The photo of something to sell."""
    return picture_response(get_object_or_404(vehicle.surplus, number=number).file)


@with_vehicle
def papers(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The sheets that were given out, and a new one."""
    today = days.today()
    codes = [(each.code, f"{each.code} {each.title}") for each in vehicle.repairs.order_by("number")]
    form = PaperForm(request.POST or None, codes=codes)
    error, status = None, 200
    if request.method == "POST":
        status = 422
        if form.is_valid():
            clean = form.cleaned_data
            try:
                made = make_paper(
                    vehicle, clean["paper"], clean["codes"], customer=clean["customer"], note=clean["note"], today=today,
                    by=request.user.get_username(),
                )  # fmt: skip
                return redirect("parts:paper", vehicle.pk, made.number)
            except CoreError as refused:
                error = refused
    rows = [(each, sheet_of(each, None).total) for each in vehicle.papers.all()]
    terms = terms_of(vehicle)
    context = {
        "current_stage": "parts", "rows": rows, "form": form, "error": error, "terms": terms, "charge": Money(terms.charge, vehicle.currency),
        "no_tax": NO_TAX_PAPER,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Sheets", len(rows)),
            ("Agreed", sum(each.agreed_on is not None for each, _ in rows)), ("An hour", Money(terms.charge, vehicle.currency)),
            ("Mark-up", f"{terms.mark_up} %"),
        ],
    }  # fmt: skip
    return render(request, "parts/papers.html", context, status=status)


@with_vehicle
def paper(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """One sheet: what it asks, who agreed."""
    stored = get_object_or_404(vehicle.papers, number=number)
    what, by = request.POST.get("what", ""), request.user.get_username()
    form = AgreeForm(request.POST if what == "agree" else None)
    version = whole_number(request.POST.get("version", ""))
    error, status = None, 200
    if request.method == "POST":
        try:
            status = 422
            if what == "drop":
                drop_paper(stored, version=version)
                messages.success(request, f"{stored} is deleted; Changes takes that back.")
                return redirect("parts:papers", vehicle.pk)
            if what == "disagree":
                disagree(stored, version=version, by=by)
                return redirect("parts:paper", vehicle.pk, number)
            if what == "agree" and form.is_valid():
                clean = form.cleaned_data
                agree(
                    stored,
                    clean["agreed_by"],
                    day=clean["agreed_on"],
                    today=days.today(),
                    version=version,
                    by=by,
                )
                return redirect("parts:paper", vehicle.pk, number)
        except CoreError as refused:
            error = refused
        except ChangedMeanwhile as changed:
            say_meanwhile(request, changed, "this sheet", then="say it again")
            return redirect("parts:paper", vehicle.pk, number)
    context = _paper_page(stored) | {"form": form, "error": error}
    return render(request, "parts/paper.html", context, status=status)


def _paper_page(stored: CustomerPaper) -> dict:
    vehicle, before = stored.vehicle, agreed_before(stored)
    return {
        "current_stage": "parts", "paper": stored, "told": sheet_of(stored, before), "no_tax": NO_TAX_PAPER, "stored": stored,
        "before": None if before is None else Money(before, vehicle.currency),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Sheet", f"{stored.get_paper_display()} {stored.number}"),
            ("Day", f"{stored.made_on:%d.%m.%Y}"), ("An hour", Money(stored.charge, vehicle.currency)), ("Mark-up", f"{stored.mark_up} %"),
        ],
    }  # fmt: skip


@require_GET
@with_vehicle
def paper_pdf(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """A sheet to give out. A bill above what was agreed is none: there is nothing to print then."""
    stored = get_object_or_404(vehicle.papers, number=number)
    told = sheet_of(stored, agreed_before(stored))
    if not told.may_ask:
        raise Http404("This bill may not be asked for: a variation must be agreed first.")
    return shown(customer_paper(stored, told), f"{stored.paper}-{stored.number}.pdf")
