"""Slots: one, or a rhythm of them; missed, deleted; and the limits of the plan."""

from collections.abc import Mapping, Sequence
from datetime import date, datetime, time, timedelta
from typing import Any

from django.utils import timezone

from yellow_sill.core.errors import BadField
from yellow_sill.core.order.asked import Slot, require_slots
from yellow_sill.core.order.work import LATEST_SPARK, require_limits, watch_of
from yellow_sill.core.said import Day, Said
from yellow_sill.web.frame.changes import create_all, one_change
from yellow_sill.web.shells.models import Vehicle

from .models import OrderLimits, WorkSlot

#: A rhythm is laid out for so many weeks at most; a vehicle has so many slots to come at most.
MOST_WEEKS, MOST_TO_COME = 104, 400


def as_core(slot: WorkSlot, latest_spark: time = LATEST_SPARK) -> Slot:
    """Args: latest_spark: of the vehicle's limits."""
    watch = watch_of(slot.begins_at, slot.ends_at, latest_spark)
    return Slot(begins=slot.begins_at, ends=slot.ends_at, hands=2 if slot.hands == 2 else 1, watch_min=watch)


def to_come(vehicle: Vehicle, now: datetime) -> list[WorkSlot]:
    """The slots that are not over. Args: now: the garage's own time."""
    return [
        slot for slot in vehicle.work_slots.filter(day__gte=now.date(), missed=False) if slot.ends_at > now
    ]


#: So far back it is asked what became of a slot, days.
ASKED_DAYS = 60


def gone_by(vehicle: Vehicle, now: datetime) -> list[WorkSlot]:
    """Slots of late in which nothing was written down and of which nobody has said that they were missed, the latest first."""
    first = now.date() - timedelta(days=ASKED_DAYS)
    worked = set(vehicle.work_entries.filter(worked_on__gte=first).values_list("worked_on", flat=True))
    past = vehicle.work_slots.filter(day__gte=first, day__lt=now.date(), missed=False).order_by("-day")
    return [slot for slot in past if slot.day not in worked]


@one_change
def add_slots(
    vehicle: Vehicle, days: Sequence[date], begins: time, ends: time, *, hands: int, note: str, by: str
) -> int:
    """Add a slot on each of these days; days on which one begins then already are left as they are. Returns how many are new.

    Raises: BadField: one across midnight or the change of the clocks, over another one, too many.
    """
    have = {(slot.day, slot.begins) for slot in vehicle.work_slots.all()}
    new = [
        WorkSlot(vehicle=vehicle, day=day, begins=begins, ends=ends, hands=hands, note=note, changed_by=by)
        for day in days
        if (day, begins) not in have
    ]
    if not new:
        raise BadField("A slot begins then already.", "begins", "Choose another day or time.")
    require_room(vehicle, new)
    create_all(new)
    return len(new)


def require_room(vehicle: Vehicle, new: Sequence[WorkSlot]) -> None:
    """Raises: BadField: a new slot over the change of the clocks or over another one, too many."""
    if not new:
        return
    for slot in new:
        _require_clock(slot)
    days = [slot.day for slot in new]
    old = vehicle.work_slots.filter(day__gte=min(days), day__lte=max(days))
    require_slots([as_core(slot) for slot in (*old, *new)])
    if vehicle.work_slots.filter(day__gte=min(days)).count() + len(new) > MOST_TO_COME:
        raise BadField(
            f"That is more than {MOST_TO_COME} slots to come.", "weeks", "Lay them out for fewer weeks."
        )


def _require_clock(slot: WorkSlot) -> None:
    """Raises: BadField where the slot ends before it begins, or the clocks are changed during it."""
    if slot.ends <= slot.begins:
        raise BadField(
            "A slot ends after it begins, on the same day.",
            "ends",
            "Of an evening past midnight make two slots.",
        )
    begins, ends = (timezone.make_aware(at) for at in (slot.begins_at, slot.ends_at))
    if begins.utcoffset() != ends.utcoffset():
        raise BadField(
            Said("On {day} the clocks are changed during this slot.", day=Day(slot.day)),
            "begins",
            "Let it begin after that.",
        )


def rhythm(first: date, weekday: int, weeks: int) -> list[date]:
    """The days of a weekday (0: Monday) from a day on."""
    start = first + timedelta(days=(weekday - first.weekday()) % 7)
    return [start + timedelta(weeks=n) for n in range(weeks)]


@one_change
def change_slot(slot: WorkSlot, values: Mapping[str, Any], *, version: int | None, by: str) -> None:
    """Raises: BadField as ``add_slots``; ChangedMeanwhile."""
    tried = WorkSlot(vehicle=slot.vehicle, **values)
    _require_clock(tried)
    others = slot.vehicle.work_slots.filter(day=tried.day).exclude(pk=slot.pk)
    require_slots([as_core(each) for each in (*others, tried)])
    slot.save_as(version, by, **values)


@one_change
def drop_slot(slot: WorkSlot, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    slot.require_version(version)
    slot.delete()


@one_change
def keep_limits(vehicle: Vehicle, values: Mapping[str, Any], *, version: int | None, by: str) -> OrderLimits:
    """Raises: BadField: above the rule without a reason; ChangedMeanwhile."""
    require_limits(values["open_areas"], values["longest_bare_h"], values["latest_spark"], values["why"])
    stored = OrderLimits.objects.filter(vehicle=vehicle).first()
    if stored is None:
        return OrderLimits.objects.create(vehicle=vehicle, changed_by=by, **values)
    stored.save_as(version, by, **values)
    return stored


def limits_of(vehicle: Vehicle) -> OrderLimits:
    """The limits, as they are by the rule where nobody said otherwise."""
    return OrderLimits.objects.filter(vehicle=vehicle).first() or OrderLimits(vehicle=vehicle, version=0)
