from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.geometry import bounds_of
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Vehicle

from .services import hours, money, order_ahead, plan


@require_GET
def home(request: HttpRequest) -> HttpResponse:
    """The vehicle worked on last; the first visit goes on to make one."""
    vehicle = Vehicle.objects.filter(owner=request.user).order_by("-changed_at").first()
    return redirect("today:today", vehicle.pk) if vehicle else redirect("shells:new")


def _tag(number: int, located: dict, vehicle: Vehicle) -> Tag:
    target, told = located.get("repair") or located["finding"], f"Next step {number}: {located['step'].what}"
    log = located.get("repair") and reverse("logbook:log", args=[vehicle.pk, target.number])
    return Tag.of(
        number,
        bounds_of(located["outline"]),
        selected=number == 1,
        href=log or target.get_absolute_url(),
        name=told,
    )


@require_GET
@with_vehicle
def today(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What is open, what is next, money so far."""
    now = days.today()
    facts = plan(vehicle)
    steps = facts["steps"]
    views = list(vehicle.views.defer("features", "silhouette"))
    first = next((located["view"].pk for located in steps if located["view"]), None)
    view = next((v for v in views if v.pk == first), views[0])
    tags = [
        _tag(i, located, vehicle)
        for i, located in enumerate(steps, start=1)
        if located["view"] and located["view"].pk == view.pk
    ]
    context = facts | {
        "current_stage": "today",
        "ahead": order_ahead(vehicle),
        "now": now,
        "view": view,
        "svg": shell_svg(view, 1),
        "here": list(
            vehicle.findings.filter(
                panel__view=view, panel__layer__in=[1] if view.layered else [1, 2, 3]
            ).only("vehicle_id", "grade", "outline")
        ),
        "cuts": list(Cut.objects.filter(repair__in=facts["open_repairs"], panel__view=view).only("outline")),
        "tags": tags,
        "money": money(vehicle, now),
        "hours_total": hours(vehicle),
        "cells": [
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("Open", len(facts["open_repairs"])),
            ("Findings", facts["finding_count"]),
            ("View", view.title),
            ("Units", units.unit.get()),
        ],
    }
    return render(request, "today/today.html", context)
