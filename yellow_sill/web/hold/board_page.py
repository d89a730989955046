"""What the hold board is handed: the structure as it is drawn, and what a tap may change."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

Place = Sequence[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnNode:
    """A node in space, mm; ``datum``: the points of the book at it; ``swing``: how far the softest movement takes it, mm."""

    at: Place
    name: str
    datum: str
    seen: bool
    swing: Place


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnMember:
    """A member between two nodes: whether it is there, has lost metal, carries nothing; its size, mm; its share of the most carried."""

    ends: Sequence[str]
    there: bool
    less: bool
    size: float
    carries: float
    idle: bool
    parts: Sequence[str]
    told: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HoldPage:
    """The structure in a state. ``braces``: both ends, and whether it is kept; ``stands``: what each bears, N; ``axes``, ``deep``: of a flat view."""

    nodes: Mapping[str, DrawnNode]
    members: Sequence[DrawnMember]
    braces: Sequence[tuple[str, str, bool]]
    stands: Mapping[str, float | None]
    worst: str
    verdict: str
    body: Sequence[Sequence[Place]]
    axes: tuple[str, str] | None
    deep: Sequence[int] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class TapPart:
    """A part, the drawn panels that are it, and whether it is tried out or new."""

    name: str
    panels: Sequence[str]
    state: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TapPage:
    """What a tap may change: parts by code; the views that draw a panel; cuts that are tried (view, panel); each view's axes."""

    parts: Mapping[str, TapPart]
    panels: Mapping[str, Sequence[str]]
    cuts: Sequence[tuple[str, str]]
    views: Mapping[str, tuple[str, str]]
