"""The plan: every step in a slot, so that all is done soonest; the solver proves its bound, or says what contradicts what."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from ..said import Count, Day, Listed, Quoted, Said, joined
from .asked import (
    TURN_MIN,
    PlanRequest,
    Room,
    Step,
    goes_on,
    require_plan,
    rooms_of,
)
from .serial import TURN, Serial, Tried, least_finish, searched, used

#: The solver's own measure of work, about seconds; the same work finds the same plan. It is asked for so many steps at most: beyond, the search is ahead of it.
EFFORT, WHY_EFFORT, MOST_PROVED = 5.0, 1.0, 25
#: Of plans that finish at once: what an hour that an area is open counts.
OPEN_H = 1
#: Slots after the last one that a quick plan needs, in which the search may still look.
SPARE = 2
#: So many groups are looked at for a contradiction.
MOST_GROUPS = 24


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A step in the plan: from, to, and the pieces of it where it goes over several slots."""

    key: str
    name: str
    begins: datetime
    ends: datetime
    pieces: list[tuple[datetime, datetime]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """The plan in the order of the work.

    Attributes:
        placed; finish; bound: it cannot be done sooner; gap: between both, as a share of the time from the first slot on; proved; turns: slots in which the
        shell is turned; possible: False where there is none, and ``contradict`` says which things do not go together.
    """

    placed: list[Placed]
    finish: datetime | None
    bound: datetime | None
    gap: float
    proved: bool
    turns: int
    possible: bool
    contradict: list[Said]
    words: Said


def plan(request: PlanRequest, told: Callable[[float], Any] | None = None) -> Plan:
    """Put the steps into the slots.

    Args: request: see PlanRequest; told: called with how far it is, 0 to 1.
    Raises: BadField, as ``require_plan``.
    Source: one machine with calendar, time lags and open areas as a constraint program (OR-Tools CP-SAT); docs/methods.md section 6.
    """
    require_plan(request)
    rooms = rooms_of(request.slots)
    found = _solved(request, rooms, EFFORT, frozenset())
    if told:
        told(0.8)
    if found is None:
        contradict = _contradiction(request, rooms)
        return Plan(
            placed=[], finish=None, bound=None, gap=1.0, proved=False, turns=0, possible=False, contradict=contradict,
            words=Said("There is no such plan: {things} do not go together.", things=Listed(tuple(contradict)))
            if contradict
            else Said("No plan was found in the time; give it more slots, or fewer ties."),
        )  # fmt: skip
    return told_plan(request, rooms, *found)


def told_plan(
    request: PlanRequest, rooms: Sequence[Room], starts: Mapping[str, int], last: int, bound: int, turns: int
) -> Plan:
    """A plan from the start of each step in time worked, its finish and the bound of that on the clock, min, and the slots in which the shell is turned."""
    first = min(slot.begins for slot in request.slots)
    placed = sorted(
        (_placed(step, starts[step.key], rooms, first) for step in request.steps), key=lambda each: each.begins
    )  # fmt: skip
    finish, least = first + timedelta(minutes=last), first + timedelta(minutes=bound)
    gap = round(max(0, last - bound) / max(1, last), 4)
    sure = Said("it cannot be done sooner") if gap == 0 else Said("not before {day} in any case", day=Day(least.date()))  # fmt: skip
    words = Said(
        "{steps} done by {day}: {sure}.",
        steps=Count(len(placed), "step", "steps"),
        day=Day(finish.date()),
        sure=sure,
    )
    if turns:
        words = joined([words, Said("The shell is turned in {turns}.", turns=Count(turns, "slot", "slots"))])
    return Plan(
        placed=placed, finish=finish, bound=least, gap=gap, proved=gap == 0, turns=turns, possible=True, contradict=[], words=words
    )  # fmt: skip


def _placed(step: Step, start: int, rooms: Sequence[Room], first: datetime) -> Placed:
    """A step's times on the clock, from its start on the axis of time worked."""
    pieces, at, left = [], start, step.minutes
    for room in rooms:
        if left and room.holds(at):
            piece = min(left, room.worked + room.long - at)
            begins = first + timedelta(minutes=room.clock + at - room.worked)
            pieces.append((begins, begins + timedelta(minutes=piece)))
            at, left = at + piece, left - piece
    return Placed(key=step.key, name=step.name, begins=pieces[0][0], ends=pieces[-1][1], pieces=pieces)


class _Model:
    """The constraint program: for each step its start and end in time worked, the slots that hold them, and both on the clock."""

    def __init__(self, request: PlanRequest, rooms: Sequence[Room], without: frozenset[str]) -> None:
        from ortools.sat.python import cp_model

        self.cp: Any = cp_model.CpModel()
        self.solver_kind: Any = cp_model
        self.request, self.rooms, self.without = request, rooms, without
        self.whole = rooms[-1].worked + rooms[-1].long
        self.clock_end = rooms[-1].clock + rooms[-1].long
        self.start: dict[str, Any] = {}
        self.end: dict[str, Any] = {}
        self.in_slot: dict[str, list[Any]] = {}
        self.out_slot: dict[str, list[Any]] = {}
        self.begins: dict[str, Any] = {}
        self.ends: dict[str, Any] = {}
        for step in request.steps:
            self._step(step)
        self.cp.add_no_overlap([self._interval(step) for step in request.steps])
        for step in request.steps:
            self._ties(step)
        self._rooms_hold()
        self.turns = self._positions()
        self.spans = self._areas()
        self.last = self.cp.new_int_var(0, self.clock_end, "last")
        self.cp.add_max_equality(self.last, [self.ends[step.key] for step in request.steps])
        self.cp.add(self.last >= self._all_the_work())

    def _step(self, step: Step) -> None:
        key = step.key
        self.start[key] = self.cp.new_int_var(0, self.whole, f"start {key}")
        self.end[key] = self.cp.new_int_var(0, self.whole, f"end {key}")
        self.cp.add(self.end[key] == self.start[key] + step.minutes)
        into = [self.cp.new_bool_var(f"{key} in {n}") for n in range(len(self.rooms))]
        out = (
            [self.cp.new_bool_var(f"{key} out {n}") for n in range(len(self.rooms))]
            if goes_on(step)
            else into
        )
        self.in_slot[key], self.out_slot[key] = into, out
        self.cp.add_exactly_one(into)
        if out is not into:
            self.cp.add_exactly_one(out)
        for room, begun, ended in zip(self.rooms, into, out, strict=True):
            until = room.worked + room.long - (room.watch if step.sparks else 0)
            if room.hands < step.hands or until - room.worked < (1 if goes_on(step) else step.minutes):
                self.cp.add(begun == 0)
            self.cp.add(self.start[key] >= room.worked).only_enforce_if(begun)
            self.cp.add(self.start[key] < room.worked + room.long).only_enforce_if(begun)
            self.cp.add(self.end[key] > room.worked).only_enforce_if(ended)
            self.cp.add(self.end[key] <= until).only_enforce_if(ended)
        shifts = [room.clock - room.worked for room in self.rooms]
        self.begins[key] = self.start[key] + sum(shift * var for shift, var in zip(shifts, into, strict=True))
        self.ends[key] = self.end[key] + sum(shift * var for shift, var in zip(shifts, out, strict=True))

    def _interval(self, step: Step) -> Any:
        return self.cp.new_interval_var(self.start[step.key], step.minutes, self.end[step.key], step.key)

    def _ties(self, step: Step) -> None:
        by_key = {each.key: each for each in self.request.steps}
        for key in step.after:
            self.cp.add(self.start[step.key] >= self.end[key])
            if cure := by_key[key].cure_h:
                self.cp.add(self.begins[step.key] >= self.ends[key] + round(cure * 60))
        for key, hours in step.within_h.items():
            if f"window {step.key}" not in self.without:
                self.cp.add(self.begins[step.key] <= self.ends[key] + round(hours * 60))
        if step.until and f"safe {step.key}" not in self.without:
            for one, other in zip(self.out_slot[step.key], self.out_slot[step.until], strict=True):
                self.cp.add(one == other)
        if step.not_before and f"there {step.key}" not in self.without:
            first = min(slot.begins for slot in self.request.slots)
            self.cp.add(self.begins[step.key] >= max(0, int((step.not_before - first).total_seconds() // 60)))

    def _rooms_hold(self) -> None:
        """What follows from the rest, and helps the search: no slot holds more than its minutes, nor more sparks than before the fire watch."""
        whole = [step for step in self.request.steps if not goes_on(step)]
        for n, room in enumerate(self.rooms):
            self.cp.add(sum(step.minutes * self.in_slot[step.key][n] for step in whole) <= room.long)
            sparks = [step.minutes * self.in_slot[step.key][n] for step in whole if step.sparks]
            if sparks:
                self.cp.add(sum(sparks) <= max(0, room.long - room.watch))

    def _all_the_work(self) -> int:
        """The clock when all minutes would be worked without a gap: nothing is done sooner."""
        work = sum(step.minutes for step in self.request.steps)
        for room in self.rooms:
            if work <= room.worked + room.long:
                return room.clock + work - room.worked
        return self.clock_end

    def _positions(self) -> list[Any]:
        """Slots in which the shell is turned; each turn takes its time of the steps that do not go on."""
        wanted = sorted({step.position for step in self.request.steps if step.position})
        turns: list[Any] = []
        if len(wanted) < 2:
            return turns
        for n, room in enumerate(self.rooms):
            used = []
            for position in wanted:
                mine = [self.in_slot[step.key][n] for step in self.request.steps if step.position == position]
                stands = self.cp.new_bool_var(f"{position} {n}")
                self.cp.add_max_equality(stands, mine)
                used.append(stands)
            extra = self.cp.new_int_var(0, len(wanted) - 1, f"turns {n}")
            self.cp.add(extra >= sum(used) - 1)
            turns.append(extra)
            whole = [
                step.minutes * self.in_slot[step.key][n] for step in self.request.steps if not goes_on(step)
            ]
            self.cp.add(sum(whole) + TURN_MIN * extra <= room.long)
        return turns

    def _areas(self) -> list[Any]:
        """How long each repair is open, h; no more of them at once than may be."""
        by_repair: dict[int, list[str]] = {}
        for step in self.request.steps:
            if step.area:
                by_repair.setdefault(step.area, []).append(step.key)
        intervals, spans = [], []
        for repair, keys in by_repair.items():
            begun, ended = (
                self.cp.new_int_var(0, self.clock_end, f"{what} {repair}") for what in ("open", "shut")
            )
            self.cp.add_min_equality(begun, [self.begins[key] for key in keys])
            self.cp.add_max_equality(ended, [self.ends[key] for key in keys])
            long = self.cp.new_int_var(0, self.clock_end, f"long {repair}")
            self.cp.add(long == ended - begun)
            intervals.append(self.cp.new_interval_var(begun, long, ended, f"area {repair}"))
            hours = self.cp.new_int_var(0, self.clock_end // 60 + 1, f"hours {repair}")
            self.cp.add(60 * hours >= long)
            spans.append(hours)
        if len(intervals) > self.request.open_areas and "areas" not in self.without:
            self.cp.add_cumulative(intervals, [1] * len(intervals), self.request.open_areas)
        return spans

    def solved(self, what: Any, effort: float) -> Any:
        """The solver once it has made something as small as it could; None where it found nothing."""
        self.cp.minimize(what)
        solver = self.solver_kind.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.max_deterministic_time = effort
        solver.parameters.random_seed = 1
        state = solver.solve(self.cp)
        self.proved = state == self.solver_kind.OPTIMAL
        return solver if self.proved or state == self.solver_kind.FEASIBLE else None

    def begin_at(self, starts: Mapping[str, int]) -> None:
        """Let the search begin with these starts."""
        for step in self.request.steps:
            at = starts[step.key]
            self.cp.add_hint(self.start[step.key], at)
            for room, begun, ended in zip(
                self.rooms, self.in_slot[step.key], self.out_slot[step.key], strict=True
            ):
                self.cp.add_hint(begun, room.holds(at))
                if ended is not begun:
                    self.cp.add_hint(ended, room.worked < at + step.minutes <= room.worked + room.long)

    def keep(self, solver: Any) -> None:
        """Let the next search begin at what was found, and finish no later."""
        self.cp.add(self.last <= solver.value(self.last))
        self.cp.clear_hints()
        for var in (*self.start.values(), *(var for some in self.in_slot.values() for var in some)):
            self.cp.add_hint(var, solver.value(var))


def _solved(
    request: PlanRequest, rooms: Sequence[Room], effort: float, without: frozenset[str]
) -> tuple[dict[str, int], int, int, int] | None:
    """Starts in time worked, the finish and its bound on the clock, turns; None for no plan. First the finish, then turns and open areas."""
    least = least_finish(request, rooms)
    tried = None if without else searched(request, rooms, least)
    start = {step.key: at for step, at in zip(request.steps, tried.starts, strict=True)} if tried else None
    if tried and start and len(request.steps) > MOST_PROVED:
        return start, int(tried.finish), least, tried.turns
    model = _Model(request, rooms[: used(start, request.steps, rooms) + SPARE] if start else rooms, without)
    if start:
        model.begin_at(start)
    solver = model.solved(model.last, 0.6 * effort)
    if solver is None:
        return (start, int(tried.finish), least, tried.turns) if tried and start else None
    last = solver.value(model.last)
    if tried and start and tried.finish < last:
        return start, int(tried.finish), max(least, _bound(model, solver)), tried.turns
    bound = last if model.proved else min(last, max(least, _bound(model, solver)))
    if rest := [*(TURN * turn for turn in model.turns), *(OPEN_H * span for span in model.spans)]:
        model.keep(solver)
        solver = model.solved(sum(rest), 0.4 * effort) or solver
    found = [solver.value(model.start[step.key]) for step in request.steps]
    last, turns = solver.value(model.last), sum(solver.value(turn) for turn in model.turns)
    if (early := _to_the_left(request, rooms, found)) and early.finish <= last and early.turns <= turns:
        found, turns = early.starts, early.turns
    return {step.key: at for step, at in zip(request.steps, found, strict=True)}, last, bound, turns


def _to_the_left(request: PlanRequest, rooms: Sequence[Room], starts: Sequence[int]) -> Tried | None:
    """The same order in the same slots, each step as early in its slot as it may be: no time stands empty at the beginning."""
    places = {n: next(k for k, room in enumerate(rooms) if room.holds(at)) for n, at in enumerate(starts)}
    return Serial(request, rooms).plan([-float(at) for at in starts], places)


def _bound(model: _Model, solver: Any) -> int:
    return -int(-solver.best_objective_bound // 1)


def _contradiction(request: PlanRequest, rooms: Sequence[Room]) -> list[Said]:
    """Which things do not go together: those without any of which there would be a plan; the slots themselves where even all of them do not help."""
    groups: dict[str, Said] = {}
    names = {step.key: step.name for step in request.steps}
    if len({step.area for step in request.steps if step.area}) > request.open_areas:
        groups["areas"] = Said("at most {areas} open", areas=Count(request.open_areas, "area", "areas"))
    for step in request.steps:
        if step.within_h:
            groups[f"window {step.key}"] = Said("the window of {name}", name=Quoted(step.name))
        if step.until:
            groups[f"safe {step.key}"] = Said("{name} not left without {until}", name=Quoted(step.name), until=Quoted(names[step.until]))  # fmt: skip
        if step.not_before:
            groups[f"there {step.key}"] = Said("{name} not before {day}", name=Quoted(step.name), day=Day(step.not_before.date()))  # fmt: skip
    few = list(groups)[:MOST_GROUPS]
    slots = Said("the slots until {day}", day=Day(max(slot.ends for slot in request.slots).date()))
    if _solved(request, rooms, WHY_EFFORT, frozenset(few)) is None:
        return [slots, Said("the steps' own minutes, cures and ties")]
    kept: list[str] = list(few)
    for name in few:  # what can be left out and there is still none, is not to blame
        rest = [each for each in kept if each != name]
        if _solved(request, rooms, WHY_EFFORT, frozenset(few) - frozenset(rest)) is None:
            kept = rest
    return [slots, *(groups[name] for name in kept)]
