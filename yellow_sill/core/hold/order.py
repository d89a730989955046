"""In which order to take things out and put them back: the worst moment as good as it can be."""

import heapq
from collections.abc import Callable, Sequence
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Said
from .asked import HoldRequest, Name, Part
from .checked import check_searchable
from .dominance import NEW, OLD, OUT, Solved, State, ranked
from .ordered import Order, OrderPlan, OrderStep, Walked, order_sentences
from .staged import Staged
from .verdict import LIMITS, Judge, verdict_of

#: How many half-done orders are followed at once; at most so many jobs are searched exactly.
BEAM, EXACT_JOBS = 5, 6
MOST_JOBS = 14


class Job(Record):
    """Parts that come out together and go in new together."""

    id: Name
    parts: Annotated[list[Name], Field(min_length=1, max_length=40)]


class OrderRequest(HoldRequest):
    """A structure, the jobs, and what lies under what: [x, y] means x lies under y. ``braces`` are fitted throughout.

    ``closes``: [x, y] means that y, once it is new, closes the way to x: y goes in only after x is new.

    ``own_order`` is the person's: job ids with - (out) or + (new in) before them.
    """

    jobs: Annotated[list[Job], Field(min_length=1, max_length=MOST_JOBS)]
    rules: Annotated[
        list[Annotated[list[Name], Field(min_length=2, max_length=2)]], Field(max_length=60)
    ] = []
    closes: Annotated[
        list[Annotated[list[Name], Field(min_length=2, max_length=2)]], Field(max_length=60)
    ] = []
    own_order: Annotated[list[str], Field(max_length=2 * MOST_JOBS)] | None = None


class Cancelled(Exception):
    """The person asked to stop; nothing is wrong."""


def removal_order(
    request: OrderRequest, progress: Callable[[float], None] = lambda _share: None
) -> OrderPlan:
    """Search the order in which jobs are taken out and put back.

    Args: request: see OrderRequest; progress: called with the share done, 0 to 1; it may raise Cancelled.
    Returns: the best order found, a bound, the person's own order in comparison.
    Raises: BadField: an unknown part or job, rules in a circle, an own order that breaks a rule; Cancelled.
    Source: beam search with a lower bound, Dijkstra where small; docs/methods.md section 9.
    """
    check_searchable(request)
    return Search(Judge(request), request, progress).plan()


def walked(judge: Judge, request: OrderRequest) -> Walked:
    """Go through the person's own order without searching for another.

    Raises: BadField: as ``removal_order``; an order that leaves a job undone.
    """
    search = Search(judge, request, lambda _share: None)
    start = (OLD,) * len(search.jobs)
    path = search.own(start)
    if not path or path[-1][1] != (NEW,) * len(search.jobs):
        undone = next(name for i, name in enumerate(search.jobs) if not path or path[-1][1][i] != NEW)
        raise BadField(
            Said("{undone} is not new at the end of this order.", undone=undone),
            "own_order",
            "Every part comes out once and goes in once.",
        )
    j = search.j(start)
    return Walked(
        order=search.order(path),
        start_j=round(j, 3),
        start_verdict=verdict_of(j, 0),
        lower_bound=round(search.bound(), 3),
    )


