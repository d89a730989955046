"""A heap of photos sorted into the work of their days; what is not sure is asked about, with the likeliest first."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Annotated

from pydantic import Field

from ..days import require_one_zone
from ..records import OneOf, Record
from ..repairs.ribbon import STATES
from ..said import Day, Said

#: So many days away work still says something of a photo; so long before it began and after it ended the clock of a step does.
NEAR_DAYS, NEAR_MIN = 21, 10.0
#: Photos that were taken this close to one another are of one thing.
BURST_MIN = 4.0
#: A camera that says a day before this one was never set, or so long before anything that is known here.
NEVER_SET, LONG_BEFORE = date(1995, 1, 1), timedelta(days=5 * 365)
#: A day of which nothing tells a repair's minutes counts as so many; a day so many days away counts half; a repair that was not under way then,
#: and one whose clock ran at another time of that day, count so little.
UNKNOWN_MIN, HALF_DAYS, UNLIKELY = 30.0, 3.0, 0.1
MOST_CHOICES = 4
_Repair = Annotated[int, Field(ge=0, le=100_000)]


class HeapPhoto(Record):
    """A photo: what it is known by, when it was taken by the camera's own clock (None: it does not say)."""

    key: Annotated[str, Field(min_length=1, max_length=80)]
    at: datetime | None = None


class DidOn(Record):
    """Work on a day: its repair (0: the whole vehicle), minutes (0: nobody knows), from when to when a clock ran."""

    repair: _Repair
    day: date
    minutes: Annotated[int, Field(ge=0, le=24 * 60)] = 0
    begins: datetime | None = None
    ends: datetime | None = None


class CameTo(Record):
    """A repair comes to a state of its ribbon."""

    repair: Annotated[int, Field(ge=1, le=100_000)]
    day: date
    state: Annotated[str, OneOf(STATES)]


class HeapRequest(Record):
    """Photos, what was done, how each repair went along its ribbon (in the order in which it was said), what day it is."""

    photos: Annotated[list[HeapPhoto], Field(max_length=5000)]
    done: Annotated[list[DidOn], Field(max_length=20_000)] = []
    states: Annotated[list[CameTo], Field(max_length=5000)] = []
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class Likely:
    """A repair that a photo may be of, its stage then ("": nobody knows), how likely as a share of those that were found."""

    repair: int
    stage: str
    share: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SortedPhoto:
    """Where a photo belongs: its day (None: nobody knows), its repair and stage where that is sure, else what it may be of; why, in words."""

    key: str
    day: date | None
    sure: bool
    repair: int
    stage: str
    likely: Sequence[Likely]
    why: Said


@dataclass(frozen=True, slots=True, kw_only=True)
class Heap:
    """All photos in the order of the request; how many are sure."""

    photos: list[SortedPhoto]
    sure: int
    words: Said


def sort_heap(request: HeapRequest) -> Heap:
    """Sort photos into the repairs that were worked on when they were taken.

    Args: request: see HeapRequest.
    Returns: sure only where the clock of one repair's step ran then and no other's, where one repair alone was worked on that day, or where a photo
    was taken within minutes of one of which that is known; anything else is asked about.
    Raises: BadField: times with and without a zone.
    Source: docs/methods.md section 14.
    """
    times = [("photos", each.at) for each in request.photos if each.at]
    times += [("done", at) for each in request.done for at in (each.begins, each.ends) if at]
    if times:
        require_one_zone(times, times[0][1])
    days = _Days(request)
    told = {each.key: days.sorted(each) for each in request.photos}
    _bursts(request.photos, told)
    found = [told[each.key] for each in request.photos]
    sure = sum(each.sure for each in found)
    return Heap(
        photos=found, sure=sure,
        words=Said("{sure} of {all} by what was done on their day; {asked} to be asked about.", sure=sure, all=len(found), asked=len(found) - sure),
    )  # fmt: skip


