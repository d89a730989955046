"""The plan given out: a slot's card, the picture for the wall, the calendar as a file and under a secret address."""

import secrets
from datetime import date, datetime

from django.conf import settings
from django.utils import timezone

from yellow_sill.core.days import day_words
from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.ics import FromCalendar, Given, plan_ics, slots_from_ics
from yellow_sill.core.formats.plan_paper import Card, Span, slot_card, times_of, wall
from yellow_sill.web.frame.changes import create_all, one_change
from yellow_sill.web.shells.models import Vehicle

from .day_services import day_of
from .models import CalendarAddress, WorkSlot
from .plan_services import drawn, finish_of, plan_of
from .slot_services import as_core, require_room, to_come


def card_of(vehicle: Vehicle, now: datetime) -> bytes:
    """The card of the slot that is on, or of the next. Raises: BadField without a plan or a slot."""
    day = day_of(vehicle, now)
    plan = plan_of(vehicle)
    if day is None or plan is None:
        raise BadField("There is no plan with a slot to come.", "plan", "Make a plan first.")
    keys = {each.step.key for each in day.steps}
    placed = [each for each in plan.placed if each["key"] in keys]
    return slot_card(
        Card(
            vehicle=str(vehicle), title=f"{day_words(day.slot.day)}, {day.slot.begins:%H:%M} to {day.slot.ends:%H:%M}", slot=as_core(day.slot),
            drawn=drawn(placed), lines=[(times_of(each.begins, each.ends), each.step.said) for each in day.steps],
            ready=[str(each) for each in day.told.ready], end=str(day.told.end),
        )
    )  # fmt: skip


def wall_of(vehicle: Vehicle, today: date, sheet: str) -> bytes:
    """The picture for the wall. Args: sheet: a4 or a3. Raises: CoreError."""
    plan, told = plan_of(vehicle), finish_of(vehicle, today)
    ahead: dict[int, list[date]] = {}
    for each in plan.placed if plan else []:
        days = [datetime.fromisoformat(at).date() for at in (each["begins"], each["ends"])]
        ahead.setdefault(each["repair"], []).extend(days)
    worked: dict[int, list[date]] = {}
    for number, day in vehicle.work_entries.values_list("repair__number", "worked_on"):
        worked.setdefault(number or 0, []).append(day)
    rows = [
        (0, "The vehicle"),
        *((each.number, f"{each.code} {each.title}") for each in vehicle.repairs.all()),
    ]
    spans = [
        Span(name=name, worked=sorted(set(worked.get(n, []))), first=min(ahead.get(n, []), default=None), last=max(ahead.get(n, []), default=None))
        for n, name in rows
    ]  # fmt: skip
    return wall(str(vehicle), spans, today, told.likely if told else None, told.late if told else None, sheet)


def calendar_of(vehicle: Vehicle, now: datetime) -> bytes:
    """The slots to come with their steps, as an iCalendar file."""
    plan = plan_of(vehicle)
    pieces = [
        (datetime.fromisoformat(piece[0]), each["name"])
        for each in (plan.placed if plan else []) for piece in each["pieces"]
    ]  # fmt: skip
    given = [
        Given(
            key=f"slot-{slot.pk}", slot=as_core(slot), note=slot.note,
            steps=[name for begins, name in sorted(pieces) if slot.begins_at <= begins < slot.ends_at],
        )
        for slot in to_come(vehicle, now)
    ]  # fmt: skip
    return plan_ics(given, f"Garage: {vehicle}", timezone.now())


def address_of(vehicle: Vehicle) -> CalendarAddress | None:
    return CalendarAddress.objects.filter(vehicle=vehicle).first()


def new_address(vehicle: Vehicle) -> CalendarAddress:
    """A secret address for the calendar; one that was given out before ends."""
    CalendarAddress.objects.filter(vehicle=vehicle).delete()
    return CalendarAddress.objects.create(vehicle=vehicle, token=secrets.token_urlsafe(24))


def end_address(vehicle: Vehicle) -> None:
    CalendarAddress.objects.filter(vehicle=vehicle).delete()


@one_change
def take_calendar(
    vehicle: Vehicle, data: bytes, first: date, weeks: int, *, by: str
) -> tuple[int, FromCalendar]:
    """Take the times of a calendar as slots; those that are slots already stay as they are. Returns how many are new. Raises: BadField."""
    found = slots_from_ics(data, first, weeks, settings.TIME_ZONE)
    new = [
        WorkSlot(
            vehicle=vehicle, day=slot.begins.date(), begins=slot.begins.time(), ends=slot.ends.time(), changed_by=by
        )
        for slot in found.slots
    ]  # fmt: skip
    have = {(slot.day, slot.begins) for slot in vehicle.work_slots.filter(day__gte=first)}
    new = [slot for slot in new if (slot.day, slot.begins) not in have]
    require_room(vehicle, new)
    create_all(new)
    return len(new), found
