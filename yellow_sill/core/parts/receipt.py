"""A receipt as it is printed: lines with several tax rates, discounts before or after tax, carriage shared to the last penny, credit notes; does it add up?"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Quoted, Said
from .amount import CURRENCIES, Money
from .landed import Rate

_Name = Annotated[str, Field(min_length=1, max_length=120)]
Price = Annotated[
    Decimal, Field(ge=Decimal(-10_000_000), le=Decimal(10_000_000), max_digits=14, decimal_places=4)
]


class ReceiptLine(Record):
    """One line as printed: quantity, price of one (tax in it or not as the receipt says), its tax rate, a discount of its own in per cent."""

    item: _Name
    quantity: Annotated[Decimal, Field(gt=0, le=Decimal(1_000_000), max_digits=12, decimal_places=3)] = (
        Decimal(1)
    )
    price: Price
    tax_rate: Rate
    discount: Rate = Decimal(0)


class ReceiptRequest(Record):
    """A receipt.

    Attributes:
        tax_in: whether prices hold the tax; rounds: "line" where tax is worked out by line and added up, "total" where it is by rate from the sum.
        discount: on the whole, in per cent (before tax) or, with ``discount_after``, off what is to be paid; carriage: with its tax rate, "" to share.
        printed: the total as printed, None where it is not typed; credit: a credit note, which mirrors an invoice.
    """

    currency: Annotated[str, OneOf(CURRENCIES)]
    lines: Annotated[list[ReceiptLine], Field(min_length=1, max_length=2000)]
    tax_in: bool = True
    rounds: Literal["line", "total"] = "line"
    discount: Rate = Decimal(0)
    discount_after: bool = False
    carriage: Annotated[Decimal, Field(ge=0, le=Decimal(1_000_000), max_digits=12, decimal_places=4)] = (
        Decimal(0)
    )
    printed: (
        Annotated[
            Decimal, Field(ge=Decimal(-100_000_000), le=Decimal(100_000_000), max_digits=16, decimal_places=4)
        ]
        | None
    ) = None
    credit: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class LineTold:
    """What a line comes to with its shares of discount and carriage; net and gross add up to the receipt's own."""

    item: str
    net: Money
    tax: Money
    gross: Money


@dataclass(frozen=True, slots=True, kw_only=True)
class ReceiptTold:
    """The receipt: lines, sums, tax by rate, and whether the printed total is met (None: it was not typed); ``off`` by how much it is not."""

    lines: list[LineTold]
    net: Money
    tax: Money
    gross: Money
    by_rate: dict[str, Money]
    adds_up: bool | None
    off: Money
    words: Said


def receipt(request: ReceiptRequest) -> ReceiptTold:
    """What a receipt comes to.

    Every share is given out by largest remainders, so that the lines add up to the whole to the last penny.

    Args: request: see ReceiptRequest.
    Returns: a credit note's amounts are below 0, the mirror of the invoice's.
    Raises: BadField: carriage on lines that are worth nothing.
    Source: docs/methods.md section 6.
    """
    money = lambda amount: Money(amount, request.currency)  # noqa: E731
    worth = [line.price * line.quantity * (1 - line.discount / 100) for line in request.lines]
    if not request.discount_after:
        worth = [each * (1 - request.discount / 100) for each in worth]
    carried = [Decimal(0)] * len(worth)
    if request.carriage:
        if sum(worth) <= 0:
            raise BadField(
                "Carriage cannot be shared over lines that are worth nothing.",
                "carriage",
                "Enter it as a line of its own.",
            )
        carried = [each.amount for each in shared(money(request.carriage), worth)]
    worth = [one + other for one, other in zip(worth, carried, strict=True)]
    pairs = _taxed(request, worth)
    if request.discount_after and request.discount:
        pairs = _off_the_end(request, pairs)
    sign = -1 if request.credit else 1
    lines = [
        LineTold(
            item=line.item, net=money(sign * net), tax=money(sign * (gross - net)), gross=money(sign * gross)
        )
        for line, (net, gross) in zip(request.lines, pairs, strict=True)
    ]
    by_rate: dict[str, Money] = {}
    for line, told in zip(request.lines, lines, strict=True):
        key = f"{line.tax_rate.normalize():f}"
        by_rate[key] = by_rate.get(key, money(Decimal(0))) + told.tax
    nothing = money(Decimal(0))
    net, gross = sum((each.net for each in lines), nothing), sum((each.gross for each in lines), nothing)
    off = (
        money(Decimal(0))
        if request.printed is None
        else (money(sign * abs(request.printed)) - gross).rounded()
    )
    adds_up = None if request.printed is None else off.amount == 0
    return ReceiptTold(
        lines=lines,
        net=net,
        tax=gross - net,
        gross=gross,
        by_rate=by_rate,
        adds_up=adds_up,
        off=off,
        words=_words(gross, adds_up, off),
    )


