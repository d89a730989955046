"""The protection board: every face of every sheet that a repair touches, by what is on it; what may come next, and what is broken."""

from dataclasses import dataclass
from datetime import datetime

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.core.protect.check import RULES
from yellow_sill.core.protect.systems import SURFACE_WORDS, CansRequest, cans_needed
from yellow_sill.web.cut.views.common import repair_context
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.models import Role
from yellow_sill.web.shells.unchanged import by_the_clock

from ..closing_services import box_of
from ..face_services import SheetFace, face_at, faces_of, overrule, put_coat, say_face, take_coat_off
from ..forms import CoatForm, FaceForm
from ..product_services import own_products, products_at_hand, say_warmth, warmth_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """A sheet's faces beside each other: outside, inside (mirrored), and the edges that close."""

    name: str
    state: str
    sides: list[SheetFace]
    edges: list[SheetFace]
    outline: list
    bounds: tuple


@by_the_clock
@with_repair
@open_to(Role.HELPER)
def protect(request: HttpRequest, repair: Repair) -> HttpResponse:
    """``face`` in the address is the one that is open; ``what`` in a POST says what is done."""
    now = timezone.now()
    cuts = list(repair.cuts.without_drawings())
    context = repair_context(repair, "protect", cuts, None)
    error = None
    try:
        faces = faces_of(repair, now) if cuts else []
    except CoreError as fault:
        faces, error = [], fault
    chosen = face_at(faces, request.GET.get("face", "")) or next(
        (each for each in faces if each.broken or not each.told.finished), None
    )
    forms = _forms(request, repair, faces, chosen, now)
    conflict, status = None, 200
    if request.method == "POST":
        try:
            if done := _done(request, repair, faces, chosen, forms, now):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            if not (
                conflict := both_of(request, forms["face_form"], changed, ("surface", "metal", "bared_on"))
            ):
                return redirect(_here(repair, chosen))
            status = 409
    context |= (
        forms
        | _page(repair, faces, chosen, now)
        | {"error": error, "conflict": conflict, "stored": chosen.record if chosen else None}
    )
    return render(request, "protect/protect.html", context, status=status)


def _here(repair: Repair, face: SheetFace | None) -> str:
    page = reverse("protect:protect", args=[repair.vehicle_id, repair.number])
    return f"{page}?face={face.address}" if face else page


def _forms(
    request: HttpRequest, repair: Repair, faces: list[SheetFace], chosen: SheetFace | None, now: datetime
) -> dict:
    what = request.POST.get("what", "")
    mine = [each for each in faces if chosen and each.sheet is chosen.sheet]
    record = chosen.record if chosen else None
    said = (
        {name: getattr(record, name) for name in ("surface", "metal", "bared_on", "version")}
        if record
        else {"version": 0}
    )
    return {
        "coat_form": CoatForm(
            request.POST if what == "coat" else None, products=[each.name for each in products_at_hand(repair.vehicle)],
            faces=[(each.key, each.name) for each in mine], initial={"put_on": now, "faces": [chosen.key] if chosen else []},
        ),
        "face_form": FaceForm(request.POST if what == "face" else None, initial=said),
    }  # fmt: skip


def _done(
    request: HttpRequest, repair: Repair, faces: list[SheetFace], chosen: SheetFace | None, forms: dict, now: datetime
) -> HttpResponse | None:  # fmt: skip
    """Store what was sent; None where a form shows why not. Raises: CoreError, ChangedMeanwhile."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    if chosen is None:
        messages.warning(request, "That face is not there any more.")
        return redirect(_here(repair, None))
    cut = chosen.sheet.cut
    if what == "coat":
        form = forms["coat_form"]
        if not form.is_valid():
            return None
        values = form.cleaned_data
        put_coat(
            repair,
            cut,
            values["faces"],
            values["product"],
            put_on=values["put_on"],
            note=values["note"],
            now=now,
            by=by,
        )
        if values["at_c"] is not None:
            say_warmth(repair.vehicle, values["at_c"], since=values["put_on"], now=now, by=by)
    elif what == "face":
        form = forms["face_form"]
        if not form.is_valid():
            return None
        values = dict(form.cleaned_data)
        version = values.pop("version")
        say_face(cut, chosen.key, **values, version=version, by=by, today=days.today())
    elif what == "off":
        take_coat_off(cut, chosen.key)
        messages.success(request, "The last coat is taken off; Changes takes that back.")
    elif what == "overrule":
        overrule(cut, chosen.key, request.POST.get("rule", ""), request.POST.get("why", ""), by=by)
    return redirect(_here(repair, chosen))


def _page(repair: Repair, faces: list[SheetFace], chosen: SheetFace | None, now: datetime) -> dict:
    cards: dict[str, Card] = {}
    for face in faces:
        name = face.sheet.told.name
        card = cards.setdefault(name, Card(
            name=name, state=face.sheet.told.state, sides=[], edges=[], outline=face.sheet.cut.outline,
            bounds=tuple(widened(bounds_of(face.sheet.cut.outline), 14.0)),
        ))  # fmt: skip
        (card.edges if face.path else card.sides).append(face)
    try:
        box = box_of(repair, now) if faces else None
    except CoreError:
        box = None
    owned = [each.model_dump() for each in own_products(repair.vehicle)]
    stock = {each.kind: each.litres for each in repair.vehicle.products.exclude(litres=None)}
    cans = cans_needed(CansRequest.read({
        "faces": [{"area_m2": each.area_m2, "left": each.told.left} for each in faces], "products": owned,
        "stock": stock,
    }))  # fmt: skip
    broken = [(face, one) for face in faces for one in face.broken]
    return {
        "cards": list(cards.values()),
        "chosen": chosen,
        "surface_words": SURFACE_WORDS.get(chosen.surface, "") if chosen else "",
        "coats": list(chosen.record.coats.order_by("-put_on", "-pk")) if chosen and chosen.record else [],
        "broken": [(face, one, RULES[one.code]) for face, one in broken if not one.overruled],
        "mine_broken": [(one, RULES[one.code]) for one in chosen.broken] if chosen else [],
        "box": box,
        "cans": cans,
        "warmth": warmth_of(repair.vehicle)[-1:],
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Faces", len(faces)),
            ("Finished", sum(each.told.finished is True for each in faces)), ("Not known", sum(each.told.finished is None for each in faces)),
            ("Units", units.unit.get()),
        ],
    }  # fmt: skip
