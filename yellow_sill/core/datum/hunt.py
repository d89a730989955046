"""The search for gross errors: from several starts to the smallest set of readings whose removal lets all others pass."""

from dataclasses import dataclass, replace

import numpy as np

from .equations import Frame, Solution, frame_of, solve, without
from .network import Network
from .outliers import MOST_ASIDE, UNCHECKED, Search, rest_says, slip_of, tests_of
from .robust import BEYOND, NOMINAL_SIGMA_MM, level_start, starts


@dataclass(frozen=True, slots=True)
class _Try:
    """One explanation of the round: the units left out (readings by row, a trusted point's place by its first row), and the fit to the rest."""

    out: frozenset[int]
    solution: Solution
    failing: int
    size: float
    cost: float


#: A slip is likelier than that an untouched point has moved: that counts for so many readings.
MOVED_COUNTS = 1.5
#: Two explanations that differ by less than this in chi-squared are equally good (a likelihood ratio of 20).
EQUALLY_GOOD = 6.0
#: What a slip that explains itself (swapped digits, a wrong hole, a whole amount) is worth beside one that does not, in the same unit.
EXPLAINED_WORTH = 6.0
#: Only what is predicted this well can be said to be explained, mm.
EXPLAINED_WITHIN_MM = 4.0
#: A coordinate less sure than this is not determined, mm; source: docs/methods.md section 7.
UNDETERMINED_MM = 300.0
#: A row that explains this share less than the reading left out is no rival, by first-order reckoning.
NEARLY = 0.1
#: So many other explanations are tried for each reading left out.
MOST_OTHERS = 4


