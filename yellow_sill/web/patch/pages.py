"""What the pattern board is handed."""

from collections.abc import Sequence
from dataclasses import dataclass

Point = Sequence[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedPlace:
    name: str
    at: Point


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """Something the core remarks on, and where."""

    text: str
    at: Point


@dataclass(frozen=True, slots=True, kw_only=True)
class PatternPage:
    """A flat sheet, empty where no pattern can be made; ``preview``: the address that works it out anew."""

    preview: str
    flat: Sequence[Point] | None = None
    opening: Sequence[Point] = ()
    holes: Sequence[Sequence[Point]] = ()
    bends: Sequence[Sequence[Point]] = ()
    steps: Sequence[Sequence[Point]] = ()
    names: Sequence[NamedPlace] = ()
    transfers: Sequence[NamedPlace] = ()
    marks: Sequence[Mark] = ()
