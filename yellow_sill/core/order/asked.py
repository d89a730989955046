"""What a plan is asked for: slots, steps and what ties them; and the refusals that a person understands."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from graphlib import CycleError, TopologicalSorter
from typing import Annotated, Literal

from pydantic import Field

from ..days import require_one_zone
from ..errors import BadField
from ..records import OneOf, Record
from ..said import Day, Listed, Quoted, Said
from ..weld.cautions import FIRE_WATCH_MIN

#: How the shell stands, in words; "": as it is.
POSITIONS = {
    "": "as it is", "wheels": "on its wheels", "stands": "on stands", "left": "tilted left", "right": "tilted right", "over": "upside down",
}  # fmt: skip
#: A change of the shell's position takes so long, min. Rule of thumb.
TURN_MIN = 30
MOST_STEPS, MOST_SLOTS, LONGEST_SLOT_H = 2500, 400, 16
Key = Annotated[str, Field(min_length=1, max_length=60)]
Minutes = Annotated[int, Field(ge=1, le=6000)]
Hours = Annotated[float, Field(ge=0, le=2000)]


class Slot(Record):
    """Time that a person has: from, to (the same day), how many hands there are, how long before its end sparks end, min (the fire watch, or longer)."""

    begins: datetime
    ends: datetime
    hands: Literal[1, 2] = 1
    watch_min: Annotated[int, Field(ge=FIRE_WATCH_MIN, le=24 * 60)] = FIRE_WATCH_MIN


class Step(Record):
    """A step of work.

    Attributes:
        key, name, repair (0: none); minutes; hands; sparks: nothing of it in the last hour of a slot; position: how the shell must stand.
        after: keys of what must be done before; cure_h: how long it cures before what comes after; within_h: by key of a step in ``after``, how long after
        that one it must have begun (a recoat window).
        pauses: it may go on in the next slot; until: the key of the step without which it may not be left at the end of a slot (a safe state).
        not_before: when what it needs is there (a part, a delivery); apart: its repair is not open by it (a call, a parcel).
    """

    key: Key
    name: Annotated[str, Field(min_length=1, max_length=120)]
    repair: Annotated[int, Field(ge=0, le=100_000)] = 0
    minutes: Minutes
    hands: Literal[1, 2] = 1
    sparks: bool = False
    position: Annotated[str, OneOf(POSITIONS)] = ""
    after: Annotated[list[Key], Field(max_length=40)] = []
    cure_h: Hours = 0.0
    within_h: dict[Key, Hours] = {}
    pauses: bool = False
    until: Annotated[str, Field(max_length=60)] = ""
    not_before: datetime | None = None
    apart: bool = False

    @property
    def area(self) -> int:
        """The repair that is open by it; 0: none."""
        return 0 if self.apart else self.repair


class PlanRequest(Record):
    """The steps that are open, the slots to come, how many areas may be open at once."""

    steps: Annotated[list[Step], Field(min_length=1, max_length=MOST_STEPS)]
    slots: Annotated[list[Slot], Field(min_length=1, max_length=MOST_SLOTS)]
    open_areas: Annotated[int, Field(ge=1, le=50)] = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """A slot on two axes, min: of the clock from the first slot's beginning, and of time worked, in which the slots follow one another without gaps."""

    clock: int
    worked: int
    long: int
    hands: int
    watch: int

    def holds(self, worked: int) -> bool:
        """Whether a moment of time worked lies in this slot; its end is the next one's."""
        return self.worked <= worked < self.worked + self.long


