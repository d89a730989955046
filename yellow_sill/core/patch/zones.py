"""A free edge parted into straight pieces and arcs."""

import math
from collections.abc import Sequence

import numpy as np

from ..errors import BadField

#: A traced place is this sure, mm; a zone has at least so many places; the edge is read at most so many times.
TRACED_MM, LEAST_PLACES, MOST_PLACES = 0.5, 4, 72
#: What a straight piece and an arc cost, in the logarithm of the number of places (as many as each has figures, and where it ends).
LINE_COST, ARC_COST = 3.0, 4.0


def zones_along(path: Sequence[Sequence[float]], sure_mm: float = TRACED_MM) -> list[tuple[float, float]]:
    """Length and curvature of each zone of a free edge; curvature above 0 where it turns left, 0 where it is straight.

    The parting into straight pieces and arcs whose squared distances, over how sure the places are, and whose number together are least (dynamic programming
    with the Bayesian information criterion). Where an arc lies between two straights, it turns by the angle between them.

    Args: path: its corners in mm, as near together as the curve needs; sure_mm: of one place, standard deviation.
    Raises: BadField for a path without length.
    Source: circles by least squares on x² + y² (Kåsa); docs/methods.md section 4.
    """
    points = np.asarray(path, float)
    lengths = np.hypot(*np.diff(points, axis=0).T)
    total = float(lengths.sum())
    if total < 1.0:
        raise BadField("The path has no length.", "path", "Trace it farther.")
    at = _read(points, lengths, total)
    cuts, kinds = _parted(at, sure_mm)
    step = np.hypot(*np.diff(at, axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(step)])
    scale = total / along[-1]
    zones = [[(along[b] - along[a]) * scale, kind] for a, b, kind in zip(cuts, cuts[1:], kinds, strict=False)]
    ways = [
        _way(at[a : b + 1]) if kind == 0 else None for a, b, kind in zip(cuts, cuts[1:], kinds, strict=False)
    ]
    for i in range(1, len(zones) - 1):
        before, after = ways[i - 1], ways[i + 1]
        if zones[i][1] and before is not None and after is not None:
            turn = (after - before + math.pi) % (2 * math.pi) - math.pi
            guess = zones[i][0] * zones[i][1]
            turn += 2 * math.pi * round((guess - turn) / (2 * math.pi))
            if turn * guess > 0:
                zones[i][1] = turn / zones[i][0]
    return [(float(length), float(bend)) for length, bend in zones]


def _read(points: np.ndarray, lengths: np.ndarray, total: float) -> np.ndarray:
    """The path's own corners where they are few enough, else places spread evenly over it."""
    if LEAST_PLACES * 2 < len(points) <= MOST_PLACES and lengths.max() < 0.12 * total:
        return points
    along = np.concatenate([[0.0], np.cumsum(lengths)])
    at = np.linspace(0.0, total, MOST_PLACES)
    return np.column_stack([np.interp(at, along, points[:, k]) for k in (0, 1)])


def _parted(at: np.ndarray, sure_mm: float) -> tuple[list[int], list[float]]:
    """Where zones end, and the curvature of each: the cheapest parting."""
    n = len(at)
    x, y = (at - at.mean(axis=0)).T
    z = x * x + y * y
    sums = np.cumsum(
        np.vstack(
            [np.zeros(10), np.column_stack([np.ones(n), x, y, z, x * x, x * y, y * y, x * z, y * z, z * z])]
        ),
        axis=0,
    )
    i, j = (each.astype(int) for each in np.triu_indices(n, LEAST_PLACES - 1))
    line, arc, bend = _fits(sums[j + 1] - sums[i])
    unit = math.log(n)
    costs = np.stack([line / sure_mm**2 + LINE_COST * unit, arc / sure_mm**2 + ARC_COST * unit])
    cheap, curved = np.full((n, n), np.inf), np.zeros((n, n))
    cheap[i, j], curved[i, j] = costs.min(axis=0), np.where(costs[1] < costs[0], bend, 0.0)
    best, origin = np.full(n, np.inf), np.zeros(n, int)
    best[0] = 0.0
    for k in range(LEAST_PLACES - 1, n):
        to_here = best + cheap[:, k]
        origin[k] = int(to_here.argmin())
        best[k] = to_here[origin[k]]
    cuts: list[int] = [n - 1]
    bends: list[float] = []
    while cuts[0] > 0:
        bends.insert(0, float(curved[origin[cuts[0]], cuts[0]]))
        cuts.insert(0, int(origin[cuts[0]]))
    for k, (a, b) in enumerate(zip(cuts, cuts[1:], strict=False)):  # which way an arc turns
        if bends[k]:
            p, q, r = at[a], at[(a + b) // 2], at[b]
            bends[k] = math.copysign(bends[k], (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]))
    return cuts, bends


def _fits(m: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Squared distances from the best line and the best circle, and that circle's curvature. Args: m: moments of each run, (k, 10)."""
    n, sx, sy, sz, sxx, sxy, syy, sxz, syz, szz = m.T
    cxx, cxy, cyy = sxx - sx * sx / n, sxy - sx * sy / n, syy - sy * sy / n
    cxz, cyz, czz = sxz - sx * sz / n, syz - sy * sz / n, szz - sz * sz / n
    half = (cxx + cyy) / 2
    line = np.maximum(0.0, half - np.sqrt(np.maximum(0.0, half**2 - (cxx * cyy - cxy**2))))
    det = np.maximum(cxx * cyy - cxy**2, 1e-9)
    a, b = (cxz * cyy - cyz * cxy) / det / 2, (cyz * cxx - cxz * cxy) / det / 2
    c = (sz - 2 * a * sx - 2 * b * sy) / n
    radius = np.sqrt(np.maximum(c + a * a + b * b, 1e-9))
    arc = np.maximum(0.0, czz - 2 * a * cxz - 2 * b * cyz) / (4 * radius**2)
    return line, arc, 1.0 / radius


def _way(run: np.ndarray) -> float:
    """Which way a straight run of places goes, radians."""
    from_middle = run - run.mean(axis=0)
    _, _, axes = np.linalg.svd(from_middle, full_matrices=False)
    way = axes[0] if (run[-1] - run[0]) @ axes[0] > 0 else -axes[0]
    return math.atan2(way[1], way[0])
