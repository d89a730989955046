"""The steps of the work, made from every repair and its sheets from the inside out; what a person changed of them, added, split or untied."""

import math
from collections.abc import Collection
from dataclasses import dataclass

from ..days import require_one_zone
from ..errors import BadField
from ..said import Quoted, Said
from .maker import Maker
from .removal import NO_REPAIR, parts_steps, put_in_order
from .work import LEAST_LEFT_MIN, THUMB_MIN, Changed, MadeStep, RepairWork, StepsRequest, late_of


@dataclass(frozen=True, slots=True, kw_only=True)
class StepsTold:
    """The steps that are open, those no plan can hold since nobody knows when what they wait for comes, those ticked as done, what is not known in words."""

    steps: list[MadeStep]
    unplanned: list[MadeStep]
    done: list[str]
    unknown: list[Said]


def made_steps(request: StepsRequest) -> StepsTold:
    """The steps of all repairs, with their ties.

    Args: request: see StepsRequest.
    Returns: open steps; what is done by its sheet's state or by a person's word is left out and ties of it fall away.
    Raises: BadField: a tie of the trade untied without a reason, a change of a step that there is not and never was, sheets behind one another in a ring.
    Source: the order of the work of one sheet and of a repair; docs/methods.md section 6.
    """
    times = [
        ("waits", at)
        for repair in request.repairs
        for wait in repair.waits
        for at in (wait.there, wait.there_late)
        if at
    ]
    times += [("outside", at) for wait in request.outside for at in (wait.there, wait.there_late) if at]
    times += [("changed", change.not_before) for change in request.changed if change.not_before]
    times += [("changed", change.holds_until) for change in request.changed if change.holds_until]
    if times:
        require_one_zone(times, times[0][1])
    steps: dict[str, MadeStep] = {}
    for repair in request.repairs:
        for step in Maker(repair, request).made():
            steps[step.key] = step
    others = RepairWork(number=NO_REPAIR, state="opened", waits=request.outside)
    for step in [*Maker(others, request).coming_alone(), *parts_steps(request, request.removal)]:
        steps[step.key] = step
    not_kept = put_in_order(steps, request.removal)
    done: list[str] = []
    for change in request.changed:
        _apply(change, steps)
    for change in request.changed:
        if change.done and change.key in steps:
            done.append(change.key)
        if change.parts > 1 and change.key in steps and not change.done:
            _split(steps, steps[change.key], change.parts)
    for key in done:
        del steps[key]
    for key, spent in request.spent.items():
        if key in steps and spent:
            step = steps[key]
            spread = step.late_minutes / step.minutes
            step.minutes = max(min(LEAST_LEFT_MIN, step.minutes), step.minutes - spent)
            step.late_minutes = math.ceil(step.minutes * spread)
    for change in request.changed:
        for key in change.holds:
            if change.holds_until and key in steps:
                steps[key].not_before = max(filter(None, (steps[key].not_before, change.holds_until)))
    for step in steps.values():
        step.after = [key for key in dict.fromkeys(step.after) if key in steps]
        step.within_h = {key: hours for key, hours in step.within_h.items() if key in step.after}
        step.until = step.until if step.until in steps else ""
    never = _never(steps)
    return StepsTold(
        steps=[step for key, step in steps.items() if key not in never], unplanned=[steps[key] for key in never], done=done,
        unknown=[*_unknown(steps.values(), request), *not_kept],
    )  # fmt: skip


def _never(steps: dict[str, MadeStep]) -> list[str]:
    """The keys of what waits for something of which nobody knows when it comes, and of all that waits for that."""
    found = [key for key, step in steps.items() if step.never]
    for key in found:
        found += [other for other, step in steps.items() if key in step.after and other not in found]
    return found


