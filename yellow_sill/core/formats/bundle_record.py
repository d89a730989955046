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
from ..repairs.ribbon import STATES
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
    """A photo. ``view``: the name of the view that its place is in, empty for none; what older bundles did not know is as nobody said it."""

    file: Annotated[str, Field(pattern=PHOTO_FILE)]
    caption: Annotated[str, Field(max_length=200)]
    taken_on: date | None
    taken_at: Annotated[str, Field(pattern=r"^(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d)?$")] = ""
    stage: Annotated[str, OneOf(("", *STATES))] = ""
    sorted_by: Literal["", "day", "hand"] = "hand"
    view: Annotated[str, Field(max_length=30)] = ""
    at: Annotated[list[float], Field(max_length=2)] = []
    subject: Literal["", "panel", "finding", "part", "box"] = ""
    subject_of: Annotated[str, Field(max_length=60)] = ""
    seen_from: Literal["", "left", "right", "front", "rear", "above", "below", "inside"] = ""
    came_as: Annotated[str, Field(max_length=40)] = ""
    by: Name


class PhotoPairPart(Record):
    """Two photos of one place by the names of their files, and the points that were tapped in both, px: before x, y, after x, y."""

    before: Annotated[str, Field(pattern=PHOTO_FILE)]
    after: Annotated[str, Field(pattern=PHOTO_FILE)]
    points: Annotated[list[tuple[float, float, float, float]], Field(max_length=4)] = []
    by: Name


class DonorPanelPart(Record):
    code: Annotated[str, Field(max_length=20)]
    name: Annotated[str, Field(max_length=80)]
    grade: Literal["", "O", "S", "P", "T", "H", "F"] = ""
    found: Annotated[float, Field(ge=0, le=1)] = 0.0
    looked: Annotated[float, Field(ge=0, le=1)] = 0.0
    thickness_mm: Annotated[float, Field(ge=0, le=20)] = 0.0
    repairs: Annotated[int, Field(ge=0, le=1000)] = 0
    verdict: Literal["bad", "worn", "sound", "not known"] = "not known"


class DonorPart(Record):
    """Another shell that parts are taken from, as its owner found it."""

    name: Annotated[str, Field(max_length=170)]
    body_no: Annotated[str, Field(max_length=40)] = ""
    body_type: Annotated[str, Field(max_length=60)]
    panels: Annotated[list[DonorPanelPart], Field(max_length=2000)] = []
    note: Annotated[str, Field(max_length=300)] = ""
    brought_on: date
    by: Name
