"""Room: what the dimensions of a body leave between them, and the range that leaves to each dimension."""

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from ..errors import BadField

#: Lengths closer than this are one length, mm.
SAME_MM = 1e-6


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """One length that follows from several dimensions, mm, and what can be drawn of it."""

    name: str  #: the dimension to tape again
    what: str
    length_mm: float
    least_mm: float
    most_mm: float = math.inf
    mend: str

    @property
    def fits(self) -> bool:
        return self.least_mm - SAME_MM <= self.length_mm <= self.most_mm + SAME_MM

    def check(self) -> None:
        """Raises: BadField, naming the dimension, where the length cannot be drawn."""
        if self.fits:
            return
        left = "does not fit" if self.length_mm <= 0 else f"would be {self.length_mm:.0f} mm long"
        may = (
            f"at least {self.least_mm:.0f} mm"
            if math.isinf(self.most_mm)
            else f"{self.least_mm:.0f} to {self.most_mm:.0f} mm"
        )
        raise BadField(f"{self.what} {left} with these dimensions; {may} can be drawn.", self.name, self.mend)


Rooms = Callable[[dict[str, float]], Iterable[Room]]


def what_fits(
    rooms: Rooms, sizes: Mapping[str, float], name: str, least_mm: float, most_mm: float
) -> tuple[float, float] | None:
    """The range of one dimension while all others stay as they are.

    Every room is a straight line over each single dimension, so two of its lengths tell where it is too tight and where too long.

    Args:
        rooms: the body type's rooms.
        sizes: every dimension by name, mm.
        name: the dimension in question.
        least_mm, most_mm: what the drawing takes of it at all.
    Returns: the least and the most, mm; None where nothing fits with the others.
    """
    low, high = least_mm, most_mm
    at_low, at_high = (rooms({**sizes, name: end}) for end in (least_mm, most_mm))
    for short, long in zip(at_low, at_high, strict=True):
        slope = (long.length_mm - short.length_mm) / (most_mm - least_mm)
        if abs(slope) < SAME_MM:
            if not short.fits:
                return None
            continue
        turns = sorted(
            least_mm + (bound - short.length_mm) / slope for bound in (short.least_mm, short.most_mm)
        )
        low, high = max(low, turns[0]), min(high, turns[1])
    return (min(low, most_mm), min(max(low, high), most_mm)) if low <= high + SAME_MM else None
