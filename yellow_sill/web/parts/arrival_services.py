"""What came, held against the car: checks kept, the steps they ask for, and what they forbid."""

from collections.abc import Mapping
from datetime import date
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.arrival import ArrivalRequest, ArrivalTold, arrival
from yellow_sill.core.parts.needs import STATES
from yellow_sill.core.repairs.ribbon import BadMove
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair

from .models import ArrivalCheck, Need
from .money_services import terms_of
from .need_services import own_fit_factor, state_of, taken


def told_of_check(need: Need, asked: Mapping[str, Any], today: date) -> ArrivalTold:
    """What a check tells today, with the terms and the taken quote's return. Raises: BadField."""
    quote, terms = taken(need), terms_of(need.vehicle)
    back = None if quote is None or quote.back is None else quote.back * quote.rate
    return arrival(
        ArrivalRequest.read(dict(asked) | {
            "hand": need.hand, "fit_factor": own_fit_factor(need.vehicle), "hour": terms.hour, "currency": need.vehicle.currency,
            "back": None if back is None else round(back, 4), "back_until": quote.back_until if quote else None, "today": today,
        })
    )  # fmt: skip


@one_change
def keep_check(need: Need, asked: Mapping[str, Any], *, note: str, today: date, by: str) -> ArrivalCheck:
    """Store a check of what came. Raises: BadField: not here yet, what the core refuses."""
    step = state_of(need)
    if step is None or step.state not in ("arrived", "checked"):
        words = STATES[step.state] if step else STATES["wanted"]
        raise BadField(f"It is {words}: nothing is here to be checked.", "state", "Say first that it has arrived.")  # fmt: skip
    told = told_of_check(need, asked, today)
    return ArrivalCheck.objects.create(
        need=need,
        checked_on=today,
        after=need.steps.count(),
        asked=dict(asked),
        verdict=told.verdict,
        hours=told.hours,
        note=note[:300],
        by=by,
    )


@one_change
def drop_check(need: Need, key: int) -> None:
    """Take the last check back, where it is still the one that was seen. Raises: BadField."""
    checks = list(need.checks.all())
    if not checks or checks[-1].pk != key:
        raise BadField("It was checked again meanwhile.", "check", "Look at the page again.")
    checks[-1].delete()


def failed_for(repair: Repair) -> list[Need]:
    """What came for a repair and failed its check, until something else is checked that fits."""
    needs = repair.needs.prefetch_related("steps", "quotes", "checks")
    found = []
    for need in needs:
        step, checks = state_of(need), list(need.checks.all())
        done = step is not None and step.state in ("checked", "fitted", "sold")
        if checks and checks[-1].verdict == "back" and not done:
            found.append(need)
    return found


def require_fitting_part(repair: Repair, to: str, day: date) -> None:
    """A panel that failed its check cannot be the reason to cut. Raises: BadMove."""
    if to != "cut" or repair.state != "opened":
        return
    failed = failed_for(repair)
    if failed:
        names = ", ".join(f"{each.number} {each.name}" for each in failed)
        raise BadMove(
            f"What came does not fit: {names}. Old metal stays until a part is here that does.", "state",
            "Check another one, or choose a way that does without it and untie the need from this repair.",
        )  # fmt: skip
