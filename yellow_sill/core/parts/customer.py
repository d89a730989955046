"""What a customer is asked to pay: an estimate, a variation that must be agreed, a bill by repair. None of them is a tax document."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Said, joined
from .amount import CURRENCIES, Money
from .landed import Amount, Rate
from .ledger import Signed
from .lines import Sum

#: The papers in words.
PAPERS = {"estimate": "Estimate", "variation": "Variation", "bill": "Bill"}
#: Stands on each of them.
NO_TAX_PAPER = "This sheet is not a tax document. What the law asks of an invoice, it does not hold."


class PartUsed(Record):
    """A part or material, its price before mark-up without tax; below 0 for what came back."""

    item: Annotated[str, Field(min_length=1, max_length=120)]
    net: Signed


class RepairAsked(Record):
    """A repair: its code and title, the hours, the parts."""

    code: Annotated[str, Field(min_length=1, max_length=20)]
    title: Annotated[str, Field(max_length=120)] = ""
    hours: Annotated[Decimal, Field(ge=0, le=100_000, max_digits=8, decimal_places=2)]
    parts: Annotated[list[PartUsed], Field(max_length=2000)] = []


class CustomerRequest(Record):
    """Terms and repairs.

    Attributes:
        hour: what an hour is charged at, without tax; mark_up: on parts, per cent; tax_rate: per cent, on everything.
        agreed: with tax, what the customer has agreed to so far (None: nothing).
    """

    paper: Annotated[str, OneOf(PAPERS)]
    currency: Annotated[str, OneOf(CURRENCIES)] = "GBP"
    hour: Amount
    mark_up: Annotated[Decimal, Field(ge=-100, le=1000, max_digits=7, decimal_places=2)] = Decimal(0)
    tax_rate: Rate = Decimal(20)
    agreed: Signed | None = None
    repairs: Annotated[list[RepairAsked], Field(min_length=1, max_length=400)]


@dataclass(frozen=True, slots=True, kw_only=True)
class RepairTold:
    """A repair on the sheet: hours and what they cost, each part with its mark-up in it, the sum; all without tax."""

    code: str
    title: str
    hours: Decimal
    labour: Money
    parts: list[tuple[str, Money]]
    sum: Money


@dataclass(frozen=True, slots=True, kw_only=True)
class CustomerSheet:
    """The sheet; ``over``: by how much its total is above what was agreed (None: nothing was agreed); ``may_ask``: it may be asked for as it stands."""

    repairs: list[RepairTold]
    total: Sum
    over: Money | None
    may_ask: bool
    words: Said


def customer_sheet(request: CustomerRequest) -> CustomerSheet:
    """What a customer is asked to pay. Each line is rounded, tax is worked out on the sum.

    A bill above what was agreed may not be asked for: a variation comes first.

    Args: request: see CustomerRequest.
    Raises: BadField: a repair twice.
    """
    codes = [each.code for each in request.repairs]
    if len(set(codes)) < len(codes):
        raise BadField("A repair stands there twice.", "repairs", "Keep one of them.")
    money = lambda amount: Money(amount, request.currency).rounded()  # noqa: E731
    told = []
    for each in request.repairs:
        labour = money(request.hour * each.hours)
        parts = [(part.item, money(part.net * (1 + request.mark_up / 100))) for part in each.parts]
        told.append(
            RepairTold(
                code=each.code,
                title=each.title,
                hours=each.hours,
                labour=labour,
                parts=parts,
                sum=sum((price for _, price in parts), labour),
            )
        )
    net = sum((each.sum for each in told), money(Decimal(0)))
    tax = (net * (request.tax_rate / 100)).rounded()
    total = Sum(net=net, tax=tax, gross=net + tax)
    over = None if request.agreed is None else total.gross - money(request.agreed)
    may_ask = request.paper != "bill" or (over is not None and over.amount <= 0)
    return CustomerSheet(
        repairs=told, total=total, over=over, may_ask=may_ask, words=_words(request, told, total, over)
    )


def agreed_total(nets: Sequence[Money], tax_rate: Decimal) -> Money | None:
    """With tax, what was agreed for some repairs. Args: nets: without tax, of each that was agreed to; none gives None."""
    if not nets:
        return None
    net = sum(nets[1:], nets[0])
    return (net * (1 + tax_rate / 100)).rounded()


def _words(request: CustomerRequest, told: Sequence[RepairTold], total: Sum, over: Money | None) -> Said:
    hours = sum((each.hours for each in told), Decimal(0))
    parts: list[str] = [
        Said("{total} with tax, {hours:.1f} h in it.", total=str(total.gross), hours=float(hours))
    ]
    if over is None:
        if request.paper == "bill":
            parts.append("Nothing was agreed: let the customer agree to an estimate first.")
    elif over.amount > 0:
        parts.append(Said("{over} above what was agreed: a variation must be agreed first.", over=str(over)))
    elif request.paper == "bill":
        parts.append(Said("Within what was agreed, {left} below it.", left=str(over * Decimal(-1))))
    return joined(parts)
