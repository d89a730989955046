"""The calendar as an iCalendar file: slots with their steps given out, slots read from somebody's own calendar."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from ..errors import BadField
from ..order.asked import LONGEST_SLOT_H, Slot
from ..said import Count, Said

#: A file may have so many bytes, events, and events that repeat; so many slots are taken from it; an event may name so many times of a day.
MOST_BYTES, MOST_EVENTS, MOST_REPEATS, MOST_SLOTS, MOST_TIMES = 5_000_000, 20_000, 200, 400, 12
#: Events that come oftener than by the day are no slots but a bomb.
TOO_OFTEN = ("SECONDLY", "MINUTELY", "HOURLY")


@dataclass(frozen=True, slots=True, kw_only=True)
class Given:
    """A slot to give out: what it is known by, the slot, the names of its steps, a word on it."""

    key: str
    slot: Slot
    steps: Sequence[str]
    note: str = ""


def plan_ics(slots: Sequence[Given], name: str, stamp: datetime) -> bytes:
    """The slots as events by the garage's own clock. Args: name: of the calendar; stamp: when it was made, with its zone."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Yellow Sill//plan//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for each in slots:
        event = Event()
        event.add("uid", f"{each.key}@yellow-sill")
        event.add("dtstamp", stamp)
        event.add("dtstart", each.slot.begins)
        event.add("dtend", each.slot.ends)
        first = each.steps[0] if each.steps else "nothing planned"
        more = f" and {len(each.steps) - 1} more" if len(each.steps) > 1 else ""
        event.add("summary", f"Garage: {first}{more}")
        event.add("description", "\n".join([*([each.note] if each.note else []), *each.steps]))
        calendar.add_component(event)
    return bytes(calendar.to_ical())


@dataclass(frozen=True, slots=True, kw_only=True)
class FromCalendar:
    """Slots that were read, in their order; what was left out and why, in words."""

    slots: list[Slot]
    left_out: list[Said]


def slots_from_ics(data: bytes, first: date, weeks: int, zone: str) -> FromCalendar:
    """The times of a calendar within some weeks, by the garage's own clock.

    Args: first: the day that it begins with; zone: the garage's time zone by name.
    Raises: BadField: not a calendar, too large, too many events, repeats that would never end (a bomb), no slot in it.
    """
    events = _events(data)
    garage, last = ZoneInfo(zone), first + timedelta(weeks=weeks)
    found: set[tuple[datetime, datetime]] = set()
    left = {"days": 0, "long": 0}
    for begins, ends in _times(events, first, last):
        if not isinstance(begins, datetime) or not isinstance(ends, datetime):
            left["days"] += 1
            continue
        start, end = (
            at.astimezone(garage).replace(tzinfo=None) if at.tzinfo else at for at in (begins, ends)
        )
        if (
            end <= start
            or (end - timedelta(microseconds=1)).date() != start.date()
            or end - start > timedelta(hours=LONGEST_SLOT_H)
        ):
            left["long"] += 1
        elif first <= start.date() < last:
            found.add((start, end))
    told = []
    if left["days"]:
        told.append(Said("{count} of whole days left out.", count=Count(left["days"], "event", "events")))
    if left["long"]:
        told.append(Said("{count} past midnight or without a length left out.", count=Count(left["long"], "event", "events")))  # fmt: skip
    slots, over = _apart(sorted(found))
    if over:
        told.append(Said("{count} over another one left out.", count=Count(over, "event", "events")))
    if not slots:
        raise BadField(
            "There is no evening or Saturday in this calendar for those weeks.", "file", "Choose another calendar, or more weeks."
        )  # fmt: skip
    return FromCalendar(slots=slots, left_out=told)


def _apart(times: Sequence[tuple[datetime, datetime]]) -> tuple[list[Slot], int]:
    slots: list[Slot] = []
    over = 0
    for begins, ends in times:
        if slots and begins < slots[-1].ends:
            over += 1
        else:
            slots.append(Slot(begins=begins, ends=ends))
    return slots, over


def _events(data: bytes) -> Any:
    """The calendar, looked over. Raises: BadField."""
    from icalendar import Calendar

    if len(data) > MOST_BYTES:
        raise BadField(
            Said("This file has {size:.0f} MB; a calendar may have {most:.0f}.", size=len(data) / 1e6, most=MOST_BYTES / 1e6),
            "file", "Give out only the garage's own calendar.",
        )  # fmt: skip
    if data.count(b"BEGIN:VEVENT") > MOST_EVENTS:
        raise BadField(Said("There are more than {most} events in it.", most=MOST_EVENTS), "file", "Give out fewer years.")  # fmt: skip
    try:
        calendar = Calendar.from_ical(data)
    except (ValueError, IndexError, KeyError, TypeError, AttributeError):
        raise BadField("This is no calendar file.", "file", "Choose a file that ends in .ics.") from None
    repeating = [event for event in calendar.walk("VEVENT") if "RRULE" in event or "RDATE" in event]
    if len(repeating) > MOST_REPEATS:
        raise BadField(Said("More than {most} events in it repeat.", most=MOST_REPEATS), "file", "Give out only the garage's own calendar.")  # fmt: skip
    for event in repeating:
        _require_tame(event)
    return calendar


def _require_tame(event: Any) -> None:
    """Raises: BadField for repeats that would never end."""
    rules = event.get("RRULE", [])
    for rule in rules if isinstance(rules, list) else [rules]:
        often = str((rule.get("FREQ") or [""])[0]).upper()
        times = 1
        for name in ("BYHOUR", "BYMINUTE", "BYSECOND"):
            times *= max(1, len(rule.get(name) or []))
        if often in TOO_OFTEN or times > MOST_TIMES:
            raise BadField("An event in it repeats many times a day: that is no slot.", "file", "Take that event out of the calendar.")  # fmt: skip


def _times(calendar: Any, first: date, last: date) -> list[tuple[Any, Any]]:
    """Begin and end of each event between two days. Raises: BadField."""
    import recurring_ical_events

    found: list[tuple[Any, Any]] = []
    try:
        for event in recurring_ical_events.of(calendar).between(
            datetime.combine(first, time()), datetime.combine(last, time())
        ):
            found.append(
                (event["DTSTART"].dt, event["DTEND"].dt if "DTEND" in event else event["DTSTART"].dt)
            )
    except (ValueError, TypeError, KeyError, OverflowError, AttributeError):
        raise BadField("An event in this calendar cannot be read.", "file", "Give it out anew.") from None
    if len(found) > MOST_TIMES * MOST_SLOTS:
        raise BadField(
            Said("That is more than {most} slots.", most=MOST_SLOTS), "file", "Choose fewer weeks."
        )
    return found
