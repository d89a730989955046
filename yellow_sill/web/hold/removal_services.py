"""How far the accepted order of removal is: by what was recorded here, and by the repairs whose sheets its parts are."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from yellow_sill.core.hold.bodies import panels_of
from yellow_sill.core.hold.words import part_name
from yellow_sill.core.order.removal import is_done
from yellow_sill.core.said import Said
from yellow_sill.web.shells.models import Vehicle

from .models import WorkOrder
from .services import Facts
from .setups import Setup
from .works import SheetOn, sheets_on


@dataclass(frozen=True, slots=True, kw_only=True)
class Reached:
    """A step of the accepted order: the day it was done (None: it is not), whether that is recorded here, the sheets of repairs that are its part."""

    action: str
    done_on: date | None
    here: bool
    sheets: tuple[SheetOn, ...]

    @property
    def words(self) -> Said:
        return words_of(self.action)

    @property
    def codes(self) -> list[str]:
        """The repairs that do it."""
        return [code for _, code in self.repairs]

    @property
    def repairs(self) -> list[tuple[int, str]]:
        """The same with their numbers."""
        return list(dict.fromkeys((each.repair, each.code) for each in self.sheets))


def words_of(action: str) -> Said:
    what = Said("Take out") if action[0] == "-" else Said("New in")
    return Said("{what}: {part}", what=what, part=part_name(action[1:]))


def reached(vehicle: Vehicle, order: WorkOrder) -> list[Reached]:
    """Every step of the order with how it stands. A part whose sheet an open repair has is out, or new in, when that is."""
    on_panel: dict[str, list[SheetOn]] = {}
    for each in sheets_on(vehicle):
        on_panel.setdefault(each.panel, []).append(each)
    return [_reached(step, on_panel) for step in order.steps]


def _reached(step: Mapping[str, str | None], on_panel: Mapping[str, Sequence[SheetOn]]) -> Reached:
    action = step["action"] or ""
    here = step["done_on"]
    sheets = tuple(each for code in panels_of(action[1:]) for each in on_panel.get(code, ()))
    day = date.fromisoformat(here) if here else None
    if day is None and is_done(action[0] == "-", [each.state for each in sheets]):
        day = max(each.since for each in sheets)
    return Reached(action=action, done_on=day, here=bool(here), sheets=sheets)


def facts_after(facts: Facts, step: Reached, *, undo: bool = False) -> Facts:
    """The facts once a step is done: of a repair's sheets the pieces that it cuts, of any other part the whole of it."""
    if not step.sheets:
        return replace(facts, setup=stepped(facts.setup, step.action, undo))
    mine = {(each.opening.why, each.panel) for each in step.sheets}
    openings = tuple(each for each in facts.openings if (each.why, each.panel) not in mine)
    if step.action[0] == "-":
        openings = (*openings, *(each.opening for each in step.sheets))
    return replace(facts, openings=openings)


def stepped(setup: Setup, action: str, undo: bool) -> Setup:
    """How the shell stands once a whole part is taken out or new in, or that is taken back."""
    part, goes_out = action[1:], (action[0] == "-") != undo
    out, new = [p for p in setup.out if p != part], [p for p in setup.new if p != part]
    if goes_out:
        out.append(part)
    elif not undo:
        new.append(part)
    return replace(setup, out=tuple(out), new=tuple(new))


def facts_along(facts: Facts, steps: Sequence[Reached]) -> Iterator[Facts]:
    """The facts after each of some steps."""
    for step in steps:
        facts = facts_after(facts, step)
        yield facts
