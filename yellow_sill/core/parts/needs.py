"""What is wanted: how far each need is, what comes next, what is late; no state is passed over without saying why."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Count, Day, Said, joined
from .arrival import VERDICTS

#: The states of a need in the order of the work, in words.
STATES = {
    "wanted": "wanted", "quoted": "quoted", "ordered": "ordered", "arrived": "arrived", "checked": "checked", "fitted": "fitted",
    "returned": "sent back", "sold": "sold on",
}  # fmt: skip
#: What usually follows each; any other move needs a reason.
USUAL = {
    "wanted": ("quoted",),
    "quoted": ("ordered",),
    "ordered": ("arrived",),
    "arrived": ("checked", "returned"),
    "checked": ("fitted", "returned"),
    "fitted": (),
    "returned": ("quoted",),
    "sold": (),
}
#: What can go back for so many days only is told on the page of the day.
SOON_DAYS = 7
_Days = Annotated[int, Field(ge=0, le=2000)]


class NeedAsked(Record):
    """A need: its state, since when; by when it is needed; lead time of the chosen quote, or the shortest; last day to send it back."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    state: Annotated[str, OneOf(STATES)] = "wanted"
    since: date
    needed_by: date | None = None
    days: _Days | None = None
    late_days: _Days | None = None
    back_until: date | None = None


class NeedsRequest(Record):
    """The needs of a vehicle, and what day it is."""

    needs: Annotated[list[NeedAsked], Field(max_length=3000)]
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class NeedTold:
    """How a need stands.

    ``late``: something of it should have happened by now; ``soon``: it is here, and can go back for a few days only; ``words``: what presses, "" for nothing.
    """

    name: str
    state: str
    late: bool
    words: Said | str
    soon: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class NeedsTold:
    """The needs in the order given, and how many there are by state."""

    needs: list[NeedTold]
    counts: dict[str, int]
    late: int
    words: Said


def needs_told(request: NeedsRequest) -> NeedsTold:
    """How far each need is and what presses.

    Args: request: see NeedsRequest.
    Source: docs/methods.md section 6.
    """
    told = [_told(need, request.today) for need in request.needs]
    counts = {state: sum(each.state == state for each in told) for state in STATES}
    late = sum(each.late for each in told)
    open_ = counts["wanted"] + counts["quoted"]
    coming = counts["ordered"]
    words = Said(
        "{open} to order, {coming} on the way, {late} late.",
        open=Count(open_, "need", "needs"),
        coming=coming,
        late=late,
    )
    return NeedsTold(needs=told, counts=counts, late=late, words=words)


def _told(need: NeedAsked, today: date) -> NeedTold:
    late, parts = False, []
    if need.state in ("wanted", "quoted", "returned") and need.needed_by:
        late, said = _to_order(need, need.needed_by, today)
        parts.append(said)
    elif need.state == "ordered":
        late, said = _coming(need, today)
        parts.append(said)
    if need.state in ("arrived", "checked") and need.back_until:
        left = (need.back_until - today).days
        parts.append(
            Said(
                "It can go back until {day}: {left} left.",
                day=Day(need.back_until),
                left=Count(left, "day", "days"),
            )
            if left >= 0
            else Said("Since {day} it can no longer go back.", day=Day(need.back_until))
        )
    soon = (
        need.state == "arrived"
        and need.back_until is not None
        and 0 <= (need.back_until - today).days <= SOON_DAYS
    )
    return NeedTold(
        name=need.name, state=need.state, late=late, words=joined(parts) if parts else "", soon=soon
    )


def _to_order(need: NeedAsked, by: date, today: date) -> tuple[bool, Said]:
    """Whether it is late to order, and what to say."""
    if by < today:
        return True, Said("It was needed by {day}.", day=Day(by))
    if need.days is None:
        return False, Said("Needed by {day}; how long it takes is not known.", day=Day(by))
    last = by - timedelta(days=need.days)
    if last < today:
        return True, Said(
            "Ordered today it comes {late} after {day}.",
            late=Count((today - last).days, "day", "days"),
            day=Day(by),
        )
    return False, Said("To be ordered by {last} for {day}.", last=Day(last), day=Day(by))


def _coming(need: NeedAsked, today: date) -> tuple[bool, Said]:
    """Whether an order is late, and what to say."""
    if need.days is None:
        return False, Said("When it comes is not known.")
    likely = need.since + timedelta(days=need.days)
    last = need.since + timedelta(
        days=max(need.days, 2 * need.days if need.late_days is None else need.late_days)
    )
    if today > last:
        return True, Said("It should have come by {day}.", day=Day(last))
    if today > likely:
        return False, Said(
            "Expected on {likely}, by {last} at the latest.", likely=Day(likely), last=Day(last)
        )
    return False, Said("Expected on {likely}.", likely=Day(likely))


def require_move(now: str, to: str, why: str, *, quotes: int, chosen: bool, check: str = "") -> None:
    """Let a need go from a state to another.

    Args: why: the reason as typed; quotes: how many there are; chosen: whether one is chosen; check: verdict of what was held against the car, "" for none.
    Raises: BadField: an unknown state, the same state, one passed over or gone back on without a reason, quoted without a quote, ordered without a choice,
        checked without a check that it stood.
    """
    if to not in STATES:
        raise BadField("There is no such state.", "state", "Choose one of the list.")
    if to == now:
        raise BadField(Said("It is {state} already.", state=STATES[now]), "state", "Choose another state.")
    if why.strip():
        return
    if to not in USUAL[now]:
        raise BadField(
            Said("From {now} to {to} is not the usual way.", now=STATES[now], to=STATES[to]),
            "why",
            "Say why, in a few words.",
        )
    if to == "quoted" and not quotes:
        raise BadField(
            "Nobody's quote is written down.", "why", "Write down the quote, or say why there is none."
        )
    if to == "ordered" and not chosen:
        raise BadField("No quote is chosen.", "why", "Choose one, or say why it is ordered without.")
    if to == "checked" and check not in ("fits", "mend"):
        raise BadField(
            Said("By its check {verdict}.", verdict=VERDICTS[check])
            if check
            else "Nobody has held it against the car.",
            "why",
            "Check it first, or say why it counts as checked.",
        )


def usual_next(state: str) -> Sequence[str]:
    """What usually follows a state."""
    return USUAL[state]
