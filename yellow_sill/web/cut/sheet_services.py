"""The sheets of a repair: each has its own state, and the ribbon follows from them."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from yellow_sill.core.outlines import touching
from yellow_sill.core.repairs.ribbon import STATES, BadMove
from yellow_sill.core.repairs.sheets import (
    AS_RIBBON,
    SHEET_STATES,
    SheetIs,
    check_sheet_step,
    inside_out,
    next_step,
    ribbon_of,
    sheet_state_of,
)
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import move_on_ribbon

from .models import Cut, SheetStep


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """A sheet of a repair: its cut, how it stands, what comes next of it and for what that waits, its steps."""

    cut: Cut
    told: SheetIs
    to: str | None
    waits_for: list[str]
    steps: list[SheetStep]


def sheets_of(repair: Repair) -> list[Sheet]:
    """The sheets of a repair, from the inside out. Raises: CoreError."""
    cuts = list(repair.cuts.without_drawings().prefetch_related("sheet_steps"))
    named = names_of(cuts)
    records = [
        SheetIs(
            name=named[cut.pk],
            state=_state(repair, list(cut.sheet_steps.all())),
            since=_since(repair, list(cut.sheet_steps.all())),
            behind=[named[other.pk] for other in lying_behind(cut, cuts)],
        )
        for cut in cuts
    ]
    by_name = {named[cut.pk]: cut for cut in cuts}
    found = []
    for each in inside_out(records):
        cut, step = by_name[each.name], next_step(each, records)
        cut.repair = repair
        found.append(
            Sheet(cut=cut, told=each, to=step.to, waits_for=step.waits_for, steps=list(cut.sheet_steps.all()))
        )
    return found


def names_of(cuts: Sequence[Cut]) -> dict[int, str]:
    """What each sheet is called, by its cut's key: its panel's code, with the cut's number where a panel is cut twice."""
    often = Counter(cut.panel.code for cut in cuts)
    return {
        cut.pk: cut.panel.code if often[cut.panel.code] == 1 else f"{cut.panel.code} cut {cut.number}"
        for cut in cuts
    }


def lying_behind(cut: Cut, cuts: Sequence[Cut]) -> list[Cut]:
    """The cuts of the repair in deeper sheets of the view that lie over against one."""
    deeper = [
        other
        for other in cuts
        if other.panel.view_id == cut.panel.view_id
        and other.panel.view.layered
        and other.panel.layer > cut.panel.layer
    ]
    return [deeper[i] for i in touching([cut.outline], [other.outline for other in deeper])]


def _state(repair: Repair, steps: Sequence[SheetStep]) -> str:
    return steps[-1].state if steps else sheet_state_of(repair.state)


def _since(repair: Repair, steps: Sequence[SheetStep]) -> date:
    return steps[-1].made_on if steps else repair.state_on


def in_hand(repair: Repair) -> tuple[Cut, str, str] | None:
    """The sheet that is in hand where those of a repair are not all alike: its cut, its name, the state it is brought to; None else. Raises: CoreError."""
    if not SheetStep.objects.filter(cut__repair=repair).exists():
        return None
    sheets = sheets_of(repair)
    if len({each.told.state for each in sheets}) < 2:
        return None
    return next(
        ((each.cut, each.told.name, each.to) for each in sheets if each.to and not each.waits_for), None
    )


@one_change
def step_sheet(
    cut: Cut,
    to: str,
    *,
    seen: str | None,
    made_on: date,
    note: str = "",
    despite: str = "",
    by: str,
    today: date,
) -> str:
    """Record a step of one sheet, and of the repair's ribbon where no sheet is behind it any more.

    Args: seen: the state that the person saw, None to ask nothing; note: why it goes back; despite: why it goes on before what lies behind,
        or although a gate is shut.
    Returns: the ribbon's state.
    Raises: BadMove: as ``check_sheet_step`` and the gates say, or somebody has stepped it meanwhile; ChangedMeanwhile.
    """
    repair = Repair.objects.select_related("vehicle").get(pk=cut.repair_id)
    if repair.state == STATES[-1]:
        raise BadMove(
            "This repair is signed off.",
            "state",
            "Go back on its ribbon first, with a reason; that is on its log.",
        )
    sheets = sheets_of(repair)
    mine = next(each for each in sheets if each.cut.pk == cut.pk)
    if seen is not None and mine.told.state != seen:
        raise Stepped(mine.told.state)
    reason = check_sheet_step(
        mine.told,
        to,
        sheets=[each.told for each in sheets],
        made_on=made_on,
        today=today,
        note=note,
        despite=despite,
    )
    SheetStep.objects.create(cut=cut, state=to, made_on=made_on, by=by, note=note.strip(), despite=reason)
    states = [to if each.cut.pk == cut.pk else each.told.state for each in sheets]
    _ribbon_follows(repair, ribbon_of(states), made_on, note, despite, by, today)
    return Repair.objects.values_list("state", flat=True).get(pk=repair.pk)


class Stepped(Exception):
    """Somebody has brought a sheet to another state since the page was shown; ``state`` is where it is."""

    def __init__(self, state: str) -> None:
        super().__init__(state)
        self.state = state


def _ribbon_follows(
    repair: Repair, wanted: str, made_on: date, note: str, despite: str, by: str, today: date
) -> None:
    """Move the repair to where its sheets are, a state at a time, each past its gate. Raises: BadMove."""
    here, there = STATES.index(repair.state), STATES.index(wanted)
    if there < here:
        move_on_ribbon(
            repair, wanted, version=None, made_on=max(made_on, repair.state_on), note=note or "A sheet went back", by=by, today=today
        )  # fmt: skip
    for state in STATES[here + 1 : there + 1]:
        move_on_ribbon(
            repair, state, version=None, made_on=max(made_on, repair.state_on), note="", by=by, today=today, despite=despite
        )  # fmt: skip


def follow(repair: Repair, to: str, day: date, by: str) -> None:
    """Bring the sheets of a repair that was moved along the ribbon as a whole to where it is: those behind it, and those ahead where it went back."""
    if to == STATES[-1]:
        return
    wanted = sheet_state_of(to)
    for cut in repair.cuts.prefetch_related("sheet_steps"):
        steps = list(cut.sheet_steps.all())
        if not steps:
            continue  # it is as far as its repair
        state = steps[-1].state
        at, aim = SHEET_STATES.index(state), SHEET_STATES.index(wanted)
        if AS_RIBBON[state] == to or (at > aim and _forward(repair)):
            continue
        SheetStep.objects.create(cut=cut, state=wanted, made_on=day, by=by, note="with the whole repair")


def _forward(repair: Repair) -> bool:
    """Whether the last step of a repair went forward."""
    last = list(repair.steps.order_by("-pk").values_list("state", flat=True)[:2])
    return len(last) < 2 or STATES.index(last[0]) > STATES.index(last[1])
