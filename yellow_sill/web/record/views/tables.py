"""What people have already: tables of hours and costs, brought in with their columns chosen and looked at before a row is taken."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone

from yellow_sill.core.errors import CoreError
from yellow_sill.core.record.tables import TableTold
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..forms import TableColumnsForm, TableForm
from ..models import BroughtTable
from ..table_services import bring_table, rows_in, take_rows, told_of

#: So many rows are shown as they came, so many as they read, so many reasons.
AS_CAME, AS_READ, REASONS = 6, 40, 60


@dataclass(frozen=True, slots=True, kw_only=True)
class BringInPage(Page):
    form: TableForm
    tables: list[BroughtTable]
    error: CoreError | None


@with_vehicle
def bring_in(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What can be brought in, and the tables that were."""
    sent = request.method == "POST"
    form, error = TableForm(request.POST if sent else None, request.FILES if sent else None), None
    if sent and form.is_valid():
        try:
            upload = form.cleaned_data["table"]
            table = bring_table(
                vehicle, form.cleaned_data["what"], upload.name or "table", rows_in(upload), now=timezone.now(), by=request.user.get_username()
            )  # fmt: skip
            return redirect("record:table_in", vehicle.pk, table.pk)
        except CoreError as refused:
            error = refused
    tables = list(vehicle.brought_tables.defer("rows"))
    page = BringInPage(
        current_stage="record", form=form, error=error, tables=tables,
        cells=[
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Tables", len(tables)), ("Hours", vehicle.work_entries.count()),
            ("Costs", vehicle.cost_lines.count()), ("Photos", vehicle.photos.count()),
        ],
    )  # fmt: skip
    return show(request, "record/bring_in.html", page, status=422 if sent else 200)


@dataclass(frozen=True, slots=True, kw_only=True)
class TablePage(Page):
    """``preview``: rows as they came; ``told``: how they read (None: nobody has said which column is what)."""

    table: BroughtTable
    form: TableColumnsForm
    preview: list[list[str]]
    told: TableTold | None
    error: CoreError | None
    as_read: int
    reasons: int


@with_vehicle
def table(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """One table: its columns, how each row reads, and only then its rows taken."""
    stored = get_object_or_404(vehicle.brought_tables, pk=pk)
    what = request.POST.get("what", "")
    if what == "drop":
        stored.delete()
        messages.success(request, f"{stored.name} is put away. What was taken from it stays.")
        return redirect("record:bring_in", vehicle.pk)
    form = TableColumnsForm(
        request.POST if what in ("look", "take") else None, what=stored.what, head=stored.rows[0] if stored.rows else [],
        initial=TableColumnsForm.of(stored.columns, stored.options),
    )  # fmt: skip
    error, status, told = None, 200, None
    try:
        if form.is_bound and form.is_valid():
            columns, options = form.columns(), form.options()
            if what == "take":
                said = take_rows(
                    stored, columns, options, form.cost(), today=days.today(), by=request.user.get_username()
                )
                messages.success(request, units.said(said))
                return redirect("record:bring_in", vehicle.pk)
            told = told_of(stored, columns, options, days.today())
        elif form.is_bound:
            status = 422
        elif stored.columns and stored.taken is None:
            told = told_of(stored, stored.columns, stored.options, days.today())
    except CoreError as refused:
        error, status = refused, 422 if form.is_bound else 200
    page = TablePage(
        current_stage="record", table=stored, form=form, preview=stored.rows[:AS_CAME], told=told, error=error, as_read=AS_READ, reasons=REASONS,
        cells=[
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Rows", len(stored.rows)),
            ("New", sum(not row.known for row in told.rows) if told else "–"),
            ("Here already", sum(row.known for row in told.rows) if told else "–"), ("Refused", len(told.unread) if told else "–"),
        ],
    )  # fmt: skip
    return show(request, "record/table_in.html", page, status=status)
