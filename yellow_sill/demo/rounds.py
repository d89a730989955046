"""Thousands of simulated measuring rounds with known truth: does ``adjust`` find the slips, and hold its own beside a plain robust fit?"""

import math
import random
from collections import Counter
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from scipy.optimize import least_squares
from scipy.special import chdtri

from yellow_sill.core.datum.adjust import adjust
from yellow_sill.core.datum.asked import AdjustRequest
from yellow_sill.core.datum.equations import frame_of, predicted, rigid_motions
from yellow_sill.core.datum.network import Network, network_of
from yellow_sill.core.datum.robust import level_start
from yellow_sill.core.datum.slips import mirror_of, swapped
from yellow_sill.core.datum.starting_set import starting_points
from yellow_sill.core.errors import CoreError
from yellow_sill.core.shell.body_types import SALOON, TOURER

#: What we hold ourselves to: slips found, good readings set aside, regions that hold the truth.
FOUND, BLAMED, LEAST_INSIDE, MOST_INSIDE = 0.98, 1 / 500, 0.93, 0.97
TAPE_MM, HEIGHT_MM, TRUST_MM = 1.0, 0.7, 0.5
KINDS_OF_SLIP = (
    "held at 100",
    "digits swapped",
    "other side's hole",
    "neighbour's hole",
    "whole amount",
    "blunder",
)
SHELLS = {"ladder of 12": "", "saloon": SALOON.name, "tourer": TOURER.name}
#: A slip is counted when it is this many standard errors of its own test large: smaller ones drown in noise for any method.
COUNTED = 7.0


@dataclass(slots=True)
class Score:
    """Counts over many rounds, for ``adjust`` and for the plain fit beside it."""

    rounds: int = 0
    slips: int = 0
    found: Counter = field(default_factory=Counter)
    exact: Counter = field(default_factory=Counter)
    told: int = 0
    good: int = 0
    blamed: Counter = field(default_factory=Counter)
    points: int = 0
    inside: int = 0
    behind: list[str] = field(default_factory=list)

    def add(self, other: "Score") -> None:
        for name in ("rounds", "slips", "told", "good", "points", "inside"):
            setattr(self, name, getattr(self, name) + getattr(other, name))
        for name in ("found", "exact", "blamed"):
            getattr(self, name).update(getattr(other, name))
        self.behind += other.behind


def _ladder() -> dict[str, list[float]]:
    stations = [0, 620, 1300, 2050, 2800, 3400]
    return {
        f"{i}{side}": [x, sign * (405 + 20 * (i % 2)), 300 + 60 * (i % 3)]
        for i, x in enumerate(stations, 1)
        for side, sign in (("L", -1), ("R", 1))
    }


def _nominal(shell: str) -> dict[str, list[float]]:
    if shell == "ladder of 12":
        return _ladder()
    return {point.code: list(point.nominal) for point in starting_points(SHELLS[shell], {})}


def _true(
    nominal: dict[str, list[float]], trusted: Sequence[str], rng: random.Random
) -> dict[str, list[float]]:
    """A shell short and twisted towards the tail, one corner perhaps pushed, every point a little off; trusted ones only by their own error."""
    low, high = min(p[0] for p in nominal.values()), max(p[0] for p in nominal.values())
    short, twist, hit = (
        rng.uniform(-8, 8),
        rng.uniform(-10, 10),
        rng.choice(list(nominal)) if rng.random() < 0.3 else None,
    )
    out = {}
    for name, (x, y, z) in nominal.items():
        if name in trusted:
            out[name] = [v + rng.gauss(0, TRUST_MM) for v in (x, y, z)]
            continue
        share = (x - low) / (high - low)
        off = [-short * share * (y > 0), 0.0, math.copysign(twist / 2, y) * share]
        if name == hit:
            off = [v + rng.uniform(-30, 30) for v in off]
        out[name] = [v + d + rng.gauss(0, 1.0) for v, d in zip((x, y, z), off, strict=True)]
    return out


