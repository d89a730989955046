"""Stations: how the reference drawing stretches to another vehicle of the same kind.

A body draughtsman moves whole stations: everything round a wheel stays as round as it was, everything between two
stations grows or shrinks in proportion. Each axis is a rising piecewise linear map, so neighbours that shared an edge
still share it and no outline can cross itself.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

#: Farther than any place of a drawing, mm.
FAR_MM = 1e5
#: A map along one axis, mm to mm: of a place, or of an array of places.
Along = Callable[[Any], Any]


@dataclass(frozen=True, slots=True)
class Stretch:
    """Maps along u and v from the reference body to a vehicle, mm to mm."""

    u: Along
    v: Along


def piecewise(reference: tuple[float, ...], actual: tuple[float, ...]) -> Along:
    """A piecewise linear map through (reference[i], actual[i]), slope 1 beyond both ends.

    Args: reference, actual: the same number of stations, both strictly rising, mm.
    Returns: the map, of one place or of many at once.
    """
    here = np.array([reference[0] - FAR_MM, *reference, reference[-1] + FAR_MM])
    there = np.array([actual[0] - FAR_MM, *actual, actual[-1] + FAR_MM])

    def to_actual(value: Any) -> Any:
        found = np.interp(value, here, there)
        return found if isinstance(value, np.ndarray) else float(found)

    return to_actual
