"""The strip register: parts on the drawing and in a list, boxes with labels, the order of refitting."""

from urllib.parse import quote

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.strip.register import STATES
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.pictures import picture_response
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role, Vehicle
from yellow_sill.web.shells.views.common import view_chosen

from ..forms import PartForm
from ..models import StripPart
from ..services import boxes_of, drop_part, found, keep_part, labels_of, refit, registered

NAMES = ("name", "removed_on", "box", "shelf", "state", "burns", "fastenings", "ends", "waits_for", "note")


@with_vehicle
@open_to(Role.HELPER, what=("keep", "refit"))
def register(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All parts; ``part`` in the address opens one, ``view`` chooses the drawing, ``q`` asks, ``state`` filters."""
    parts = list(vehicle.strip_parts.all())
    number = whole_number(request.GET.get("part", ""))
    chosen = next((part for part in parts if part.number == number), None)
    if number is not None and chosen is None:
        raise Http404("That part is not in the register any more.")
    views, view = view_chosen(request, vehicle, chosen.view_id if chosen else None)
    form = _form(request, vehicle, parts, chosen)
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if done := _done(request, vehicle, chosen, view, form):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            if request.POST.get("what") != "keep":
                say_meanwhile(request, changed, "this part", then="say it again")
                return redirect(_here(vehicle, chosen))
            if not (conflict := both_of(request, form, changed, NAMES)):
                return redirect(_here(vehicle, chosen))
            status = 409
    return _page(
        request, vehicle, parts, chosen, view, status, views=views, form=form, error=error, conflict=conflict
    )


def _here(vehicle: Vehicle, part: StripPart | None) -> str:
    page = reverse("strip:register", args=[vehicle.pk])
    return f"{page}?part={part.number}" if part else page


def _form(
    request: HttpRequest, vehicle: Vehicle, parts: list[StripPart], chosen: StripPart | None
) -> PartForm:
    keeping = request.POST.get("what") == "keep"
    cuts = list(Cut.objects.filter(repair__vehicle=vehicle).select_related("repair", "panel"))
    initial = PartForm.of(chosen) if chosen else {"removed_on": days.today()}
    return PartForm(
        request.POST if keeping else None, request.FILES if keeping else None, initial=initial,
        parts=[part for part in parts if part is not chosen], cuts=cuts,
    )  # fmt: skip


def _done(
    request: HttpRequest, vehicle: Vehicle, chosen: StripPart | None, view, form: PartForm
) -> HttpResponse | None:
    """Store what was sent; None where its form shows why not. Raises: CoreError, ChangedMeanwhile."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    if what == "keep":
        if not form.is_valid():
            return None
        values = form.values() | {"view": view if form.cleaned_data["at"] else None}
        part = keep_part(
            vehicle,
            values,
            photo=form.cleaned_data["photo"],
            stored=chosen,
            version=form.cleaned_data["version"],
            by=by,
        )
        messages.success(request, f"{part.number} {part.name}: in the register. Write {part.number} on it.")
        return redirect(reverse("strip:register", args=[vehicle.pk]) + f"?view={view.name}")
    if chosen is None:
        return redirect("strip:register", vehicle.pk)
    if what == "refit":
        day = None if "undo" in request.POST else days.today()
        refit(chosen, day=day, today=days.today(), by=by)
        return redirect(_here(vehicle, chosen))
    if what == "drop":
        drop_part(chosen, version=whole_number(request.POST.get("version", "")))
        messages.success(request, "It is out of the register; Changes takes that back.")
    return redirect("strip:register", vehicle.pk)


def _page(
    request: HttpRequest, vehicle: Vehicle, parts: list[StripPart], chosen, view, status: int, **more
) -> HttpResponse:
    asked, state = request.GET.get("q", "").strip(), request.GET.get("state", "")
    shown = found(parts, asked) if asked else [part for part in parts if not state or part.state == state]
    here = [part for part in parts if part.view_id == view.pk and part.at]
    told = registered(parts)
    context = {
        "current_stage": "strip", "parts": shown, "all_parts": parts, "chosen": chosen, "view": view, "asked": asked, "state": state, "told": told,
        "svg": shell_svg(view, 1), "states": list(STATES.items()),
        "tags": [
            Tag.of(part.number, [*part.at, *part.at], selected=part is chosen, href=_here(vehicle, part), name=f"{part.number} {part.name}") for part in here
        ],
        "places": {"at": chosen.at if chosen and chosen.view_id == view.pk else []},
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Off", told.off), ("Missing", told.missing),
            ("No place", len(told.unplaced)), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "strip/register.html", context | more, status=status)


@require_GET
@with_vehicle
def refitting(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The order of refitting."""
    parts = {part.number: part for part in vehicle.strip_parts.all()}
    told = registered(parts.values())
    context = {
        "current_stage": "strip", "told": told, "rows": [(each, parts[each.number]) for each in told.order],
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Off", told.off), ("Can go on", len(told.ready)),
            ("Missing", told.missing), ("To refurbish", told.refurbish),
        ],
    }  # fmt: skip
    return render(request, "strip/refit.html", context)


@require_GET
@with_vehicle
def boxes(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What is in each box; ``box`` in the address opens one: its label's code leads here."""
    found_ = boxes_of(vehicle.strip_parts.all())
    name = request.GET.get("box", "")
    context = {
        "current_stage": "strip", "boxes": found_, "chosen": next((box for box in found_ if box.name == name), None), "asked": name,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Boxes", len(found_)),
            ("Parts in them", sum(len(box.parts) for box in found_)), ("Paper", "A4"), ("On a sheet", 8),
        ],
    }  # fmt: skip
    return render(request, "strip/boxes.html", context)


@require_GET
@with_vehicle
def labels(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Labels of all boxes, or of the one that ``box`` names."""
    name = request.GET.get("box", "")
    some = [box for box in boxes_of(vehicle.strip_parts.all()) if not name or box.name == name]
    if not some:
        raise Http404("There is no such box.")
    page = request.build_absolute_uri(reverse("strip:boxes", args=[vehicle.pk]))
    data = labels_of(vehicle, some, f"{page}?box={{box}}")
    return attachment(data, f"labels{quote(name)}.pdf", "application/pdf")


@require_GET
@with_vehicle
def photo(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """The photo of a part on the car."""
    return picture_response(get_object_or_404(StripPart, vehicle=vehicle, number=number).file)
