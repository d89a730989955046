"""The HOLD block of the strip: the stage that knows says what holds the shell."""

from dataclasses import dataclass
from typing import Any

from .stages import told

#: States, as drawn from left to right.
STATES = ("held", "soft", "loose")


@dataclass(frozen=True, slots=True, kw_only=True)
class Hold:
    """Which of the three states is on (none where it cannot be told), why in one line, and the page that says more."""

    state: str
    why: str
    url: str


def hold_of(vehicle: Any) -> Hold | None:
    """What holds a vehicle's shell; None where no stage knows."""
    return next((hold for say in told("hold") if (hold := say(vehicle))), None)
