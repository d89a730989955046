"""A plan as a foreman makes it, slot by slot: of what can begin now the most urgent first. And the search over what counts as urgent."""

import math
import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from graphlib import TopologicalSorter

from .asked import TURN_MIN, PlanRequest, Room, Step, goes_on

#: So many plans are tried in a search, times steps; at least and at most so many.
TRIES, LEAST_TRIES, MOST_TRIES = 180_000, 120, 3000
#: How far urgency is drawn apart at the beginning, and in a step of the search (log); how many steps such a step touches; how often it begins anew.
WIDE, NEAR, SHARE, ANEW = 0.5, 2.5, 0.05, 0.1
SEED = 11
#: Nothing is begun for less at the end of a slot, min.
LEAST_PIECE = 10
#: Of plans that finish alike: what a turn of the shell counts beside an hour that an area is open.
TURN = 40


@dataclass(slots=True)
class Tried:
    """One plan: start of each step in time worked, the finish on the clock, slots' turns of the shell, those and the hours of open areas as one figure."""

    starts: list[int]
    finish: int
    turns: int
    cost: float


class Serial:
    """A request made ready for many plans."""

    def __init__(self, request: PlanRequest, rooms: Sequence[Room]) -> None:
        self.steps, self.rooms, self.open_areas = request.steps, rooms, request.open_areas
        at = {step.key: n for n, step in enumerate(self.steps)}
        first = min(slot.begins for slot in request.slots)
        self.before = [[at[key] for key in step.after] for step in self.steps]
        self.behind: list[list[int]] = [[] for _ in self.steps]
        for n, keys in enumerate(self.before):
            for other in keys:
                self.behind[other].append(n)
        self.until = [at[step.until] if step.until else -1 for step in self.steps]
        self.windows = [
            {at[key]: round(60 * hours) for key, hours in step.within_h.items()} for step in self.steps
        ]
        self.closes: list[list[tuple[int, int]]] = [[] for _ in self.steps]
        for n, windows in enumerate(self.windows):
            for other, minutes in windows.items():
                self.closes[other].append((n, minutes))
        self.there = [
            max(0, math.ceil((step.not_before - first).total_seconds() / 60)) if step.not_before else 0
            for step in self.steps
        ]
        self.cures = [round(60 * step.cure_h) for step in self.steps]
        #: Places of the steps, each after all that it waits for.
        self.order = list(TopologicalSorter(dict(enumerate(self.before))).static_order())
        self.tails = self._tails()
        self.parts: dict[int, int] = {}
        for step in self.steps:
            self.parts[step.area] = self.parts.get(step.area, 0) + 1

    def plan(
        self, urgency: Sequence[float], not_in: Mapping[int, int] | None = None, *, at_home: bool = False
    ) -> Tried | None:
        """The plan where the more urgent goes first; None where a step finds no place.

        Args: not_in: by step, the place of a slot before which it does not begin; at_home: those whose place it is go before others, however urgent.
        """
        return _Run(self, urgency, not_in or {}, at_home).done()

    def _tails(self) -> list[float]:
        """How much hangs on each step, min: itself, its cure, and the longest chain after it."""
        found = [0.0] * len(self.steps)
        for n in reversed(self.order):
            step = self.steps[n]
            found[n] = (
                step.minutes + 60 * step.cure_h + max((found[other] for other in self.behind[n]), default=0.0)
            )
        return found