class _Days:
    """What was done on each day, and how each repair stood."""

    def __init__(self, request: HeapRequest) -> None:
        self.today, self.by_day, self.clocks = request.today, dict[date, dict[int, float]](), list[DidOn]()
        for each in request.done:
            self._add(each.day, each.repair, each.minutes or UNKNOWN_MIN)
            if each.begins and each.ends:
                self.clocks.append(each)
        self.states: dict[int, list[CameTo]] = {}
        for came in request.states:
            self.states.setdefault(came.repair, []).append(came)
            if came.state != STATES[0]:
                self._add(came.day, came.repair, 0.0)
        self.first = min(self.by_day, default=None)
        self.spans: dict[date, tuple[datetime, datetime]] = {}
        for at in (photo.at for photo in request.photos if photo.at):
            was = self.spans.get(at.date(), (at, at))
            self.spans[at.date()] = min(was[0], at), max(was[1], at)

    def _add(self, day: date, repair: int, minutes: float) -> None:
        here = self.by_day.setdefault(day, {})
        here[repair] = here.get(repair, 0.0) + minutes

    def sorted(self, photo: HeapPhoto) -> SortedPhoto:
        if photo.at is None:
            return _asked(photo.key, None, (), Said("The camera wrote no day into it."))
        day = photo.at.date()
        if day > self.today:
            return _asked(
                photo.key,
                None,
                (),
                Said("Its camera's clock was ahead: {day} is still to come.", day=Day(day)),
            )
        if day < NEVER_SET or (self.first and day < self.first - LONG_BEFORE):
            return _asked(
                photo.key, None, (), Said("Its camera's clock was not set: it says {day}.", day=Day(day))
            )
        ran = {each.repair for each in self.clocks if _ran(each, photo.at)}
        if len(ran) == 1 and (repair := ran.pop()):
            return self._sure(photo.key, day, repair, Said("the clock of its work ran"))
        here = self.by_day.get(day, {})
        if (
            len(here) == 1
            and (repair := next(iter(here)))
            and self._stage(repair, day)[1]
            and self._alone(day, here[repair])
        ):
            return self._sure(photo.key, day, repair, Said("nothing else was worked on that day"))
        if here:
            clocked = {each.repair for each in self.clocks if each.day == day}
            words = (
                Said("Several were worked on that day.") if len(here) > 1
                else Said("The photos of that day are further apart than the work that is written down.") if not self._alone(day, sum(here.values()))
                else Said("What was done that day is no repair's, or of one that was signed off.")
            )  # fmt: skip
            weighed = {
                repair: minutes * (UNLIKELY if repair in clocked else 1.0) for repair, minutes in here.items()
            }
            return _asked(photo.key, day, self._likely(weighed, day), words)
        near: dict[int, float] = {}
        for off in range(1, NEAR_DAYS + 1):
            for other in (day - timedelta(days=off), day + timedelta(days=off)):
                for repair, minutes in self.by_day.get(other, {}).items():
                    near[repair] = near.get(repair, 0.0) + max(minutes, 1.0) / 2 ** (off / HALF_DAYS)
        words = Said("Nothing is written down for {day}.", day=Day(day))
        return _asked(photo.key, day, self._likely(near, day), words)

    def _alone(self, day: date, minutes: float) -> bool:
        """Whether what is written down of a day is long enough for all the photos that were taken on it."""
        first, last = self.spans[day]
        return (last - first).total_seconds() / 60 <= minutes + NEAR_MIN

    def _sure(self, key: str, day: date, repair: int, why: Said) -> SortedPhoto:
        return SortedPhoto(
            key=key, day=day, sure=True, repair=repair, stage=self._stage(repair, day)[0], likely=(), why=why
        )

    def _likely(self, minutes: dict[int, float], day: date) -> list[Likely]:
        """Repairs by their minutes, those that were under way first."""
        found = {
            repair: max(each, 1.0) * (1.0 if self._stage(repair, day)[1] else UNLIKELY)
            for repair, each in minutes.items()
            if repair
        }
        whole = sum(found.values())
        ordered = sorted(found.items(), key=lambda each: (-each[1], each[0]))
        return [
            Likely(repair=repair, stage=self._stage(repair, day)[0], share=round(each / whole, 3))
            for repair, each in ordered[:MOST_CHOICES]
        ]

    def _stage(self, repair: int, day: date) -> tuple[str, bool]:
        """The state of a repair on a day, empty where it changed on that very day or nobody knows; whether it was under way then."""
        before = [each.state for each in self.states.get(repair, ()) if each.day < day]
        that_day = [each.state for each in self.states.get(repair, ()) if each.day == day]
        if not self.states.get(repair):
            return "", True
        if that_day:
            return "", True
        return (before[-1], before[-1] != STATES[-1]) if before else ("", False)


def _ran(work: DidOn, at: datetime) -> bool:
    near = timedelta(minutes=NEAR_MIN)
    return bool(work.begins and work.ends and work.begins - near <= at <= work.ends + near)


def _asked(key: str, day: date | None, likely: Sequence[Likely], why: Said) -> SortedPhoto:
    return SortedPhoto(key=key, day=day, sure=False, repair=0, stage="", likely=likely, why=why)


def _bursts(photos: Iterable[HeapPhoto], told: dict[str, SortedPhoto]) -> None:
    """What was taken within minutes of a photo that is sure belongs to it, where the sure ones on both sides agree."""
    dated = [(each.at, each) for each in photos if each.at and told[each.key].day]
    ordered = [each for _, each in sorted(dated, key=lambda pair: pair[0])]
    known = {each.key: told[each.key] for each in ordered if told[each.key].sure}
    for n, photo in enumerate(ordered):
        if photo.key in known:
            continue
        beside = [near for step in (-1, 1) if (near := _next_known(ordered, n, step, known))]
        repairs = {each.repair for each in beside}
        if len(repairs) == 1:
            was, like = told[photo.key], beside[0]
            told[photo.key] = SortedPhoto(
                key=photo.key, day=was.day, sure=True, repair=like.repair, stage=like.stage, likely=(), why=Said("it was taken within minutes of one of it")
            )  # fmt: skip


def _next_known(
    ordered: Sequence[HeapPhoto], n: int, step: int, known: dict[str, SortedPhoto]
) -> SortedPhoto | None:
    """The next photo on one side that is sure, each no more than a burst from the one before."""
    at = ordered[n].at
    for k in range(n + step, len(ordered) if step > 0 else -1, step):
        other = ordered[k].at
        if (
            at is None
            or other is None
            or abs((other - at).total_seconds()) > 60 * BURST_MIN
            or other.date() != at.date()
        ):
            return None
        if ordered[k].key in known:
            return known[ordered[k].key]
        at = other
    return None
