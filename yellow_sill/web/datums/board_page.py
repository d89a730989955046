"""What the datum boards are handed: points in a view's plane or in space, height strips, diagonals, stands."""

from collections.abc import Sequence
from dataclasses import dataclass

Place = Sequence[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnPoint:
    """A point on a drawing, mm: by how much it is off (or has moved), ``dz`` upwards; its ellipse (half axes, turn); what that is worth."""

    code: str
    name: str
    at: Place
    trusted: bool
    selected: bool
    href: str
    flag: str = "none"
    off: Place | None = None
    length: float | None = None
    dz: float = 0.0
    ellipse: Sequence[float] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Height:
    u: float
    dz: float
    flag: str
    code: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Strip:
    """Heights off nominal along one side."""

    title: str
    points: Sequence[Height]


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagonal:
    ends: Sequence[Place]
    names: Sequence[str]
    mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagonals:
    lines: Sequence[Diagonal]
    differ: float


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnStand:
    """A stand: what lies on it and what is to be added, mm; ``light``: it carries nothing."""

    id: str
    at: Place
    left: bool
    packed: float
    add: float
    light: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class DatumPage:
    """One view; ``moves``: what moved since another round instead of what is off; ``plan``: it is looked at along z."""

    points: Sequence[DrawnPoint]
    exaggeration: float
    strips: Sequence[Strip] = ()
    stands: Sequence[DrawnStand] = ()
    diagonals: Diagonals | None = None
    moves: bool = False
    plan: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class TurnPage:
    """All points in space, the pairs that were taped, the body as thin lines."""

    points: Sequence[DrawnPoint]
    lines: Sequence[Sequence[str]]
    body: Sequence[Sequence[Place]]
    exaggeration: float
