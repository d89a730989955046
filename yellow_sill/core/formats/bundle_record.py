"""What is written down after the work, and what it cost, in a bundle."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from ..parts.amount import CURRENCIES
from ..parts.landed import Rate
from ..record.metal import RANKS
from ..records import OneOf, Record
from ..repairs.hours import KINDS
from .bundle_base import PHOTO_FILE, Name, Text


class WorkPart(Record):
    worked_on: date
    kind: Annotated[str, OneOf(KINDS)]
    minutes: Annotated[int, Field(gt=0, le=1440)]
    typed: Annotated[str, Field(max_length=20)]
    note: Annotated[str, Field(max_length=300)]
    by: Name


#: What a payment is told by, see the core's bank statements.
PaymentKey = Annotated[str, Field(min_length=1, max_length=40)]
CostKind = Literal["steel", "part", "consumable", "coating", "tool", "service", "carriage", "sold"]


class CostPart(Record):
    """A line by itself. ``need``: the number of the one it paid, ``surplus``: of the thing that was sold (0: none); ``paid_by``: keys of payments."""

    bought_on: date
    supplier: Annotated[str, Field(max_length=80)]
    item: Annotated[str, Field(max_length=120)]
    kind: CostKind
    quantity: Annotated[Decimal, Field(gt=0, max_digits=10, decimal_places=3)]
    unit_price: Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=4)]
    tax_rate: Annotated[Decimal, Field(ge=0, le=100, max_digits=5, decimal_places=2)]
    tax_included: bool
    currency: Annotated[str, OneOf(("", *CURRENCIES))] = ""
    rate: Annotated[Decimal, Field(gt=0, le=100_000, max_digits=12, decimal_places=6)] = Decimal(1)
    discount: Rate = Decimal(0)
    back: bool = False
    need: Annotated[int, Field(ge=0)] = 0
    surplus: Annotated[int, Field(ge=0)] = 0
    paid_by: Annotated[list[PaymentKey], Field(max_length=20)] = []
    by: Name


#: How much the look of a sheet counts, by its code.
Ranks = Annotated[
    dict[Annotated[str, Field(min_length=1, max_length=20)], Annotated[str, OneOf(filter(None, RANKS))]],
    Field(max_length=2000),
]


class NotePart(Record):
    written_on: date
    text: Text
    about: Literal["", "mistake", "learnt"] = ""
    by: Name


class PhotoPart(Record):
    file: Annotated[str, Field(pattern=PHOTO_FILE)]
    caption: Annotated[str, Field(max_length=200)]
    taken_on: date
    by: Name
