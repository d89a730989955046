"""What the pattern board is handed."""

from collections.abc import Sequence
from dataclasses import dataclass

from yellow_sill.core.patch.play import Shape, Stage

Point = Sequence[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedPlace:
    name: str
    at: Point


@dataclass(frozen=True, slots=True, kw_only=True)
class NamedLine:
    """A bend: its name, up or down, its middle on the flat."""

    name: str
    way: str
    path: Sequence[Point]


@dataclass(frozen=True, slots=True, kw_only=True)
class RimTick:
    """A mark on a curved rim, and what the stretch from it on must gain, mm."""

    at: Point
    gain_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WidthGrip:
    """Where a width is dragged: the form's field, its place on the flat's rim, the direction that makes it wider."""

    field: str
    at: Point
    out: Point


@dataclass(frozen=True, slots=True, kw_only=True)
class WeldHole:
    """A weld of the new row; ``hole_mm`` None where this sheet has no hole for it."""

    at: Point
    hole_mm: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """Something the core remarks on, and where."""

    text: str
    at: Point


@dataclass(frozen=True, slots=True, kw_only=True)
class PatternPage:
    """A flat sheet, empty where no pattern can be made; ``preview``, ``folded``: the addresses that work it out anew."""

    preview: str
    folded: str
    flat: Sequence[Point] | None = None
    opening: Sequence[Point] = ()
    cut_outs: Sequence[Sequence[Point]] = ()
    holes: Sequence[Sequence[Point]] = ()
    bends: Sequence[NamedLine] = ()
    names: Sequence[NamedPlace] = ()
    rims: Sequence[RimTick] = ()
    transfers: Sequence[NamedPlace] = ()
    marks: Sequence[Mark] = ()
    ribs: Sequence[Sequence[Point]] = ()
    welds: Sequence[WeldHole] = ()
    grips: Sequence[WidthGrip] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class FoldPage:
    """The part folding: its outlines lying flat, then picture by picture as each bend closes."""

    flat: Sequence[Shape]
    stages: Sequence[Stage]
