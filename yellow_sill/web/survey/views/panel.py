"""One panel: its far side, what goes with it, its photos and findings."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import BadField
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Panel, Role, Vehicle

from ..forms import FarSideForm, LookedForm, PanelItemForm, SurveyPhotoForm
from ..models import FarSide, PanelItem
from ..panel_services import add_item, answer_far_side
from .common import board_context


def one_panel(vehicle: Vehicle, pk: int) -> Panel:
    return get_object_or_404(
        Panel.objects.select_related("view").defer("view__features"), pk=pk, view__vehicle=vehicle
    )


@with_vehicle
@open_to(Role.HELPER)
def panel(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """The panel's sheet; a POST answers the far-side question."""
    chosen = one_panel(vehicle, pk)
    stored = FarSide.objects.filter(panel=chosen).first()
    initial = {"version": stored.version, "answer": stored.answer, "method": stored.method} if stored else {}
    form = FarSideForm(request.POST or None, initial=initial)
    conflict = None
    if request.method == "POST" and form.is_valid():
        try:
            values = form.cleaned_data | {"whole": form.cleaned_data["where"] == "whole"}
            del values["where"]
            answer_far_side(chosen, by=request.user.get_username(), **values)
            messages.success(request, f"The far side of {chosen.code} is answered.")
            return redirect("survey:panel", vehicle.pk, chosen.pk)
        except BadField as error:
            form.add_error("where", error.message)
        except ChangedMeanwhile as error:
            stored = error.stored
            conflict = both_of(
                request, form, error, rows=[("Far side", form.cleaned_data["answer"], stored.answer)]
            )
    context = board_context(vehicle, chosen.view, chosen.layer if chosen.view.layered else 1) | {
        "panel": chosen,
        "far_side": stored,
        "stored": stored,
        "form": form,
        "conflict": conflict,
        "item_form": PanelItemForm(),
        "items": list(chosen.items.all()),
        "on_panel": list(chosen.findings.all()),
        "photos": list(chosen.photos.all()),
        "photo_form": SurveyPhotoForm(),
        "looked_form": LookedForm(),
    }
    return render(
        request, "survey/panel.html", context, status=409 if conflict else 422 if form.errors else 200
    )


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def item(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """Add something that goes with a panel, tick it off, or take it away."""
    chosen = one_panel(vehicle, pk)
    if "tick" in request.POST or "drop" in request.POST:
        key = request.POST.get("tick") or request.POST.get("drop")
        held = get_object_or_404(PanelItem, pk=whole_number(key), panel=chosen)
        if "drop" in request.POST:
            held.delete()
        else:
            held.done = not held.done
            held.save(update_fields=["done"])
        return redirect("survey:panel", vehicle.pk, chosen.pk)
    form = PanelItemForm(request.POST)
    if form.is_valid():
        add_item(chosen, by=request.user.get_username(), **form.cleaned_data)
    else:
        messages.warning(request, next(iter(form.errors.values()))[0])
    return redirect("survey:panel", vehicle.pk, chosen.pk)
