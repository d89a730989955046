"""What the cut board is handed."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from yellow_sill.web.frame.boards import Tag

Corners = Sequence[Sequence[float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Behind:
    """A sheet or cut behind, by name."""

    name: str
    outline: Corners


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawnNugget:
    """An old spot weld: its number, place, whether it is drilled, and the address that ticks it."""

    n: int
    at: Sequence[float]
    done: bool
    tick: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CutPage:
    """A cut line with all that is drawn round it. ``set_out``: corners to measure from the panel's ``ends``; ``check``: the address that judges a line."""

    corners: Corners
    proposed: Corners
    outline: Corners
    remarks: Sequence[Any]
    set_out: Corners
    panel: Corners
    lines: Sequence[Corners]
    nuggets: Sequence[DrawnNugget]
    layers: Sequence[Behind]
    ends: Sequence[str]
    check: str
    tags: Sequence[Tag]
