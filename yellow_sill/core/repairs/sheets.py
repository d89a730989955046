"""The sheets of a repair: each has a state of its own, the ribbon follows from them, and work goes from the inside out."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Day, Listed, Quoted, Said
from .ribbon import STATES, BadMove

#: The states of one sheet, in their order, and the ribbon's state that a repair has when none of its sheets is behind it.
AS_RIBBON = {
    "planned": "opened", "cut": "cut", "made": "made", "fitted": "fitted", "tacked": "fitted", "welded": "welded", "dressed": "dressed",
    "protected": "protected",
}  # fmt: skip
SHEET_STATES = tuple(AS_RIBBON)
#: From this state on a sheet waits for what lies behind it, and what lies behind must have reached the second.
WAITS_FROM, BEHIND_AT = "tacked", "welded"
#: What a person does to bring a sheet to a state, as the button says it.
SHEET_TO_DO = {
    "cut": "It is cut out", "made": "The patch is made", "fitted": "It is fitted", "tacked": "It is tacked", "welded": "It is welded",
    "dressed": "It is dressed", "protected": "It is protected",
}  # fmt: skip
_Name = Annotated[str, Field(min_length=1, max_length=60)]


class SheetIs(Record):
    """A sheet of a repair: its name, its state and the day since, and the names of the sheets of this repair that lie behind it."""

    name: _Name
    state: Annotated[str, OneOf(SHEET_STATES)]
    since: date | None = None
    behind: Annotated[list[_Name], Field(max_length=20)] = []


class SheetsRequest(Record):
    """All sheets of a repair."""

    sheets: Annotated[list[SheetIs], Field(min_length=1, max_length=200)]


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """What a sheet's next state is, and for which sheets behind it that waits."""

    sheet: str
    to: str | None
    waits_for: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetsTold:
    """The ribbon's state as it follows from the sheets; the sheets from the inside out with what comes next of each."""

    ribbon: str
    order: list[NextStep]
    words: Said


def sheets_told(request: SheetsRequest) -> SheetsTold:
    """Where a repair is, by its sheets.

    The ribbon is never ahead of any sheet.

    Args: request: see SheetsRequest.
    Raises: BadField: a sheet twice, one that lies behind itself, or behind one that lies behind it.
    """
    order = inside_out(request.sheets)
    ribbon = ribbon_of([each.state for each in request.sheets])
    steps = [next_step(each, request.sheets) for each in order]
    here = next((step for step in steps if step.to and not step.waits_for), None)
    words = (
        Said("{ribbon}; next {sheet}: {to}.", ribbon=Said(ribbon.capitalize()), sheet=Quoted(here.sheet), to=Said(here.to or ""))
        if here
        else Said("{ribbon}: every sheet is protected.", ribbon=Said(ribbon.capitalize()))
    )  # fmt: skip
    return SheetsTold(ribbon=ribbon, order=steps, words=words)


def ribbon_of(states: Sequence[str]) -> str:
    """The ribbon's state of a repair whose sheets have these states: that of the one farthest behind.

    >>> ribbon_of(["welded", "tacked"]), ribbon_of(["protected", "dressed"])
    ('fitted', 'dressed')
    """
    return AS_RIBBON[min(states, key=SHEET_STATES.index)]


def sheet_state_of(ribbon: str) -> str:
    """The state that a sheet has in a repair that was moved along the ribbon as a whole."""
    place = STATES.index(ribbon)
    return max(
        (state for state in SHEET_STATES if STATES.index(AS_RIBBON[state]) <= place and state != "tacked"),
        key=SHEET_STATES.index,
        default=SHEET_STATES[0],
    )


