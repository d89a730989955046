"""The fit log: the patch offered up, gaps tapped, what to trim, filler strips, the ribbon's next step."""

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.patch.tiles import PAPERS_MM
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.views.common import chosen_cut, one_cut, repair_context
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.models import Role

from ..fit_forms import OfferForm
from ..fit_services import (
    BEFORE,
    drop_offer,
    judged,
    keep_offer,
    move_on,
    not_fitting,
    offers_of,
    opening_of,
    strip_file,
    values_of,
)
from ..models import FitOffer


@with_repair
@open_to(Role.HELPER, what=("offer",))
def fit(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The offers of a cut's patch; ``offer`` in the address is one of them, "new" a fresh one; ``what`` in a POST says what is done."""
    cuts, cut = chosen_cut(request, repair, "patch")
    context = repair_context(repair, "fit", cuts, cut)
    if cut is None:
        return render(request, "patch/fit.html", context)
    offers = offers_of(cut)
    asked = request.GET.get("offer", "")
    offer = next((each for each in offers if each.number == whole_number(asked)), None)
    if offer is None and whole_number(asked) is not None:
        raise Http404("That offer-up is not there any more.")
    if offer is None and offers and asked != "new":
        offer = offers[-1]
    here = f"{reverse('patch:fit', args=[repair.vehicle_id, repair.number])}?cut={cut.number}"
    what, status = request.POST.get("what", ""), 200
    form = OfferForm(request.POST if what == "offer" else None, initial=_initial(offer))
    more: dict = {"error": None, "conflict": None}
    try:
        if what == "offer":
            status = 422
            if form.is_valid():
                kept = keep_offer(
                    cut, form.values(), stored=offer, version=form.cleaned_data["version"], today=days.today(), by=request.user.get_username()
                )  # fmt: skip
                return redirect(f"{here}&offer={kept.number}")
        elif what == "drop" and offer:
            drop_offer(offer, version=whole_number(request.POST.get("version", "")))
            messages.success(request, "The offer-up is thrown away; Changes takes that back.")
            return redirect(here)
        elif what == "fitted":
            move_on(
                repair, version=whole_number(request.POST.get("version", "")), today=days.today(), by=request.user.get_username()
            )  # fmt: skip
            messages.success(request, "Fitted: the ribbon has moved on.")
            return redirect(here)
    except ChangedMeanwhile as changed:
        if what != "offer":
            say_meanwhile(request, changed, "this repair", then="say it again")
            return redirect(here)
        more |= {
            "conflict": both_of(request, form, changed, rows=_both(form, changed.stored)),
            "stored": changed.stored,
        }
        status = 409
    except CoreError as error:
        more["error"], status = error, 422
    return _page(request, repair, cut, offer, offers, form, context | more, status)


def _initial(offer: FitOffer | None) -> dict:
    return values_of(offer) | {"version": offer.version} if offer else {}


def _both(form: OfferForm, stored: FitOffer) -> list[tuple]:
    told = lambda gaps: ", ".join(str(each["typed"]) for each in gaps) or "nothing"  # noqa: E731
    return [
        ("What was tapped", told(form.cleaned_data["gaps"]), told(stored.gaps)),
        ("Note", form.cleaned_data["note"], stored.note),
    ]


def _page(
    request, repair: Repair, cut: Cut, offer, offers, form: OfferForm, context: dict, status: int
) -> HttpResponse:
    told = None
    try:
        opening = opening_of(cut)
        if offer is not None and not form.is_bound:
            told = judged(cut, values_of(offer))
    except CoreError as error:
        context["error"] = context["error"] or error
        opening = None
    rows = form.rows if form.is_bound else [
        (f"{each['at'][0]} {each['at'][1]}", units.as_typed(each.get("typed"), each["gap_mm"]), "") for each in (offer.gaps if offer else [])
    ]  # fmt: skip
    context |= {
        "form": form,
        "offer": offer,
        "offers": offers,
        "told": told,
        "opening": opening,
        "rows": rows,
        "papers": PAPERS_MM,
        "may_move": repair.state == BEFORE,
        "waiting": not_fitting(repair) if repair.state == BEFORE and told and told.fits else [],
        "bounds": bounds_of(opening.outline) if opening else [0, 0, 1, 1],
        "board": {"outline": opening.outline if opening else [], "edges": opening.edges if opening else [], "told": told and {
            "stretches": [{"verdict": each.verdict, "path": each.path} for each in told.stretches],
            "strips": [{"name": each.name, "outline": each.outline, "cut_back": each.cut_back} for each in told.fillers],
            "goes": [{"number": each.number, "path": each.path, "tacks": each.tacks} for each in told.goes],
        }},
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Cut", cut.number), ("Offer-up", offer.number if offer else "new"),
            ("Tapped", len(rows)), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "patch/fit.html", context, status=status)


@require_GET
@with_repair
def strip(
    request: HttpRequest, repair: Repair, cut_number: int, offer_number: int, name: str, form: str
) -> HttpResponse:
    """A filler strip's pattern at full size."""
    cut = one_cut(repair, cut_number, "patch")
    offer = get_object_or_404(FitOffer, cut=cut, number=offer_number)
    if form not in ("svg", "dxf", "pdf"):
        raise Http404
    try:
        data, mime, file_name = strip_file(offer, name, form, request.GET.get("paper", "A4"))
    except KeyError:
        raise Http404 from None
    return attachment(data, file_name, mime)
