"""The order of removal: a person's own gone through, the accepted one, and what each of its steps does to the shell."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.hold.bodies import all_out_first, closes_of, rules_of
from yellow_sill.core.hold.order import OrderRequest, walked
from yellow_sill.core.hold.ordered import Order, OrderStep, Walked
from yellow_sill.core.hold.verdict import Held, verdict_of
from yellow_sill.core.hold.words import part_name
from yellow_sill.core.said import Listed, Said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import WorkOrder
from .removal_services import Reached, facts_after, facts_along, reached, stepped, words_of
from .services import (
    Facts,
    facts_now,
    facts_of,
    held_of,
    judge_of,
    request_of,
    stands_of,
    values_of,
)
from .setups import Setup, setup_of, store_setup, tried_query

#: So many parts are put in order at once.
LEAST_PARTS, MOST_PARTS = 2, 12


def order_values(facts: Facts, parts: Sequence[str], steps: Sequence[str] = ()) -> dict[str, Any]:
    """The input of ``removal_order``: every part in at first, the braces in throughout. Raises: BadField."""
    if not LEAST_PARTS <= len(parts) <= MOST_PARTS:
        raise BadField(f"Tick {LEAST_PARTS} to {MOST_PARTS} parts.", "job", "Renew the rest in a second go.")
    values = values_of(_all_in(facts))
    jobs = [{"id": part, "parts": [part]} for part in parts]
    return values | {
        "jobs": jobs,
        "rules": rules_of(parts),
        "closes": closes_of(parts),
        "own_order": list(steps) if steps else all_out_first(parts),
    }


def _all_in(facts: Facts) -> Facts:
    return replace(facts, setup=replace(facts.setup, out=()))


@lru_cache(maxsize=32)
def own_order(facts: Facts, parts: tuple[str, ...], steps: tuple[str, ...]) -> Walked:
    """A person's own order, or everything out first, gone through. Raises: BadField, at the step that cannot be."""
    request = OrderRequest.read(order_values(facts, parts, steps))
    return walked(judge_of(_all_in(facts)), request)


def order_of(plain: Mapping[str, Any]) -> Order:
    """An order as a search in another process answers it."""
    return Order(**{**plain, "steps": [OrderStep(**step) for step in plain["steps"]]})


def work_order_of(vehicle: Vehicle) -> WorkOrder | None:
    return WorkOrder.objects.filter(vehicle=vehicle).first()


class LooseWithoutReason(BadField):
    """A step that leaves the shell LOOSE needs a reason, as a cut does."""

    code = "HOLD-LOOSE"


@one_change
def accept_order(
    vehicle: Vehicle,
    parts: Sequence[str],
    steps: Sequence[str],
    *,
    version: int | None,
    by: str,
    today: date,
    despite: str = "",
) -> WorkOrder:
    """Make an order the vehicle's order of work.

    Raises: ChangedMeanwhile; BadField where it breaks a rule; LooseWithoutReason where a step leaves the shell LOOSE and nobody says why.
    """
    gone = own_order(facts_now(vehicle), tuple(parts), tuple(steps))
    loose = next((i for i, step in enumerate(gone.order.steps, start=1) if step.verdict == "LOOSE"), None)
    if loose and not despite.strip():
        what = f"Step {loose} of this order leaves the shell LOOSE."
        raise LooseWithoutReason(
            what, "despite", "Brace it, change the order, or write why it is done all the same."
        )
    values = {
        "steps": [{"action": step, "done_on": None} for step in steps],
        "accepted_on": today,
        "despite": despite.strip() if loose else "",
    }
    stored = WorkOrder.objects.filter(vehicle=vehicle).first()
    if stored is None:
        return WorkOrder.objects.create(vehicle=vehicle, changed_by=by, **values)
    stored.save_as(version, by, **values)
    return stored


