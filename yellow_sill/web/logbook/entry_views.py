"""Hours and notes corrected or taken out, and hours for the whole vehicle."""

from collections.abc import Callable, Mapping
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.web.shells.access import open_to, own_only, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from .forms import NoteForm, WorkForm
from .models import Note, WorkEntry
from .services import WrittenMeanwhile, add_work, as_written, change_note, change_work


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def vehicle_hours(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Hours that belong to no repair: surveys, fetching, tidying up."""
    form = WorkForm(request.POST)
    if form.is_valid():
        try:
            add_work(vehicle, None, by=request.user.get_username(), **form.cleaned_data)
            messages.success(request, "The hours are written down for the whole vehicle.")
            return redirect("logbook:logbook", vehicle.pk)
        except CoreError as error:
            form.add_error("typed", error.message)
    return _page(
        request,
        vehicle,
        form,
        head="Hours for the whole vehicle",
        by="",
        action=reverse("logbook:hours", args=[vehicle.pk]),
        status=422,
    )


@with_vehicle
@open_to(Role.HELPER)
def work(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    entry = get_object_or_404(vehicle.work_entries, pk=pk)
    own_only(request, entry.by)
    initial = {"worked_on": entry.worked_on, "kind": entry.kind, "typed": entry.typed, "note": entry.note}
    return _entry(
        request,
        vehicle,
        entry,
        WorkForm,
        initial,
        change_work,
        f"{entry.get_kind_display()}, {entry.typed}",
        "typed",
    )


@with_vehicle
@open_to(Role.HELPER)
def note(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    entry = get_object_or_404(Note, repair__vehicle=vehicle, pk=pk)
    own_only(request, entry.by)
    return _entry(
        request,
        vehicle,
        entry,
        NoteForm,
        {"written_on": entry.written_on, "text": entry.text},
        change_note,
        "A note",
        "text",
    )


def _entry(
    request: HttpRequest,
    vehicle: Vehicle,
    entry: WorkEntry | Note,
    kind: type[forms.Form],
    initial: Mapping[str, Any],
    change: Callable,
    head: str,
    where: str,
) -> HttpResponse:
    """One entry in a form of its own: stored, left, or deleted."""
    repair = entry.repair
    back = (
        reverse("logbook:log", args=[vehicle.pk, repair.number])
        if repair
        else reverse("logbook:logbook", args=[vehicle.pk])
    )
    if request.method == "POST" and "delete" in request.POST:
        entry.delete()
        messages.success(request, f"'{head}' is deleted.")
        return redirect(back)
    form = kind(request.POST or None, initial=initial)
    status, conflict, was = 200, None, as_written(entry)
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                change(entry, form.cleaned_data, was=request.POST.get("was", ""))
                return redirect(back)
            except WrittenMeanwhile:
                status = 409
                conflict = [
                    (str(form.fields[name].label), form.cleaned_data[name], stored)
                    for name, stored in initial.items()
                ]
            except CoreError as error:
                form.add_error(where, error.message)
    return _page(
        request,
        vehicle,
        form,
        head=head,
        by=entry.by,
        action="",
        status=status,
        repair=repair,
        back=back,
        was=was,
        waits=reverse("logbook:note_waited", args=[vehicle.pk, entry.pk]) if isinstance(entry, Note) else "",
        waits_label=f"{repair.code} {repair.title}, {vehicle}" if repair else "",
        conflict=conflict,
        old=True,
    )


def _page(
    request: HttpRequest, vehicle: Vehicle, form: forms.Form, *, status: int, **context
) -> HttpResponse:
    back = reverse("logbook:logbook", args=[vehicle.pk])
    return render(request, "logbook/entry.html", {"form": form, "back": back} | context, status=status)
