"""The settings book, stock and bottles, and hot work in a bundle."""

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import Field

from ..records import Record
from .bundle_base import Name, Number

_Words = Annotated[str, Field(max_length=300)]


class CouponPart(Record):
    number: Number
    process: Literal["mig", "tig", "spot", "braze"]
    joint: Literal["butt", "lap", "joggle", "plug"]
    thicknesses_mm: Annotated[list[Annotated[float, Field(gt=0, le=4)]], Field(min_length=1, max_length=5)]
    gap_mm: float | None = None
    wire_mm: float | None = None
    dials: dict[Annotated[str, Field(max_length=40)], Annotated[str, Field(max_length=40)]] = {}
    result: Literal["held", "failed", "blew", "cold"]
    note: _Words = ""
    made_on: date
    by: Name
    file: Annotated[str, Field(max_length=80)] = ""

    @property
    def caption(self) -> str:
        """What its photo shows."""
        return f"coupon {self.number}"


class BottlePart(Record):
    bar: Annotated[float, Field(ge=0, le=500)]
    on: date
    by: Name


class ShopPart(Record):
    welder: dict[str, float] = {}
    stock: dict[str, float] = {}
    bottle_l: float | None = None
    full_bar: float | None = None
    readings: Annotated[list[BottlePart], Field(max_length=2000)] = []


class HotWorkPart(Record):
    number: Number
    begun_at: datetime
    begun_by: Name
    ticks: list[Annotated[str, Field(max_length=20)]] = []
    moved: list[_Words] = []
    last_spark_at: datetime | None = None
    watched_by: Annotated[str, Field(max_length=150)] = ""
    watch_ended_at: datetime | None = None
    note: _Words = ""


class WeldingPart(Record):
    """What a vehicle's garage has to weld with, and when sparks flew."""

    coupons: Annotated[list[CouponPart], Field(max_length=400)] = []
    shop: ShopPart | None = None
    hot_works: Annotated[list[HotWorkPart], Field(max_length=5000)] = []
