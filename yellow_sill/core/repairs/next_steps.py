"""What to do next: finish what is open before opening more."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from ..days import day_words
from ..said import Quoted, Said
from .ribbon import STATES, TO_DO, next_state

#: More areas open at once than this and projects get sold in boxes; source: docs/methods.md section 6.
MOST_OPEN = 4
#: Grades from the most urgent on; a hole lets water into what is behind it.
URGENT = "HTFPS"


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenRepair:
    """A repair; ``sheet``: the sheet of it that is in hand, and the state it is brought to next, where its sheets are not all alike."""

    number: int
    title: str
    state: str
    since: date
    sheet: tuple[str, str] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class LooseFinding:
    """A finding that no repair mends yet."""

    number: int
    head: str
    grade: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """One thing to do: for a repair or a finding by number."""

    what: str
    why: str
    repair: int | None = None
    finding: int | None = None


#: What a person does to bring one sheet to each state.
SHEET_DO = {
    "cut": "Cut {sheet} out", "made": "Make the patch for {sheet}", "fitted": "Fit and clamp {sheet}", "tacked": "Tack {sheet}", "welded": "Weld {sheet} in",
    "dressed": "Dress the welds of {sheet}", "protected": "Protect {sheet}",
}  # fmt: skip


def _what(repair: OpenRepair, following: str) -> str:
    if repair.sheet is None:
        return TO_DO[following]
    name, to = repair.sheet
    return Said(SHEET_DO[to], sheet=Quoted(name))


def next_steps(
    repairs: Sequence[OpenRepair], findings: Sequence[LooseFinding], most: int = 3
) -> list[NextStep]:
    """The next steps, first the one to take now.

    The repair that is farthest along comes first (nearest to being closed), of equals the one waiting longest; then
    findings without a repair, the worst first, unless MOST_OPEN areas are open already; findings without evidence last.

    Args: repairs: all, signed off ones are passed over; findings: those that no repair mends.
    Returns: at most ``most`` steps.
    """
    open_ones = [repair for repair in repairs if next_state(repair.state)]
    started = [repair for repair in open_ones if STATES.index(repair.state) >= STATES.index("cut")]
    steps = [
        NextStep(
            what=_what(repair, following),
            why=f"{repair.title}: {repair.state} since {day_words(repair.since)}",
            repair=repair.number,
        )
        for repair in sorted(
            open_ones, key=lambda repair: (-STATES.index(repair.state), repair.since, repair.number)
        )
        if (following := next_state(repair.state))
    ]
    ungraded = [
        NextStep(
            what="Look closer: probe, tap or lamp",
            why=Said("{head}: no evidence yet", head=finding.head),
            finding=finding.number,
        )
        for finding in findings
        if not finding.grade
    ]
    if len(started) >= MOST_OPEN:
        return (steps + ungraded)[:most]
    worst = sorted(
        (f for f in findings if f.grade in URGENT and f.grade),
        key=lambda f: (URGENT.index(f.grade), f.number),
    )
    steps += [
        NextStep(
            what="Open a repair",
            why=Said("{head}: worst of those without one", head=finding.head),
            finding=finding.number,
        )
        for finding in worst
    ]
    return (steps + ungraded)[:most]
