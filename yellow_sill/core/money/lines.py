"""Cost lines: quantity, unit price, tax in or on top, and what they add up to."""

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from .amount import Money


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


def total(lines: Iterable[Line], currency: str) -> Sum:
    """Sum of all lines; zero where there are none."""
    nothing = Money(Decimal(0), currency)
    result = Sum(net=nothing, tax=nothing, gross=nothing)
    for line in lines:
        result += line_sum(line)
    return result


def totals_by(lines: Iterable[Line], key: Callable[[Line], str], currency: str) -> list[tuple[str, Sum]]:
    """Totals by supplier, kind or any other key, dearest first."""
    groups: dict[str, list[Line]] = defaultdict(list)
    for line in lines:
        groups[key(line)].append(line)
    sums = [(name, total(group, currency)) for name, group in groups.items()]
    return sorted(sums, key=lambda item: (-item[1].gross.amount, item[0]))


def spent_so_far(dated: Iterable[tuple[date, Line]], currency: str) -> list[tuple[date, Money]]:
    """Money spent up to and including each month's last entry: (day of that entry, running total), oldest first."""
    running = Money(Decimal(0), currency)
    steps: dict[tuple[int, int], tuple[date, Money]] = {}
    for day, line in sorted(dated, key=lambda item: item[0]):
        running += line_sum(line).gross
        steps[day.year, day.month] = (day, running)
    return list(steps.values())
