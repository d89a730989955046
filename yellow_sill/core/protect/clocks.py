"""The clock of a coat: when the next may go on, by when it must, when it has cured, by the temperatures that the garage had."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field

from ..days import require_one_zone
from ..errors import BadField
from ..records import Record
from ..said import DegC, Said
from .products import Hours, Product, hours_at, require_product

#: A clock that would run longer is not told to the hour.
FARTHEST = timedelta(days=400)
FIRST_YEAR, LAST_YEAR = 1990, 2190


class Warmth(Record):
    """From a moment on the garage has been so warm, °C."""

    since: datetime
    at_c: Annotated[float, Field(ge=-40, le=60)]


class ClockRequest(Record):
    """A coat: the product, when it was put on, how warm it has been since, and what time it is now."""

    product: Product
    put_on: datetime
    warmth: Annotated[list[Warmth], Field(min_length=1, max_length=400)]
    now: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Clock:
    """How far a coat is.

    Attributes:
        state: wet (nothing may go on), open (the next coat may), closed (the window has ended: key it first), cured; cold: it does not cure now.
        opens_at, closes_at, cured_at: reached or to be expected as warm as it is now; None where there is none, or where it is too cold.
        share: of the cure, 0 to 1.
    """

    state: str
    cold: bool
    opens_at: datetime | None
    closes_at: datetime | None
    cured_at: datetime | None
    share: float
    words: Said | str


def clock(request: ClockRequest) -> Clock:
    """How far a coat is, by the shares of its hours that have gone by at each temperature; too cold, no share goes by.

    Args: request: see ClockRequest.
    Raises: BadField: a coat from the future (a clock set back), no temperature for its beginning, a window that ends before it opens.
    Source: shares of time at temperature; docs/methods.md section 10.
    """
    product = request.product
    require_product(product)
    for name, at in (
        ("now", request.now),
        ("put_on", request.put_on),
        *(("warmth", each.since) for each in request.warmth),
    ):
        if not FIRST_YEAR <= at.year <= LAST_YEAR:
            raise BadField(
                Said("{year} is no year of this garage.", year=str(at.year)), name, "Check the day."
            )
        require_one_zone([(name, at)], request.now)
    if request.put_on > request.now:
        raise BadField(
            "It was put on after now: a clock was set back, or the day is mistyped.", "put_on", "Check the day and the clock."
        )  # fmt: skip
    warmth = sorted(request.warmth, key=lambda each: each.since)
    if warmth[0].since > request.put_on:
        raise BadField(
            "How warm it was when it was put on is not known.", "warmth", "Type the temperature of that day."
        )
    opens, _ = _reached(product, product.opens, request.put_on, warmth, request.now)
    closes = (
        _reached(product, product.closes, request.put_on, warmth, request.now)[0] if product.closes else None
    )
    cured, share = _reached(product, product.cured, request.put_on, warmth, request.now)
    state = _state(request.now, opens, closes, cured)
    cold = warmth[-1].at_c < product.least_c and state != "cured"
    return Clock(
        state=state,
        cold=cold,
        opens_at=opens,
        closes_at=closes,
        cured_at=cured,
        share=round(share, 3),
        words=_words(request, state, cold, opens, closes, cured),
    )


def _reached(
    product: Product, points: list[Hours], start: datetime, warmth: list[Warmth], now: datetime
) -> tuple[datetime | None, float]:
    """When the whole of some hours has gone by, as warm as it was and stays; and the share of it by now."""
    gone, by_now = 0.0, 0.0
    ends = [each.since for each in warmth[1:]] + [start + FARTHEST]
    for each, end in zip(warmth, ends, strict=True):
        begin = max(each.since, start)
        if end <= begin:
            continue
        share = _share(product, points, each.at_c)
        if begin < now:
            by_now = min(1.0, gone + share * (min(end, now) - begin).total_seconds() / 3600)
        whole = gone + share * (end - begin).total_seconds() / 3600
        if whole >= 1:
            return begin + timedelta(hours=(1 - gone) / share), by_now
        gone = whole
    return None, by_now


def _share(product: Product, points: list[Hours], at_c: float) -> float:
    """The share of some hours that an hour at a temperature is; none where it is too cold."""
    return 1 / hours_at(points, at_c) if at_c >= product.least_c else 0.0


def _state(now: datetime, opens: datetime | None, closes: datetime | None, cured: datetime | None) -> str:
    if cured is not None and cured <= now:
        return "cured"
    if closes is not None and closes <= now:
        return "closed"
    return "open" if opens is not None and opens <= now else "wet"


def _words(
    request: ClockRequest,
    state: str,
    cold: bool,
    opens: datetime | None,
    closes: datetime | None,
    cured: datetime | None,
) -> Said:
    name, now = request.product.name, request.now
    if cold:
        least = DegC(request.product.least_c)
        return Said("{name} does not cure below {least}: warm the garage.", name=name, least=least)
    if state == "wet" and opens:
        return Said("{name}: the next coat may go on in {time}.", name=name, time=_span(opens - now))
    if state == "open" and closes:
        return Said(
            "{name}: the next coat may go on now, for another {time}.", name=name, time=_span(closes - now)
        )
    if state == "open":
        return Said(
            "{name}: the next coat may go on now; cured in {time}.",
            name=name,
            time=_span((cured or now) - now),
        )
    if state == "closed":
        return Said(
            "{name}: the window for the next coat has ended. Key it with fine paper first.", name=name
        )
    return Said("{name} has cured.", name=name)


def _span(time: timedelta) -> Said:
    hours = max(0.0, time.total_seconds() / 3600)
    if hours >= 48:
        return Said("{days:.0f} days", days=hours / 24)
    return Said("{hours:.0f} h", hours=hours) if hours >= 2 else Said("{minutes:.0f} min", minutes=60 * hours)