def _unknown(steps: Collection[MadeStep], request: StepsRequest) -> list[Said]:
    found = [
        Said("{name}: nobody knows when it comes.", name=Quoted(wait.name)) for wait in request.outside if wait.there is None
    ] + [
        Said("{name} for R-{repair:02d} is not ordered: reckoned as if it were ordered today.", name=Quoted(wait.name), repair=repair.number)
        if wait.there else Said("{name} for R-{repair:02d}: nobody knows when it comes.", name=Quoted(wait.name), repair=repair.number)
        for repair in request.repairs for wait in repair.waits if not wait.ordered or wait.there is None
    ]  # fmt: skip
    keys = {step.key for step in steps}
    guessed = sorted({step.repair for step in steps if step.guess and step.repair})
    found += [
        Said("R-{repair:02d}: its minutes are rules of thumb, nothing was worked out.", repair=number)
        for number in guessed
    ]
    alone = dict.fromkeys(step.called for step in request.removal if f"R{NO_REPAIR}:{step.part}:weld" in keys)
    return found + [
        Said("{part} is in the order of removal and in no repair: its minutes are rules of thumb.", part=called) for called in alone
    ]  # fmt: skip


def _apply(change: Changed, steps: dict[str, MadeStep]) -> None:
    """Put what a person says onto a step. Raises: BadField."""
    if change.own:
        minutes = change.minutes or THUMB_MIN["fit"]
        steps[change.key] = MadeStep(
            key=change.key, name=change.name or change.key, repair=change.repair, kind=change.kind or "clean", minutes=minutes,
            late_minutes=change.late_minutes or late_of(minutes, None), own=True,
        )  # fmt: skip
    step = steps.get(change.key)
    if step is None:
        return  # its sheet has gone past it: what was said of it stays said
    for name in ("name", "panel", "kind", "hands", "sparks", "position", "pauses", "cure_h", "not_before"):
        value = getattr(change, name)
        if (value is not None and value != "") or (name == "position" and value == ""):
            setattr(step, name, value)
    if change.minutes:
        step.minutes, step.guess = change.minutes, False
        step.late_minutes = max(change.minutes, change.late_minutes or late_of(change.minutes, None))
    for tie in change.untied:
        if tie.key in step.trade and not tie.why.strip():
            raise BadField(
                Said("{name} waits for {other} by the order of the trade.", name=Quoted(step.name), other=Quoted(tie.key)),
                "untied", "Write why it does not here.",
            )  # fmt: skip
        step.after = [key for key in step.after if key != tie.key]
    step.after += [key for key in change.after if key != step.key]


def _split(steps: dict[str, MadeStep], step: MadeStep, parts: int) -> None:
    """Make several steps of one, one after another; what waits for it waits for the last."""
    each = math.ceil(step.minutes / parts)
    late = math.ceil(step.late_minutes / parts)
    keys = [f"{step.key}/{n + 1}" for n in range(parts)]
    for n, key in enumerate(keys):
        last = n == parts - 1
        steps[key] = MadeStep(
            key=key, name=f"{step.name} {n + 1}/{parts}", repair=step.repair, kind=step.kind, minutes=max(1, each), late_minutes=max(1, late),
            sheet=step.sheet, panel=step.panel, to=step.to if last else "", guess=step.guess, own=step.own, hands=step.hands, sparks=step.sparks,
            position=step.position, touches=step.touches, apart=step.apart, after=list(step.after) if n == 0 else [keys[n - 1]],
            trade=list(step.trade) if n == 0 else [keys[n - 1]], cure_h=step.cure_h if last else 0.0,
            within_h=dict(step.within_h) if n == 0 else {}, pauses=step.pauses, until=step.until if last else "",
            not_before=step.not_before, there_late=step.there_late, waits=step.waits,
        )  # fmt: skip
    del steps[step.key]
    for other in steps.values():
        if step.key in other.after:
            other.after = [keys[-1] if key == step.key else key for key in other.after]
            other.trade = [keys[-1] if key == step.key else key for key in other.trade]
            if step.key in other.within_h:
                other.within_h[keys[-1]] = other.within_h.pop(step.key)
        if other.until == step.key:
            other.until = keys[0]
