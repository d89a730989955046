"""Repairs: opened from findings, moved along the ribbon past the stages' gates, deleted while nothing is done."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from django.db.models import Max
from django.dispatch import Signal

from yellow_sill.core.datum.walk import STAGES
from yellow_sill.core.errors import BadField
from yellow_sill.core.repairs.gate import Gate, Ready
from yellow_sill.core.repairs.ribbon import STATES, BadMove, Step, check_move
from yellow_sill.core.said import Said, first_low
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.stages import told
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.models import Finding

from .models import Repair, RibbonStep

#: Sent before a repair is opened, with it and its findings: later stages work out what belongs to a new one and answer with
#: what stores that once it is stored, or with None. What they raise refuses it.
repair_opening = Signal()


class MendedAlready(Exception):
    """Findings that another repair mends already; a person says whether they open again."""


def require_unmended(findings: Sequence[Finding]) -> None:
    """A finding belongs to one repair, unless a person says that it opens again. Raises: MendedAlready, in words."""
    known = (
        Repair.objects.filter(findings__in=findings)
        .values_list("findings__number", "number", "state")
        .order_by("findings__number", "number")
    )
    mine = {finding.number for finding in findings}
    told = [f"finding {found} by R-{number:02d}, {state}" for found, number, state in known if found in mine]
    if told:
        raise MendedAlready(
            f"Mended already: {'; '.join(told)}. Go on there, or tick below that it opens again."
        )


@one_change
def open_repair(
    vehicle: Vehicle,
    findings: Sequence[Finding],
    *,
    title: str,
    opened_on: date,
    by: str,
    style: str = "rectangle",
    margin_mm: float,
    corner_radius_mm: float,
    web_mm: float,
) -> Repair:
    """Open a repair for one or more findings, propose its cuts and put it on the ribbon as opened.

    Raises: BadField where no finding was chosen; BadOutline from the core.
    """
    if not findings:
        raise BadField("A repair needs at least one finding.", "findings", "Tick what it will mend.")
    number = (vehicle.repairs.aggregate(last=Max("number"))["last"] or 0) + 1
    repair = Repair(
        vehicle=vehicle,
        number=number,
        title=title or findings[0].head,
        state="opened",
        state_on=opened_on,
        style=style,
        margin_mm=margin_mm,
        corner_radius_mm=corner_radius_mm,
        web_mm=web_mm,
        changed_by=by,
    )
    brought = [
        store
        for _, store in repair_opening.send(Repair, repair=repair, findings=findings)
        if store is not None
    ]
    repair.save()
    repair.findings.set(findings)
    found = min(findings, key=lambda finding: finding.found_on)
    RibbonStep.objects.create(
        repair=repair, state="found", made_on=min(found.found_on, opened_on), by=found.found_by
    )
    RibbonStep.objects.create(repair=repair, state="opened", made_on=opened_on, by=by)
    for store in brought:
        store()
    return repair


def asked_before(repair: Repair, to: str, day: date) -> tuple[list[Ready], Gate | None]:
    """What is looked at before a repair reaches a state on a day, line by line, and the gate; neither where no stage asks.

    Where several stages ask, each of their gates is a line of its own.
    """
    asked = [each for say in told("gates") if (each := say(repair, to, day)) is not None]
    if len(asked) < 2:
        return asked[0] if asked else ([], None)
    lines = [
        line
        for some, gate in asked
        for line in some
        or ([Ready(key=gate.stage, what=GATES.get(gate.stage, gate.stage), ready=gate.open, words=gate.reason)] if gate else [])
    ]  # fmt: skip
    shut = [gate for _, gate in asked if gate and not gate.open]
    first = shut[0] if shut else next((gate for _, gate in asked if gate), None)
    return lines, first


#: What a gate asks for, where several are shown as lines.
GATES = {"cut": "Datum check", "tacked": "Datum check", "welded": "Datum check", "closing": "Closing check"}


def require_gate(repair: Repair, to: str, despite: str | Mapping[str, str], day: date) -> str:
    """Nothing goes on out of tolerance, unchecked or loose, unless somebody writes why: before a cut, for each line that is open.

    Args: despite: why it goes on all the same; before a cut by the key of each open line.
    Returns: the reasons to keep, empty where none was needed.
    Raises: BadMove with the gate's reason.
    """
    lines, gate = asked_before(repair, to, day)
    if gate is None or gate.open:
        return ""
    cures = {
        "hold": "Fit braces on the Hold page",
        "before": "See to it",
        "closing": "See to its list on the Protect page",
    }
    cure = cures.get(gate.stage) or f"Take a round at stage '{STAGES[gate.stage].lower()}' for {repair.code}"
    waiting = [line for line in lines if not line.ready]
    if not waiting:
        if not isinstance(despite, str) or not despite.strip():
            raise BadMove(gate.reason, "despite", f"{cure}, or write why it goes on all the same.")
        return despite.strip()
    reasons = (
        {line.key: despite for line in waiting}
        if isinstance(despite, str) and len(waiting) == 1
        else despite
        if isinstance(despite, Mapping)
        else {}
    )
    unsaid = [first_low(line.what) for line in waiting if not reasons.get(line.key, "").strip()]
    if unsaid:
        raise BadMove(
            gate.reason,
            "despite",
            f"{cure}, or write why it goes on all the same, beside each line: {'; '.join(unsaid)}.",
        )
    return "; ".join(f"{line.what.lower()}: {reasons[line.key].strip()}" for line in waiting)


@one_change
def move_on_ribbon(
    repair: Repair,
    to: str,
    *,
    version: int | None,
    made_on: date,
    note: str,
    by: str,
    today: date,
    despite: str | Mapping[str, str] = "",
) -> RibbonStep:
    """Record one step, forward or back; ``despite`` is why it goes on although the gate is shut, before a cut for each open line.

    Raises: ChangedMeanwhile, BadMove.
    """
    stored = Repair.objects.get(pk=repair.pk)
    stored.require_version(version)
    last = repair.steps.last()
    for refuse in told("forbids"):
        refuse(repair, to, made_on)
    check_move(Step(state=last.state, made_on=last.made_on, by=last.by), to, made_on, note, today)
    kept = require_gate(stored, to, despite, made_on)
    repair.save_as(version, by, state=to, state_on=made_on)
    step = RibbonStep.objects.create(
        repair=repair, state=to, made_on=made_on, by=by, note=note.strip(), despite=kept
    )
    for follow in told("follows"):
        follow(repair, to, made_on, by)
    return step


@dataclass(frozen=True, slots=True, kw_only=True)
class RibbonState:
    """A state of the ribbon: whether it is reached, whether it is the one now, and the last step that reached it."""

    state: str
    reached: bool
    is_now: bool
    step: RibbonStep | None


def ribbon(repair: Repair, steps: Iterable[RibbonStep]) -> list[RibbonState]:
    """The ribbon as shown: each state with the last step that reached it, and whether it is reached now."""
    latest = {step.state: step for step in steps}
    here = STATES.index(repair.state)
    return [
        RibbonState(
            state=state,
            reached=place <= here,
            is_now=place == here,
            step=latest.get(state) if place <= here else None,
        )
        for place, state in enumerate(STATES)
    ]


def require_open(repair: Repair) -> None:
    if repair.state != "opened":
        raise BadField(
            f"{repair.code} is {repair.state} already: what it takes in stands.",
            "add",
            "Go back to opened on the ribbon first, with a reason.",
        )


@one_change
def delete_repair(repair: Repair) -> None:
    """Delete a repair that was only planned; the findings stay. Raises: BadField where something was done or written for it."""
    require_open(repair)
    for say in told("keeps"):
        if words := say(repair):
            raise BadField(
                Said("{repair} has {words} in its log.", repair=repair.code, words=words),
                "delete",
                "It is part of the vehicle's record: leave it, or move them first.",
            )
    repair.delete()