class _Hunt:
    """The search itself: what is left out, tried from several starts, and the smallest explanation kept."""

    def __init__(self, net: Network, keep: np.ndarray, frame: Frame, confidence: float) -> None:
        self.net, self.keep, self.frame, self.confidence = net, keep, frame, confidence
        self.most = max(1, int(MOST_ASIDE * (keep & ~net.places).sum()))
        self.unit = np.arange(len(net.value))
        first = net.taken
        self.unit[first:] = first + (np.arange(len(net.value) - first) // 3) * 3
        self.tried: dict[frozenset[int], _Try] = {}

    def kept(self, out: frozenset[int]) -> np.ndarray:
        return self.keep & ~np.isin(self.unit, list(out))

    def holds(self, out: frozenset[int]) -> bool:
        """Whether the frame still stands without the trusted places left out."""
        lost = [u for u in out if u >= self.net.taken]
        if not lost:
            return True
        trusted = self.net.trusted.copy()
        trusted[self.net.ends[lost, 0]] = False
        return not frame_of(replace(self.net, trusted=trusted), self.keep).fit.shape[1]

    def fitted(self, out: frozenset[int], start: tuple[np.ndarray, np.ndarray]) -> _Try:
        """The fit without these units, with the nominal places as weak readings: what is inches off needs no other check."""
        if out not in self.tried:
            keep = self.kept(out)
            self.tried[out] = self.judged(
                out, keep, solve(self.net, keep, self.frame, start, loose_mm=NOMINAL_SIGMA_MM)
            )
        return self.tried[out]

    def judged(self, out: frozenset[int], keep: np.ndarray, solution: Solution) -> _Try:
        tests = tests_of(self.net, keep, solution, self.confidence)
        failing = int((np.abs(np.nan_to_num(tests.standardised)) > tests.critical).sum())
        size = sum(1.0 if u < self.net.taken else MOVED_COUNTS for u in out)
        off = ((solution.places - self.net.nominal) / NOMINAL_SIGMA_MM) ** 2
        return _Try(out, solution, failing, size, solution.cost + float(off.sum()))

    def polished(self, start: tuple[np.ndarray, np.ndarray], residual: np.ndarray) -> _Try:
        """From a start: leave out what does not fit (residuals in standard errors), take back what does, until both stand."""
        beyond = self.keep & (np.abs(residual) > BEYOND)
        out = list(dict.fromkeys(int(u) for u in self.unit[np.argsort(-np.abs(residual))] if beyond[u]))[
            : self.most
        ]
        if not self.holds(frozenset(out)):
            out = [u for u in out if u < self.net.taken]
        at = self.fitted(frozenset(out), start)
        for _ in range(12):
            before = at
            at = self.back_in(self.more_out(at))
            if at.out == before.out:
                break
        return at

    def more_out(self, at: _Try) -> _Try:
        """Leave out the worst, one at a time, until all that is kept passes (Baarda's data snooping)."""
        out, solution, keep = set(at.out), at.solution, self.kept(at.out)
        forbidden: set[int] = set()
        while len(out) < self.most:
            tests = tests_of(self.net, keep, solution, self.confidence)
            size = np.abs(np.nan_to_num(tests.standardised))
            size[self.net.places] /= np.sqrt(MOVED_COUNTS)
            size[np.isin(self.unit, list(forbidden))] = 0
            worst = int(size.argmax())
            if size[worst] <= tests.critical:
                break
            unit = int(self.unit[worst])
            if not self.holds(frozenset(out | {unit})):
                forbidden.add(unit)
                continue
            out.add(unit)
            for row in np.flatnonzero(keep & (self.unit == unit)):
                keep[row] = False
                solution = without(solution, keep, int(row))
        return at if out == set(at.out) else self.fitted(frozenset(out), (solution.places, solution.plane))

    def back_in(self, at: _Try) -> _Try:
        """Take back, the best fitting first, what passes after all."""
        while at.out:
            tests = tests_of(self.net, self.kept(at.out), at.solution, self.confidence)
            off = {u: max(self._off(at, int(row)) for row in np.flatnonzero(self.unit == u)) for u in at.out}
            best = min(off, key=off.__getitem__)
            if off[best] > tests.critical:
                break
            tried = self.fitted(at.out - {best}, (at.solution.places, at.solution.plane))
            if tried.failing > at.failing:
                break
            at = tried
        return at

    def _off(self, at: _Try, row: int) -> float:
        """How far a row left out lies from what the rest says, in standard errors of the difference."""
        slope = at.solution.slope[row]
        return abs(float(at.solution.residual[row])) / np.sqrt(
            1 + max(0.0, float(slope @ at.solution.covariance @ slope))
        )

    def rank(self, at: _Try) -> tuple[bool, float, float]:
        """The smallest explanation that lets all others pass; among equals the one whose slips explain themselves, then the best fit."""
        return at.failing > 0, at.size, at.cost

    def explained(self, at: _Try, unit: int) -> bool:
        if unit >= self.net.taken:
            return False
        search = Search(
            net=self.net,
            keep=self.kept(at.out),
            frame=self.frame,
            confidence=self.confidence,
            solution=at.solution,
        )
        should_be, sigma = rest_says(search, unit)
        return sigma <= EXPLAINED_WITHIN_MM and slip_of(search, unit, should_be, sigma) is not None

    def instead(self, at: _Try, unit: int) -> tuple[list[tuple[_Try, int]], list[int]]:
        """What could be silly instead of one reading left out.

        Around the fit the tests of every kept row with this one put back follow from one rank-one update; the nearest are solved in full.

        Returns: fits as small that pass, each with the reading that it leaves out instead; trusted points that may have moved instead.
        """
        if unit >= self.net.taken:
            return [], []
        slope, row = at.solution.slope, at.solution.covariance @ at.solution.slope[unit]
        pull = float(at.solution.residual[unit]) / (1 + float(slope[unit] @ row))
        own = float(at.solution.residual[unit]) * pull
        residual = at.solution.residual - (slope @ row) * pull
        after = at.solution.covariance - np.outer(row, row) / (1 + float(slope[unit] @ row))
        redundancy = 1 - ((slope @ after) * slope).sum(axis=1)
        gain = np.where(
            self.kept(at.out) & (redundancy > UNCHECKED), residual**2 / np.maximum(redundancy, UNCHECKED), 0
        )
        near = [int(i) for i in np.argsort(-gain) if gain[i] > own - max(3 * EQUALLY_GOOD, NEARLY * own)]
        found, moved = [], []
        for i in [i for i in near if i < self.net.taken][:MOST_OTHERS]:
            move = after @ slope[i] * (residual[i] / redundancy[i]) - row * pull
            start = (at.solution.places + move[:-3].reshape(-1, 3), at.solution.plane + move[-3:])
            tried = self.fitted((at.out - {unit}) | {i}, start)
            if not tried.failing:
                found.append((tried, i))
        for first in sorted({int(self.unit[i]) for i in near if i >= self.net.taken}):
            out = (at.out - {unit}) | {first}
            ends = self.net.ends[unit]
            if (
                self.net.ends[first, 0] in ends
                and self.holds(out)
                and not self.fitted(out, (at.solution.places, at.solution.plane)).failing
            ):
                moved.append(int(self.net.ends[first, 0]))
        return found, moved


def find_gross_errors(search: Search) -> None:
    """Find the smallest set of readings whose removal lets all others pass, from several starts; say where two are equally good.

    Source: docs/methods.md section 7.
    """
    hunt = _Hunt(search.net, search.keep.copy(), search.frame, search.confidence)
    found: list[_Try] = []
    for start, residual in starts(search.net, search.keep, search.frame):
        found.append(hunt.polished(start, residual))
        if len(found) > 1 and found[-1].out == found[-2].out and not found[-1].failing:
            break
    best = min(found, key=hunt.rank)
    if best.failing:
        found.append(
            hunt.polished(
                (search.net.nominal.copy(), level_start(search.net, search.keep)), np.zeros(len(search.keep))
            )
        )
        best = min(found, key=hunt.rank)
    suspects: set[int] = set()
    groups: dict[int, list[tuple[_Try, int]]] = {}
    for unit in sorted(best.out):
        others, moved = ([], []) if best.failing else hunt.instead(best, unit)
        suspects.update(moved)
        if not others:
            continue
        worth = lambda tried, i: tried.cost - EXPLAINED_WORTH * hunt.explained(tried, i)  # noqa: E731
        here = worth(best, unit)
        rated = sorted(((worth(tried, i), k) for k, (tried, i) in enumerate(others)))
        if rated[0][0] < here - EQUALLY_GOOD:  # another explanation is clearly the better one
            best, instead = others[rated[0][1]]
            others = [
                (tried, i)
                for value, k in rated[1:]
                for tried, i in [others[k]]
                if value < rated[0][0] + EQUALLY_GOOD
            ]
            groups[instead] = others
        else:
            groups[unit] = [others[k] for value, k in rated if value < here + EQUALLY_GOOD]
    search.keep = hunt.kept(best.out)
    search.suspects = sorted(suspects)
    search.moved = [int(search.net.ends[u, 0]) for u in sorted(best.out) if u >= search.net.taken]
    search.aside = [
        u
        for u in sorted(best.out, key=lambda u: -abs(float(best.solution.residual[u])))
        if u < search.net.taken
    ]
    spread = np.zeros_like(best.solution.covariance)
    for unit, others in groups.items():
        if unit in best.out and others:
            search.doubtful.append([unit, *(i for _, i in others)])
            for tried, _ in others:
                move = np.append(
                    (tried.solution.places - best.solution.places).ravel(),
                    tried.solution.plane - best.solution.plane,
                )
                spread += np.outer(move, move)
    search.spread = spread if spread.any() else None
    search.solution = best.solution
