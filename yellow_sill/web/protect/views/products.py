"""The products a garage owns, and how warm it is."""

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from yellow_sill.core.errors import CoreError
from yellow_sill.core.protect.products import STARTING_SET, shelf_ends
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..forms import ProductForm, WarmthForm
from ..product_services import drop_product, keep_product, say_warmth, unsay_warmth


@with_vehicle
@open_to(Role.HELPER, what=("warm", "cold"))
def products(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``product`` in the address opens one; ``like`` begins a new one from a usual kind."""
    owned, what = list(vehicle.products.all()), request.POST.get("what", "")
    number = whole_number(request.GET.get("product", ""))
    chosen = next((each for each in owned if each.number == number), None)
    if number is not None and chosen is None:
        raise Http404("That product is not there any more.")
    like = next((each for each in STARTING_SET if each.kind == request.GET.get("like")), None)
    initial = ProductForm.of(chosen) if chosen else like.model_dump() if like else {}
    form = ProductForm(request.POST if what == "keep" else None, initial=initial)
    warmth = WarmthForm(request.POST if what == "warm" else None, initial={"since": timezone.now()})
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if _done(request, vehicle, chosen, form, warmth):
                return redirect("protect:products", vehicle.pk)
            status = 422
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            if what != "keep":
                say_meanwhile(request, changed, "this product", then="throw it away")
                return redirect("protect:products", vehicle.pk)
            if not (conflict := both_of(request, form, changed)):
                return redirect("protect:products", vehicle.pk)
            status = 409
    kinds = {each.kind for each in owned}
    context = {
        "current_stage": "repairs", "owned": [(each, shelf_ends(each.bought_on, each.shelf_months)) for each in owned], "chosen": chosen, "form": form,
        "usual": [each for each in STARTING_SET if each.kind not in kinds], "warmth_form": warmth, "warmths": list(vehicle.warmths.order_by("-since")[:20]),
        "error": error, "conflict": conflict, "stored": chosen, "today": days.today(),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Owned", len(owned)), ("Usual kinds", len(STARTING_SET)),
            ("Degrees", f"°{units.degrees.get()}"), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "protect/products.html", context, status=status)


def _done(request: HttpRequest, vehicle: Vehicle, chosen, form: ProductForm, warmth: WarmthForm) -> bool:
    """Store what was sent; False where its form shows why not. Raises: CoreError, ChangedMeanwhile."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    if what == "keep" and form.is_valid():
        kept = keep_product(
            vehicle, form.values(), stored=chosen, version=form.cleaned_data["version"], by=by
        )
        messages.success(request, f"{kept.name} is kept.")
        return True
    if what == "drop" and chosen:
        drop_product(chosen, version=whole_number(request.POST.get("version", "")))
        messages.success(
            request, "The product is thrown away; Changes takes that back. Coats keep what they were."
        )
        return True
    if what == "warm" and warmth.is_valid():
        values = warmth.cleaned_data
        say_warmth(vehicle, values["at_c"], since=values["since"], now=timezone.now(), by=by)
        return True
    if what == "cold":
        unsay_warmth(vehicle, whole_number(request.POST.get("line", "")) or 0)
        return True
    return False
