"""What is spoken with a supplier's catalogue: JSON over HTTP. The format is in docs/formats.md; what does not keep to it is told, never guessed."""

from datetime import date
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Quoted, Said
from .amount import CURRENCIES, Money
from .landed import SOURCES, Amount

#: How far an order is, in words.
ORDER_STATES = {
    "accepted": "accepted",
    "sent": "on its way",
    "delivered": "delivered",
    "refused": "refused",
}
_Ref = Annotated[str, Field(min_length=1, max_length=40)]
_Name = Annotated[str, Field(min_length=1, max_length=80)]


class CatalogueItem(Record):
    """An article: its reference, price with tax, carriage for one, stock, days until it is here."""

    ref: _Ref
    name: _Name
    hand: Annotated[str, OneOf(("", "left", "right"))] = ""
    source: Annotated[str, OneOf(SOURCES)] = "reproduction"
    price: Amount
    currency: Annotated[str, OneOf(CURRENCIES)]
    carriage: Amount = Decimal(0)
    stock: Annotated[int, Field(ge=0, le=1_000_000)]
    days: Annotated[int, Field(ge=0, le=2000)]
    late_days: Annotated[int, Field(ge=0, le=2000)] | None = None


class Found(Record):
    """Answer to a search: the firm's name and what it has."""

    firm: _Name
    items: Annotated[list[CatalogueItem], Field(max_length=200)]


class OrderTold(Record):
    """Answer to an order, and to the question how far it is; ``price``: what it takes for all of it; ``delivered``: the reference that was packed."""

    order: _Ref
    state: Annotated[str, OneOf(ORDER_STATES)]
    price: Amount
    currency: Annotated[str, OneOf(CURRENCIES)]
    expected: date | None = None
    delivered: Annotated[str, Field(max_length=40)] = ""
    words: Annotated[str, Field(max_length=200)] = ""


def require_same_price(quoted: Money, now: Money) -> None:
    """Raises: BadField where what is asked is no longer what was quoted: nothing is ordered at a price that nobody saw."""
    if (quoted.rounded(), quoted.currency) != (now.rounded(), now.currency):
        raise BadField(
            Said(
                "It costs {now} now; {quoted} was quoted.", now=Quoted(str(now)), quoted=Quoted(str(quoted))
            ),
            "price",
            "Nothing is ordered. Write the new price down as a quote and choose again.",
        )
