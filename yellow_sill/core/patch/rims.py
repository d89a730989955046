"""Outlines that keep their arcs: chords that lie on a known circle become a true arc again."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..geometry import Xy

#: A corner lies on a circle within this, mm.
ON_MM = 0.004


@dataclass(frozen=True, slots=True)
class Piece:
    """A line or an arc of an outline, from where the piece before it ends. ``centre`` None: a line."""

    to: Xy
    centre: Xy | None = None
    clockwise: bool = False


def with_arcs(ring: Sequence[Xy], circles: Sequence[tuple[Xy, float, float]]) -> list[Piece]:
    """The pieces of a closed outline.

    Args: ring: its corners, the first not repeated, mm; circles: centre, radius and the longest chord that was drawn of each.
    """
    n = len(ring)
    on: list[int | None] = []  # the circle on which the edge from i to i + 1 is a chord
    for i in range(n):
        a, b = ring[i], ring[(i + 1) % n]
        length = math.dist(a, b)
        on.append(
            next(
                (
                    k
                    for k, (c, r, chord) in enumerate(circles)
                    if length <= chord * 1.02 + ON_MM
                    and abs(math.dist(a, c) - r) < ON_MM
                    and abs(math.dist(b, c) - r) < ON_MM
                ),
                None,
            )
        )
    start = next((i for i in range(n) if on[i] is None or on[i] != on[i - 1]), 0)
    pieces: list[Piece] = []
    i = 0
    while i < n:
        first = (start + i) % n
        circle, j = on[first], i + 1
        while circle is not None and j < n and on[(start + j) % n] == circle:
            j += 1
        if circle is not None and j - i >= 2:
            pieces += _arcs([ring[(start + k) % n] for k in range(i, j + 1)], circles[circle][0])
        else:
            j = i + 1
            pieces.append(Piece(ring[(first + 1) % n]))
        i = j
    return pieces


def _arcs(run: Sequence[Xy], centre: Xy) -> list[Piece]:
    """One arc, or two where it is more than half a turn and its ends meet."""
    (x, y), (p, q) = run[0], run[1]
    clockwise = (x - centre[0]) * (q - centre[1]) - (y - centre[1]) * (p - centre[0]) < 0
    if math.dist(run[0], run[-1]) < ON_MM:
        half = len(run) // 2
        return [Piece(run[half], centre, clockwise), Piece(run[-1], centre, clockwise)]
    return [Piece(run[-1], centre, clockwise)]


def bulge(a: Xy, piece: Piece) -> float:
    """The tangent of a quarter of an arc's angle, above 0 where it runs counter-clockwise; 0 of a line.

    >>> round(bulge((1.0, 0.0), Piece((0.0, 1.0), (0.0, 0.0))), 4)
    0.4142
    """
    if piece.centre is None:
        return 0.0
    a0, a1 = (math.atan2(p[1] - piece.centre[1], p[0] - piece.centre[0]) for p in (a, piece.to))
    sweep = (a0 - a1 if piece.clockwise else a1 - a0) % (2 * math.pi)
    return math.tan(sweep / 4) * (-1 if piece.clockwise else 1)
