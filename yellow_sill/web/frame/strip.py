"""The HOLD block of the strip: the app that knows puts its source here when it starts."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

#: States, as drawn from left to right.
STATES = ("held", "soft", "loose")


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """Which of the three states is on (none where it cannot be told), why in one line, and the page that says more."""

    state: str
    why: str
    url: str


_sources: list[Callable[[Any], Hold | None]] = []


def add_hold(source: Callable[[Any], Hold | None]) -> None:
    _sources.append(source)


def hold_of(vehicle: Any) -> Hold | None:
    """What holds a vehicle's shell; None where no app knows."""
    return next((hold for source in _sources if (hold := source(vehicle))), None)