class _Run:
    """One plan being made."""

    def __init__(
        self, serial: Serial, urgency: Sequence[float], not_in: Mapping[int, int], at_home: bool
    ) -> None:
        self.of, self.urgency, self.not_in, self.at_home = serial, urgency, not_in, at_home
        count = len(serial.steps)
        self.starts, self.ends = [-1] * count, [0] * count
        self.left = [len(keys) for keys in serial.before]
        self.ready = {n for n in range(count) if not self.left[n]}
        self.from_clock = list(serial.there)
        self.deadline = [math.inf] * count
        self.waiting = dict(serial.parts)
        self.opened: dict[int, int] = {}
        self.hours, self.turns, self.last = 0.0, 0, 0
        self.position, self.held = "", -1
        self.now = 0  # time worked up to which all is taken
        self.broken = False

    def done(self) -> Tried | None:
        for place, room in enumerate(self.of.rooms):
            self._fill(place, room)
            if self.broken:
                return None
            if not self.ready and all(start >= 0 for start in self.starts):
                return Tried(
                    starts=self.starts,
                    finish=self.last,
                    turns=self.turns,
                    cost=self.hours + TURN * self.turns,
                )
        return None

    def _fill(self, place: int, room: Room) -> None:
        """Put into a slot what goes into it."""
        self.now, self.turned = max(self.now, room.worked), 0
        end = room.worked + room.long
        stood = ""
        while self.now < end and not self.broken:
            best: tuple[tuple[float, ...], int, int] | None = None
            for n in self.ready:
                start = self._start(n, place, room, stood)
                if start is None:
                    continue
                rank = (
                    float(n != self.held),
                    float(start > self.now),
                    self.deadline[n],
                    float(start),
                    float(self.at_home and self.not_in.get(n) != place),
                    -self.urgency[n],
                )
                if best is None or rank < best[0]:
                    best = rank, n, start
            if best is None:
                break
            stood = self._put(best[1], best[2], room, stood)
        if self.held >= 0:
            self.broken = True

    def _start(self, n: int, place: int, room: Room, stood: str) -> int | None:
        """When a step may begin in a slot, in time worked; None where it may not."""
        of, step = self.of, self.of.steps[n]
        if room.hands < step.hands or self.not_in.get(n, 0) > place:
            return None
        if self.held >= 0 and n != self.held:
            return None
        if step.area and step.area not in self.opened and len(self.opened) >= of.open_areas:
            return None
        turn = TURN_MIN if stood and step.position and step.position != stood else 0
        start = max(self.now + turn, room.worked + self.from_clock[n] - room.clock)
        end = room.worked + room.long
        until = of.until[n]
        if until >= 0 and self.starts[until] < 0:
            other = of.steps[until]
            if self.left[until] > 1 or n not in of.before[until] or of.cures[n] or room.hands < other.hands:
                return None
            watch = room.watch if other.sparks else 0
            turn = TURN_MIN if step.position and other.position and other.position != step.position else 0
            if start + step.minutes + turn + other.minutes > end - watch:
                return None
        elif goes_on(step):
            enough = end - start >= min(LEAST_PIECE, step.minutes)
            return (
                start if enough and start + step.minutes <= of.rooms[-1].worked + of.rooms[-1].long else None
            )
        if start + step.minutes > end - (room.watch if step.sparks else 0):
            return None
        if of.closes[n] and not self._window(n, start + step.minutes - room.worked + room.clock):
            return None
        return start

    def _window(self, n: int, ended: int) -> bool:
        """Whether each step that has a window after this one can begin within it, once this one ends so."""
        of = self.of
        for other, minutes in of.closes[n]:
            step, ready = of.steps[other], max(ended + of.cures[n], self.from_clock[other])
            for room in of.rooms:
                start = max(room.clock, ready)
                if start > ended + minutes:
                    return False
                room_left = room.clock + room.long - (room.watch if step.sparks else 0) - start
                if room.hands >= step.hands and room_left >= (1 if goes_on(step) else step.minutes):
                    break
            else:
                return False
        return True

    def _put(self, n: int, start: int, room: Room, stood: str) -> str:
        """Put a step there; how the shell stands then."""
        of, step = self.of, self.of.steps[n]
        end = start + step.minutes
        self.starts[n], self.ends[n], self.now = start, end, end
        self.ready.discard(n)
        begins, ends = start - room.worked + room.clock, self._clock(end)
        self.broken = begins > self.deadline[n]
        self.last = max(self.last, ends)
        if step.position:
            self.turns += bool(stood and step.position != stood)
            stood = step.position
        self._area(step, begins, ends)
        self.held = of.until[n] if of.until[n] >= 0 and self.starts[of.until[n]] < 0 else -1
        for other in of.behind[n]:
            self.left[other] -= 1
            self.from_clock[other] = max(self.from_clock[other], ends + of.cures[n])
            if not self.left[other]:
                self.ready.add(other)
        for other, minutes in of.closes[n]:
            self.deadline[other] = min(self.deadline[other], ends + minutes)
        return stood

    def _area(self, step: Step, begins: int, ends: int) -> None:
        if not step.area:
            return
        self.opened.setdefault(step.area, begins)
        self.waiting[step.area] -= 1
        if not self.waiting[step.area]:
            self.hours += (ends - self.opened.pop(step.area)) / 60

    def _clock(self, worked: int) -> int:
        return clock_at(worked, self.of.rooms)


