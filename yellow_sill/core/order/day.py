"""A slot as it is worked: what must be ready before it, and how the shell is left at its end."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from ..said import Count, Day, Quoted, Said
from .work import MadeStep

#: What a kind of step wants at hand, in words.
WANTS = {
    "weld": "gas, wire and a clean earth",
    "cut": "discs, drills and a spot-weld cutter",
    "make": "steel, templates and the folder",
    "fit": "clamps and screws",
    "dress": "flap discs",
    "protect": "the product, at the warmth that it wants, and gloves and a mask",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class InSlot:
    """A step in a slot: whether all of it is in this slot, and for a cut until when its edges may stay bare (None: they are treated in it)."""

    step: MadeStep
    whole: bool
    bare_until: datetime | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class DayTold:
    """What must be ready, each in words; how the slot ends, and whether that is a safe state; None where nothing is planned in it."""

    ready: list[Said]
    end: Said
    safe: bool | None


def day_told(steps: Sequence[InSlot]) -> DayTold:
    """What a slot wants before, and how it ends.

    Args: steps: in the order of the plan.
    Source: trade rules (fire watch, nothing half tacked, no metal bare for longer than the rule); docs/methods.md section 6.
    """
    if not steps:
        return DayTold(ready=[], end=Said("Nothing is planned in it."), safe=None)
    ready: list[Said] = []
    if any(each.step.hands == 2 for each in steps):
        ready.append(Said("A second pair of hands."))
    for kind, words in WANTS.items():
        names = [each.step.name for each in steps if each.step.kind == kind]
        if names:
            ready.append(Said("For {name}: {words}.", name=Quoted(names[0]), words=Said(words)))
    if any(each.step.sparks for each in steps):
        ready.append(Said("Sparks fly: extinguisher, what burns out of the way, an hour's watch at the end."))
    ready += [
        Said("{what} must be there.", what=Quoted(each.step.waits)) for each in steps if each.step.waits
    ]
    return DayTold(ready=ready, **_end(steps))


def _end(steps: Sequence[InSlot]) -> dict:
    tacked = [
        each for n, each in enumerate(steps)
        if each.step.until and each.step.until not in {other.step.key for other in steps[n + 1 :]}
    ]  # fmt: skip
    if tacked:
        return {"safe": False, "end": Said("{name} is left without its check.", name=Quoted(tacked[0].step.name))}  # fmt: skip
    bare = [each for each in steps if each.bare_until]
    cut_through = [each for each in steps if each.step.sparks and not each.whole]
    if cut_through:
        return {"safe": False, "end": Said("{name} is left half done.", name=Quoted(cut_through[0].step.name))}  # fmt: skip
    last = steps[-1]
    end = (
        Said("It ends after {name}.", name=Quoted(last.step.name))
        if last.whole
        else Said("It ends within {name}, which may pause.", name=Quoted(last.step.name))
    )
    if bare:
        day = Day(min(each.bare_until for each in bare if each.bare_until).date())
        end = Said("{end} {count} stay bare: treat by {day}.", end=end, count=Count(len(bare), "cut's edges", "cuts' edges"), day=day)  # fmt: skip
    return {"safe": True, "end": end}
