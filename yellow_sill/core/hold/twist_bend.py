"""Twist and bend: where they are measured, the loads, and the stiffnesses that follow."""

from collections.abc import Mapping

import numpy as np
from scipy.linalg import cho_factor, cho_solve

from .ground import softly
from .structure import Assembled, Structure


def chosen_pairs(structure: Structure, state: Assembled) -> dict[str, list[str]]:
    """The pairs at which twist and bend are measured: the first of each group that is in; by default the outermost mirrored pairs."""
    alive = {name for name, i in structure.index.items() if state.alive[i]}
    groups = structure.request.twist
    if groups is None:
        pairs = [list(pair) for pair in _mirrored(structure) if set(pair) <= alive]
        groups = [pairs, pairs[::-1]]
    found: dict[str, list[str]] = {}
    for name, group in zip(("front", "rear"), groups, strict=False):
        pair = next(
            (list(pair) for pair in group if set(pair) <= alive and list(pair) not in found.values()), None
        )
        if pair:
            found[name] = pair
    middle = structure.request.bend
    if middle is None and len(found) == 2:
        taken = {*found["front"], *found["rear"]}
        between = [pair for pair in _mirrored(structure) if set(pair) <= alive and not set(pair) & taken]
        middle = list(between[len(between) // 2]) if between else []
    found["middle"] = [name for name in middle or () if name in alive]
    return found


def _mirrored(structure: Structure) -> list[tuple[str, str]]:
    """Pairs of nodes on both sides, left first, from the front back."""
    where = {
        tuple(np.round(place, 1)): name for name, place in zip(structure.index, structure.places, strict=True)
    }
    pairs = [(name, where[x, -y, z]) for (x, y, z), name in where.items() if y < 0 and (x, -y, z) in where]
    return sorted(pairs, key=lambda pair: (structure.places[structure.index[pair[0]], 0], pair))


def stiffnesses(
    structure: Structure, free: np.ndarray, pairs: Mapping[str, list[str]]
) -> tuple[float, float, np.ndarray]:
    """Twist (kN m per degree) and bend (N/mm) of the free body (3 n square), with loads that balance, and how those move it (3 n x 2).

    All are 0 where the pairs are missing.
    """
    if "front" not in pairs or "rear" not in pairs:
        return 0.0, 0.0, np.zeros((len(free), 2))
    key = ("loads", *(tuple(pair) for pair in pairs.values()))
    loads, share, at, front, rear = structure.once(key, lambda: balanced_loads(structure, pairs))
    factor = cho_factor(free + softly(structure), lower=True, check_finite=False, overwrite_a=True)
    flexed = cho_solve(factor, loads, check_finite=False)
    return *_from_loads(flexed[2::3], share, at, front, rear), flexed


def balanced_loads(
    structure: Structure, pairs: Mapping[str, list[str]]
) -> tuple[np.ndarray, float, dict[str, list[int]], float, float]:
    """The twisting couple and the bending load, 3 n x 2; the front's share of the latter; indices; widths at both pairs."""
    n = len(structure.index)
    at = {
        name: [structure.index[each] for each in pairs.get(name, ())] for name in ("front", "rear", "middle")
    }
    (fl, fr), (rl, rr) = at["front"], at["rear"]
    wide = lambda a, b: float(structure.places[b, 1] - structure.places[a, 1])  # noqa: E731
    front, rear = wide(fl, fr), wide(rl, rr)
    loads = np.zeros((3 * n, 2))
    loads[[3 * fl + 2, 3 * fr + 2], 0] = 1, -1
    loads[[3 * rl + 2, 3 * rr + 2], 0] = -front / rear, front / rear
    x = structure.places[:, 0]
    share = 0.0
    if at["middle"]:
        share = float(
            (x[[rl, rr]].mean() - x[at["middle"]].mean()) / (x[[rl, rr]].mean() - x[[fl, fr]].mean())
        )
        loads[[3 * i + 2 for i in at["middle"]], 1] -= 1 / len(at["middle"])
        loads[[3 * fl + 2, 3 * fr + 2], 1] += share / 2
        loads[[3 * rl + 2, 3 * rr + 2], 1] += (1 - share) / 2
    return loads, share, at, front, rear


def _from_loads(
    up: np.ndarray, share: float, at: Mapping[str, list[int]], front: float, rear: float
) -> tuple[float, float]:
    """Twist and bend from the upward movements under the two loads (n x 2)."""
    (fl, fr), (rl, rr) = at["front"], at["rear"]
    turned = (up[fl, 0] - up[fr, 0]) / front - (up[rl, 0] - up[rr, 0]) / rear
    twist = front / max(abs(float(turned)), 1e-15) * np.pi / 180 * 1e-6
    if not at["middle"]:
        return float(twist), 0.0
    sag = share * up[[fl, fr], 1].mean() + (1 - share) * up[[rl, rr], 1].mean() - up[at["middle"], 1].mean()
    return float(twist), float(1 / max(abs(float(sag)), 1e-15))
