"""Lines across an outline: the pieces that run inside it, and how far it reaches at each place."""

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np

#: An outline: its corners, or (n, 2).
Ring = Sequence[Sequence[float]] | np.ndarray
#: An outline is read at so many places; at its ends just inside them, mm.
STATIONS, INSIDE_MM = 160, 1.0


def crossings(rings: Iterable[Ring], axis: int, at: float) -> list[tuple[float, float]]:
    """The pieces of a line across an outline: from where to where it runs inside.

    Args: rings: the outline and its holes; axis: 0 for a line of constant u, 1 for one of constant v; at: that u or v, mm.

    >>> crossings([[(0, 0), (10, 0), (10, 4), (0, 4)]], 0, 5)
    [(0.0, 4.0)]
    """
    found: list[float] = []
    for ring in rings:
        a = np.asarray(ring, float)
        b = np.roll(a, -1, axis=0)
        hit = (a[:, axis] <= at) != (b[:, axis] <= at)
        a, b = a[hit], b[hit]
        share = (at - a[:, axis]) / (b[:, axis] - a[:, axis])
        found += (a[:, 1 - axis] + share * (b[:, 1 - axis] - a[:, 1 - axis])).tolist()
    found.sort()
    return list(zip(found[::2], found[1::2], strict=False))


class Reach:
    """How far an outline reaches across at each place along it: its least and greatest v over u, or u over v."""

    def __init__(self, rings: Sequence[Ring], axis: int = 0) -> None:
        points = np.vstack([np.asarray(ring, float) for ring in rings])
        self.start, self.end = float(points[:, axis].min()), float(points[:, axis].max())
        inside = min(INSIDE_MM, (self.end - self.start) / 4)
        self.at = np.linspace(self.start + inside, self.end - inside, STATIONS)
        self.low, self.high = ends(rings, axis, self.at)
        known = np.isfinite(self.low)
        if known.any() and not known.all():
            self.low = np.interp(self.at, self.at[known], self.low[known])
            self.high = np.interp(self.at, self.at[known], self.high[known])

    def least(self, at: Any) -> Any:
        return np.interp(at, self.at, self.low)

    def most(self, at: Any) -> Any:
        return np.interp(at, self.at, self.high)


def ends(rings: Sequence[Ring], axis: int, at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The first and the last place where lines across meet an outline; nan where they pass it by."""
    low, high = np.full(len(at), np.inf), np.full(len(at), -np.inf)
    for ring in rings:
        a = np.asarray(ring, float)
        along, across = a[:, axis], a[:, 1 - axis]
        past = along[:, None] <= at
        edge, line = np.nonzero(past != np.roll(past, -1, axis=0))
        after = (edge + 1) % len(a)
        share = (at[line] - along[edge]) / (along[after] - along[edge])
        met = across[edge] + share * (across[after] - across[edge])
        np.minimum.at(low, line, met)
        np.maximum.at(high, line, met)
    known = np.isfinite(low)
    return np.where(known, low, np.nan), np.where(known, high, np.nan)
