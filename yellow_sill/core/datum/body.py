"""The body as a whole, straight from an adjustment: is one side shorter, is it twisted, with the uncertainty that the whole network gives."""

import numpy as np

from ..said import Mm, Said
from .results import BodyWord
from .slips import mirror_of

#: A pair must lie this far apart across the shell to count, mm; the first and last this far apart along it.
LEAST_WIDE_MM, LEAST_LONG_MM = 100.0, 500.0


def body_words(
    nominal: np.ndarray, places: np.ndarray, covariance: np.ndarray, wide: float, held: np.ndarray
) -> list[BodyWord]:
    """Which side is shorter, and the twist at the tail against the nose, over all mirrored pairs.

    Args:
        nominal, places: n x 3, mm; covariance: 3 n square, mm², of all coordinates together; wide: standard errors of the confidence asked for.
        held: n booleans, the points that hold the frame: the other end is said to be twisted.
    Returns: none where there are not two pairs half a metre apart along the shell.
    Source: slopes over the pairs by least squares, error propagation with the full covariance; docs/methods.md section 7.
    """
    if len(nominal) < 4:
        return []
    pairs = [
        (i, k) for i, k in enumerate(mirror_of(nominal)) if nominal[i, 1] < -LEAST_WIDE_MM / 2 and k != i
    ]
    if len(pairs) < 2:
        return []
    pairs.sort(key=lambda pair: nominal[pair[0], 0])
    left, right = (np.array(side) for side in zip(*pairs, strict=True))
    along = nominal[left, 0]
    long = float(np.ptp(along))
    if long < LEAST_LONG_MM:
        return []
    weight = np.linalg.pinv(np.column_stack([np.ones(len(along)), along - along.mean()]))[1] * long

    def told(axis: int) -> tuple[float, float]:
        row = np.zeros(places.size)
        row[3 * right + axis] += weight
        row[3 * left + axis] -= weight
        return float(row @ (places - nominal).ravel()), wide * float(
            np.sqrt(max(0.0, row @ covariance @ row))
        )

    nose = bool(held.any()) and float(nominal[held, 0].mean()) > float(along.mean())
    return [_sides_apart(*told(0), long), _twisted(*told(2), nose)]


def _sides_apart(shorter: float, unsure: float, long: float) -> BodyWord:
    """Args: shorter: by how much the left side is, unsure: of it, mm; long: over how much, mm."""
    real = abs(shorter) > unsure
    side, other = ("right", "left") if shorter < 0 else ("left", "right")
    figures = {"shorter": Mm(abs(shorter), 1), "unsure": Mm(unsure, 1, sized=False)}
    words = (
        Said(
            "The {side} side is {shorter} (± {unsure}) shorter than the {other}, over {long}.",
            side=side,
            other=other,
            long=Mm(long, 0),
            **figures,
        )
        if real
        else Said(
            "No side is shorter beyond what measuring leaves open: {shorter} (± {unsure}).",
            **figures,
        )
    )
    return _word("Side lengths", shorter, unsure, real, words)


def _twisted(twist: float, unsure: float, nose: bool) -> BodyWord:
    """Args: twist: of the tail against the nose, right side up, unsure: of it, mm; nose: it is the nose that is said to be twisted."""
    real = abs(twist) > unsure
    end, other = ("nose", "tail") if nose else ("tail", "nose")
    figures = {"twist": Mm(abs(twist), 1), "unsure": Mm(unsure, 1, sized=False)}
    words = (
        Said(
            "It is twisted: at the {end} the {high} side stands {twist} (± {unsure}) high against the {other}.",
            end=end,
            high="right" if (twist > 0) != nose else "left",
            other=other,
            **figures,
        )
        if real
        else Said(
            "No twist beyond what measuring leaves open: {twist} at the {end} (± {unsure}).",
            end=end,
            **figures,
        )
    )
    return _word(Said("Twist at the {end}", end=end), twist, unsure, real, words)


def _word(name: str, value: float, unsure: float, real: bool, words: str) -> BodyWord:
    return BodyWord(
        name=name, value_mm=round(value, 3), unsure_mm=round(unsure, 3), real=bool(real), words=words
    )
