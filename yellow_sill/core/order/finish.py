"""When it will be done: the steps in their order through the slots, many times over, with what is not known drawn anew each time."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..parts.forecast import FIFTH
from ..records import Record
from ..said import Day, Quoted, Said, joined
from .asked import MOST_STEPS, Key, Minutes, Slot, require_slots

#: Draws; fixed seed, so that the same work has the same answer.
DRAWS, SEED = 2000, 20260311
#: How far a person's speed runs through all steps, as the correlation of any two; rule of thumb.
TOGETHER = 0.3
#: Slots missed of slots had, before anything is known: as much as so many slots.
MISSED, OF = 1.0, 6.0
#: Slots are taken to go on in their rhythm for so many years at most.
MOST_YEARS = 12


class FinishStep(Record):
    """A step in the order of the plan.

    Attributes:
        minutes, late_minutes: as likely as not, and exceeded once in five; after: keys of steps before it in the order that it waits for; cure_h: how
        long it cures before what comes after it; there, there_late: when its part is there, likely and once in five.
    """

    key: Key
    name: Annotated[str, Field(min_length=1, max_length=120)]
    minutes: Minutes
    late_minutes: Minutes | None = None
    after: Annotated[list[Key], Field(max_length=40)] = []
    cure_h: Annotated[float, Field(ge=0, le=2000)] = 0.0
    there: date | None = None
    there_late: date | None = None


class FinishRequest(Record):
    """Steps in their order, slots to come (they go on in the same rhythm), how many slots of the past were had and how many of those were missed."""

    steps: Annotated[list[FinishStep], Field(min_length=1, max_length=MOST_STEPS)]
    slots: Annotated[list[Slot], Field(min_length=1, max_length=400)]
    had: Annotated[int, Field(ge=0, le=10_000)] = 0
    missed: Annotated[int, Field(ge=0, le=10_000)] = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Delay:
    """A step whose spread moves the finish: its share of all that moves it."""

    key: str
    name: str
    share: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Finish:
    """The day by which it is done as likely as not, and four times in five; what delays most, the most first; the share of slots that will be missed."""

    likely: date
    late: date
    delays: list[Delay]
    missed: float
    words: Said


def finish(request: FinishRequest) -> Finish:
    """When it will be done.

    Args: request: see FinishRequest.
    Raises: BadField, as for a plan's slots; more missed than had; a late figure below its likely one; more work than slots of MOST_YEARS years hold.
    Source: lognormal minutes with a common part, missed slots by a beta prior, simulation; docs/methods.md section 6.
    """
    _require(request)
    rng = np.random.default_rng(SEED)
    slots = sorted(request.slots, key=lambda slot: slot.begins)
    first = slots[0].begins
    share = (request.missed + MISSED) / (request.had + OF)
    begins, longs = _going_on(slots, request, share)
    held = rng.random((DRAWS, len(begins))) >= share
    worked = np.cumsum(held * longs, axis=1)
    common = rng.standard_normal(DRAWS)
    worked_before, at = np.zeros(DRAWS), np.zeros(DRAWS)
    spread: dict[str, np.ndarray] = {}
    ends: dict[str, np.ndarray] = {}
    cured: dict[str, np.ndarray] = {}
    for step in request.steps:
        begins_at = worked_before
        for key in step.after:
            begins_at = np.maximum(begins_at, cured[key])
        if step.there:
            arrival = _arrival(step, first, rng)
            begins_at = np.maximum(begins_at, _worked_at(arrival, begins, longs, worked, held))
        took = step.minutes * np.exp(
            _log(step) * (math.sqrt(TOGETHER) * common + math.sqrt(1 - TOGETHER) * rng.standard_normal(DRAWS))
        )
        spread[step.key], ends[step.key] = took, begins_at + took
        worked_before = worked_before + took  # while it waits, others are worked on
        at = np.maximum(at, ends[step.key])
        cured[step.key] = ends[step.key]
        if step.cure_h:
            through = _clock_at(ends[step.key], begins, longs, worked) + 60 * step.cure_h
            cured[step.key] = np.maximum(ends[step.key], _worked_at(through, begins, longs, worked, held))
    done = _clock_at(at, begins, longs, worked)
    likely, late = (first + timedelta(minutes=float(np.quantile(done, part))) for part in (0.5, 0.8))
    delays = _delays(request, spread, at)
    return Finish(
        likely=likely.date(), late=late.date(), delays=delays, missed=round(share, 3), words=_words(likely, late, delays)
    )  # fmt: skip


def _require(request: FinishRequest) -> None:
    require_slots(request.slots)
    if request.missed > request.had:
        raise BadField("More slots were missed than there were.", "missed", "Count them again.")
    seen: set[str] = set()
    for step in request.steps:
        if step.key in seen or not seen.issuperset(step.after):
            what = Said("{name} is there twice, or comes before what it waits for.", name=Quoted(step.name))
            raise BadField(what, "steps", "Give each once, in the order of the plan.")
        seen.add(step.key)
        if step.late_minutes is not None and step.late_minutes < step.minutes:
            raise BadField(Said("{name}: late is less than likely.", name=Quoted(step.name)), "late_minutes", "Turn them round.")  # fmt: skip
        if step.there_late and (step.there is None or step.there_late < step.there):
            raise BadField(Said("{name}: its part comes late before it likely comes.", name=Quoted(step.name)), "there_late", "Turn them round.")  # fmt: skip


def _log(step: FinishStep) -> float:
    return math.log((step.late_minutes or step.minutes) / step.minutes) / FIFTH


def _going_on(slots: Sequence[Slot], request: FinishRequest, share: float) -> tuple[np.ndarray, np.ndarray]:
    """Begin and length of each slot, min from the first one on; the rhythm goes on in whole weeks until it holds far more than the work."""
    first = slots[0].begins
    begins = np.array([(slot.begins - first).total_seconds() / 60 for slot in slots])
    longs = np.array([(slot.ends - slot.begins).total_seconds() / 60 for slot in slots])
    week = 7 * 24 * 60
    round_ = math.ceil((begins[-1] + longs[-1]) / week) * week
    work = sum((step.late_minutes or step.minutes) for step in request.steps)
    waits = [(step.there_late or step.there) for step in request.steps if step.there]
    wait = 24.0 * 60 * max(((day - first.date()).days for day in waits), default=0)
    wait += 60 * sum(step.cure_h for step in request.steps)
    times = math.ceil(4 * work / max(1.0, longs.sum() * (1 - share)) + wait / round_) + 3
    if times * round_ > MOST_YEARS * 366 * 24 * 60:
        raise BadField(
            "At this pace it takes longer than anybody can tell.", "slots", "Give it more time a week."
        )
    return np.concatenate([begins + k * round_ for k in range(times)]), np.tile(longs, times)


def _clock_at(at: np.ndarray, begins: np.ndarray, longs: np.ndarray, worked: np.ndarray) -> np.ndarray:
    """The clock when so much is worked, in each draw."""
    place = np.minimum((worked < at[:, None] - 1e-9).sum(axis=1), len(begins) - 1)
    return begins[place] + longs[place] - (worked[np.arange(len(at)), place] - at)


def _worked_at(
    clock: np.ndarray, begins: np.ndarray, longs: np.ndarray, worked: np.ndarray, held: np.ndarray
) -> np.ndarray:
    """How much can be worked until a time on the clock, in each draw."""
    place = np.searchsorted(begins, clock, side="right") - 1
    rows = np.arange(len(clock))
    safe = np.maximum(place, 0)
    before = worked[rows, safe] - held[rows, safe] * longs[safe]
    inside = np.clip(clock - begins[safe], 0, longs[safe]) * held[rows, safe]
    return np.where(place < 0, 0.0, before + inside)


def _arrival(step: FinishStep, first: datetime, rng: np.random.Generator) -> np.ndarray:
    """When a step's part is there, min on the clock from the first slot on: late by a lognormal wait."""
    there = ((step.there or first.date()) - first.date()).days
    late = ((step.there_late or step.there or first.date()) - first.date()).days - there
    wait = late * np.exp(0.6 * (rng.standard_normal(DRAWS) - FIFTH)) if late else np.zeros(DRAWS)
    return 24 * 60 * (there + wait) - (first.hour * 60 + first.minute)


def _delays(request: FinishRequest, spread: dict[str, np.ndarray], at: np.ndarray) -> list[Delay]:
    """The steps whose minutes move the finish most."""
    whole = float(np.var(at))
    if whole <= 0:
        return []
    shares = {step.key: float(np.cov(spread[step.key], at)[0, 1]) / whole for step in request.steps}
    ordered = sorted(request.steps, key=lambda step: -shares[step.key])[:3]
    return [
        Delay(key=step.key, name=step.name, share=round(shares[step.key], 3))
        for step in ordered
        if shares[step.key] > 0.02
    ]


def _words(likely: datetime, late: datetime, delays: Sequence[Delay]) -> Said:
    parts: list[str] = [
        Said("As likely as not done by {likely}; four times in five by {late}.", likely=Day(likely.date()), late=Day(late.date()))
    ]  # fmt: skip
    if delays:
        parts.append(Said("What moves it most: {name}.", name=Quoted(delays[0].name)))
    return joined(parts)
