"""Transfer marks: what the cut takes with it, measured before, marked out again after."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.web.cut.models import TransferMark
from yellow_sill.web.cut.views.common import chosen_cut, one_cut, repair_context
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role

from ..forms import TransferForm
from ..transfer_services import FIELDS, keep_transfer, marking_out

#: Metal shown round the cut, where marks are chosen, mm.
ROUND_MM = 220.0


def _initial(mark: TransferMark | None, view) -> dict:
    if mark is None:
        return {"way": "distances", "kind": "stud"}
    names = (
        "name",
        "kind",
        "first_name",
        "second_name",
        "apart_mm",
        "way",
        "first_mm",
        "second_mm",
        "version",
    )
    places = {
        name: units.corners_text(view.in_shell([getattr(mark, name)]))
        for name in ("first_at", "second_at", "near")
    }
    return {name: getattr(mark, name) for name in names} | places


@with_repair
@open_to(Role.HELPER)
def transfer(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The list of a cut, and a form for one more or the one that ``?mark=`` names."""
    cuts, cut = chosen_cut(request, repair, "patch")
    context = repair_context(repair, "transfer", cuts, cut)
    if cut is None:
        return render(request, "patch/transfer.html", context)
    wanted = request.GET.get("mark", "")
    mark = cut.transfer_marks.filter(number=whole_number(wanted)).first()
    view = cut.panel.view
    form, conflict = TransferForm(request.POST or None, view=view, initial=_initial(mark, view)), None
    here = f"{reverse('patch:transfer', args=[repair.vehicle_id, repair.number])}?cut={cut.number}"
    if request.method == "POST" and form.is_valid():
        values = {name: value for name, value in form.cleaned_data.items() if name != "version"}
        try:
            today = days.today()
            kept = keep_transfer(
                cut,
                values,
                mark=mark,
                version=form.cleaned_data["version"],
                measured_on=today,
                by=request.user.get_username(),
            )
            messages.success(
                request, f"{kept} is kept, sure to {units.length(kept.error_mm, 1)} {units.unit.get()}."
            )
            return redirect(here)
        except CoreError as error:
            form.add_error(
                FIELDS.get(error.where, error.where if error.where in form.fields else None), error.message
            )
        except ChangedMeanwhile as error:
            if not (conflict := both_of(request, form, error)):
                return redirect(here)
            context["stored"] = error.stored
    rows = marking_out(cut)
    context |= {
        "form": form,
        "conflict": conflict,
        "mark": mark,
        "rows": rows,
        "svg": shell_svg(view, cut.panel.layer),
        "bounds": list(widened(bounds_of(cut.outline), ROUND_MM)),
        "board": {"marks": [_drawn(row.mark, mark) for row in rows]},
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Cut", cut.number), ("Panel", cut.panel.code), ("Marks", len(rows)),
            ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(
        request, "patch/transfer.html", context, status=409 if conflict else 422 if form.errors else 200
    )


def _drawn(mark: TransferMark, chosen: TransferMark | None) -> dict:
    return {
        "n": f"T{mark.number}",
        "at": mark.at,
        "first": mark.first_at,
        "second": mark.second_at,
        "chosen": mark == chosen,
    }


@require_POST
@with_repair
def delete_transfer(request: HttpRequest, repair: Repair, cut_number: int, mark_number: int) -> HttpResponse:
    cut = one_cut(repair, cut_number, "patch")
    mark = get_object_or_404(cut.transfer_marks, number=mark_number)
    messages.success(request, f"{mark} is taken out of the list.")
    mark.delete()
    return redirect(f"{reverse('patch:transfer', args=[repair.vehicle_id, repair.number])}?cut={cut_number}")
