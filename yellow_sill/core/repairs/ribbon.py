"""The ribbon: the states a repair passes through, forward one at a time, back with a reason."""

from dataclasses import dataclass
from datetime import date

from ..errors import CoreError
from ..said import Day, Listed, Said

STATES = ("found", "opened", "cut", "made", "fitted", "welded", "dressed", "protected", "signed off")

#: What a person does to reach each state, as the button says it.
TO_DO = {
    "opened": "Open it up",
    "cut": "Cut it out",
    "made": "Make the patch",
    "fitted": "Fit and clamp it",
    "welded": "Weld it in",
    "dressed": "Dress the welds",
    "protected": "Protect it",
    "signed off": "Sign it off",
}


class BadMove(CoreError):
    """A step on the ribbon that cannot be taken."""

    code = "BAD-MOVE"


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One recorded step: the state reached, on which day, by whom, why."""

    state: str
    made_on: date
    by: str
    note: str = ""


def next_state(state: str) -> str | None:
    """The state after this one; None at the end."""
    place = STATES.index(state)
    return STATES[place + 1] if place + 1 < len(STATES) else None


def check_move(current: Step, to: str, made_on: date, note: str, today: date) -> None:
    """Refuse a step that cannot be right.

    Args: current: the last recorded step; to: state wanted; made_on: its date; note: a reason, needed when going back.
    Raises: BadMove for an unknown or equal state, a skipped one, going back without a reason, or a date out of order.
    """
    if to not in STATES:
        raise BadMove(
            Said("There is no state '{to}'.", to=to),
            "state",
            Said("Choose one of: {states}.", states=Listed(tuple(STATES))),
        )
    here, there = STATES.index(current.state), STATES.index(to)
    if here == there:
        raise BadMove(
            Said("This repair is already {to}.", to=to), "state", "Reload the page to see its steps."
        )
    if there > here + 1:
        skipped = ", ".join(STATES[here + 1 : there])
        raise BadMove(
            Said("From {state} to {to} skips: {skipped}.", state=current.state, to=to, skipped=skipped),
            "state",
            "Record those first; they may bear the same date.",
        )
    if there < here and not note.strip():
        raise BadMove(
            Said("Going back from {state} to {to} needs a reason.", state=current.state, to=to),
            "note",
            "Write what was wrong; the next restorer will ask.",
        )
    if made_on > today:
        raise BadMove("That day has not come yet.", "made_on", "Give the day on which it was done.")
    if made_on < current.made_on:
        text = Said(
            "The step before ({state}) was on {made_on}.", state=current.state, made_on=Day(current.made_on)
        )
        raise BadMove(text, "made_on", "Give that day or a later one.")


def share_done(state: str) -> float:
    """How far along the ribbon, 0 to 1."""
    return STATES.index(state) / (len(STATES) - 1)
