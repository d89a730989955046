"""A plan as a good foreman makes it: whatever can begin soonest is next; of equals what most hangs on. Where the search begins."""

from collections.abc import Sequence
from datetime import datetime

from .asked import FIRE_WATCH_MIN, TURN_MIN, PlanRequest, Room, Step, goes_on


def greedy(request: PlanRequest, rooms: Sequence[Room]) -> dict[str, int] | None:
    """Start of each step in time worked; None where the slots do not suffice. Windows and safe states are tried for, not promised.

    Args: rooms: the slots on both axes.
    """
    by_key = {step.key: step for step in request.steps}
    tails = _tails(request.steps)
    first = min(slot.begins for slot in request.slots)
    waiting: dict[int, int] = {}
    for step in request.steps:
        waiting[step.repair] = waiting.get(step.repair, 0) + 1
    whole = dict(waiting)
    starts: dict[str, int] = {}
    ends: dict[str, int] = {}
    now, urgent = 0, ""
    while len(starts) < len(by_key):
        under_way = {repair for repair, left in waiting.items() if repair and 0 < left < whole[repair]}
        ready = [
            step for key, step in by_key.items()
            if key not in starts and all(other in starts for other in step.after)
            and (not step.repair or step.repair in under_way or len(under_way) < request.open_areas)
        ]  # fmt: skip
        placed = [
            (start, step)
            for step in ready
            if (start := _earliest(step, by_key, ends, rooms, now, first)) is not None
        ]
        if not placed:
            return None
        start, step = min(
            placed,
            key=lambda each: (
                each[1].key != urgent,
                each[0],
                -bool(each[1].within_h),
                -tails[each[1].key],
                each[1].key,
            ),
        )
        starts[step.key], now = start, start + step.minutes
        ends[step.key] = now
        waiting[step.repair] -= 1
        urgent = step.until if step.until and step.until not in starts else ""
    return starts


def _tails(steps: Sequence[Step]) -> dict[str, float]:
    """How much hangs on each step, min: itself, its cure, and the longest chain after it."""
    following: dict[str, list[str]] = {}
    for step in steps:
        for key in step.after:
            following.setdefault(key, []).append(step.key)
    by_key, found = {step.key: step for step in steps}, dict.fromkeys((step.key for step in steps), 0.0)
    left = {step.key: len(following.get(step.key, [])) for step in steps}
    free = [key for key, count in left.items() if count == 0]
    while free:
        key = free.pop()
        step = by_key[key]
        found[key] += step.minutes + 60 * step.cure_h
        for before in step.after:
            found[before] = max(found[before], found[key])
            left[before] -= 1
            if left[before] == 0:
                free.append(before)
    return found


def _earliest(
    step: Step,
    by_key: dict[str, Step],
    ends: dict[str, int],
    rooms: Sequence[Room],
    now: int,
    first: datetime,
) -> int | None:
    """The soonest start in time worked, not before now; None where no slot holds it."""
    ready = 0
    for key in step.after:
        if cure := by_key[key].cure_h:
            ready = max(ready, _clock(ends[key], rooms) + round(60 * cure))
    if step.not_before:
        ready = max(ready, int((step.not_before - first).total_seconds() // 60))
    with_it = by_key[step.until].minutes if step.until and step.until not in ends else 0
    for room in rooms:
        end = room.worked + room.long
        if end <= now or room.clock + room.long <= ready or room.hands < step.hands:
            continue
        start = max(now, room.worked, room.worked + ready - room.clock)
        turned = TURN_MIN if step.position else 0  # room to turn the shell once
        until = end - (FIRE_WATCH_MIN if step.sparks else 0)
        if goes_on(step):
            if start < end:
                return start if start + step.minutes <= rooms[-1].worked + rooms[-1].long else None
        elif start + step.minutes + with_it <= until - min(
            turned, max(0, room.long - step.minutes - (end - until))
        ):
            return start
    return None


def _clock(at: int, rooms: Sequence[Room]) -> int:
    """The clock when so much is worked; an end of a slot is its own, not the next one's begin."""
    for room in rooms:
        if room.worked < at <= room.worked + room.long:
            return room.clock + at - room.worked
    return rooms[0].clock


def used(starts: dict[str, int], steps: Sequence[Step], rooms: Sequence[Room]) -> int:
    """How many slots hold it all."""
    last = max(starts[step.key] + step.minutes for step in steps)
    return next((n + 1 for n, room in enumerate(rooms) if room.worked + room.long >= last), len(rooms))