def _asked(
    nominal: dict[str, list[float]], heights: bool, rng: random.Random
) -> list[tuple[str, tuple[str, ...]]]:
    """Which readings a careful person takes: every height, and about five tapes a point, near and far."""
    names = list(nominal)
    if (
        len(names) == 12
    ):  # a ladder: along both rails, across, both diagonals of each bay, and the two longest
        bays = [(f"{i}{a}", f"{i + 1}{b}") for i in range(1, 6) for a in "LR" for b in "LR"]
        across = [(f"{i}L", f"{i}R") for i in range(1, 7)]
        return [("height", (name,)) for name in names] + [
            ("distance", ends) for ends in (*bays, *across, ("1L", "4R"), ("1R", "4L"))
        ]
    within = [
        (a, b)
        for i, a in enumerate(names)
        for b in names[i + 1 :]
        if 150 < math.dist(nominal[a], nominal[b]) < 3000
    ]
    rng.shuffle(within)
    count, wanted = Counter(), []
    each = 5 if heights else 8
    for a, b in within:
        if count[a] < each or count[b] < each:
            wanted.append(("distance", (a, b)))
            count[a] += 1
            count[b] += 1
    return [("height", (name,)) for name in names if heights] + wanted


def _value(places: dict[str, list[float]], kind: str, ends: Sequence[str], level: Sequence[float]) -> float:
    if kind == "distance":
        return math.dist(places[ends[0]], places[ends[1]])
    x, y, z = places[ends[0]]
    return z + level[0] + (level[1] * x + level[2] * y) / 1000


def _slipped(
    kind_of_slip: str,
    kind: str,
    ends: tuple[str, ...],
    value: float,
    places: dict,
    nominal: dict,
    level: Sequence[float],
    rng: random.Random,
) -> float:
    """The value that a slip of one kind makes of a reading; the same value where this kind cannot happen to it."""
    if kind_of_slip == "held at 100":
        return value + (100 if kind == "distance" else rng.choice((-100, 100)))
    if kind_of_slip == "digits swapped":
        return rng.choice(swapped(round(value)) or [value])
    if kind_of_slip == "whole amount":
        return value + rng.choice((-1, 1)) * rng.choice((10, 50, 200))
    if kind_of_slip == "blunder":
        return value + rng.choice((-1, 1)) * rng.uniform(12, 70)
    names = list(nominal)
    at = names.index(ends[-1])
    if kind_of_slip == "other side's hole":
        other = names[mirror_of(np.array(list(nominal.values())))[at]]
    else:
        other = sorted(names, key=lambda name: math.dist(nominal[name], nominal[ends[-1]]))[
            rng.choice((1, 2))
        ]
    return (
        value if other in ends else _value(places, kind, (*ends[:-1], other), level) + rng.gauss(0, TAPE_MM)
    )


def simulated(
    shell: str, heights: bool, trust: bool, slips: int, seed: int
) -> tuple[dict[str, Any], dict[str, list[float]], dict[str, str]]:
    """One round. Returns: the request of ``adjust``, the true places, and the slips in it by reading."""
    rng = random.Random(f"{shell} {heights} {trust} {slips} {seed}")
    nominal = _nominal(shell)
    names = sorted(nominal, key=lambda name: nominal[name][0])
    trusted = names[:4] if trust else []
    places, level = (
        _true(nominal, trusted, rng),
        (rng.uniform(-900, 900), rng.uniform(-8, 8), rng.uniform(-8, 8)),
    )
    asked = _asked(nominal, heights, rng)
    readings = [
        {"id": f"{kind} {' '.join(ends)}", "kind": kind, "points": list(ends), "sigma_mm": (sigma := HEIGHT_MM if kind == "height" else TAPE_MM),
         "value": _value(places, kind, ends, level) + rng.gauss(0, sigma)}
        for kind, ends in asked
    ]  # fmt: skip
    made: dict[str, str] = {}
    for reading in rng.sample(readings, min(slips, len(readings))):
        kind = rng.choice(KINDS_OF_SLIP)
        reading["value"] = _slipped(
            kind, reading["kind"], tuple(reading["points"]), reading["value"], places, nominal, level, rng
        )
        made[reading["id"]] = kind
    for reading in readings:
        reading["value"] = (
            round(reading["value"], 1)
            if reading["kind"] == "height"
            else max(1.0, round(reading["value"], 1))
        )
    points = [
        {"id": name, "nominal": nominal[name], "trusted": name in trusted, "trust_sigma_mm": TRUST_MM}
        for name in nominal
    ]
    return (
        {"points": points, "readings": readings, "heights_from": "level", "leave_out_undetermined": True},
        places,
        made,
    )