class Search:
    """States of the jobs with their J, each solved once."""

    def __init__(self, judge: Judge, request: OrderRequest, progress: Callable[[float], None]) -> None:
        self.judge, self.request, self.progress = judge, request, progress
        self.jobs = [job.id for job in request.jobs]
        if len(set(self.jobs)) < len(self.jobs):
            raise BadField("Two jobs bear the same name.", "jobs", "Give each its own.")
        taken: dict[str, str] = {}
        for i, job in enumerate(request.jobs):
            for part in job.parts:
                if part not in request.parts:
                    raise BadField(
                        Said("Job {id}: there is no part {part}.", id=job.id, part=part),
                        f"jobs[{i}].parts",
                        "Check the name.",
                    )
                if taken.setdefault(part, job.id) != job.id:
                    raise BadField(
                        Said(
                            "Part {part} belongs to {taken} and to {id}.",
                            part=part,
                            taken=taken[part],
                            id=job.id,
                        ),
                        f"jobs[{i}].parts",
                        "A part is in one job only.",
                    )
        self.over: dict[int, list[int]] = {i: [] for i in range(len(self.jobs))}
        for i, (under, over) in enumerate(request.rules):
            for name in (under, over):
                if name not in self.jobs:
                    raise BadField(
                        Said("There is no job {name}.", name=name), f"rules[{i}]", "Check the name."
                    )
            self.over[self.jobs.index(under)].append(self.jobs.index(over))
        for i in range(len(self.jobs)):
            if i in self._all_over(i):
                raise BadField(
                    Said("{jobs} lies under itself by these rules.", jobs=self.jobs[i]),
                    "rules",
                    "Take one of them out.",
                )
        self.first: dict[int, list[int]] = {i: [] for i in range(len(self.jobs))}
        for i, (first, then) in enumerate(request.closes):
            for name in (first, then):
                if name not in self.jobs:
                    raise BadField(
                        Said("There is no job {name}.", name=name), f"closes[{i}]", "Check the name."
                    )
            if first == then:
                raise BadField(
                    Said("{first} cannot close itself.", first=first), f"closes[{i}]", "Take this rule out."
                )
            self.first[self.jobs.index(then)].append(self.jobs.index(first))
        self.known = Solved(self._solved)

    def _all_over(self, i: int) -> set[int]:
        seen: set[int] = set()
        waiting = list(self.over[i])
        while waiting:
            k = waiting.pop()
            if k not in seen:
                seen.add(k)
                waiting += self.over[k]
        return seen

    def parts(self, state: State) -> dict[str, Part]:
        parts = dict(self.request.parts)
        for job, how in zip(self.request.jobs, state, strict=True):
            for name in job.parts:
                if how == OUT:
                    parts[name] = parts[name].model_copy(update={"present": False})
                elif how == NEW:
                    parts[name] = Part(thickness_mm=parts[name].thickness_mm)
        return parts

    def _solved(self, state: State) -> float:
        return float(self.judge.number(self.judge.solved(self.parts(state), self.request.braces))[0])

    def j(self, state: State) -> float:
        return self.known.j(state)

    def steps(self, state: State) -> list[tuple[str, State]]:
        """What may be done next: x out only while what lies over it is out; y in only after all under it is new."""
        out = []
        for i, how in enumerate(state):
            if how == OLD and all(state[k] == OUT for k in self.over[i]):
                out.append((f"-{self.jobs[i]}", (*state[:i], OUT, *state[i + 1 :])))
            elif how == OUT and all(
                state[k] == NEW for k in range(len(state)) if i in self.over[k] or k in self.first[i]
            ):
                out.append((f"+{self.jobs[i]}", (*state[:i], NEW, *state[i + 1 :])))
        return out

    def plan(self) -> OrderPlan:
        start = (OLD,) * len(self.jobs)
        bound = self.bound()
        exact = len(self.jobs) <= EXACT_JOBS
        path = self._dijkstra(start) if exact else self._beam(start)
        found = self.order(path)
        own = self.order(self.own(start)) if self.request.own_order is not None else None
        worst = max(found.worst_j, self.j(start))
        gap = worst / max(bound, self.j(start)) - 1
        proved = (
            "the best there is, by exact search"
            if exact
            else "the best there is"
            if gap < 0.005
            else Said("within {gap:.0f} % of what is possible", gap=gap * 100)
        )
        return OrderPlan(
            found=found,
            own=own,
            lower_bound=round(bound, 3),
            proved=proved,
            states_solved=len(self.known),
            start_j=round(self.j(start), 3),
            sentences=order_sentences(found, own, proved),
            limits=LIMITS,
        )

    def bound(self) -> float:
        """The worst of all jobs' own bounds."""
        return max(self._bound(i) for i in range(len(self.jobs)))

    def _bound(self, i: int) -> float:
        """No order is better than this: the job out, with what must be out over it, while all else is new."""
        out = {i, *self._all_over(i)}
        return self.j(tuple(OUT if k in out else NEW for k in range(len(self.jobs))))

    def _beam(self, start: State) -> list[tuple[str, State]]:
        front: list[tuple[float, float, list]] = [(0.0, 0.0, [("", start)])]
        total = 2 * len(self.jobs)
        for done in range(total):
            ways: dict[State, list[tuple[float, float, list]]] = {}
            for worst, summed, path in front:
                for action, state in self.steps(path[-1][1]):
                    ways.setdefault(state, []).append((worst, summed, [*path, (action, state)]))
            best = self._best(ways)
            if not best:
                raise BadField(
                    "By these rules the jobs cannot all be done.", "rules", "Take one of them out."
                )
            front = best
            self.progress((done + 1) / total)
        return front[0][2][1:]

    def _best(self, ways: dict[State, list[tuple[float, float, list]]]) -> list[tuple[float, float, list]]:
        """The ways that go on: least worst J, of those the least sum. States that cannot be among them are not solved."""

        def after(state: State, j: float) -> tuple[float, float, list[str], int]:
            return min(
                (max(worst, j), summed + j, [action for action, _ in path], nth)
                for nth, (worst, summed, path) in enumerate(ways[state])
            )

        return [
            (worst, summed, ways[state][nth][2])
            for (worst, summed, _, nth), state in ranked(list(ways), after, BEAM, self.known)
        ]

    def _dijkstra(self, start: State) -> list[tuple[str, State]]:
        """The exact way: least worst J, of those the least sum."""
        goal = (NEW,) * len(self.jobs)
        queue: list[tuple[float, float, tuple[str, ...], State]] = [(0.0, 0.0, (), start)]
        done: set[State] = set()
        came: dict[State, tuple[State, str]] = {}
        best = {start: (0.0, 0.0)}
        while queue:
            worst, summed, _, state = heapq.heappop(queue)
            if state in done:
                continue
            done.add(state)
            self.progress(min(0.99, len(done) / 3 ** len(self.jobs)))
            if state == goal:
                path = []
                while state != start:
                    state, action = came[state]
                    path.append(action)
                return self._walked(start, path[::-1])
            for action, there in self.steps(state):
                j = self.j(there)
                key = (max(worst, j), summed + j)
                if there not in best or key < best[there]:
                    best[there] = key
                    came[there] = (state, action)
                    heapq.heappush(queue, (*key, (action,), there))
        raise BadField("By these rules the jobs cannot all be done.", "rules", "Take one of them out.")

    def _walked(self, start: State, actions: Sequence[str]) -> list[tuple[str, State]]:
        path, state = [], start
        for number, action in enumerate(actions):
            there = dict(self.steps(state)).get(action)
            if there is None:
                what = Said(
                    "'{action}' cannot be done as step {number}.", action=action[:20], number=number + 1
                )
                raise BadField(
                    what,
                    f"own_order[{number}]",
                    "What lies over a part comes out before it; what lies under or behind it goes in first.",
                )
            path.append((action, there))
            state = there
        return path

    def own(self, start: State) -> list[tuple[str, State]]:
        """The person's own order with its states. Raises: BadField at the step that breaks a rule."""
        return self._walked(start, self.request.own_order or ())

    def order(self, path: list[tuple[str, State]]) -> Order:
        """An order from its path: each step's verdict, and what stays bent at the end."""
        worst = max((self.j(state) for _, state in path), default=self.j((OLD,) * len(self.jobs)))
        staged = Staged(self.judge.structure, self.request.parts, self.judge.base.moved, self.request.braces)
        for _, state in path:
            staged.go(self.parts(state))
        last = self.parts(path[-1][1]) if path else dict(self.request.parts)
        ideal = self.judge.solved(last, ())
        left = (staged.finish(last) - ideal.moved)[:, :3]
        sizes = np.where(ideal.alive, np.linalg.norm(left, axis=1), 0)
        checks = [(self.judge.structure.stretch(left, pair)[1], list(pair)) for pair in self.request.checks]
        change, pair = max(checks, key=lambda each: abs(each[0]), default=(0.0, []))
        return Order(
            steps=[
                OrderStep(action=action, j=round(self.j(state), 3), verdict=verdict_of(self.j(state), 0))
                for action, state in path
            ],
            worst_j=round(worst, 3),
            worst_verdict=verdict_of(worst, 0),
            locked_in_mm=round(float(sizes.max(initial=0.0)), 2),
            locked_in_check=pair,
            locked_in_check_mm=round(change, 2),
        )
