"""The calendar in a bundle: slots, words on steps, the plan, time that was worked, limits."""

from datetime import date, datetime, time
from typing import Annotated, Literal

from pydantic import Field

from ..errors import CoreError
from ..order.asked import MOST_STEPS, Key, Slot, require_slots
from ..order.work import LATEST_SPARK, LONGEST_BARE_H, OPEN_AREAS, Changed
from ..records import OneOf, Record
from ..repairs.hours import KINDS
from .bundle_base import BadBundle, Name


class SlotPart(Record):
    """A slot, by the garage's own clock."""

    day: date
    begins: time
    ends: time
    hands: Literal[1, 2] = 1
    missed: bool = False
    note: Annotated[str, Field(max_length=120)] = ""


class PlacedPart(Record):
    """A step in the plan, with its pieces (from, to)."""

    key: Key
    name: Annotated[str, Field(max_length=120)]
    begins: datetime
    ends: datetime
    pieces: Annotated[list[tuple[datetime, datetime]], Field(min_length=1, max_length=400)]
    repair: Annotated[int, Field(ge=0)] = 0
    cure_h: Annotated[float, Field(ge=0, le=2000)] = 0.0
    sparks: bool = False


class PlanPart(Record):
    """The plan that was taken."""

    placed: Annotated[list[PlacedPart], Field(max_length=MOST_STEPS)]
    finish: datetime | None = None
    bound: datetime | None = None
    taken_on: date


class TimePart(Record):
    """Time on a step; minutes None: it runs."""

    key: Key
    name: Annotated[str, Field(max_length=120)]
    repair: Annotated[int, Field(ge=0)] = 0
    kind: Annotated[str, OneOf(KINDS)]
    begun_at: datetime
    minutes: Annotated[int, Field(ge=1, le=1440)] | None = None
    by: Name


class LimitsPart(Record):
    open_areas: Annotated[int, Field(ge=1, le=50)] = OPEN_AREAS
    longest_bare_h: Annotated[float, Field(ge=1, le=2000)] = LONGEST_BARE_H
    latest_spark: time = LATEST_SPARK
    why: Annotated[str, Field(max_length=300)] = ""


class CalendarPart(Record):
    """The calendar of a vehicle."""

    slots: Annotated[list[SlotPart], Field(max_length=4000)] = []
    words: Annotated[list[Changed], Field(max_length=MOST_STEPS)] = []
    plan: PlanPart | None = None
    times: Annotated[list[TimePart], Field(max_length=60_000)] = []
    limits: LimitsPart | None = None


def check_calendar(calendar: CalendarPart) -> None:
    """Raises: BadBundle: slots over one another or across midnight, two words on one step."""
    try:
        slots = [
            Slot(begins=datetime.combine(each.day, each.begins), ends=datetime.combine(each.day, each.ends))
            for each in calendar.slots
        ]
        if slots:
            require_slots(slots)
    except CoreError as error:
        raise BadBundle(error.what, "vehicle.json: calendar.slots") from None
    keys = [word.key for word in calendar.words]
    if len(set(keys)) < len(keys):
        raise BadBundle("Two words on one step.", "vehicle.json: calendar.words")
