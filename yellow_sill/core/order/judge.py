"""A plan held against the steps and slots as they are now: what of it is not so any more, in words."""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta

from ..said import Day, Quoted, Said
from .asked import Slot, Step

#: Pieces of a step in the plan: from, to.
Pieces = Sequence[tuple[datetime, datetime]]


def broken(steps: Sequence[Step], slots: Sequence[Slot], placed: Mapping[str, Pieces]) -> list[Said]:
    """What does not hold of a plan.

    Args: steps, slots: as they are now, those gone by too; placed: by step's key; a step that is not placed is not judged.
    Returns: a sentence for each rule that a step breaks: its minutes, its slot, hands, sparks before the fire watch, ties with their cures, windows,
        safe states, when its part is there.
    """
    by_key = {step.key: step for step in steps}
    found = []
    for step in steps:
        pieces = placed.get(step.key)
        if pieces:
            found += _where(step, pieces, slots)
            found += _when(step, by_key, placed)
    return found


def _where(step: Step, pieces: Pieces, slots: Sequence[Slot]) -> list[Said]:
    name, found = Quoted(step.name), []
    minutes = sum(((ends - begins) for begins, ends in pieces), timedelta()).total_seconds() / 60
    if step.minutes > minutes + 1:
        found.append(Said("{name} takes {minutes} min, in the plan it has {has:.0f}.", name=name, minutes=step.minutes, has=minutes))  # fmt: skip
    for begins, ends in pieces:
        slot = next((each for each in slots if each.begins <= begins and ends <= each.ends), None)
        if slot is None:
            found.append(Said("{name} has no slot on {day} any more.", name=name, day=Day(begins.date())))
            break
        if slot.hands < step.hands:
            found.append(Said("On {day} nobody helps with {name}.", name=name, day=Day(begins.date())))
        if step.sparks and ends > slot.ends - timedelta(minutes=slot.watch_min):
            found.append(Said("{name} makes sparks when no more may fly in its slot.", name=name))
    return found


def _when(step: Step, by_key: Mapping[str, Step], placed: Mapping[str, Pieces]) -> list[Said]:
    name, begins, found = Quoted(step.name), placed[step.key][0][0], []
    if step.not_before and begins < step.not_before:
        found.append(Said("What {name} waits for is not there before {day}.", name=name, day=Day(step.not_before.date())))  # fmt: skip
    for key in step.after:
        if key not in placed or key not in by_key:
            continue
        other, ends = by_key[key], placed[key][-1][1]
        if begins < ends:
            found.append(Said("{name} would begin before {other} is done.", name=name, other=Quoted(other.name)))  # fmt: skip
        elif begins < ends + timedelta(hours=other.cure_h):
            found.append(Said("{name} would begin before {other} has cured.", name=name, other=Quoted(other.name)))  # fmt: skip
    for key, hours in step.within_h.items():
        if key in placed and begins > placed[key][-1][1] + timedelta(hours=hours):
            found.append(Said("{name} comes too late after {other}.", name=name, other=Quoted(by_key[key].name)))  # fmt: skip
    if step.until in placed and placed[step.until][-1][1].date() != placed[step.key][-1][1].date():
        found.append(Said("{name} is left without {other}.", name=name, other=Quoted(by_key[step.until].name)))  # fmt: skip
    return found