def plain_fit(net: Network) -> set[int]:
    """The method an engineer writes in twenty lines: Cauchy's loss from the nominal places, refitted without what lies beyond 5 sigma."""
    n = len(net.ids)
    start = np.append(net.nominal.ravel(), level_start(net, np.ones(len(net.value), bool)))
    weak = np.append(np.full(3 * n, 1 / 30.0), np.full(3, 1e-5))

    def off(x: np.ndarray, keep: np.ndarray) -> np.ndarray:
        value, _ = predicted(net, x[:-3].reshape(-1, 3), x[-3:])
        return np.append(((value - net.value) / net.sigma)[keep], (x - start) * weak)

    def slope(x: np.ndarray, keep: np.ndarray) -> np.ndarray:
        return np.vstack(
            [(predicted(net, x[:-3].reshape(-1, 3), x[-3:])[1] / net.sigma[:, None])[keep], np.diag(weak)]
        )

    keep = np.ones(len(net.value), bool)
    fit = least_squares(off, start, slope, loss="cauchy", args=(keep,), max_nfev=60)
    keep = np.abs(off(fit.x, keep)[: len(keep)]) <= 5
    fit = least_squares(off, fit.x, slope, args=(keep,), max_nfev=60)
    return {
        int(i)
        for i in np.flatnonzero(np.abs(off(fit.x, np.ones(len(keep), bool))[: len(keep)]) > 5)
        if i < net.taken
    }


def scored(shell: str, heights: bool, trust: bool, slips: int, seed: int) -> Score:
    """One round through both methods."""
    asked, places, made = simulated(shell, heights, trust, slips, seed)
    score = Score(rounds=1)
    try:
        result = adjust(AdjustRequest.read(asked))
    except CoreError as error:
        score.behind.append(f"{shell} {heights} {trust} {slips} {seed}: {error}")
        return score
    request = AdjustRequest.read(asked)
    net = network_of(request.points, request.readings, heights)
    true = np.array([places[name] for name in net.ids])
    # what the truth says each reading should be, and how well the others check it
    names = {reading["id"]: i for i, reading in enumerate(asked["readings"])}
    counted = _counted(net, true, [names[each] for each in made])
    aside = {error.reading for error in result.gross_errors if error.set_aside}
    among = {
        name for error in result.gross_errors if not error.set_aside for name in (error.reading, *error.among)
    }
    plain = {asked["readings"][i]["id"] for i in plain_fit(net)}
    counted_names = {each for each in made if names[each] in counted}
    score.slips = len(counted_names)
    score.found = Counter(adjust=len(counted_names & aside), plain=len(counted_names & plain))
    score.told = len(counted_names & (aside | among))
    score.good = len(names) - len(made)
    score.blamed = Counter(adjust=len(aside - set(made)), plain=len(plain - set(made)))
    exact = {
        "adjust": counted_names <= aside and aside <= set(made),
        "plain": counted_names <= plain and plain <= set(made),
    }
    score.exact = Counter({name: int(right) for name, right in exact.items()})
    if exact["plain"] and not exact["adjust"]:
        score.behind.append(f"{shell} {heights} {trust} {slips} {seed}")
    if len(counted_names) == len(
        made
    ):  # a slip that nothing can notice moves its point beyond what anything can say
        score.points, score.inside = _inside(net, result, true)
    return score


def _counted(net: Network, true: np.ndarray, slips: list[int]) -> set[int]:
    """The slips that can be noticed at all: large beside the standard error of their own test in a round without the other slips."""
    if not slips:
        return set()
    plane = level_start(net, np.isin(np.arange(len(net.value)), slips, invert=True))
    value, slope = predicted(net, true, plane)
    good = np.isin(np.arange(len(net.value)), slips, invert=True)
    slope = slope / net.sigma[:, None]
    frame = frame_of(net, good)
    motions = np.vstack([frame.fit, np.zeros((3, frame.fit.shape[1]))]) * 100
    rows = slope[good]
    normal = rows.T @ rows + motions @ motions.T + np.eye(slope.shape[1]) * 1e-8
    rest = np.linalg.solve(normal, slope[slips].T)
    spread = np.sqrt(1 + (slope[slips] * rest.T).sum(axis=1))
    if net.level_plane:
        heights = good & net.is_a("height")
        at = true[net.ends[heights, 0]]
        basis = np.column_stack([np.ones(len(at)), at[:, :2] / 1000])
        plane = np.linalg.lstsq(basis, net.value[heights] - at[:, 2], rcond=None)[0]
        value, _ = predicted(net, true, plane)
    off = np.abs(net.value - value)[slips] / net.sigma[slips]
    return {i for i, size, wide in zip(slips, off, spread, strict=True) if size > COUNTED * wide}


