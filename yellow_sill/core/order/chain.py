"""What holds up what: from a step back to what it waits for, on to what waits for it, and the chain that sets the finish, in sentences."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field

from ..days import require_one_zone
from ..errors import BadField
from ..records import Record
from ..said import Count, Day, Quoted, Said
from .asked import Key, PlanRequest, require_plan


class PlacedAt(Record):
    """Where a step is in the plan: from, to."""

    begins: datetime
    ends: datetime


class ChainRequest(PlanRequest):
    """The steps and slots, where each step is in the plan, and the step asked for (empty: the last one)."""

    placed: dict[Key, PlacedAt]
    key: Annotated[str, Field(max_length=60)] = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Link:
    """A step, what it waits for (tie, cure, part, garage: another step is in hand till then; slot: it is the first in its slot, start) and since when."""

    key: str
    name: str
    kind: str
    by: str
    words: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Chain:
    """The step asked for, what it waits for, what waits for it (keys, all of them), and the links from the first to it that set when it ends."""

    key: str
    back: list[str]
    on: list[str]
    links: list[Link]
    words: Said


def chain(request: ChainRequest) -> Chain:
    """What a step waits for and what waits for it.

    Args: request: see ChainRequest.
    Raises: BadField, as a plan; a step that the plan does not have.
    Source: the binding predecessor of each step, backwards; docs/methods.md section 6.
    """
    require_plan(request)
    times = [("placed", at) for each in request.placed.values() for at in (each.begins, each.ends)]
    require_one_zone(times, request.slots[0].begins)
    steps = {step.key: step for step in request.steps}
    if missing := [key for key in steps if key not in request.placed]:
        raise BadField(Said("'{key}' is not in the plan.", key=Quoted(missing[0])), "placed", "Plan again.")
    key = request.key or max(steps, key=lambda each: request.placed[each].ends)
    if key not in steps:
        raise BadField(
            Said("'{key}' is not in the plan.", key=Quoted(key)), "key", "Choose a step of the plan."
        )
    after: dict[str, list[str]] = {}
    for step in request.steps:
        for other in step.after:
            after.setdefault(other, []).append(step.key)
    back = _reached(key, {step.key: step.after for step in request.steps})
    on = _reached(key, after)
    links = _links(request, key)
    name = steps[key].name
    ends = request.placed[key].ends
    words = Said(
        "{name} is done on {day}: {links} before it set that; {on} for it.",
        name=Quoted(name),
        day=Day(ends.date()),
        links=Count(len(links) - 1, "step", "steps"),
        on=Count(len(on), "step waits", "steps wait") if on else Said("nothing waits"),
    )
    return Chain(key=key, back=back, on=on, links=links, words=words)


def _reached(key: str, ways: dict[str, list[str]]) -> list[str]:
    found: list[str] = []
    todo = list(ways.get(key, []))
    while todo:
        each = todo.pop(0)
        if each not in found:
            found.append(each)
            todo += ways.get(each, [])
    return found


def _links(request: ChainRequest, key: str) -> list[Link]:
    """From the first step to this one, each with what it waits for."""
    found: list[Link] = []
    seen: set[str] = set()
    here: str | None = key
    while here and here not in seen:
        seen.add(here)
        link, here = _link(request, here)
        found.append(link)
    return found[::-1]


def _link(request: ChainRequest, key: str) -> tuple[Link, str | None]:
    steps = {step.key: step for step in request.steps}
    step, begins = steps[key], request.placed[key].begins
    slots: Sequence = sorted(request.slots, key=lambda slot: slot.begins)
    inside = next((n for n, slot in enumerate(slots) if slot.begins <= begins < slot.ends), 0)
    opens = slots[inside].begins

    def told(kind: str, by: str, words: Said) -> Link:
        return Link(key=key, name=step.name, kind=kind, by=by, words=words)

    name = Quoted(step.name)
    ready = [
        (request.placed[other].ends + timedelta(hours=steps[other].cure_h), other) for other in step.after
    ]
    latest = max(ready, default=None)
    # what makes it begin in this slot and not in the one before
    before = slots[inside - 1].ends if inside else slots[0].begins
    if step.not_before and step.not_before > before and (latest is None or step.not_before >= latest[0]):
        day = Day(step.not_before.date())
        return told(
            "part", "", Said("{name} waits for what it needs, there on {day}.", name=name, day=day)
        ), None
    if latest and latest[0] > before and steps[latest[1]].cure_h:
        wet = steps[latest[1]]
        words = (
            Said("{name} can be {days:g} days after {other}.", name=name, other=Quoted(wet.name), days=round(wet.cure_h / 24))
            if wet.apart
            else Said("{name} waits for {other} to cure, {hours:g} h.", name=name, other=Quoted(wet.name), hours=wet.cure_h)
        )  # fmt: skip
        return told("cure", wet.key, words), wet.key
    ahead = [
        other for other, at in request.placed.items() if other in steps and at.ends <= begins and other != key
    ]
    last = max(ahead, key=lambda other: request.placed[other].ends, default=None)
    if latest and (last is None or request.placed[latest[1]].ends >= request.placed[last].ends):
        other = latest[1]
        return told("tie", other, Said("{name} comes after {other}.", name=name, other=Quoted(steps[other].name))), other  # fmt: skip
    if last is not None:
        kind = "garage" if request.placed[last].ends > opens else "slot"
        return told(kind, last, Said("{name} waits until {other} is out of hand.", name=name, other=Quoted(steps[last].name))), last  # fmt: skip
    return told("start", "", Said("{name} can begin at once.", name=name)), None
