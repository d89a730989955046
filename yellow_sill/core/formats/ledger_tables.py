"""Lines of cost as a table: CSV and a workbook out, with nothing in them that a spreadsheet would run; CSV in, row by row, with a reason for each refused."""

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated, Any

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font
from pydantic import Field

from ..errors import BadField
from ..parts.amount import CURRENCIES
from ..parts.bank import amount_typed, day_typed, mark_of
from ..parts.landed import Rate
from ..parts.receipt import Price
from ..records import OneOf, Record
from ..said import Listed, Quoted, Said
from .csv import cells_of, csv_text, safe_cell, whole_words

#: Columns of the table; those of NEEDED must be there to bring one in.
COLUMNS = (
    "day", "repair", "supplier", "item", "kind", "quantity", "unit_price", "currency", "rate", "tax_rate", "tax_included", "discount", "came_back", "net",
    "tax", "gross",
)  # fmt: skip
NEEDED = ("day", "item", "kind", "unit_price", "tax_rate")
MOST_ROWS = 3000
YES, NO = ("yes", "1", "true", "y"), ("", "no", "0", "false", "n")


class CostRow(Record):
    """A line of cost as it is typed in a table; ``repair``: its number, 0 for the vehicle; ``currency`` "": the vehicle's own."""

    day: date
    repair: Annotated[int, Field(ge=0, le=100_000)] = 0
    supplier: Annotated[str, Field(max_length=80)] = ""
    item: Annotated[str, Field(min_length=1, max_length=120)]
    kind: Annotated[str, Field(min_length=1, max_length=20)]
    quantity: Annotated[Decimal, Field(gt=0, le=1_000_000, max_digits=10, decimal_places=3)] = Decimal(1)
    unit_price: Annotated[Price, Field(ge=0)]
    currency: Annotated[str, OneOf(("", *CURRENCIES))] = ""
    rate: Annotated[Decimal, Field(gt=0, le=100_000, max_digits=12, decimal_places=6)] = Decimal(1)
    tax_rate: Annotated[Rate, Field(decimal_places=2)]
    tax_included: bool = True
    discount: Rate = Decimal(0)
    came_back: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class RowsRead:
    """What a table holds: the rows that can be stored, and those that cannot (their number from 1, why)."""

    rows: list[tuple[int, CostRow]]
    refused: list[tuple[int, str]]


def ledger_csv(rows: Sequence[Sequence[object]]) -> str:
    """Lines of cost by COLUMNS as CSV."""
    return csv_text(COLUMNS, rows)


def ledger_xlsx(rows: Sequence[Sequence[object]], sums: Mapping[str, Sequence[Sequence[object]]]) -> bytes:
    """A workbook: the lines by COLUMNS, and a sheet of sums for each grouping (name, lines, net, with tax). Text stays text."""
    book = Workbook(write_only=True)
    for title, head, table in (
        ("Lines", COLUMNS, rows),
        *((name, ("", "lines", "net", "gross"), table) for name, table in sums.items()),
    ):
        sheet = book.create_sheet(title[:31])
        sheet.freeze_panes = "A2"
        sheet.append([_cell(sheet, name, bold=True) for name in head])
        for row in table:
            sheet.append([_cell(sheet, value) for value in row])
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def _cell(sheet: Any, value: object, *, bold: bool = False) -> Any:
    cell = WriteOnlyCell(sheet, safe_cell(value))
    if isinstance(value, str):
        cell.data_type = "s"  # never a formula
    if bold:
        cell.font = Font(bold=True)
    return cell


def read_costs(text: str, kinds: Mapping[str, str], *, months_first: bool = False) -> RowsRead:
    """The lines of a table with a heading, as ``ledger_csv`` writes it; more columns and another order do no harm.

    Args: text; kinds: keys of kinds of cost and their words, both of which are read.
    Raises: BadField: no table, a column that is lacking, more rows than can be read at once.
    """
    table = cells_of(text)
    if len(table) < 2:
        raise BadField(
            "There is no line of cost in it.", "table", "The first row names the columns, a line on each row."
        )
    if len(table) > MOST_ROWS + 1:
        raise BadField(
            f"It has {len(table) - 1} lines; {MOST_ROWS} can be read at once.", "table", "Divide it."
        )
    head = [name.strip().lower().replace(" ", "_") for name in table[0]]
    if lacking := [name for name in NEEDED if name not in head]:
        raise BadField(
            Said("It lacks {columns}.", columns=Listed(tuple(Quoted(name) for name in lacking))),
            "table",
            "Name the columns in the first row as the table that is given out names them.",
        )
    at = {name: head.index(name) for name in COLUMNS if name in head}
    marks: dict[str, str] = {
        name: mark_of([row[at[name]] for row in table[1:] if at[name] < len(row)])
        for name in ("quantity", "unit_price", "rate", "tax_rate", "discount")
        if name in at
    }
    shown = mark_of([row[at[name]] for row in table[1:] for name in marks if at[name] < len(row)])
    marks = {name: mark or shown for name, mark in marks.items()}  # a table keeps to one mark
    words = {word.lower(): key for key, word in kinds.items()} | {key: key for key in kinds}
    rows, refused = [], []
    for number, row in enumerate(table[1:], start=2):
        cells = {name: row[place].strip() if place < len(row) else "" for name, place in at.items()}
        try:
            rows.append((number, _row(cells, marks, words, months_first)))
        except BadField as error:
            refused.append((number, f"{error.where}: {error.message}"))
    return RowsRead(rows=rows, refused=refused)


def _row(
    cells: Mapping[str, str], marks: Mapping[str, str], words: Mapping[str, str], months_first: bool
) -> CostRow:
    """Raises: BadField, with the column in ``where``."""
    told: dict[str, Any] = {"day": day_typed(cells["day"], months_first)}
    for name, mark in marks.items():
        if not cells[name] and name not in NEEDED:
            continue
        try:
            told[name] = amount_typed(cells[name].removesuffix("%"), mark)
        except BadField as error:
            raise BadField(error.what, name, error.mend) from None
    for name in ("tax_included", "came_back"):
        if name in cells and (word := cells[name].lower()) not in (*YES, *NO):
            raise BadField(Said("'{word}' is neither yes nor no.", word=Quoted(word[:20])), name)
        if cells.get(name):
            told[name] = cells[name].lower() in YES
    if cells["kind"].lower() not in words:
        raise BadField(
            Said("There is no kind '{kind}'.", kind=Quoted(cells["kind"][:20])), "kind", "Take one of: " + ", ".join(sorted(set(words.values()))) + "."
        )  # fmt: skip
    number = cells.get("repair", "").upper().removeprefix("R-") or "0"
    if not number.isascii() or not number.isdecimal():
        raise BadField(Said("'{repair}' is no repair.", repair=Quoted(number[:20])), "repair", "Write it like R-02.")  # fmt: skip
    told |= {
        "kind": words[cells["kind"].lower()],
        "repair": int(number[:9]),
        "currency": cells.get("currency", "").upper(),
        "supplier": whole_words(unsafe(cells.get("supplier", "")), 80, "supplier"),
        "item": whole_words(unsafe(cells["item"]), 120, "item"),
    }
    return CostRow.read(told)


def unsafe(text: str) -> str:
    """A text as it was before ``safe_cell`` made it plain."""
    return text[1:] if text[:1] == "'" and text[1:2] in ("=", "+", "-", "@") else text
