from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.repairs.ribbon import STATES, share_done
from yellow_sill.web.frame import units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.stages import told
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.models import finding_address

from ..forms import OpenRepairForm
from ..models import Repair
from ..rule_services import CLEARANCES, rules_of
from ..services import MendedAlready, open_repair, require_unmended

#: What the choice of findings needs of each; outlines of panels are long.
LIGHT = (
    "pk",
    "number",
    "title",
    "grade",
    "outline",
    "bounds_mm",
    "panel__name",
    "panel__named_by_hand",
    "panel__view_id",
)


def repair_places(vehicle: Vehicle, repairs: list[Repair]) -> dict:
    """For each view: its drawing, the cuts in it and a tag for each repair there."""
    views = list(vehicle.views.defer("features", "silhouette"))
    by_number, cuts = {repair.number: repair for repair in repairs}, {}
    for piece in (piece for say in told("pieces") for piece in say(vehicle)) if repairs else ():
        cuts.setdefault(piece.view_id, []).append((by_number[piece.repair], piece))
    places = []
    for view in views:
        here, tags, seen = cuts.get(view.pk, []), [], set()
        for repair, cut in here:
            if repair.pk not in seen:
                words = f"{repair.code}, {repair.title}, {repair.state}"
                href = repair.get_absolute_url()
                tags.append(Tag.of(repair.code, bounds_of(cut.outline), href=href, name=words))
                seen.add(repair.pk)
        places.append(
            {"view": view, "svg": shell_svg(view, 1), "cuts": [cut for _, cut in here], "tags": tags}
        )
    return {"places": sorted(places, key=lambda place: (-len(place["tags"]), place["view"].place))}


@require_GET
@with_vehicle
def repairs(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All repairs, on the shell and as a list."""
    found = list(vehicle.repairs.all())
    context = repair_places(vehicle, found) | {
        "current_stage": "repairs",
        "repairs": [
            (repair, range(len(STATES)), STATES.index(repair.state), share_done(repair.state))
            for repair in found
        ],
        "open_count": sum(1 for repair in found if repair.state != STATES[-1]),
    }
    context["main"], *context["others"] = context["places"]
    view_name = request.GET.get("view")
    for place in context["places"]:
        if place["view"].name == view_name:
            context["main"], context["others"] = (
                place,
                [other for other in context["places"] if other is not place],
            )
    context["cells"] = [
        ("Vehicle", vehicle.model),
        ("Body no.", vehicle.body_no or "–"),
        ("Repairs", len(found)),
        ("Open", context["open_count"]),
        ("View", context["main"]["view"].title.removesuffix(" side")),
        ("Units", units.unit.get()),
    ]
    return render(request, "repairs/repairs.html", context)


@with_vehicle
def new(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Open a repair from findings."""
    findings = vehicle.findings.select_related("panel").defer("panel__outline", "panel__holes")
    first = findings.filter(number__in=[whole_number(number) for number in request.GET.getlist("finding")])
    own = rules_of(vehicle)
    initial = {"findings": [f.number for f in first], "title": first[0].head if first else ""} | {
        name: getattr(own, name) for name in CLEARANCES
    }
    form = OpenRepairForm(request.POST or None, findings=findings, initial=initial)
    ask_again = "again" in request.POST
    if request.method == "POST" and form.is_valid():
        values = dict(form.cleaned_data)
        chosen = list(
            vehicle.findings.select_related("panel").filter(pk__in=[f.pk for f in values.pop("findings")])
        )
        try:
            if "again" not in request.POST:
                require_unmended(chosen)
            made = open_repair(vehicle, chosen, by=request.user.get_username(), **values)
            messages.success(
                request,
                f"{made.code} is open. The cut below is proposed; move its corners if you know better.",
            )
            return redirect(made)
        except MendedAlready as error:
            ask_again = True
            form.add_error("findings", str(error))
        except CoreError as error:
            form.add_error(None, error.message)
    ticked = {
        whole_number(number)
        for number in (request.POST.getlist("findings") if request.method == "POST" else initial["findings"])
    }
    context = _choices(vehicle, ticked) | {"form": form, "ask_again": ask_again}
    return render(request, "repairs/new.html", context, status=422 if form.errors else 200)


def _choices(vehicle: Vehicle, ticked: set[int | None]) -> dict:
    """The findings that a repair may be for, by view: the one with most of those ticked is drawn. Args: ticked: numbers of findings."""
    places = repair_places(vehicle, [])["places"]
    choices = list(vehicle.findings.values_list(*LIGHT, named=True))
    choices.sort(key=lambda f: f.number not in ticked)  # what was asked for is seen without scrolling
    for place in places:
        place["findings"] = [f for f in choices if f.panel__view_id == place["view"].pk]
        place["hits"] = sum(1 for f in place["findings"] if f.number in ticked)
    place = max(places, key=lambda place: (place["hits"], len(place["findings"]), -place["view"].place))
    tags = []
    for f in place["findings"]:
        href, chosen = finding_address(vehicle.pk, f.number), f.number in ticked
        name = f"Finding {f.number}"
        tags.append(
            Tag.of(f.number, f.bounds_mm, letter=f.grade or "?", selected=chosen, href=href, name=name)
        )
    counted = [("Findings", len(place["findings"])), ("Ticked", place["hits"]), ("Units", units.unit.get())]
    return {
        "current_stage": "repairs",
        "place": place,
        "tags": tags,
        "has_findings": bool(choices),
        "choices": choices,
        "ticked": ticked,
        "cells": [
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("View", place["view"].title.removesuffix(" side")),
            *counted,
        ],
    }
