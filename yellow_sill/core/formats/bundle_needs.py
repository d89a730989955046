"""What is wanted in a bundle: needs with their steps and quotes."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field

from ..parts.amount import CURRENCIES
from ..parts.arrival import VERDICTS
from ..parts.landed import SOURCES, Amount, Rate
from ..parts.needs import STATES
from ..records import Coordinate, OneOf, Record
from .bundle_base import Name, Number

_Text = Annotated[str, Field(max_length=300)]
_Days = Annotated[int, Field(ge=0, le=2000)]
_Hours = Annotated[float, Field(ge=0, le=2000)]


class NeedStepPart(Record):
    state: Annotated[str, OneOf(STATES)]
    made_on: date
    why: _Text = ""
    by: Name


class NeedQuotePart(Record):
    """See the core's ``Quote``."""

    number: Number
    name: Annotated[str, Field(min_length=1, max_length=80)]
    source: Annotated[str, OneOf(SOURCES)]
    price: Amount
    currency: Annotated[str, OneOf(CURRENCIES)]
    rate: Annotated[Decimal, Field(gt=0, le=Decimal(100_000), max_digits=12, decimal_places=6)] = Decimal(1)
    tax_rate: Rate = Decimal(20)
    tax_in: bool = True
    carriage: Amount = Decimal(0)
    back: Amount | None = None
    back_until: date | None = None
    days: _Days = 7
    late_days: _Days | None = None
    fit_h: _Hours | None = None
    hours: _Hours = 0.0
    lacks: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=30)] = []
    grade: Annotated[str, Field(max_length=40)] = ""
    ref: Annotated[str, Field(max_length=40)] = ""
    note: _Text = ""
    by: Name


class ArrivalCheckPart(Record):
    """A check of what came: what was looked at, as the core's ``ArrivalRequest`` but for what the need knows, and its verdict."""

    checked_on: date
    after: Annotated[int, Field(ge=0, le=400)]
    asked: dict[str, Any]
    verdict: Annotated[str, OneOf(VERDICTS)]
    hours: _Hours = 0.0
    note: _Text = ""
    by: Name


class NeedPart(Record):
    """A need; ``repair``: its number, 0 for the vehicle; ``view`` "": not on a drawing; ``chosen``: number of the quote that was taken."""

    number: Number
    name: Annotated[str, Field(min_length=1, max_length=80)]
    repair: Annotated[int, Field(ge=0)] = 0
    quantity: Annotated[Decimal, Field(gt=0, max_digits=10, decimal_places=3)] = Decimal(1)
    hand: Literal["", "left", "right", "none"] = ""
    variant: Annotated[str, Field(max_length=200)] = ""
    sizes: Annotated[str, Field(max_length=200)] = ""
    kg: Annotated[float, Field(ge=0, le=1000)] = 0.0
    order: Annotated[int, Field(ge=0)] = 0
    needed_by: date | None = None
    view: Annotated[str, Field(max_length=20)] = ""
    at: Annotated[list[Coordinate], Field(max_length=2)] = []
    note: Annotated[str, Field(max_length=500)] = ""
    chosen: Annotated[int, Field(ge=1)] | None = None
    reason: _Text = ""
    by: Name
    file: Annotated[str, Field(max_length=80)] = ""
    steps: Annotated[list[NeedStepPart], Field(max_length=400)] = []
    quotes: Annotated[list[NeedQuotePart], Field(max_length=40)] = []
    checks: Annotated[list[ArrivalCheckPart], Field(max_length=100)] = []

    @property
    def caption(self) -> str:
        """What its photo shows."""
        return self.name
