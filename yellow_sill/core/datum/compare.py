"""Two rounds side by side: what moved, and whether that is more than measurement noise; and movements in words."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import chdtri, ndtri

from ..said import Mm, Said, joined
from .results import Adjusted, PointResult

#: Where a part below this is not worth a word, mm.
WORTH_SAYING_MM = 0.5
#: Towards the lesser and the greater value of x, y and z.
WAYS = (("forward", "aft"), ("left", "right"), ("low", "high"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Movement:
    """How one point moved from one round to the other, mm; ``noise_mm`` is what chance alone may do; ``real`` where it is more."""

    id: str
    dx_mm: float
    dy_mm: float
    dz_mm: float
    length_mm: float
    noise_mm: float
    real: bool
    words: str


def way_words(off: Iterable[float]) -> Said:
    """A deviation as the garage says it: ``5.4 left, 6.8 low``.

    >>> way_words(np.array([0.2, -5.4, -6.8]))
    '5.4 left, 6.8 low'
    """
    return ways_said(off, WAYS)


def ways_said(off: Iterable[float], ways: Sequence[Sequence[str]]) -> Said:
    """What is worth saying of a difference of places, mm, each part with the word for its way."""
    return joined(
        (
            Said("{by} {way}", by=Mm(abs(float(v)), 1, bare=True, sized=False), way=Said(words[int(v > 0)]))
            for v, words in zip(off, ways, strict=True)
            if abs(v) >= WORTH_SAYING_MM
        ),
        ", ",
    )


def moved(off: np.ndarray, covariance: np.ndarray, confidence: float) -> tuple[float, float, bool]:
    """Length of a difference of places, its standard error, and whether it is more than noise (chi-squared, 3 degrees of freedom).

    Args: off: 3, mm; covariance: 3 x 3 of the difference, mm².
    """
    length = float(np.linalg.norm(off))
    way = off / length if length > 1e-9 else np.eye(3)[0]
    noise = covariance + np.eye(3) * 1e-6
    return (
        length,
        float(np.sqrt(max(way @ covariance @ way, 0))),
        bool(off @ np.linalg.solve(noise, off) > chdtri(3, 1 - confidence)),
    )


def compare(before: Adjusted, after: Adjusted, confidence: float = 0.95) -> list[Movement]:
    """What moved between two rounds, the largest movement first among those that are real.

    Args: before, after: two adjustments in the same frame; confidence: that a point called moved has moved.
    Returns: the points that both rounds fix.
    """
    earlier: Mapping[str, PointResult] = {point.id: point for point in before.points}
    found = []
    for point in after.points:
        was = earlier.get(point.id)
        if was is None or (was.holds_the_frame and point.holds_the_frame):
            continue
        off = np.array(point.place) - np.array(was.place)
        length, sigma, real = moved(
            off, np.array(was.covariance_mm2) + np.array(point.covariance_mm2), confidence
        )
        noise = float(ndtri(0.5 + confidence / 2)) * sigma
        words = (
            Said(
                "{id} moved {length}: {way_words}.",
                id=point.id,
                length=Mm(length, 1),
                way_words=way_words(off),
            )
            if real
            else Said("{id}: no more than noise ({noise}).", id=point.id, noise=Mm(noise, 1))
        )
        parts = [round(float(v), 4) for v in off]
        found.append(
            Movement(
                id=point.id,
                dx_mm=parts[0],
                dy_mm=parts[1],
                dz_mm=parts[2],
                length_mm=round(length, 4),
                noise_mm=round(noise, 4),
                real=real,
                words=words,
            )
        )
    return sorted(found, key=lambda each: (not each.real, -each.length_mm))