def _inside(net: Network, result: Any, true: np.ndarray) -> tuple[int, int]:
    """How many free points there are, and how many true places lie inside the stated 95 % region."""
    off = (true - net.nominal).ravel()
    if result.frame != "trusted points":
        used = np.isin(net.ids, [point.id for point in result.points])
        motions = (rigid_motions(net.nominal).reshape(-1, 3, 6)[used]).reshape(-1, 6)
        mine = np.repeat(used, 3)
        off[mine] -= motions @ np.linalg.lstsq(motions, off[mine], rcond=None)[0]
    off = off.reshape(-1, 3)
    points = inside = 0
    for point in result.points:
        if point.holds_the_frame:
            continue
        away = np.array([point.dx_mm, point.dy_mm, point.dz_mm]) - off[net.ids.index(point.id)]
        points += 1
        inside += bool(
            away @ np.linalg.solve(np.array(point.covariance_mm2) + np.eye(3) * 1e-9, away) <= chdtri(3, 0.05)
        )
    return points, inside


def _many(task: tuple[str, bool, bool, int, int, int]) -> tuple[tuple[str, bool, bool, int], Score]:
    shell, heights, trust, slips, first, count = task
    total = Score()
    for seed in range(first, first + count):
        total.add(scored(shell, heights, trust, slips, seed))
    return (shell, heights, trust, slips), total


def cells(each: int) -> list[tuple[str, bool, bool, int, int, int]]:
    """All kinds of rounds: shells, tape with and without heights, trusted points and best fit, none to three slips."""
    out = []
    for shell in SHELLS:
        for heights in (True, False):
            if shell == "ladder of 12" and not heights:
                continue  # a flat frame has no heights by tape alone
            out += [(shell, heights, trust, slips, 0, each) for trust in (True, False) for slips in range(4)]
    return out


def main(each: int = 100, say: Callable[[str], None] = print) -> int:
    """Print the table; the exit code is 1 where a goal is missed."""
    total = Score()
    say(
        f"{'round':<44}{'slips':>6}{'found':>8}{'told':>8}{'plain':>8}{'exact':>8}{'plain':>8}{'blamed':>9}{'plain':>9}{'inside':>8}"
    )
    with ProcessPoolExecutor(max_workers=2) as pool:
        for (shell, heights, trust, slips), score in pool.map(_many, cells(each)):
            total.add(score)
            say(
                _line(
                    f"{shell}, {'tape and heights' if heights else 'tape'}, {'trusted' if trust else 'best fit'}, {slips}",
                    score,
                )
            )
    say(_line(f"all {total.rounds}", total))
    for behind in total.behind[:40]:
        say(f"behind the plain fit: {behind}")
    share, blamed, inside = (
        total.found["adjust"] / total.slips,
        total.blamed["adjust"] / total.good,
        total.inside / total.points,
    )
    goals = {
        f"slips found {share:.1%}, to be {FOUND:.0%}": share >= FOUND,
        f"good readings set aside 1 in {1 / blamed if blamed else math.inf:.0f}, to be under 1 in {1 / BLAMED:.0f}": blamed
        < BLAMED,
        f"exactly the slips in {total.exact['adjust']} rounds, the plain fit in {total.exact['plain']}": total.exact[
            "adjust"
        ]
        >= total.exact["plain"],
        f"places inside their 95 % region {inside:.1%}, to be {LEAST_INSIDE:.0%} to {MOST_INSIDE:.0%}": LEAST_INSIDE
        <= inside
        <= MOST_INSIDE,
    }
    for words, met in goals.items():
        say(f"{words}{'' if met else '   MISSED'}")
    return 0 if all(goals.values()) else 1


def _line(name: str, score: Score) -> str:
    of = lambda value, whole: f"{100 * value / whole:.1f}%" if whole else "-"  # noqa: E731
    return (
        f"{name:<44}{score.slips:>6}{of(score.found['adjust'], score.slips):>8}{of(score.told, score.slips):>8}{of(score.found['plain'], score.slips):>8}"
        f"{of(score.exact['adjust'], score.rounds):>8}{of(score.exact['plain'], score.rounds):>8}"
        f"{of(score.blamed['adjust'], score.good):>9}{of(score.blamed['plain'], score.good):>9}{of(score.inside, score.points):>8}"
    )


if __name__ == "__main__":
    import sys

    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 100))