def inside_out(sheets: Sequence[SheetIs]) -> list[SheetIs]:
    """The sheets, each after all that lie behind it. Raises: BadField."""
    by_name: dict[str, SheetIs] = {}
    for number, each in enumerate(sheets):
        if each.name in by_name:
            raise BadField(
                Said("'{name}' is there twice.", name=Quoted(each.name)),
                f"sheets[{number}].name",
                "Give each its own name.",
            )
        by_name[each.name] = each
    order: list[SheetIs] = []
    on_the_way: list[str] = []

    def put(each: SheetIs) -> None:
        if each in order:
            return
        if each.name in on_the_way:
            raise BadField(
                Said("'{name}' lies behind itself.", name=Quoted(each.name)),
                "sheets",
                "Of two sheets one lies behind the other.",
            )
        on_the_way.append(each.name)
        for name in each.behind:
            if name in by_name:
                put(by_name[name])
        on_the_way.pop()
        order.append(each)

    for each in sheets:
        put(each)
    return order


def next_step(sheet: SheetIs, sheets: Sequence[SheetIs]) -> NextStep:
    """What comes next of a sheet."""
    place = SHEET_STATES.index(sheet.state)
    to = SHEET_STATES[place + 1] if place + 1 < len(SHEET_STATES) else None
    return NextStep(
        sheet=sheet.name, to=to, waits_for=waits_for(sheet, to, {each.name: each.state for each in sheets})
    )


def waits_for(sheet: SheetIs, to: str | None, states: Mapping[str, str]) -> list[str]:
    """The sheets behind one that must be welded before it is tacked or anything later."""
    if to is None or SHEET_STATES.index(to) < SHEET_STATES.index(WAITS_FROM):
        return []
    ready = SHEET_STATES.index(BEHIND_AT)
    return [name for name in sheet.behind if name in states and SHEET_STATES.index(states[name]) < ready]


def check_sheet_step(
    sheet: SheetIs,
    to: str,
    *,
    sheets: Sequence[SheetIs],
    made_on: date,
    today: date,
    note: str,
    despite: str = "",
) -> str:
    """Refuse a step of a sheet that cannot be right.

    Args: to: the state wanted; note: a reason, needed when going back; despite: why it goes on before what lies behind is welded.
    Returns: the reason to keep, empty where none was needed.
    Raises: BadMove: no such state, a skipped one, back without a reason, a day out of order, a sheet behind it that is not welded yet.
    """
    if to not in SHEET_STATES:
        raise BadMove(
            Said("A sheet is never '{to}'.", to=Quoted(to[:20])),
            "state",
            Said("Choose one of: {states}.", states=Listed(SHEET_STATES)),
        )
    here, there = SHEET_STATES.index(sheet.state), SHEET_STATES.index(to)
    if here == there:
        raise BadMove(
            Said("{name} is {to} already.", name=Quoted(sheet.name), to=Said(to)), "state", "Reload the page."
        )
    if there > here + 1:
        skipped = Listed(SHEET_STATES[here + 1 : there])
        what = Said(
            "From {now} to {to} skips: {skipped}.", now=Said(sheet.state), to=Said(to), skipped=skipped
        )
        raise BadMove(what, "state", "Say those first; they may bear the same date.")
    if there < here and not note.strip():
        what = Said("Going back from {now} to {to} needs a reason.", now=Said(sheet.state), to=Said(to))
        raise BadMove(what, "note", "Write what was wrong; the next restorer will ask.")
    if made_on > today:
        raise BadMove("That day has not come yet.", "made_on", "Give the day on which it was done.")
    if sheet.since and made_on < sheet.since:
        what = Said("The step before ({now}) was on {day}.", now=Said(sheet.state), day=Day(sheet.since))
        raise BadMove(what, "made_on", "Give that day or a later one.")
    waiting = waits_for(sheet, to if there > here else None, {each.name: each.state for each in sheets})
    if not waiting:
        return ""
    if not despite.strip():
        what = Said("{waiting} lies behind it and is not welded yet.", waiting=Listed(tuple(waiting)))
        raise BadMove(what, "despite", "Weld from the inside out, or write why this one goes first.")
    return despite.strip()
