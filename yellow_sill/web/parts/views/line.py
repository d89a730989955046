"""A line of cost by itself, and lines that a table brings in."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.ledger_tables import COLUMNS, NEEDED, read_costs
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.tables import table_text
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..models import KINDS
from ..money_forms import LineForm
from ..money_services import drop_line, keep_line, new_rows, take_rows

#: Text of a table carried on a page, characters.
MOST_TEXT = 1_000_000


@with_vehicle
def line(request: HttpRequest, vehicle: Vehicle, pk: int | None = None) -> HttpResponse:
    """A new line, or one that is changed or deleted."""
    stored = get_object_or_404(vehicle.cost_lines.select_related("receipt"), pk=pk) if pk else None
    if stored and stored.receipt:
        return redirect("parts:receipt", vehicle.pk, stored.receipt.number)
    form = LineForm(request.POST or None, instance=stored, vehicle=vehicle)
    version, conflict, error = stored.version if stored else "", None, None
    if request.method == "POST":
        version = request.POST.get("version", "")
        try:
            if "delete" in request.POST and stored:
                drop_line(stored, version=whole_number(version))
                messages.success(request, f"'{stored.item}' is deleted; Changes takes that back.")
                return redirect("parts:money", vehicle.pk)
            if form.is_valid():
                fresh = vehicle.cost_lines.get(pk=pk) if pk else None
                keep_line(
                    vehicle,
                    form.values(),
                    stored=fresh,
                    version=whole_number(version) or 0,
                    by=request.user.get_username(),
                )
                return redirect("parts:money", vehicle.pk)
        except CoreError as refused:
            error = refused
        except ChangedMeanwhile as changed:
            version = changed.stored.version
            if not (conflict := both_of(request, form, changed, [*form.Meta.fields, *form.MORE])):
                return redirect("parts:money", vehicle.pk)
    context = {
        "current_stage": "parts", "form": form, "line": stored, "version": version, "conflict": conflict, "error": error,
        "stored": vehicle.cost_lines.get(pk=pk) if pk else None,
    }  # fmt: skip
    status = 409 if conflict else 422 if form.errors or error else 200
    return render(request, "parts/line.html", context, status=status)


@with_vehicle
def brought_in(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Lines of cost from a table: looked over first, stored when that is said."""
    text, error, status, read, fresh, left = request.POST.get("text", ""), None, 200, None, [], []
    try:
        if upload := request.FILES.get("table"):
            text = table_text(upload)
        if len(text) > MOST_TEXT:
            raise CoreError("This table is too long to be looked over at once.", "table", "Divide it.")
        if request.method == "POST":
            read = read_costs(text, dict(KINDS), months_first="months_first" in request.POST)
            fresh, left = new_rows(vehicle, read.rows)
            if "take" in request.POST and fresh:
                count = take_rows(vehicle, read.rows, by=request.user.get_username())
                messages.success(request, f"{count} lines are brought in; Changes takes them back as one.")
                return redirect("parts:money", vehicle.pk)
    except CoreError as refused:
        error, status = refused, 422
    context = {
        "current_stage": "parts", "text": text, "error": error, "read": read, "fresh": fresh, "months_first": "months_first" in request.POST,
        "left": sorted([*left, *(read.refused if read else [])]), "columns": COLUMNS, "needed": NEEDED,
    }  # fmt: skip
    return render(request, "parts/brought_in.html", context, status=status)
