"""What the shell taught: planned against spent, where the hours went, how the bad metal grew, the person's pace by the season, settings that held."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from pydantic import Field

from ..records import OneOf, Record
from ..repairs.hours import KIND_WORDS, KINDS, clock
from ..said import Count, Said, first_low

#: A kind of work takes as long as planned where it is within this of it, a share.
AS_PLANNED = 0.15
#: From so many jobs on a pace by quarters of a year is told.
LEAST_QUARTERS = 2
_Minutes = Annotated[float, Field(ge=0, le=1_000_000)]


class Job(Record):
    """A kind of work of a repair that is done: what was planned and spent, min, and the day of its last hours."""

    repair: Annotated[int, Field(ge=0)]
    kind: Annotated[str, OneOf(KINDS)]
    planned: _Minutes
    spent: _Minutes
    ended: date


class Spent(Record):
    """Hours of a kind on a day, min."""

    day: date
    kind: Annotated[str, OneOf(KINDS)]
    minutes: Annotated[int, Field(ge=0, le=1440)]


class Grew(Record):
    """A finding that was opened: its area when it was first seen, and when it was opened or cut, mm²."""

    first_mm2: Annotated[float, Field(gt=0)]
    then_mm2: Annotated[float, Field(gt=0)]


class TaughtRequest(Record):
    """All that was done. ``forecast``: what the survey's forecast multiplies a closed finding by, as likely as not (None: it says nothing)."""

    jobs: Annotated[list[Job], Field(max_length=5000)] = []
    hours: Annotated[list[Spent], Field(max_length=60_000)] = []
    opened: Annotated[list[Grew], Field(max_length=5000)] = []
    forecast: Annotated[float, Field(gt=0, le=1000)] | None = None
    settings: Annotated[list[tuple[str, bool]], Field(max_length=1000)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class KindTold:
    """A kind of work: planned and spent over the jobs that are done, min, how many times as long it took, how many jobs."""

    kind: str
    planned: float
    spent: float
    times: float
    jobs: int


@dataclass(frozen=True, slots=True, kw_only=True)
class QuarterTold:
    """A quarter of a year: how many times as long as planned its jobs took."""

    begins: date
    times: float
    jobs: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Taught:
    """Each part with a sentence; a part of which nothing is known says so."""

    kinds: list[KindTold]
    kinds_words: Said
    went: list[tuple[str, int]]
    went_words: Said
    grew: float | None
    forecast: float | None
    grew_words: Said
    quarters: list[QuarterTold]
    quarters_words: Said
    settings_words: Said


def taught(request: TaughtRequest) -> Taught:
    """What can be learnt from what was done.

    Args: request: see TaughtRequest. Returns: see Taught.
    Source: sums; growth as the geometric mean of the ratios, as the survey's forecast has it; docs/methods.md section 14.
    """
    kinds, went = _kinds(request.jobs), _went(request.hours)
    quarters = _quarters(request.jobs)
    grew = _grew(request.opened)
    return Taught(
        kinds=kinds, kinds_words=_kinds_words(kinds), went=went, went_words=_went_words(went), grew=grew, forecast=request.forecast,
        grew_words=_grew_words(grew, len(request.opened), request.forecast), quarters=quarters, quarters_words=_quarters_words(quarters),
        settings_words=_settings_words(request.settings),
    )  # fmt: skip


def _kinds(jobs: Sequence[Job]) -> list[KindTold]:
    found = []
    for kind in KINDS:
        mine = [job for job in jobs if job.kind == kind and job.planned > 0 and job.spent > 0]
        if mine:
            planned, spent = sum(job.planned for job in mine), sum(job.spent for job in mine)
            found.append(
                KindTold(
                    kind=kind, planned=planned, spent=spent, times=round(spent / planned, 2), jobs=len(mine)
                )
            )
    return found


def _kinds_words(kinds: Sequence[KindTold]) -> Said:
    if not kinds:
        return Said("Nothing that was planned is done and logged yet.")
    others = [each for each in kinds if abs(each.times - 1) > AS_PLANNED]
    if not others:
        return Said("Every kind of work took about as long as it was planned.")
    worst = max(others, key=lambda each: abs(each.spent - each.planned))
    work = Said(first_low(KIND_WORDS[worst.kind]))
    if worst.times > 1:
        return Said(
            "{kind} took {times:.1f} times as long as planned, over {jobs}.",
            kind=work,
            times=worst.times,
            jobs=Count(worst.jobs, "repair", "repairs"),
        )
    return Said(
        "{kind} took {share:.0f} % of what was planned, over {jobs}.",
        kind=work,
        share=100 * worst.times,
        jobs=Count(worst.jobs, "repair", "repairs"),
    )


def _went(hours: Sequence[Spent]) -> list[tuple[str, int]]:
    sums: Counter[str] = Counter()
    for each in hours:
        sums[each.kind] += each.minutes
    return [(kind, spent) for kind, spent in sums.most_common() if spent]


def _went_words(went: Sequence[tuple[str, int]]) -> Said:
    if not went:
        return Said("No hours are written down yet.")
    every = sum(spent for _, spent in went)
    kind, spent = went[0]
    return Said(
        "Of {all} most went into: {kind}, {share:.0f} %.",
        all=clock(every),
        kind=Said(first_low(KIND_WORDS[kind])),
        share=100 * spent / every,
    )


def _grew(opened: Sequence[Grew]) -> float | None:
    """The geometric mean of how many times as large what was opened had become."""
    if not opened:
        return None
    product = 1.0
    for each in opened:
        product *= (each.then_mm2 / each.first_mm2) ** (1 / len(opened))
    return round(product, 2)


def _grew_words(grew: float | None, count: int, forecast: float | None) -> Said:
    if grew is None:
        return Said("No finding has been opened yet.")
    told = Said(
        "{count} opened: the bad metal was {times:.1f} times what was seen before",
        count=Count(count, "finding was", "findings were"),
        times=grew,
    )
    return told + (
        Said("; the forecast for what is still closed says {times:.1f}.", times=forecast)
        if forecast
        else Said(".")
    )


def _quarters(jobs: Sequence[Job]) -> list[QuarterTold]:
    by_quarter: dict[date, list[Job]] = {}
    for job in jobs:
        if job.planned > 0 and job.spent > 0:
            by_quarter.setdefault(date(job.ended.year, 3 * ((job.ended.month - 1) // 3) + 1, 1), []).append(
                job
            )
    return [
        QuarterTold(
            begins=begins,
            times=round(sum(job.spent for job in mine) / sum(job.planned for job in mine), 2),
            jobs=len(mine),
        )
        for begins, mine in sorted(by_quarter.items())
    ]


def _quarters_words(quarters: Sequence[QuarterTold]) -> Said:
    if len(quarters) < LEAST_QUARTERS:
        return Said("Not enough is done yet to say whether you have become quicker.")
    first, last = quarters[0].times, quarters[-1].times
    if abs(last / first - 1) <= AS_PLANNED:
        return Said("Your pace has stayed the same against what was planned.")
    if last < first:
        return Said(
            "You have become quicker: {first:.1f} times as long as planned at first, {last:.1f} now.",
            first=first,
            last=last,
        )
    return Said(
        "You take longer than at first: {first:.1f} times as long as planned then, {last:.1f} now.",
        first=first,
        last=last,
    )


def _settings_words(settings: Sequence[tuple[str, bool]]) -> Said:
    if not settings:
        return Said("No setting was tried on scrap yet.")
    held = sum(ok for _, ok in settings)
    return Said(
        "{held} of {all} held.",
        held=held,
        all=Count(len(settings), "setting that was tried on scrap", "settings that were tried on scrap"),
    )
