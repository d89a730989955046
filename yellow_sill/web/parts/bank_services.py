"""Bank statements: read with the columns that a person chose, matched, and booked only where somebody says so."""

from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.csv import cells_of
from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.bank import (
    MOST_LINES,
    Match,
    MatchRequest,
    Statement,
    StatementRequest,
    match,
    statement,
)
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import BankLine, BankStatement, CostLine, Receipt

#: A payment is looked for so long before and after the day of a receipt.
REACH = timedelta(days=100)


def rows_of(text: str) -> list[list[str]]:
    """The cells of a table, whatever divides them. Raises: BadField: none, too many rows."""
    rows = cells_of(text, ",;\t|")
    if not rows:
        raise BadField("There is nothing in it.", "table", "Export the statement as CSV.")
    if len(rows) > MOST_LINES:
        raise BadField(f"It has {len(rows)} rows; {MOST_LINES} can be read.", "table", "Divide it.")
    return rows


@one_change
def keep_statement(vehicle: Vehicle, name: str, rows: list[list[str]], *, by: str) -> BankStatement:
    """Keep a statement as it came; columns are those of the last one with the same heading."""
    known = next(
        (each for each in vehicle.statements.order_by("-number") if each.columns and each.rows and each.rows[0] == rows[0]), None
    )  # fmt: skip
    number = BankStatement.next_number(vehicle=vehicle)
    return BankStatement.objects.create(
        vehicle=vehicle, number=number, name=name[:120], rows=rows, columns=known.columns if known else {}, heading=known.heading if known else True,
        by=by, changed_by=by,
    )  # fmt: skip


def told_of(stored: BankStatement, columns: Mapping[str, Any], heading: bool) -> Statement:
    """Its lines by some columns. Raises: BadField."""
    return statement(
        StatementRequest.read({"rows": stored.rows, "columns": dict(columns), "heading": heading})
    )


@one_change
def take_lines(
    stored: BankStatement, columns: Mapping[str, Any], heading: bool, *, version: int | None, by: str
) -> int:
    """Read the lines with these columns and remember them; how many are new. What any statement told before is not told twice. Raises: ChangedMeanwhile."""
    told = told_of(stored, columns, heading)
    stored.save_as(version, by, columns=dict(columns), heading=heading)
    vehicle = stored.vehicle
    known = set(vehicle.bank_lines.values_list("key", flat=True))
    fresh = [each for each in told.lines if each.key not in known]
    for each in fresh:
        BankLine.objects.create(
            vehicle=vehicle, statement=stored, key=each.key, day=each.day, amount=each.amount, text=each.text
        )  # fmt: skip
    return len(fresh)


def to_pay(vehicle: Vehicle, around: Sequence[date]) -> dict[str, Receipt | CostLine]:
    """Receipts and lines by themselves that no payment is booked for, by a key: those of days within reach of some days."""
    if not around:
        return {}
    first, last = min(around) - REACH, max(around) + REACH
    receipts = vehicle.receipts.filter(payments=None, day__range=(first, last)).prefetch_related("lines")
    lines = vehicle.cost_lines.filter(receipt=None, payments=None, bought_on__range=(first, last))
    return {f"r{each.pk}": each for each in receipts} | {f"c{each.pk}": each for each in lines}


def _paid_minor(each: Receipt | CostLine) -> int:
    return (
        each.gross_minor if isinstance(each, CostLine) else sum(line.gross_minor for line in each.lines.all())
    )


def proposals(
    vehicle: Vehicle, lines: Sequence[BankLine], owed: Mapping[str, Receipt | CostLine]
) -> dict[int, Match]:
    """For each open line that may pay something, what: proposals only."""
    found = match(
        MatchRequest.read({
            "lines": [{"key": str(each.pk), "day": each.day, "amount": each.amount, "text": each.text} for each in lines],
            "receipts": [
                {
                    "key": key, "day": each.day if isinstance(each, Receipt) else each.bought_on, "supplier": each.supplier,
                    "amount": Money.from_minor(_paid_minor(each), vehicle.currency).amount,
                }
                for key, each in owed.items()
            ],
        })
    )  # fmt: skip
    return {int(each.line): each for each in found}


@one_change
def book_payment(line: BankLine, key: str, *, by: str) -> None:
    """Say that a payment paid a receipt or a line. Raises: BadField where either is booked meanwhile."""
    owed = to_pay(line.vehicle, [line.day])
    if line.state != BankLine.State.OPEN or key not in owed:
        raise BadField("It is booked already, or not there any more.", "line", "Look at the page again.")
    paid = owed[key]
    line.state = BankLine.State.BOOKED
    line.receipt, line.line = (paid, None) if isinstance(paid, Receipt) else (None, paid)
    line.save()


@one_change
def book_as_cost(line: BankLine, values: Mapping[str, Any], *, by: str) -> CostLine:
    """Make a line of cost of a payment that nothing is written down for. Raises: BadField where it is booked meanwhile."""
    if line.state != BankLine.State.OPEN:
        raise BadField("It is booked already.", "line", "Look at the page again.")
    made = CostLine.objects.create(
        vehicle=line.vehicle, bought_on=line.day, quantity=1, unit_price=abs(line.amount), tax_included=True, back=line.amount < 0, by=by, changed_by=by,
        **values,
    )  # fmt: skip
    line.state, line.line = BankLine.State.BOOKED, made
    line.save()
    return made


@one_change
def leave_payment(line: BankLine, *, open_: bool, by: str) -> None:
    """Say that a payment is not of this vehicle; or open it again, whatever was said: what it was booked for stays."""
    line.state = BankLine.State.OPEN if open_ else BankLine.State.LEFT
    line.receipt = line.line = None
    line.save()


@one_change
def drop_statement(stored: BankStatement, *, version: int | None) -> None:
    """Raises: BadField where something of it is booked; ChangedMeanwhile."""
    stored.require_version(version)
    if stored.lines.filter(state=BankLine.State.BOOKED).exists():
        raise BadField("Payments of it are booked.", "statement", "Open them again first.")
    stored.delete()
