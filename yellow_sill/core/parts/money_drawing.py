"""The ledger as a drawing: what was spent as a step line, what is ordered and likely to come beside it, the budget across."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from .amount import CURRENCIES, Money
from .forecast import Band

#: Size of the drawing and the room of its figures, px.
WIDE, HIGH, LEFT, RIGHT, TOP, FOOT = 1000.0, 430.0, 86.0, 230.0, 22.0, 34.0
#: Room that the word of today takes beside months, px.
CLEAR = 80.0
#: Figures at the right stand at least so far apart, px.
APART = 20.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A figure on an axis or at a line: where, px, and what it says; ``kind``: spent, ordered, likely, band or budget."""

    at: float
    label: str
    kind: str = ""
    y: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class MoneyDrawing:
    """Everything in px, y down.

    Attributes:
        spent: the step line; ordered: its rise by what is committed; likely: from there to what it likely comes to; band: top and foot of four times in five.
        band_wide, band_high: its size;
        budget: height of the budget's line (None: no budget); today: where today is; months, amounts: marks of the axes; ends: figures at the lines.
    """

    spent: list[tuple[float, float]]
    ordered: list[tuple[float, float]]
    likely: list[tuple[float, float]]
    band: tuple[float, float] | None
    budget: float | None
    today: float
    end: float
    months: list[Mark]
    amounts: list[Mark]
    ends: list[Mark]
    wide: float = WIDE
    high: float = HIGH

    @property
    def band_wide(self) -> float:
        return self.end - self.today

    @property
    def band_high(self) -> float:
        return self.band[1] - self.band[0] if self.band else 0.0


def money_drawing(
    steps: Sequence[tuple[date, Money]], committed: Money, finish: Band, budget: Money | None, today: date
) -> MoneyDrawing | None:
    """Draw the ledger; None where nothing was spent and nothing is to come.

    Args: steps: spent up to each day; committed: ordered on top; finish: of all; budget: of all areas together.
    """
    spent = steps[-1][1] if steps else Money(Decimal(0), finish.likely.currency)
    most = max(float(each.amount) for each in (finish.high, spent + committed, budget or spent, *(total for _, total in steps)))  # fmt: skip
    if most <= 0:
        return None
    tick = nice_tick(most / 4.2)
    top = tick * math.ceil(most / tick)
    first = min((day for day, _ in steps), default=today - timedelta(days=30)).replace(day=1)
    days = max(30, (today - first).days)
    end, floor = WIDE - RIGHT, HIGH - FOOT
    now = LEFT + (end - LEFT) * 0.86

    def x(day: date) -> float:
        return round(LEFT + (now - LEFT) * min(1.0, max(0, (day - first).days) / days), 1)

    def y(amount: Money) -> float:
        return round(floor - (floor - TOP) * float(amount.amount) / top, 1)

    line = [(LEFT, y(spent - spent))]
    for day, total in steps:
        line += [(x(day), line[-1][1]), (x(day), y(total))]
    line.append((now, line[-1][1]))
    sure = spent + committed
    ordered = [(now, line[-1][1]), (now, y(sure))] if committed.amount else []
    likely = [(now, y(sure)), (end, y(finish.likely))] if finish.likely.amount != sure.amount else []
    ends = [Mark(at=end, y=y(spent), label=f"{spent} spent", kind="spent")]
    if committed.amount:
        ends.append(Mark(at=end, y=y(sure), label=f"{sure} with what is ordered", kind="ordered"))
    if likely:
        ends.append(Mark(at=end, y=y(finish.likely), label=f"{finish.likely} likely", kind="likely"))
    if budget is not None:
        ends.append(Mark(at=end, y=y(budget), label=f"{budget} set aside", kind="budget"))
    has_band = finish.high.amount > finish.low.amount
    return MoneyDrawing(
        spent=line, ordered=ordered, likely=likely, band=(y(finish.high), y(finish.low)) if has_band else None,
        budget=None if budget is None else y(budget), today=now, end=end, months=_months(first, today, x),
        amounts=[
            Mark(at=y(Money(Decimal(str(tick * n)), spent.currency)), label=_plain(tick * n, spent.currency)) for n in range(round(top / tick) + 1)
        ],
        ends=_apart(ends),
    )  # fmt: skip


def nice_tick(least: float) -> float:
    """The next of 1, 2, 5, 10, 20, ... that is not below a figure.

    >>> [nice_tick(each) for each in (0.9, 130, 2100)]
    [1.0, 200.0, 5000.0]
    """
    power = 10.0 ** math.floor(math.log10(max(least, 1e-9)))
    return next(step * power for step in (1.0, 2.0, 5.0, 10.0) if step * power >= least - 1e-9)


def _plain(amount: float, currency: str) -> str:
    sign = CURRENCIES[currency][1]
    return f"{sign}\u00a0{amount:,.0f}".replace(",", "\u202f")


def _months(first: date, today: date, x) -> list[Mark]:
    """The first days of months, no more than eight named."""
    found, day = [], first
    while day <= today:
        found.append(day)
        day = (day.replace(day=28) + timedelta(days=4)).replace(day=1)
    every = max(1, math.ceil(len(found) / 8))
    return [
        Mark(at=x(day), label=f"{day:%b %Y}" if n % every == 0 and x(day) < x(today) - CLEAR else "")
        for n, day in enumerate(found)
        if n % every == 0 or every < 4
    ]


def _apart(ends: list[Mark]) -> list[Mark]:
    """Figures moved so that none lies on another: from the lowest up."""
    placed: list[Mark] = []
    for each in sorted(ends, key=lambda end: -end.y):
        y = each.y if not placed else min(each.y, placed[-1].y - APART)
        placed.append(Mark(at=each.at, y=y, label=each.label, kind=each.kind))
    return placed
