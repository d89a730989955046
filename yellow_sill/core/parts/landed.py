"""What a part really costs once it is on the car: price, tax, carriage, the work to make it fit; and which source to take."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Day, Listed, Quoted, Said, joined
from .amount import CURRENCIES, Money

#: Where a part comes from, in words.
SOURCES = {
    "nos": "new old stock", "reproduction": "reproduction", "donor": "donor part", "used": "used", "seconds": "seconds", "made": "made by yourself",
    "made by others": "made by others", "refurbished": "refurbished",
}  # fmt: skip
#: What each usually still needs before it fits, hours (rules of thumb), where the quote says nothing of it.
FIT_H = {
    "nos": 0.5,
    "reproduction": 3.0,
    "donor": 4.0,
    "used": 2.0,
    "seconds": 4.0,
    "made": 0.0,
    "made by others": 1.0,
    "refurbished": 0.5,
}
#: How likely it is to be sent back or to be useless, as a share (rules of thumb): its return and the wait count by so much.
RISK = {
    "nos": 0.03,
    "reproduction": 0.12,
    "donor": 0.15,
    "used": 0.15,
    "seconds": 0.25,
    "made": 0.05,
    "made by others": 0.08,
    "refurbished": 0.05,
}
Amount = Annotated[Decimal, Field(ge=0, le=Decimal(10_000_000), max_digits=14, decimal_places=4)]
Rate = Annotated[Decimal, Field(ge=0, le=100, max_digits=7, decimal_places=4)]
_Name = Annotated[str, Field(min_length=1, max_length=80)]


class Quote(Record):
    """What somebody asks for a part.

    Attributes:
        price: of one, in ``currency`` at ``rate`` (so many of the own currency for one of theirs, as typed on its day); tax_in: whether tax is in it.
        carriage: to the door, in the same currency; back: what sending it back costs; back_until: the last day for that.
        days, late_days: lead time, likely and late; fit_h: hours to make it fit (None: as usual for its source); lacks: what it comes without.
        hours: of the own work for what is made or refurbished.
    """

    name: _Name
    source: Annotated[str, OneOf(SOURCES)]
    price: Amount
    currency: Annotated[str, OneOf(CURRENCIES)] = "GBP"
    rate: Annotated[Decimal, Field(gt=0, le=Decimal(100_000), max_digits=12, decimal_places=6)] = Decimal(1)
    tax_rate: Rate = Decimal(20)
    tax_in: bool = True
    carriage: Amount = Decimal(0)
    back: Amount | None = None
    back_until: date | None = None
    days: Annotated[int, Field(ge=0, le=2000)] = 7
    late_days: Annotated[int, Field(ge=0, le=2000)] | None = None
    fit_h: Annotated[float, Field(ge=0, le=2000)] | None = None
    hours: Annotated[float, Field(ge=0, le=2000)] = 0.0
    lacks: Annotated[list[_Name], Field(max_length=30)] = []
    grade: Annotated[str, Field(max_length=40)] = ""

    def own(self, amount: Decimal) -> Decimal:
        """An amount of it with tax, in the own currency, not rounded."""
        return amount * (Decimal(1) if self.tax_in else 1 + self.tax_rate / 100) * self.rate


class ChoiceRequest(Record):
    """Quotes for one need: what an hour of the own is worth (0: not counted), by when it is needed, what day it is, the own factor on fitting hours."""

    quotes: Annotated[list[Quote], Field(min_length=1, max_length=40)]
    currency: Annotated[str, OneOf(CURRENCIES)] = "GBP"
    quantity: Annotated[Decimal, Field(gt=0, le=Decimal(100_000), max_digits=10, decimal_places=3)] = Decimal(
        1
    )
    hour: Amount = Decimal(0)
    fit_factor: Annotated[float, Field(gt=0, le=20)] = 1.0
    needed_by: date | None = None
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class Landed:
    """A quote worked out.

    Attributes:
        paid: with tax and carriage; worth_hours: own hours valued; risk: what it is expected to cost that it may come back or be useless.
        landed: all of it; hours; arrives, arrives_late; in_time None where no day is set, False where even the likely day is too late.
    """

    name: str
    source: str
    paid: Money
    worth_hours: Money
    risk: Money
    landed: Money
    hours: float
    arrives: date
    arrives_late: date
    in_time: bool | None
    words: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class SourceChoice:
    """Quotes, the best first; what tips it, and what would turn it: at which worth of an hour another is cheaper, or at what price."""

    chosen: str
    order: list[Landed]
    tips: Said | str
    turns: list[Said]


def landed(quote: Quote, request: ChoiceRequest) -> Landed:
    """What a quote costs on the car.

    Args: quote; request: the own currency, quantity, worth of an hour, days.
    Source: price × quantity with tax, carriage, own hours, expected loss; docs/methods.md section 6.
    """
    goods = Money(quote.own(quote.price * request.quantity), request.currency).rounded()
    carriage = Money(quote.own(quote.carriage), request.currency).rounded()
    fit = FIT_H[quote.source] if quote.fit_h is None else quote.fit_h
    hours = quote.hours + fit * request.fit_factor
    worth = Money(request.hour * Decimal(str(round(hours, 4))), request.currency).rounded()
    lost = goods.amount * Decimal("0.5") if quote.back is None else quote.back * quote.rate + carriage.amount
    risk = Money(lost * Decimal(str(RISK[quote.source])), request.currency).rounded()
    paid = goods + carriage
    arrives = request.today + timedelta(days=quote.days)
    late = request.today + timedelta(
        days=max(quote.days, quote.late_days if quote.late_days is not None else 2 * quote.days)
    )
    in_time = None if request.needed_by is None else arrives <= request.needed_by
    total = paid + worth + risk
    return Landed(
        name=quote.name, source=quote.source, paid=paid, worth_hours=worth, risk=risk, landed=total, hours=round(hours, 2), arrives=arrives, arrives_late=late,
        in_time=in_time, words=_words(quote, paid, total, hours, arrives, late, request.needed_by),
    )  # fmt: skip


def _words(
    quote: Quote, paid: Money, total: Money, hours: float, arrives: date, late: date, needed_by: date | None
) -> Said:
    parts: list[str] = [
        Said(
            "{paid} to pay, {total} on the car with {hours:.1f} h of work.",
            paid=str(paid),
            total=str(total),
            hours=hours,
        )
    ]
    if needed_by and arrives > needed_by:
        parts.append(Said("Too late: likely on {day}.", day=Day(arrives)))
    elif needed_by and late > needed_by:
        parts.append(Said("In time if nothing slips: {day} at the latest.", day=Day(late)))
    if quote.lacks:
        parts.append(
            Said("It comes without {lacks}.", lacks=Listed(tuple(Quoted(each) for each in quote.lacks)))
        )
    if quote.back is None:
        parts.append("Whether it can go back is not known.")
    return joined(parts)


def source_choice(request: ChoiceRequest) -> SourceChoice:
    """Which source to take: what arrives in time first, then what costs least on the car.

    Args: request: see ChoiceRequest.
    Raises: BadField: two quotes of one name, tax above 100 % (by the record).
    """
    names = [quote.name for quote in request.quotes]
    if len(set(names)) < len(names):
        raise BadField("Two quotes bear the same name.", "quotes", "Give each its own.")
    told = [landed(quote, request) for quote in request.quotes]
    order = sorted(
        told, key=lambda each: (each.in_time is False, each.landed.amount, each.arrives, each.name)
    )
    best = order[0]
    return SourceChoice(chosen=best.name, order=order, tips=_tips(order), turns=_turns(order, request))


def _tips(order: Sequence[Landed]) -> Said | str:
    if len(order) == 1:
        return "It is the only quote."
    best, second = order[0], order[1]
    if second.in_time is False and best.in_time is not False:
        return Said(
            "{best} is there in time, {second} is not.", best=Quoted(best.name), second=Quoted(second.name)
        )
    gap = second.landed - best.landed
    if gap.amount == 0:
        return Said(
            "{best} and {second} cost the same; the first is there sooner.",
            best=Quoted(best.name),
            second=Quoted(second.name),
        )
    hours = second.hours - best.hours
    why = (
        Said("{hours:.1f} h less work", hours=hours)
        if hours > 0 and best.paid.amount > second.paid.amount
        else Said("less to pay")
        if best.paid.amount < second.paid.amount
        else Said("less at risk")
    )
    return Said(
        "{best} is {gap} cheaper on the car than {second}: {why}.",
        best=Quoted(best.name),
        gap=str(gap),
        second=Quoted(second.name),
        why=why,
    )


def _turns(order: Sequence[Landed], request: ChoiceRequest) -> list[Said]:
    """What would turn the choice: a worth of an hour, or a price."""
    best, found = order[0], []
    for other in order[1:4]:
        if other.in_time is False:
            continue
        hours = Decimal(str(best.hours)) - Decimal(str(other.hours))
        fixed = (other.paid + other.risk).amount - (best.paid + best.risk).amount
        if hours > 0 and fixed > 0:
            at = Money(fixed / hours, request.currency).rounded()
            if at.amount > request.hour:
                found.append(
                    Said(
                        "Above {at} an hour of your own, {other} is cheaper.",
                        at=str(at),
                        other=Quoted(other.name),
                    )
                )
        elif hours < 0 and fixed < 0:
            at = Money(fixed / hours, request.currency).rounded()
            if at.amount < request.hour:
                found.append(
                    Said(
                        "Below {at} an hour of your own, {other} is cheaper.",
                        at=str(at),
                        other=Quoted(other.name),
                    )
                )
        gap = (other.landed - best.landed).rounded()
        if gap.amount > 0:
            found.append(
                Said("{other} would have to cost {gap} less.", other=Quoted(other.name), gap=str(gap))
            )
    return found
