"""A need: its quotes side by side, the one that was taken, and how far it is."""

from decimal import Decimal
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.bank import amount_typed
from yellow_sill.core.parts.needs import STATES, usual_next
from yellow_sill.web.frame import days
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.pictures import picture_response
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle
from yellow_sill.web.shells.unchanged import always_anew_with

from .. import catalogue
from ..forms import CommaDecimalField, NeedForm, QuoteForm, StepForm, plain
from ..models import Need, NeedQuote
from ..money_services import terms_of
from ..need_services import (
    choose,
    compared,
    drop_need,
    drop_quote,
    go_back,
    go_on,
    keep_need,
    keep_quote,
    last_check,
    needs_of,
    own_fit_factor,
    state_of,
    taken,
    told_of,
)
from ..order_services import quote_from
from ..services import with_sums


@always_anew_with("look")
@with_vehicle
@open_to(Role.HELPER, what=("keep", "quote", "unquote", "offer", "choose", "step", "unstep"))
def need(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """``quote`` in the address opens one of its quotes; ``hour``: what an hour of one's own is worth."""
    wanted = next((each for each in needs_of(vehicle) if each.number == number), None)
    if wanted is None:
        raise Http404("That need is not there any more.")
    asked = whole_number(request.GET.get("quote", ""))
    quote = next((each for each in wanted.quotes.all() if each.number == asked), None)
    if asked is not None and quote is None:
        raise Http404("That quote is not there any more.")
    forms, what = _forms(request, vehicle, wanted, quote), request.POST.get("what", "")
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if _done(request, wanted, quote, forms):
                gone = what == "drop"
                return redirect("parts:wanted", vehicle.pk) if gone else redirect(_here(request, wanted))
            status = 422
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            if what not in ("keep", "quote"):
                say_meanwhile(request, changed, "this", then="say it again")
                return redirect(_here(request, wanted))
            names = (NeedForm if what == "keep" else QuoteForm).NAMES
            if not (
                conflict := both_of(request, forms["need" if what == "keep" else "quote"], changed, names)
            ):
                return redirect(_here(request, wanted))
            status = 409
        wanted = next((each for each in needs_of(vehicle) if each.number == number), wanted)
    more = _looked(request, vehicle, wanted)
    return _page(
        request,
        vehicle,
        wanted,
        quote,
        status,
        forms,
        **(more | {"error": error or more.get("error"), "conflict": conflict}),
    )


def _here(request: HttpRequest, wanted: Need) -> str:
    hour = request.GET.get("hour", "")
    page = reverse("parts:need", args=[wanted.vehicle_id, wanted.number])
    return f"{page}?hour={hour}" if hour.replace(".", "").replace(",", "").isdigit() else page


def _forms(request: HttpRequest, vehicle: Vehicle, wanted: Need, quote: NeedQuote | None) -> dict[str, Any]:
    what = request.POST.get("what", "")
    sent = {name: request.POST if what == name else None for name in ("keep", "quote", "step")}
    start = QuoteForm.of(quote) if quote else {"currency": vehicle.currency}
    files = request.FILES if what == "keep" else None
    return {
        "need": NeedForm(
            sent["keep"], files, initial=NeedForm.of(wanted), repairs=list(vehicle.repairs.all())
        ),
        "quote": QuoteForm(sent["quote"], initial=start),
        "step": StepForm(sent["step"], initial={"made_on": days.today()}),
    }


def _done(request: HttpRequest, wanted: Need, quote: NeedQuote | None, forms: dict[str, Any]) -> bool:
    """Whether what was sent is stored; where not, its form shows why. Raises: CoreError, ChangedMeanwhile."""
    what, by, today = request.POST.get("what", ""), request.user.get_username(), days.today()
    form = {"keep": forms["need"], "quote": forms["quote"], "step": forms["step"]}.get(what)
    if form is not None and not form.is_valid():
        return False
    if what == "keep":
        clean = form.cleaned_data
        values = form.values() | {"view": wanted.view if clean["at"] else None}
        keep_need(
            wanted.vehicle,
            values,
            photo=clean["photo"],
            stored=wanted,
            version=clean["version"] or 0,
            today=today,
            by=by,
        )
    elif what == "quote":
        keep_quote(wanted, form.values(), stored=quote, version=form.cleaned_data["version"] or 0, by=by)
    elif what == "step":
        clean = form.cleaned_data
        go_on(wanted, clean["state"], day=clean["made_on"], today=today, why=clean["why"], by=by)
    elif what == "unstep":
        go_back(wanted, whole_number(request.POST.get("step", "")) or 0)
    elif what == "choose":
        told = compared(
            wanted, hour=_hour(request, wanted), today=today, fit_factor=own_fit_factor(wanted.vehicle)
        )
        number = whole_number(request.POST.get("number", "")) or 0
        choose(wanted, number, request.POST.get("reason", ""), best=told.chosen if told else "", by=by)
    elif what == "offer":
        _offered(request, wanted)
    elif what == "unquote" and quote is not None:
        drop_quote(quote, version=whole_number(request.POST.get("version", "")))
    elif what == "drop":
        drop_need(wanted, version=whole_number(request.POST.get("version", "")))
        messages.success(request, f"{wanted.number} {wanted.name} is deleted; Changes takes that back.")
    return True


def _looked(request: HttpRequest, vehicle: Vehicle, wanted: Need) -> dict[str, Any]:
    """What a supplier's catalogue has, where somebody asks: ``look`` says whose, ``words`` for what."""
    catalogues = list(vehicle.suppliers.exclude(address=""))
    asked = whole_number(request.GET.get("look", ""))
    told = {"catalogues": catalogues, "words": request.GET.get("words", wanted.name)[:80], "look": asked}
    supplier = next((each for each in catalogues if each.number == asked), None)
    if supplier is None or request.method != "GET":
        return told
    try:
        return told | {"found": catalogue.search(supplier.address, told["words"])}
    except CoreError as error:
        return told | {"error": error}


def _offered(request: HttpRequest, wanted: Need) -> None:
    """Write an article of a catalogue down as a quote, as it is offered now. Raises: CoreError."""
    number = whole_number(request.POST.get("look", ""))
    supplier = wanted.vehicle.suppliers.filter(number=number).exclude(address="").first()
    if supplier is None:
        raise BadField("That supplier is not there any more.", "look")
    found = catalogue.item(supplier.address, request.POST.get("ref", "")[:40])
    rate = Decimal(1)
    if found.currency != wanted.vehicle.currency:
        rate = amount_typed(request.POST.get("rate", "") or "-")
        if rate <= 0:
            raise BadField("A rate of 0 makes it worth nothing.", "rate", "Type the rate of its day.")
    quote_from(wanted, supplier, found, rate, today=days.today(), by=request.user.get_username())


def _hour(request: HttpRequest, wanted: Need) -> Decimal:
    """What an hour of one's own is worth: as it is typed here, else by the terms; nothing where that is no amount."""
    if "hour" not in request.GET:
        return terms_of(wanted.vehicle).hour
    try:
        return CommaDecimalField(max_digits=8, decimal_places=4, min_value=0, required=False).clean(
            request.GET.get("hour", "")
        ) or Decimal(0)
    except ValidationError:
        return Decimal(0)


def _page(
    request: HttpRequest, vehicle: Vehicle, wanted: Need, quote: NeedQuote | None, status: int, forms: dict[str, Any], **more
) -> HttpResponse:  # fmt: skip
    hour, today, factor = _hour(request, wanted), days.today(), own_fit_factor(vehicle)
    told = compared(wanted, hour=hour, today=today, fit_factor=factor)
    by_name = {each.name: each for each in wanted.quotes.all()}
    step, chosen = state_of(wanted), taken(wanted)
    state = step.state if step else "wanted"
    context = {
        "current_stage": "parts", "need": wanted, "quote": quote, "need_form": forms["need"], "form": forms["quote"], "step_form": forms["step"],
        "told": told, "columns": [(each, by_name[each.name]) for each in told.order] if told else [], "chosen": chosen, "stored": quote or wanted,
        "state": STATES[state], "step": step, "steps": list(wanted.steps.all()), "next": [(key, STATES[key]) for key in usual_next(state)],
        "check": last_check(wanted), "paid": with_sums(vehicle, wanted.cost_lines.all()),
        "presses": told_of([wanted], today).needs[0], "hour": Money(hour, vehicle.currency), "factor": None if factor == 1 else factor,
        "hour_typed": request.GET.get("hour", plain(hour))[:12],
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Need", wanted.number), ("Quotes", len(by_name)),
            ("Currency", vehicle.currency), ("Own hour", Money(hour, vehicle.currency)),
        ],
    }  # fmt: skip
    return render(request, "parts/need.html", context | more, status=status)


@require_GET
@with_vehicle
def photo(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """The photo or sketch of a need."""
    return picture_response(get_object_or_404(Need, vehicle=vehicle, number=number).file)
