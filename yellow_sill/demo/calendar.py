"""The calendar of the demo: eleven months of evenings and Saturdays gone by, some of them missed, thirty ahead, a helper on two, and a plan of them."""

from datetime import date, datetime, time, timedelta

from yellow_sill.core.order.asked import PlanRequest
from yellow_sill.core.order.plan import plan
from yellow_sill.web.order.models import WorkSlot, WorkTime
from yellow_sill.web.order.plan_services import as_answer, asked_of, take_plan
from yellow_sill.web.order.step_services import add_step, say_of_step
from yellow_sill.web.shells.models import Vehicle

from .made_up import OWNER

#: Saturdays from nine to two, Wednesday evenings; so many of each ahead, and which of the Saturdays have a helper.
SATURDAY, WEDNESDAY = (5, time(9), time(14)), (2, time(18, 30), time(21))
AHEAD, HELPED, PAST_DAYS = 15, (2, 6), 335
#: One slot of so many was missed, as a family has it.
MISSED_EVERY = 6


def calendar(vehicle: Vehicle, today: date) -> None:
    """Slots gone by with what was worked in them, slots ahead, and the plan."""
    entries = list(vehicle.work_entries.filter(worked_on__gte=today - timedelta(days=PAST_DAYS)))
    worked = {entry.worked_on for entry in entries}
    for n, day in enumerate(sorted(worked | _quiet(today, worked))):
        begins, ends = (time(9), time(14)) if day.weekday() >= 5 else (time(18), time(22))
        missed = day not in worked and n % MISSED_EVERY == 0
        if day in worked or missed:
            WorkSlot.objects.create(
                vehicle=vehicle, day=day, begins=begins, ends=ends, missed=missed, changed_by=OWNER
            )
    for entry in entries:
        begun = datetime.combine(entry.worked_on, time(9)).astimezone()
        WorkTime.objects.create(
            vehicle=vehicle, key=f"past-{entry.pk}", name=entry.note or entry.get_kind_display(), kind=entry.kind, begun_at=begun,
            repair=entry.repair.number if entry.repair else 0, minutes=entry.minutes, entry=entry, by=OWNER,
        )  # fmt: skip
    for weekday, begins, ends in (SATURDAY, WEDNESDAY):
        first = today + timedelta(days=1 + (weekday - today.weekday() - 1) % 7)
        for week in range(AHEAD):
            helped = weekday == SATURDAY[0] and week in HELPED
            WorkSlot.objects.create(
                vehicle=vehicle, day=first + timedelta(weeks=week), begins=begins, ends=ends, hands=2 if helped else 1,
                note="Teal helps" if helped else "", changed_by=OWNER,
            )  # fmt: skip
    turn = {"name": "Turn the bonnet over on its trestles", "kind": "fit", "minutes": 30, "repair": 0}
    add_step(vehicle, turn | {"hands": 2, "pauses": False}, today=today, by=OWNER)
    for need in vehicle.needs.filter(
        name="Seat frames recovered"
    ):  # not before the new year: the workshop is full
        say_of_step(
            vehicle,
            f"R0:book-{need.number}",
            {"not_before": f"{today + timedelta(40):%Y-%m-%d}T00:00:00"},
            today=today,
            by=OWNER,
        )
    told = plan(PlanRequest.read(asked_of(vehicle, datetime.combine(today, time(12)))[0]))
    take_plan(vehicle, as_answer(told), version=None, today=today, by=OWNER)


def _quiet(today: date, worked: set[date]) -> set[date]:
    """Saturdays gone by on which nothing was done."""
    first = today - timedelta(days=PAST_DAYS)
    days = {first + timedelta(days=n) for n in range(PAST_DAYS)}
    return {day for day in days if day.weekday() == 5} - worked
