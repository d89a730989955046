"""What if: the same work with other slots, a later part or more hands, beside the work as it is."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Annotated

from pydantic import Field

from ..errors import BadField
from ..said import Day, Said
from .asked import PlanRequest, Slot, Step, require_plan, rooms_of
from .serial import least_finish, searched


class WhatIfRequest(PlanRequest):
    """The work, and what is tried.

    Attributes:
        first, last: the days for which it counts; without_weekday: no slots on that weekday then (0: Monday); helped: somebody helps in every slot then;
        late_repair, late_weeks: what that repair waits for comes so much later.
    """

    first: date | None = None
    last: date | None = None
    without_weekday: Annotated[int, Field(ge=0, le=6)] | None = None
    helped: bool = False
    late_repair: Annotated[int, Field(ge=0, le=100_000)] = 0
    late_weeks: Annotated[int, Field(ge=0, le=52)] = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Side:
    """One side: when all is done (None: the slots do not hold it), how many slots it takes, slots with a turn of the shell."""

    finish: datetime | None
    slots: int
    turns: int


@dataclass(frozen=True, slots=True, kw_only=True)
class WhatIf:
    """As it is, and as it would be; what that does, in words."""

    now: Side
    then: Side
    words: Said


def what_if(request: WhatIfRequest) -> WhatIf:
    """The finish as it is and as it would be.

    Args: request: see WhatIfRequest.
    Raises: BadField, as a plan; nothing is tried; days the wrong way round; no slot is left.
    Source: the same search for both sides; docs/methods.md section 6.
    """
    if (
        request.without_weekday is None
        and not request.helped
        and not (request.late_repair and request.late_weeks)
    ):
        raise BadField("Nothing is tried yet.", "what", "Say what would be otherwise.")
    if request.first and request.last and request.last < request.first:
        raise BadField("These days are the wrong way round.", "last", "Turn them round.")
    require_plan(request)
    slots = [_slot(slot, request) for slot in request.slots if not _gone(slot, request)]
    if not slots:
        raise BadField("No slot would be left.", "slots", "Leave one, or add others.")
    late = timedelta(weeks=request.late_weeks)
    steps = [
        step.model_copy(update={"not_before": step.not_before + late})
        if step.repair == request.late_repair and step.not_before and late else step
        for step in request.steps
    ]  # fmt: skip
    if late and request.late_repair and steps == list(request.steps):
        raise BadField("That repair waits for nothing.", "late_repair", "Choose one that waits for a part.")
    now = _side(request.steps, request.slots, request.open_areas)
    then = _side(steps, slots, request.open_areas)
    return WhatIf(now=now, then=then, words=_words(now, then))


def _inside(day: date, request: WhatIfRequest) -> bool:
    return (request.first is None or day >= request.first) and (request.last is None or day <= request.last)


def _gone(slot: Slot, request: WhatIfRequest) -> bool:
    return slot.begins.weekday() == request.without_weekday and _inside(slot.begins.date(), request)


def _slot(slot: Slot, request: WhatIfRequest) -> Slot:
    helped = request.helped and _inside(slot.begins.date(), request)
    return slot.model_copy(update={"hands": 2}) if helped else slot


def _side(steps: Sequence[Step], slots: Sequence[Slot], open_areas: int) -> Side:
    request = PlanRequest(steps=list(steps), slots=list(slots), open_areas=open_areas)
    rooms = rooms_of(request.slots)
    tried = searched(request, rooms, least_finish(request, rooms))
    if tried is None:
        return Side(finish=None, slots=0, turns=0)
    first = min(slot.begins for slot in slots)
    used = {
        next(n for n, room in enumerate(rooms) if room.holds(at)) for at in tried.starts
    }  # fmt: skip
    return Side(finish=first + timedelta(minutes=tried.finish), slots=len(used), turns=tried.turns)


def _words(now: Side, then: Side) -> Said:
    if then.finish is None:
        return Said("The slots would not hold it all any more.")
    if now.finish is None:
        return Said("Done by {day}; as it is, the slots do not hold it all.", day=Day(then.finish.date()))
    days = (then.finish.date() - now.finish.date()).days
    if days == 0:
        return Said("Done by {day} all the same.", day=Day(then.finish.date()))
    how = Said("{days} days later", days=days) if days > 0 else Said("{days} days sooner", days=-days)
    return Said("Done by {day}, {how}.", day=Day(then.finish.date()), how=how)
