"""One word of the body as a number: its value, its uncertainty, and the sentence for either way."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..said import Mm, MmPerM, Said, first_low, first_up

#: Step of the numerical derivatives, mm.
STEP_MM = 1e-3


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """One body word: its value and standard error in its unit; ``real`` where it is more than measurement noise."""

    name: str
    value: float
    sigma: float
    unit: str
    real: bool
    words: str


#: A measure before its uncertainty: name, unit, what a value above and below zero says, and how it follows from the places.
Way = Callable[..., Said]  #: says one way in which a measure can differ, given ``by``


Measured = tuple[str, str, Way, Way, Callable[[np.ndarray], float]]


def measured(measured: Measured, places: np.ndarray, covariance: np.ndarray, wide: float) -> Measure:
    name, unit, above, below, value_of = measured
    value, variance = value_of(places), 0.0
    for i in range(len(places)):
        gradient = np.zeros(3)
        for axis in range(3):
            moved = places.copy()
            moved[i, axis] += STEP_MM
            gradient[axis] = (value_of(moved) - value) / STEP_MM
        variance += float(gradient @ covariance[i] @ gradient)
    sigma = float(np.sqrt(max(variance, 0)))
    real = bool(abs(value) > wide * sigma and abs(value) > 1e-6)
    figure = Mm(abs(value), 1, sized=False) if unit == "mm" else MmPerM(abs(value))
    words = (
        (above if value > 0 else below)(by=figure)
        if real
        else Said(
            "no {name} beyond the noise of {noise}",
            name=first_low(name),
            noise=Mm(wide * sigma, 1) if unit == "mm" else MmPerM(wide * sigma),
        )
    )
    return Measure(
        name=name,
        value=round(float(value), 4),
        sigma=round(sigma, 4),
        unit=unit,
        real=real,
        words=first_up(words) + ".",
    )


def weights_of(basis: np.ndarray, wanted: int) -> np.ndarray:
    """The linear combination of observations that gives one coefficient of a least-squares fit."""
    return np.linalg.pinv(basis)[wanted]


def lozenge(nominal: np.ndarray, fl: int, fr: int, rl: int, rr: int) -> Callable[[np.ndarray], float]:
    def difference(places: np.ndarray) -> float:
        return float(np.linalg.norm(places[fl] - places[rr]) - np.linalg.norm(places[fr] - places[rl]))

    usual = difference(nominal)
    return lambda places: difference(places) - usual
