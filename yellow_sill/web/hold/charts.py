"""What the pages of orders and ways draw: lines of J step by step, bars, and a row for each step."""

from dataclasses import dataclass
from datetime import date
from math import log

from yellow_sill.core.hold.ordered import Order, Walked
from yellow_sill.core.hold.verdict import HELD_BELOW, SOFT_BELOW

from .order_services import StillAhead
from .removal_services import words_of

#: The chart of an order: width and height in px, J at its foot and top (logarithmic), room left for words.
CHART, CHART_J, CHART_LEFT = (760, 225), (0.3, 30.0), 64


def _up(j: float, height: float) -> float:
    """Where J lies in a chart, px from its top."""
    low, high = (log(each) for each in CHART_J)
    return round(height * (1 - (min(max(log(max(j, 1e-6)), low), high) - low) / (high - low)), 1)


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderChart:
    """The lines of an order, its limits and its sizes, px; ``left``: the room for words."""

    own: list[tuple[float, float]]
    found: list[tuple[float, float]]
    bound: float
    held: float
    soft: float
    height_held: float
    soft_words: float
    width: int
    inner: int
    height: int
    left: int


def order_chart(own: Walked, found: Order | None) -> OrderChart:
    """J step by step of the order tried and of the one found, as lines in px, with the limits of HELD and SOFT."""
    width, height = CHART
    up = lambda j: _up(j, height)  # noqa: E731
    along = lambda i: round(CHART_LEFT + (width - CHART_LEFT) * i / max(1, len(own.order.steps)), 1)  # noqa: E731
    line = lambda order: [  # noqa: E731
        (along(i), up(j)) for i, j in enumerate([own.start_j, *(step.j for step in order.steps)])
    ]
    return OrderChart(
        own=line(own.order),
        found=line(found) if found else [],
        bound=up(own.lower_bound),
        held=up(HELD_BELOW),
        soft=up(SOFT_BELOW),
        height_held=round(height - up(HELD_BELOW), 1),
        soft_words=round((up(HELD_BELOW) + up(SOFT_BELOW)) / 2 + 5, 1),
        width=width,
        inner=width - CHART_LEFT,
        height=height,
        left=CHART_LEFT,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class OrderRow:
    """A step in words with its verdict, that of the found order beside it, and the orders that one key press up or down makes."""

    action: str
    words: str
    out: bool
    up: list[str]
    down: list[str]
    verdict: str = ""
    best: str = ""


def order_rows(order: Order, found: Order | None) -> list[OrderRow]:
    """Each step in words with its verdict, and that of the found order beside it; with the order that one key press up or down makes."""
    steps = [step.action for step in order.steps]
    return [
        OrderRow(
            action=step.action,
            words=words_of(step.action),
            out=step.action[0] == "-",
            up=swapped(steps, i - 1),
            down=swapped(steps, i),
            verdict=step.verdict,
            best=found.steps[i].verdict if found else "",
        )
        for i, step in enumerate(order.steps)
    ]


def typed_rows(steps: list[str]) -> list[OrderRow]:
    """The steps of an order that cannot be told a verdict."""
    return [
        OrderRow(
            action=step,
            words=words_of(step),
            out=step[0] == "-",
            up=swapped(steps, i - 1),
            down=swapped(steps, i),
        )
        for i, step in enumerate(steps)
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class DoneRow:
    """A step of the accepted order: the day it was done, or the verdict after it; whether it is the next; the repairs that do it."""

    words: str
    done_on: date | None
    now: bool
    verdict: str
    repairs: list[tuple[int, str]]


def done_rows(told: StillAhead) -> list[DoneRow]:
    """Each step of the accepted order: when it was done, or the verdict after it."""
    verdicts = iter(told.gone.order.steps)
    following = next((step for step in told.along if step.done_on is None), None)
    return [
        DoneRow(
            words=step.words,
            done_on=step.done_on,
            now=step is following,
            verdict="" if step.done_on else next(verdicts).verdict,
            repairs=step.repairs,
        )
        for step in told.along
    ]


def swapped(steps: list[str], i: int) -> list[str]:
    """The order with two neighbours swapped; nothing at the ends."""
    if not 0 <= i < len(steps) - 1:
        return []
    return [*steps[:i], steps[i + 1], steps[i], *steps[i + 2 :]]


#: The bars of the ways: px from J's foot to its top.
WAY_BAR = 150


@dataclass(frozen=True, slots=True, kw_only=True)
class WaysChart:
    """Where HELD and SOFT end on the bars of the ways, and how long a bar may be, px."""

    held: float
    soft: float
    width: int


def ways_chart() -> WaysChart:
    return WaysChart(held=way_bar(HELD_BELOW), soft=way_bar(SOFT_BELOW), width=WAY_BAR)


def way_bar(j: float) -> float:
    """The bar of a way for its J, px long."""
    return round(WAY_BAR - _up(j, WAY_BAR), 1)
