"""The settings book, coupon by coupon; stock and bottles."""

from datetime import date

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.weld.book import RESULTS
from yellow_sill.core.weld.book import Coupon as CoreCoupon
from yellow_sill.core.weld.book import named as coupon_words
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.pictures import picture_response
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..book_services import as_core, drawn_stack, drop_coupon, keep_coupon
from ..models import Coupon
from ..shop_forms import BottleForm, CouponForm, ShopForm
from ..shop_services import drawn_bar, gas_left, keep_shop, needed, read_bottle, shop_of, unread_bottle


@with_vehicle
@open_to(Role.HELPER, what=("keep",))
def book(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All coupons; ``coupon`` in the address opens one to change it."""
    coupons = list(vehicle.coupons.all())
    number = whole_number(request.GET.get("coupon", ""))
    chosen = next((each for each in coupons if each.number == number), None)
    if number is not None and chosen is None:
        raise Http404("That coupon is not there any more.")
    initial = CouponForm.of(chosen) if chosen else {"made_on": days.today(), "process": "mig"}
    keeping = request.POST.get("what") == "keep"
    form = CouponForm(request.POST if keeping else None, request.FILES if keeping else None, initial=initial)
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if request.POST.get("what") == "drop" and chosen:
                drop_coupon(chosen, version=whole_number(request.POST.get("version", "")))
                messages.success(request, "The coupon is thrown away; Changes takes that back.")
                return redirect("weld:book", vehicle.pk)
            status = 422
            if form.is_valid():
                kept = keep_coupon(
                    vehicle, form.values(), photo=form.cleaned_data["photo"], stored=chosen, version=form.cleaned_data["version"],
                    by=request.user.get_username(),
                )  # fmt: skip
                messages.success(request, f"Coupon {kept.number} is in the book. Write {kept.number} on it.")
                return redirect("weld:book", vehicle.pk)
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            if not keeping:
                say_meanwhile(request, changed, "this coupon", then="throw it away")
                return redirect("weld:book", vehicle.pk)
            if not (
                conflict := both_of(
                    request,
                    form,
                    changed,
                    ("process", "joint", "gap_mm", "wire_mm", "result", "made_on", "note"),
                )
            ):
                return redirect("weld:book", vehicle.pk)
            status = 409
    context = {
        "current_stage": "repairs", "rows": [(each, coupon_words(CoreCoupon.read(as_core(each))), drawn_stack(each)) for each in coupons], "chosen": chosen,
        "form": form, "error": error, "conflict": conflict, "stored": chosen, "results": RESULTS,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Coupons", len(coupons)), ("Held", sum(c.result == "held" for c in coupons)),
            ("Steel", "mm"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "weld/book.html", context, status=status)


@require_GET
@with_vehicle
def coupon_photo(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """The photo of a coupon."""
    return picture_response(get_object_or_404(Coupon, vehicle=vehicle, number=number).file)


@with_vehicle
@open_to(Role.HELPER, what=("read", "unread"))
def shop(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What there is against what the welding ahead takes."""
    stored, what, by = shop_of(vehicle), request.POST.get("what", ""), request.user.get_username()
    form = ShopForm(request.POST if what == "keep" else None, initial=ShopForm.of(stored))
    bottle = BottleForm(request.POST if what == "read" else None, initial={"on": days.today()})
    error, conflict, status = None, None, 200
    try:
        if what == "keep":
            status = 422
            if form.is_valid():
                keep_shop(vehicle, form.values(), version=form.cleaned_data["version"], by=by)
                messages.success(request, "Stored.")
                return redirect("weld:shop", vehicle.pk)
        elif what == "read":
            status = 422
            if bottle.is_valid():
                read_bottle(
                    vehicle,
                    bottle.cleaned_data["bar"],
                    on=bottle.cleaned_data["on"],
                    today=days.today(),
                    by=by,
                )
                return redirect("weld:shop", vehicle.pk)
        elif what == "unread":
            unread_bottle(vehicle)
            return redirect("weld:shop", vehicle.pk)
    except CoreError as refused:
        error, status = refused, 422
    except ChangedMeanwhile as changed:
        if not (conflict := both_of(request, form, changed, rows=_both(form, changed.stored))):
            return redirect("weld:shop", vehicle.pk)
        status = 409
    return _shop_page(
        request, vehicle, status, form=form, bottle=bottle, error=error, conflict=conflict, stored=stored
    )


def _both(form: ShopForm, stored) -> list[tuple]:
    """What differs between what was typed and what is stored now."""
    mine, theirs = form.values(), ShopForm.of(stored)
    told = ShopForm.of(type(stored)(**mine, version=stored.version))
    return [
        (str(form.fields[name].label), told.get(name, "nothing"), theirs.get(name, "nothing"))
        for name in form.fields
        if name != "version" and told.get(name) != theirs.get(name)
    ]


def _shop_page(request: HttpRequest, vehicle: Vehicle, status: int, **more) -> HttpResponse:
    told = needed(vehicle)
    shop = more["stored"]
    context = {
        "current_stage": "repairs",
        "told": told,
        "bars": [drawn_bar(each) for each in told.things],
        "readings": [each | {"on": date.fromisoformat(each["on"])} for each in reversed(shop.readings)][:8],
        "gas_left": gas_left(shop),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Things", len(told.things)),
            ("Run out", sum(each.ends_in is not None for each in told.things)), ("Not known", sum(each.in_stock is None for each in told.things)),
            ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "weld/shop.html", context | more, status=status)
