"""Cost lines: quantity, unit price, tax in or on top, and what they add up to."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from .amount import Money

#: What a cost is for, in words.
COST_KINDS = {
    "steel": "Steel", "part": "Part", "consumable": "Gas, wire, discs", "coating": "Primer, sealer, wax", "tool": "Tool", "service": "Work by others",
    "carriage": "Carriage", "sold": "Sold on",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One line of cost. ``tax_rate`` in per cent; ``tax_included`` says whether the unit price already holds it."""

    supplier: str
    item: str
    kind: str
    quantity: Decimal
    unit_price: Money
    tax_rate: Decimal
    tax_included: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Sum:
    net: Money
    tax: Money
    gross: Money

    def __add__(self, other: "Sum") -> "Sum":
        return Sum(net=self.net + other.net, tax=self.tax + other.tax, gross=self.gross + other.gross)


def line_sum(line: Line) -> Sum:
    """Net, tax and gross of a line; each line is rounded, as on a receipt, so that totals add up by hand.

    Args: line: quantity times unit price, tax in per cent.
    Returns: the sum; net + tax = gross exactly.
    """
    share = Decimal(1) + line.tax_rate / 100
    worth = line.unit_price * line.quantity
    if line.tax_included:
        gross = worth.rounded()
        net = (worth / share).rounded()
    else:
        net = worth.rounded()
        gross = (worth * share).rounded()
    return Sum(net=net, tax=gross - net, gross=gross)


def running(months: Iterable[tuple[date, Money]], currency: str) -> list[tuple[date, Money]]:
    """Running totals: (last day of a month's spending, spent up to then), oldest first."""
    so_far, steps = Money(Decimal(0), currency), []
    for day, amount in sorted(months, key=lambda item: item[0]):
        so_far += amount
        steps.append((day, so_far))
    return steps


def from_minor(net: int, gross: int, currency: str) -> Sum:
    """A sum from whole minor units, as they are stored and added up."""
    net_money, gross_money = Money.from_minor(net, currency), Money.from_minor(gross, currency)
    return Sum(net=net_money, tax=gross_money - net_money, gross=gross_money)
