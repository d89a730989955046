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
from yellow_sill.core.said import Said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import WorkOrder
from .services import (
    Facts,
    facts_now,
    facts_of,
    held_of,
    judge_of,
    metal_of,
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


def words_of(action: str) -> str:
    what = Said("Take out") if action[0] == "-" else Said("New in")
    return Said("{what}: {part}", what=what, part=part_name(action[1:]))


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


def next_step(order: WorkOrder) -> int | None:
    """Place of the first step that is not done; None when all are."""
    return next((i for i, step in enumerate(order.steps) if not step["done_on"]), None)


@one_change
def step_done(
    vehicle: Vehicle, *, undo: bool, version: int | None, by: str, today: date, despite: str = ""
) -> str:
    """Record the next step as done, or take the last one back; the shell's parts go out and in with it. Returns it in words.

    Raises: ChangedMeanwhile; BadField where nothing is left to do or to take back; LooseWithoutReason where it leaves the shell LOOSE.
    """
    order = WorkOrder.objects.filter(vehicle=vehicle).first()
    if order is None:
        raise BadField("No order of work is accepted.", "order", "Choose parts and accept an order first.")
    order.require_version(version)
    at = next_step(order)
    at = len(order.steps) if at is None else at
    at -= undo
    if not 0 <= at < len(order.steps):
        raise BadField("There is no step to take back." if undo else "Every step is done.", "order")
    steps = [dict(step) for step in order.steps]
    action = steps[at]["action"]
    setup = _stepped(Setup.of(setup_of(vehicle)), action, undo)
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


def _stepped(setup: Setup, action: str, undo: bool) -> Setup:
    part, goes_out = action[1:], (action[0] == "-") != undo
    out, new = [p for p in setup.out if p != part], [p for p in setup.new if p != part]
    if goes_out:
        out.append(part)
    elif not undo:
        new.append(part)
    return replace(setup, out=tuple(out), new=tuple(new))


@dataclass(frozen=True, slots=True, kw_only=True)
class NextStep:
    """The next step of an order of work: which (from 1), in words, what part; the verdict now and after; what tries it in Hold."""

    number: int
    words: str
    now: Held
    after: Held
    part: str
    query: str


def ahead(vehicle: Vehicle, order: WorkOrder) -> NextStep | None:
    """The next step of the order of work with the verdict now and after it; None when all is done. Raises: BadField."""
    at = next_step(order)
    if at is None:
        return None
    setup, metal = Setup.of(setup_of(vehicle)), metal_of(vehicle)
    action = order.steps[at]["action"]
    now, after = (held_of(facts_of(vehicle, each, metal)) for each in (setup, _stepped(setup, action, False)))
    query = tried_query(_stepped(setup, action, False), stands_of(facts_of(vehicle, setup, metal)))
    return NextStep(
        number=at + 1,
        words=words_of(action),
        now=now,
        after=after,
        part=action[1:],
        query=query,
    )


def still_ahead(vehicle: Vehicle, order: WorkOrder) -> Walked:
    """The steps that are not done, gone through from the shell as it stands. Raises: BadField."""
    at = next_step(order)
    return _gone_through(
        facts_now(vehicle), tuple(step["action"] for step in (order.steps[at:] if at is not None else ()))
    )


@lru_cache(maxsize=8)
def _gone_through(facts: Facts, actions: tuple[str, ...]) -> Walked:
    start = held_of(facts)
    setup, steps = facts.setup, []
    for action in actions:
        setup = _stepped(setup, action, False)
        there = replace(facts, setup=setup)
        j = round(
            float(
                judge_of(there).number(
                    judge_of(there).solved((asked := request_of(there)).parts, asked.braces)
                )[0]
            ),
            3,
        )
        steps.append(OrderStep(action=action, j=j, verdict=verdict_of(j, 0)))
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
