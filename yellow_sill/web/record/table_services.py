"""Tables of hours and costs that people kept: columns chosen once, looked at before a row is taken, taken all at once."""

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.csv import cells_of
from yellow_sill.core.formats.sheets_in import xlsx_rows
from yellow_sill.core.record.tables import (
    MOST_ROWS,
    TableRequest,
    TableRow,
    TableTold,
    columns_by_heading,
    key_of,
    read_table,
)
from yellow_sill.core.said import Count, Said
from yellow_sill.web.frame.changes import create_all, one_change
from yellow_sill.web.frame.tables import MOST_TABLE_BYTES, table_text
from yellow_sill.web.logbook.models import WorkEntry
from yellow_sill.web.parts.services import add_cost
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import BroughtTable


def rows_in(upload: UploadedFile) -> list[list[str]]:
    """The cells of a table that was sent, CSV or XLSX. Raises: CoreError: too large, no table, nothing in it, too many rows."""
    if (upload.name or "").lower().endswith(".xlsx"):
        if upload.size > MOST_TABLE_BYTES:
            raise BadField(
                f"This file has {upload.size / 1024 / 1024:.0f} MB; a table may have 4 MB.",
                "table",
                "Divide it.",
            )
        rows = xlsx_rows(upload.read())
    else:
        rows = cells_of(table_text(upload), ",;\t|")
    if not rows:
        raise BadField("There is nothing in it.", "table", "Save the sheet with the rows as CSV or XLSX.")
    if len(rows) > MOST_ROWS:
        raise BadField(f"It has {len(rows)} rows; {MOST_ROWS} can be read.", "table", "Divide it.")
    return rows


def bring_table(
    vehicle: Vehicle, what: str, name: str, rows: list[list[str]], *, now: datetime, by: str
) -> BroughtTable:
    """Keep a table as it came; its columns are those of the last one with the same heading, else what its heading says."""
    last = next(
        (each for each in BroughtTable.objects.filter(vehicle=vehicle, what=what).exclude(columns={}) if each.rows[:1] == rows[:1]), None
    )  # fmt: skip
    return BroughtTable.objects.create(
        vehicle=vehicle, what=what, name=name[:120], rows=rows, brought_at=now, by=by,
        columns=last.columns if last else columns_by_heading(what, rows[0]), options=last.options if last else {},
    )  # fmt: skip


def told_of(
    table: BroughtTable, columns: Mapping[str, int], options: Mapping[str, Any], today: date
) -> TableTold:
    """How its rows read by some columns, beside what is written down already. Raises: BadField."""
    vehicle = table.vehicle
    return read_table(TableRequest.read({
        "what": table.what, "rows": table.rows, "columns": dict(columns), "today": today, "here": _here(vehicle, table.what),
        "repairs": list(vehicle.repairs.values_list("number", flat=True)), **options,
    }))  # fmt: skip


def _here(vehicle: Vehicle, what: str) -> list[str]:
    """The keys of what is written down."""
    if what == "hours":
        hours = vehicle.work_entries.values_list("worked_on", "kind", "repair__number", "minutes", "note")
        return [
            key_of({"day": day, "kind": kind, "repair": repair or 0, "minutes": minutes, "note": note})
            for day, kind, repair, minutes, note in hours
        ]
    costs = vehicle.cost_lines.values_list(
        "bought_on", "kind", "repair__number", "supplier", "item", "quantity", "unit_price", "back"
    )
    names = ("day", "kind", "repair", "supplier", "item", "quantity", "price", "back")
    return [key_of(dict(zip(names, row, strict=True)) | {"repair": row[2] or 0}) for row in costs]


@one_change
def take_rows(
    table: BroughtTable,
    columns: Mapping[str, int],
    options: Mapping[str, Any],
    cost: Mapping[str, Any],
    *,
    today: date,
    by: str,
) -> Said:
    """Write down every row that can be read and is not here yet; Changes takes all of them back at once.

    Args: cost: tax of costs, ``tax_rate`` and ``tax_included``. Raises: BadField: nothing new in it, taken already.
    """
    stored = BroughtTable.objects.get(pk=table.pk)
    if stored.taken is not None:
        raise BadField(
            "This table was taken in already.", "table", "Changes takes its rows back; bring it again then."
        )
    told = told_of(stored, columns, options, today)
    fresh = [row for row in told.rows if not row.known]
    if not fresh:
        raise BadField("No row of it is new.", "table", "Look at the reasons below, or choose other columns.")
    repairs = {repair.number: repair for repair in stored.vehicle.repairs.all()}
    if stored.what == "hours":
        create_all([_hours(stored.vehicle, row, repairs, by) for row in fresh])
    else:
        for row in fresh:
            add_cost(stored.vehicle, repairs.get(row.repair), _cost(row) | dict(cost), by=by)
    stored.columns, stored.options, stored.taken = dict(columns), dict(options), len(fresh)
    stored.rows = stored.rows[:1]  # what it is known by the next time
    stored.save()
    return Said("{rows} written down. Changes takes them back.", rows=Count(len(fresh), "row", "rows"))


def _hours(vehicle: Vehicle, row: TableRow, repairs: Mapping[int, Repair], by: str) -> WorkEntry:
    return WorkEntry(
        vehicle=vehicle, repair=repairs.get(row.repair), worked_on=row.day, kind=row.kind, minutes=row.minutes, typed=row.typed, note=row.note, by=by
    )  # fmt: skip


def _cost(row: TableRow) -> dict[str, Any]:
    return {
        "bought_on": row.day, "supplier": row.supplier, "item": row.item, "kind": row.kind, "quantity": row.quantity, "unit_price": row.price,
        "back": row.back,
    }  # fmt: skip
