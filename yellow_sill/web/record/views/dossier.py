"""Handing over: a dossier is chosen, made beside the pages, given out, opened under an address that ends."""

from datetime import timedelta

from django.conf import settings
from django.contrib import messages
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.web.accounts.door import WAY_IN
from yellow_sill.web.frame import days, jobs, units
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.models import Job
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.shells.unchanged import always_anew_with, by_the_clock

from ..dossier_sections import Choices
from ..dossier_services import ask_dossier, close_link, file_of, forget, open_link, read_by
from ..forms import DossierForm, LinkForm
from ..models import Dossier

#: Names by which a machine calls itself.
HERE_ALONE = ("localhost", "127.0.0.1", "[")
#: An address is offered for so many days at first.
LINK_DAYS = 30


@by_the_clock
@always_anew_with("find")
@with_vehicle
def dossiers(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What goes into the next dossier, those that were made; a POST makes one, opens or ends its address, deletes it."""
    repairs = list(vehicle.repairs.all())
    post = request.method == "POST"
    making = post and request.POST.get("what") == "make"
    form = DossierForm(
        request.POST if making else None,
        repairs=repairs,
        others=vehicle.photos.filter(repair=None).exclude(sorted_by="").count(),
        initial={"repairs": [each.number for each in repairs]},
    )
    error = None
    if post:
        try:
            if done := _done(request, vehicle, form):
                return done
        except CoreError as refused:
            error = refused
            if refused.where in form.fields and form.is_bound:
                form.add_error(refused.where, refused.message)
    find = request.GET.get("find", "")
    job = _job(vehicle, find)
    context = {
        "current_stage": "record", "form": form, "error": error, "job": job, "find": find, "lost": bool(find) and job is None,
        "left_out": (job.answer or {}).get("left_out", []) if job and job.done else [],
        "made": [(each, _address(request, each), file_of(each).is_file()) for each in vehicle.dossiers.all()],
        "way": WAY_IN, "reached": bool(settings.SHARED), "here_alone": request.get_host().partition(":")[0] in HERE_ALONE,
        "until": days.today() + timedelta(days=LINK_DAYS), "today": days.today(),
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Repairs", len(repairs)), ("Made", vehicle.dossiers.count()),
            ("Open", vehicle.dossiers.filter(until__gte=days.today()).count()), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "record/dossiers.html", context, status=422 if post else 200)


def _job(vehicle: Vehicle, find: str) -> Job | None:
    job = jobs.find(vehicle.pk, find) if find else None
    return job if job is not None and job.command == "dossier" else None


def _address(request: HttpRequest, dossier: Dossier) -> str:
    return request.build_absolute_uri(reverse("record:given", args=[dossier.token])) if dossier.token else ""


def _done(request: HttpRequest, vehicle: Vehicle, form: DossierForm) -> HttpResponse | None:
    """Do what was asked; None where the form shows why not. Raises: CoreError."""
    page, what = reverse("record:dossiers", args=[vehicle.pk]), request.POST.get("what", "")
    if what == "make":
        if not form.is_valid():
            return None
        told = form.cleaned_data
        choices = Choices(
            repairs=tuple(told["repairs"]), money=told["money"] == "in", names=told["names"] == "in", photos=told["photos"], form=told["form"],
            bundle=told["bundle"], others=told.get("others", False),
        )  # fmt: skip
        return redirect(
            f"{page}?find={ask_dossier(vehicle, choices, by=request.user.get_username()).fingerprint}"
        )
    if what == "stop":
        if job := _job(vehicle, request.GET.get("find", "")):
            jobs.stop(job)
        return redirect(request.get_full_path())
    dossier = get_object_or_404(vehicle.dossiers, pk=whole_number(request.POST.get("dossier", "")) or 0)
    if what == "open":
        link = LinkForm(request.POST)
        if not link.is_valid():
            raise BadField("Type the day on which the address ends.", "until", "Like 24 Dec 2026.")
        open_link(dossier, link.cleaned_data["until"], today=days.today())
        messages.success(
            request, "Its address is open. Whoever has it can read this dossier, and nothing else."
        )
    elif what == "close":
        close_link(dossier)
        messages.success(request, "Its address is taken back.")
    elif what == "forget":
        forget(dossier)
        messages.success(request, "The dossier is deleted; what it was made from stays.")
    else:
        raise BadField("Nothing of that kind can be done here.", "what")
    return redirect(page)


@require_GET
@with_vehicle
def progress(request: HttpRequest, vehicle: Vehicle, key: str) -> JsonResponse:
    """How far a dossier is."""
    job = _job(vehicle, key)
    if job is None:
        raise Http404
    return answer({"share": job.share, "done": job.done, "fault": job.fault})


@require_GET
@with_vehicle
def file(request: HttpRequest, vehicle: Vehicle, pk: int) -> FileResponse:
    """A dossier to keep."""
    return _given(get_object_or_404(vehicle.dossiers, pk=pk), inline=False)


@require_GET
def given(request: HttpRequest, token: str) -> FileResponse:
    """A dossier for whoever has its address, until it ends; nothing else is reachable by it."""
    dossier = read_by(token, days.today())
    if dossier is None:
        raise Http404
    return _given(dossier, inline=dossier.form == "pdf")


def _given(dossier: Dossier, *, inline: bool) -> FileResponse:
    try:
        stream = file_of(dossier).open("rb")
    except OSError:
        raise Http404 from None
    kind = "application/pdf" if dossier.form == "pdf" else "application/zip"
    return FileResponse(
        stream, content_type=kind, as_attachment=not inline, filename=dossier.name,
        headers={"Cache-Control": "private, no-store", "X-Content-Type-Options": "nosniff", "Referrer-Policy": "no-referrer"},
    )  # fmt: skip
