"""The bench in a bundle: steel in stock, cutting plans, sums that were kept."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field

from ..records import Point, Record
from .bundle_base import Name, Number

_Count = Annotated[int, Field(ge=0, le=1_000_000)]


class StockPart(Record):
    """A sheet or an offcut; by which plan it was left, and by which cut up (0: none)."""

    number: Number
    thickness_mm: Annotated[float, Field(gt=0, le=12)]
    length_mm: Annotated[float, Field(gt=0, le=6000)] | None = None
    width_mm: Annotated[float, Field(gt=0, le=6000)] | None = None
    outline: Annotated[list[Point], Field(max_length=2000)] = []
    coating: Annotated[str, Field(max_length=40)] = ""
    price: Annotated[Decimal, Field(ge=0, le=1_000_000, decimal_places=2)] | None = None
    supplier: Annotated[str, Field(max_length=80)] = ""
    place: Annotated[str, Field(max_length=60)] = ""
    from_plan: _Count = 0
    cut_by_plan: _Count = 0


class PlanPart(Record):
    """A cutting plan: what was asked and told of ``nest``; which patch each pattern is (repair's and cut's number)."""

    number: Number
    asked: dict[str, Any]
    told: dict[str, Any]
    patches: dict[str, dict[str, int]] = {}
    made_on: date
    cut_on: date | None = None


class SumPart(Record):
    """A sum of the bench: its kind, for what, and what was typed."""

    number: Number
    kind: Literal["shape", "pressed", "jig"]
    title: Name
    typed: dict[str, Any]


class BenchPart(Record):
    stock: Annotated[list[StockPart], Field(max_length=5_000)] = []
    plans: Annotated[list[PlanPart], Field(max_length=2_000)] = []
    sums: Annotated[list[SumPart], Field(max_length=2_000)] = []
