"""Donors: what another person's bundle says of its panels, beside what is wanted here."""

from dataclasses import dataclass

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import days
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..donor_services import Beside, beside, bring_donor, drop_donor, want_from
from ..forms import DonorForm
from ..models import Donor


@dataclass(frozen=True, slots=True, kw_only=True)
class DonorsPage(Page):
    """``chosen``: the donor whose panels are shown (None: there is none)."""

    donors: list[Donor]
    chosen: Donor | None
    rows: list[Beside]
    form: forms.Form
    error: CoreError | None


@with_vehicle
def donors(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``donor`` in the address chooses one."""
    every = list(vehicle.donors.all())
    key = whole_number(request.GET.get("donor", ""))
    chosen = next((each for each in every if each.pk == key), every[-1] if every else None)
    what, error, status = request.POST.get("what", ""), None, 200
    brings = what == "bring"
    form = DonorForm(request.POST if brings else None, request.FILES if brings else None)
    if request.method == "POST":
        try:
            if done := _done(request, vehicle, what, form):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
    rows = beside(vehicle, chosen) if chosen else []
    page = DonorsPage(
        current_stage="record", donors=every, chosen=chosen, rows=rows, form=form, error=error,
        cells=[
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Donors", len(every)), ("Wanted here", sum(each.needed for each in rows)),
            ("Sound there", sum(each.panel["verdict"] == "sound" for each in rows)), ("Panels", len(rows)),
        ],
    )  # fmt: skip
    return show(request, "record/donors.html", page, status=status)


def _done(request: HttpRequest, vehicle: Vehicle, what: str, form: forms.Form) -> HttpResponse | None:
    """Raises: CoreError."""
    by = request.user.get_username()
    if what == "bring":
        if not form.is_valid():
            return None
        donor = bring_donor(
            vehicle, form.cleaned_data["bundle"], note=form.cleaned_data["note"], today=days.today(), by=by
        )
        messages.success(request, f"{donor.name} is kept as a donor: {len(donor.panels)} panels.")
        return redirect("record:donors", vehicle.pk)
    donor = get_object_or_404(vehicle.donors, pk=whole_number(request.POST.get("donor", "")) or 0)
    if what == "drop":
        drop_donor(donor)
        messages.success(request, f"{donor.name} is no donor any more; Changes takes that back.")
        return redirect("record:donors", vehicle.pk)
    need = want_from(vehicle, donor, request.POST.get("code", "")[:20], today=days.today(), by=by)
    return redirect("parts:need", vehicle.pk, need.number)