def _taxed(request: ReceiptRequest, worth: Sequence[Decimal]) -> list[tuple[Decimal, Decimal]]:
    """Net and gross of each line, rounded by line or by the total of its rate."""
    money = lambda amount: Money(amount, request.currency).rounded().amount  # noqa: E731
    shares = [1 + line.tax_rate / 100 for line in request.lines]
    if request.rounds == "line":
        if request.tax_in:
            return [(money(each / share), money(each)) for each, share in zip(worth, shares, strict=True)]
        return [(money(each), money(each * share)) for each, share in zip(worth, shares, strict=True)]
    pairs: list[tuple[Decimal, Decimal]] = [(Decimal(0), Decimal(0))] * len(worth)
    for rate in dict.fromkeys(line.tax_rate for line in request.lines):
        mine = [n for n, line in enumerate(request.lines) if line.tax_rate == rate]
        whole = sum((worth[n] for n in mine), Decimal(0))
        share = 1 + rate / 100
        net, gross = (whole / share, whole) if request.tax_in else (whole, whole * share)
        nets = shared(Money(net, request.currency), [worth[n] for n in mine])
        grosses = shared(Money(gross, request.currency), [worth[n] for n in mine])
        for n, a, b in zip(mine, nets, grosses, strict=True):
            pairs[n] = (a.amount, b.amount)
    return pairs


def _off_the_end(
    request: ReceiptRequest, pairs: Sequence[tuple[Decimal, Decimal]]
) -> list[tuple[Decimal, Decimal]]:
    """A discount off what is to be paid: shared over the lines, its tax with it."""
    gross = sum((each[1] for each in pairs), Decimal(0))
    off = shared(Money(gross * request.discount / 100, request.currency), [each[1] for each in pairs])
    found = []
    for line, (net, whole), each in zip(request.lines, pairs, off, strict=True):
        left = whole - each.amount
        found.append(
            (
                Money(left / (1 + line.tax_rate / 100), request.currency).rounded().amount
                if net != whole
                else left,
                left,
            )
        )
    return found


def shared(whole: Money, weights: Sequence[Decimal]) -> list[Money]:
    """An amount given out by weights, in whole pence that add up to it: largest remainders, the first of equals.

    Args: weights: at least one; all nothing counts as equal.

    >>> [str(each.amount) for each in shared(Money(Decimal(1), "GBP"), [Decimal(1)] * 3)]
    ['0.34', '0.33', '0.33']
    """
    minor = whole.minor
    total = sum(weights, Decimal(0))
    if total == 0:
        weights, total = [Decimal(1)] * len(weights), Decimal(len(weights))
    exact = [Decimal(minor) * weight / total for weight in weights]
    floors = [int(each.to_integral_value(rounding="ROUND_FLOOR")) for each in exact]
    left = minor - sum(floors)
    order = sorted(range(len(exact)), key=lambda n: (-(exact[n] - floors[n]), n))
    for n in order[:left]:
        floors[n] += 1
    return [Money.from_minor(each, whole.currency) for each in floors]


def _words(gross: Money, adds_up: bool | None, off: Money) -> Said:
    if adds_up is None:
        return Said("It comes to {gross}; the printed total was not typed.", gross=Quoted(str(gross)))
    if adds_up:
        return Said("It comes to {gross}, as printed.", gross=Quoted(str(gross)))
    return Said(
        "It comes to {gross}, the printed total is {off} off: look for a line, a rate or a discount.",
        gross=Quoted(str(gross)),
        off=Quoted(str(off)),
    )