@one_change
def step_done(
    vehicle: Vehicle,
    *,
    undo: bool,
    version: int | None,
    by: str,
    today: date,
    despite: str = "",
    action: str = "",
) -> Said:
    """Record the next step as done, or take the last one that was recorded here back; the shell's parts go out and in with it. Returns it in words.

    Args: action: which step it is meant to be; empty for whichever is next.
    Raises: ChangedMeanwhile; BadField where nothing is left to do or to take back, or where a repair does it: there it is recorded;
        LooseWithoutReason where it leaves the shell LOOSE.
    """
    order = WorkOrder.objects.filter(vehicle=vehicle).first()
    if order is None:
        raise BadField("No order of work is accepted.", "order", "Choose parts and accept an order first.")
    order.require_version(version)
    along = reached(vehicle, order)
    at = _last_here(along) if undo else next_at(along)
    if at is None:
        raise BadField("There is no step to take back." if undo else "Every step is done.", "order")
    if action and along[at].action != action:
        what = Said("The order of removal has another step next: {step}.", step=along[at].words)
        raise BadField(what, "order", "Do that first, or accept another order.")
    if along[at].sheets and not undo:
        raise BadField(
            Said("{step}: that is {codes}.", step=along[at].words, codes=Listed(tuple(along[at].codes))),
            "order",
            "Record it on its log or in the plan; this list follows.",
        )
    steps, action = [dict(step) for step in order.steps], along[at].action
    setup = stepped(Setup.of(setup_of(vehicle)), action, undo)
    steps[at] = {"action": action, "done_on": None if undo else today.isoformat()}
    if not undo and held_of(facts_of(vehicle, setup)).verdict == "LOOSE":
        if not despite.strip():
            raise LooseWithoutReason(
                Said("{step}: this leaves the shell LOOSE.", step=words_of(action)),
                "despite",
                "Brace it first, or write why it is done all the same.",
            )
        steps[at]["despite"] = despite.strip()
    store_setup(vehicle, setup, version=None, by=by, today=today)
    order.save_as(version, by, steps=steps)
    return words_of(action)


def next_at(along: Sequence[Reached]) -> int | None:
    """Place of the first step that is not done; None when all are."""
    return next((i for i, step in enumerate(along) if step.done_on is None), None)


def _last_here(along: Sequence[Reached]) -> int | None:
    return next((i for i in range(len(along) - 1, -1, -1) if along[i].here), None)


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """The next step of an order of work: which (from 1), in words, what part; the verdict now and after; what tries it in Hold; the repairs that do it."""

    number: int
    words: str
    now: Held
    after: Held
    part: str
    query: str
    repairs: list[tuple[int, str]]


def ahead(vehicle: Vehicle, order: WorkOrder) -> NextStep | None:
    """The next step of the order of work with the verdict now and after it; None when all is done. Raises: BadField."""
    along = reached(vehicle, order)
    at = next_at(along)
    if at is None:
        return None
    facts = facts_now(vehicle)
    after = facts_after(facts, along[at])
    return NextStep(
        number=at + 1,
        words=along[at].words,
        now=held_of(facts),
        after=held_of(after),
        part=along[at].action[1:],
        query=tried_query(stepped(facts.setup, along[at].action, False), stands_of(facts)),
        repairs=along[at].repairs,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class StillAhead:
    """The accepted order: how each step stands, and those not done gone through from the shell as it is."""

    along: list[Reached]
    gone: Walked


def still_ahead(vehicle: Vehicle, order: WorkOrder) -> StillAhead:
    """Raises: BadField."""
    along = reached(vehicle, order)
    left = tuple(step for step in along if step.done_on is None)
    return StillAhead(along=along, gone=_gone_through(facts_now(vehicle), left))


@lru_cache(maxsize=8)
def _gone_through(facts: Facts, left: tuple[Reached, ...]) -> Walked:
    start = held_of(facts)
    steps = []
    for step, there in zip(left, facts_along(facts, left), strict=True):
        asked = request_of(there)
        judge = judge_of(there)
        j = round(float(judge.number(judge.solved(asked.parts, asked.braces))[0]), 3)
        steps.append(OrderStep(action=step.action, j=j, verdict=verdict_of(j, 0)))
    worst = max((step.j for step in steps), default=start.j)
    order = Order(
        steps=steps,
        worst_j=worst,
        worst_verdict=verdict_of(worst, 0),
        locked_in_mm=0.0,
        locked_in_check=[],
        locked_in_check_mm=0.0,
    )
    return Walked(order=order, start_j=start.j, start_verdict=start.verdict, lower_bound=0.0)


def removal_of(vehicle: Vehicle) -> list[dict[str, Any]]:
    """The accepted order as the plan of the work asks for it: nothing without one. Raises: BadField."""
    order = work_order_of(vehicle)
    if order is None:
        return []
    told = still_ahead(vehicle, order)
    verdicts = iter(told.gone.order.steps)
    return [
        {
            "action": step.action, "called": part_name(step.action[1:]), "done": step.done_on is not None,
            "sheets": [{"repair": each.repair, "sheet": each.sheet} for each in step.sheets],
            "loose": step.done_on is None and next(verdicts).verdict == "LOOSE",
        }
        for step in told.along
    ]  # fmt: skip