def clock_at(worked: int, rooms: Sequence[Room]) -> int:
    """The clock when so much is worked; an end of a slot is its own, not the next one's begin."""
    for room in rooms:
        if room.worked < worked <= room.worked + room.long:
            return room.clock + worked - room.worked
    return rooms[0].clock


def searched(request: PlanRequest, rooms: Sequence[Room], enough: int) -> Tried | None:
    """The best of many plans, by steps from the best so far; the same work finds the same plan.

    Args: enough: a finish on the clock, min, that cannot be beaten.
    Source: a serial schedule with keys drawn at random and improved (Kolisch and Hartmann, heuristics for project scheduling); docs/methods.md section 6.
    """
    serial, rng = Serial(request, rooms), random.Random(SEED)  # noqa: S311 - it draws plans
    best, keys = serial.plan(serial.tails), list(serial.tails)
    tries = min(MOST_TRIES, max(LEAST_TRIES, TRIES // len(request.steps)))
    for _ in range(tries):
        if best and best.finish <= enough and not best.cost:
            break
        tried_keys = (
            [key * math.exp(rng.gauss(0, WIDE)) for key in serial.tails]
            if best is None or rng.random() < ANEW
            else [key * math.exp(rng.gauss(0, NEAR)) if rng.random() < SHARE else key for key in keys]
        )
        tried = serial.plan(tried_keys)
        if tried and (best is None or (tried.finish, tried.cost) <= (best.finish, best.cost)):
            best, keys = tried, tried_keys
    return best


def used(starts: Mapping[str, int], steps: Sequence[Step], rooms: Sequence[Room]) -> int:
    """How many slots hold it all."""
    last = max(starts[step.key] + step.minutes for step in steps)
    return next((n + 1 for n, room in enumerate(rooms) if room.worked + room.long >= last), len(rooms))


def least_finish(request: PlanRequest, rooms: Sequence[Room]) -> int:
    """A finish on the clock, min, before which it cannot be done: all the work without a gap, and each chain by itself with its cures and parts."""
    serial = Serial(request, rooms)
    work = sum(step.minutes for step in serial.steps)
    end = rooms[-1].clock + rooms[-1].long
    bound = next((room.clock + work - room.worked for room in rooms if work <= room.worked + room.long), end)
    ends: dict[int, int] = {}
    for n in serial.order:
        ready = max([serial.there[n], *(ends[other] + serial.cures[other] for other in serial.before[n])])
        ends[n] = _soonest(serial.steps[n], ready, rooms)
    return min(end, max(bound, *ends.values()))


def _soonest(step: Step, ready: int, rooms: Sequence[Room]) -> int:
    """When a step would end at the soonest, on the clock, had it all slots to itself."""
    left = step.minutes
    for room in rooms:
        start = max(room.clock, ready)
        until = room.clock + room.long - (room.watch if step.sparks else 0)
        if room.hands < step.hands or start >= until:
            continue
        if goes_on(step):
            if left <= until - start:
                return start + left
            left -= until - start
        elif step.minutes <= until - start:
            return start + step.minutes
    return rooms[-1].clock + rooms[-1].long