def require_plan(request: PlanRequest) -> None:
    """Look a request over.

    Raises: BadField: slots across midnight, of no length or over one another; a key twice or unknown; a loop, named in its order; a step that no slot holds.
    """
    require_slots(request.slots)
    keys = [step.key for step in request.steps]
    if len(set(keys)) < len(keys):
        twice = next(key for n, key in enumerate(keys) if key in keys[:n])
        raise BadField(Said("There are two steps '{key}'.", key=Quoted(twice)), "steps", "Give each its own.")
    known = set(keys)
    waits = [
        (f"steps[{n}].not_before", step.not_before) for n, step in enumerate(request.steps) if step.not_before
    ]
    require_one_zone(waits, request.slots[0].begins)
    for step in request.steps:
        for key in (*step.after, *step.within_h, *filter(None, [step.until])):
            if key not in known:
                raise BadField(
                    Said("{name} is tied to '{key}', which there is not.", name=Quoted(step.name), key=Quoted(key)), "after", "Untie it."
                )  # fmt: skip
        if unknown := [key for key in step.within_h if key not in step.after]:
            raise BadField(
                Said("{name} has a window after '{key}' but does not wait for it.", name=Quoted(step.name), key=Quoted(unknown[0])), "within_h",
                "Tie it to that step too.",
            )  # fmt: skip
    if loop := loop_of(request.steps):
        names = {step.key: step.name for step in request.steps}
        raise BadField(
            Said("These wait for one another in a ring: {names}.", names=Listed(tuple(Quoted(names[key]) for key in loop))), "after",
            "Untie one of them.",
        )  # fmt: skip
    _fitting(request)


def require_slots(slots: Sequence[Slot]) -> None:
    """Raises: BadField: one that ends before it begins, goes past midnight, or lies over another."""
    times = [(f"slots[{n}]", time) for n, slot in enumerate(slots) for time in (slot.begins, slot.ends)]
    require_one_zone(times, slots[0].begins)
    for slot in slots:
        if slot.ends <= slot.begins:
            raise BadField(Said("A slot on {day} ends before it begins.", day=Day(slot.begins.date())), "slots", "Correct its times.")  # fmt: skip
        last = (slot.ends - timedelta(microseconds=1)).date()
        if last != slot.begins.date() or slot.ends - slot.begins > timedelta(hours=LONGEST_SLOT_H):
            raise BadField(
                Said("A slot of {day} goes on past midnight.", day=Day(slot.begins.date())), "slots", "Make two of it, one for each day."
            )  # fmt: skip
    ordered = sorted(slots, key=lambda slot: slot.begins)
    for one, other in zip(ordered, ordered[1:], strict=False):
        if other.begins < one.ends:
            raise BadField(Said("Two slots of {day} lie over one another.", day=Day(one.begins.date())), "slots", "Make one of them.")  # fmt: skip


def _fitting(request: PlanRequest) -> None:
    for step in request.steps:
        rooms = [slot for slot in request.slots if slot.hands >= step.hands]
        if not rooms:
            raise BadField(
                Said("{name} takes two people, and in no slot is anybody else there.", name=Quoted(step.name)), "slots",
                "Ask a friend for one of them, and say so.",
            )  # fmt: skip
        longest = max(
            int((slot.ends - slot.begins).total_seconds() // 60) - (slot.watch_min if step.sparks else 0) for slot in rooms
        )  # fmt: skip
        if not goes_on(step) and step.minutes > longest:
            raise BadField(
                Said(
                    "{name} takes {minutes} min; the longest slot for it has {longest}.",
                    name=Quoted(step.name),
                    minutes=step.minutes,
                    longest=max(0, longest),
                ),
                "steps",
                "Split it, or let it pause.",
            )


def goes_on(step: Step) -> bool:
    """Whether it may go on in the next slot: sparks and two people are for one slot only."""
    return step.pauses and not step.sparks and step.hands == 1


def loop_of(steps: Sequence[Step]) -> list[str]:
    """The keys of a ring of steps that wait for one another, each for the next; nothing where there is none."""
    try:
        TopologicalSorter({step.key: step.after for step in steps}).prepare()
    except CycleError as ring:
        return list(reversed(ring.args[1][1:]))
    return []


def rooms_of(slots: Sequence[Slot]) -> list[Room]:
    """The slots in their order on both axes."""
    ordered = sorted(slots, key=lambda slot: slot.begins)
    first, worked, found = ordered[0].begins, 0, []
    for slot in ordered:
        long = int((slot.ends - slot.begins).total_seconds() // 60)
        clock = int((slot.begins - first).total_seconds() // 60)
        watch = min(long, slot.watch_min)
        found.append(Room(clock=clock, worked=worked, long=long, hands=slot.hands, watch=watch))
        worked += long
    return found
