"""A plan again with least change: what is planned stays where it was, but what cannot; and a step put elsewhere, with what that does."""

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field

from ..days import require_one_zone
from ..errors import BadField
from ..records import Record
from ..said import Count, Day, Listed, Quoted, Said, joined
from .asked import Key, PlanRequest, Room, require_plan, rooms_of
from .plan import Plan, told_plan
from .serial import Serial, Tried, least_finish

#: So many plans are tried, times steps, at least and at most so many; how far the old order is drawn apart in them; as bad as a moved step: so much later, min.
TRIES, LEAST_TRIES, MOST_TRIES, DRAWN, DAYS_MIN = 6000, 20, 120, 0.15, 2 * 24 * 60
SEED = 5


class PutAt(Record):
    """A step and the beginning of the slot it is put into."""

    key: Key
    slot: datetime


class ReplanRequest(PlanRequest):
    """The steps and slots as they are now, when each step was to begin (``was``), and what is put elsewhere."""

    was: dict[Key, datetime]
    put: Annotated[list[PutAt], Field(max_length=40)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """A step that is in another slot than it was: from, to."""

    key: str
    name: str
    before: datetime
    after: datetime


@dataclass(frozen=True, slots=True, kw_only=True)
class Replan:
    """The plan again; what moved, what is new in it; where a step that was put somewhere went instead, in words; and what it all does, in words."""

    plan: Plan
    moved: list[Moved]
    new: list[str]
    instead: list[Said]
    words: Said


def replan(request: ReplanRequest) -> Replan:
    """The plan again, each step in the slot that it was in or, where that cannot be, in the next that holds it.

    Args: request: see ReplanRequest.
    Returns: where no such plan holds all, the plan has ``possible`` False and nothing moved.
    Raises: BadField, as a plan; a step put into a slot that there is not.
    Source: a serial schedule in the order of the old plan, none of its steps before its old slot; docs/methods.md section 6.
    """
    require_plan(request)
    rooms = rooms_of(request.slots)
    slots = sorted(request.slots, key=lambda slot: slot.begins)
    require_one_zone([("was", at) for at in request.was.values()], slots[0].begins)
    begins = [slot.begins for slot in slots]
    put = {}
    for each in request.put:
        if each.slot not in begins:
            raise BadField("There is no such slot.", "put", "Choose one of the slots.")
        put[each.key] = begins.index(each.slot)
    tried = _kept(request, rooms, _places(request, slots), put)
    if tried is None:
        nothing = Plan(
            placed=[], finish=None, bound=None, gap=1.0, proved=False, turns=0, possible=False, contradict=[],
            words=Said("The slots do not hold it all in this order: add slots, or plan anew."),
        )  # fmt: skip
        return Replan(plan=nothing, moved=[], new=[], instead=[], words=nothing.words)
    starts = {step.key: at for step, at in zip(request.steps, tried.starts, strict=True)}
    told = told_plan(request, rooms, starts, tried.finish, least_finish(request, rooms), tried.turns)
    return _told(request, told, rooms, {key: begins[place] for key, place in put.items()})


def _places(request: ReplanRequest, slots: Sequence) -> dict[str, int]:
    """The place of the slot that each step was in, or of the next one after it; a step nobody planned yet has none."""
    found = {}
    for step in request.steps:
        at = request.was.get(step.key)
        if at is not None:
            found[step.key] = next((n for n, slot in enumerate(slots) if slot.ends > at), len(slots) - 1)
    return found


def _kept(
    request: ReplanRequest, rooms: Sequence[Room], places: Mapping[str, int], put: Mapping[str, int]
) -> Tried | None:
    """Of plans that keep to the old places the one that moves the fewest steps; where no slot suffices so, the later ones are let go one after another."""
    serial, rng = Serial(request, rooms), random.Random(SEED)  # noqa: S311 - it draws plans
    index = {step.key: n for n, step in enumerate(request.steps)}
    order = {key: n for n, key in enumerate(sorted(request.was, key=lambda key: request.was[key]))}
    urgency = [
        float(2 * len(order)) if step.key in put else float(len(order) - order.get(step.key, len(order)))
        for step in request.steps
    ]
    home = {index[key]: place for key, place in {**places, **put}.items() if key in index}
    for last in (len(rooms), *range(len(rooms) - 1, -1, -max(1, len(rooms) // 8))):
        not_in = {n: min(place, last) for n, place in home.items()}
        not_in |= {index[key]: place for key, place in put.items() if key in index}
        found = []
        for k in range(max(LEAST_TRIES, min(MOST_TRIES, TRIES // len(request.steps)))):
            drawn = [each + rng.gauss(0, DRAWN * len(order)) for each in urgency] if k > 1 else urgency
            if tried := serial.plan(drawn, not_in, at_home=k % 2 == 1):
                moved = sum(not rooms[place].holds(tried.starts[n]) for n, place in home.items())
                found.append((moved + tried.finish / DAYS_MIN, k, tried))
                if not moved:
                    break
        if found:
            return min(found, key=lambda each: each[:2])[2]
    return None


def _told(request: ReplanRequest, told: Plan, rooms: Sequence[Room], put: Mapping[str, datetime]) -> Replan:
    first = min(slot.begins for slot in request.slots)

    def slot_of(at: datetime) -> datetime | None:
        return next(
            (first + timedelta(minutes=room.clock) for room in rooms
             if first + timedelta(minutes=room.clock) <= at < first + timedelta(minutes=room.clock + room.long)),
            None,
        )  # fmt: skip

    moved, new, instead = [], [], []
    for placed in told.placed:
        was, now = request.was.get(placed.key), slot_of(placed.begins)
        if was is None:
            new.append(placed.key)
        elif slot_of(was) != now:
            moved.append(Moved(key=placed.key, name=placed.name, before=was, after=placed.begins))
        if placed.key in put and put[placed.key] != now:
            instead.append(
                Said("{name} does not go there: it is on {day}.", name=Quoted(placed.name), day=Day(placed.begins.date()))
            )  # fmt: skip
    return Replan(
        plan=told, moved=moved, new=new, instead=instead, words=_words(request, told, moved, instead)
    )


def _words(request: ReplanRequest, told: Plan, moved: Sequence[Moved], instead: Sequence[Said]) -> Said:
    parts = list(instead)
    if moved:
        names = Listed(tuple(Quoted(each.name) for each in moved[:3]))
        more = Said(" and {count} more", count=len(moved) - 3) if len(moved) > 3 else ""
        count = Count(len(moved), "step is", "steps are")
        parts.append(Said("{count} in another slot: {names}{more}.", count=count, names=names, more=more))
    else:
        parts.append(Said("No step changes its slot."))
    was = max((request.was[each.key] for each in told.placed if each.key in request.was), default=None)
    if told.finish and was and told.finish.date() != was.date():
        parts.append(Said("Done by {now}, not {was}.", now=Day(told.finish.date()), was=Day(was.date())))
    elif told.finish:
        parts.append(Said("Done by {now}, as before.", now=Day(told.finish.date())))
    return joined(parts)
