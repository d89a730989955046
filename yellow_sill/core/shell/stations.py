"""Stations: how the reference drawing stretches to another vehicle of the same kind.

A body draughtsman moves whole stations: everything round a wheel stays as round as it was, everything between two
stations grows or shrinks in proportion. Each axis is a rising piecewise linear map, so neighbours that shared an edge
still share it and no outline can cross itself.
"""

from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Stretch:
    """Maps along u and v from the reference body to a vehicle, mm to mm."""

    u: Callable[[float], float]
    v: Callable[[float], float]


def piecewise(reference: tuple[float, ...], actual: tuple[float, ...]) -> Callable[[float], float]:
    """A piecewise linear map through (reference[i], actual[i]), slope 1 beyond both ends.

    Args: reference, actual: the same number of stations, both strictly rising, mm.
    Returns: the map.
    """

    def to_actual(value: float) -> float:
        i = bisect_right(reference, value)
        if i == 0:
            return actual[0] + value - reference[0]
        if i == len(reference):
            return actual[-1] + value - reference[-1]
        share = (value - reference[i - 1]) / (reference[i] - reference[i - 1])
        return actual[i - 1] + share * (actual[i] - actual[i - 1])

    return to_actual
