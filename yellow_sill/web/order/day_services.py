"""The slot that is on, or the next one, as Today shows it."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from yellow_sill.core.errors import CoreError
from yellow_sill.core.order.day import DayTold, InSlot, day_told
from yellow_sill.core.order.picture import SlotBar, Tick, bar_of, ticks
from yellow_sill.core.order.work import MadeStep
from yellow_sill.core.repairs.hours import clock
from yellow_sill.web.parts.need_services import lacking
from yellow_sill.web.shells.models import Vehicle

from .models import WorkSlot
from .plan_services import drawn, plan_of, standing
from .slot_services import as_core, limits_of, to_come
from .step_services import spent_on
from .time_services import page_of, running

#: How wide the bar of a slot is drawn, px.
WIDTH = 760.0


@dataclass(frozen=True, slots=True, kw_only=True)
class DayStep:
    """A step of the slot: when, how far, the page of its work."""

    step: MadeStep
    begins: datetime
    ends: datetime
    spent: str
    runs: bool
    url: str


@dataclass(frozen=True, slots=True, kw_only=True)
class DayShown:
    """The slot; whether it is on now; its bar and ruler; where now is on it, px (None: not in it); its steps; what was done in it; how it ends."""

    slot: WorkSlot
    on: bool
    bar: SlotBar
    ruler: list[Tick]
    now: float | None
    steps: list[DayStep]
    told: DayTold
    holds: bool


def day_of(vehicle: Vehicle, now: datetime) -> DayShown | None:
    """The slot that is on or the next; None without a plan or a slot. Raises: CoreError."""
    plan = plan_of(vehicle)
    slots = to_come(vehicle, now)
    if plan is None or not slots:
        return None
    stands = standing(vehicle, plan, now)
    slot = slots[0]
    steps = {step.key: step for step in stands.steps}
    core = as_core(slot, limits_of(vehicle).latest_spark)
    here = sorted(
        (each for each in stands.placed.values() if _in(each, slot, now)), key=lambda each: each["begins"]
    )
    under_way, spent = running(vehicle), spent_on(vehicle)
    first = under_way.key if under_way else here[0]["key"] if here else ""
    scale = WIDTH / max(1.0, (core.ends - core.begins).total_seconds() / 60)
    return DayShown(
        slot=slot, on=slot.begins_at <= now, bar=bar_of(core, drawn(here, first), x=0.0, scale=scale), ruler=ticks(core, scale=scale),
        now=round((now - core.begins).total_seconds() / 60 * scale, 1) if slot.begins_at <= now else None,
        steps=[
            DayStep(
                step=steps[each["key"]],
                begins=max(slot.begins_at, datetime.fromisoformat(each["begins"])),
                ends=min(slot.ends_at, datetime.fromisoformat(each["ends"])),
                spent=clock(spent[each["key"]]) if each["key"] in spent else "", runs=bool(under_way and under_way.key == each["key"]),
                url=page_of(vehicle, steps[each["key"]]),
            )
            for each in here
        ],
        told=day_told([_in_slot(each, steps, here, slot) for each in here]), holds=stands.holds,
    )  # fmt: skip


def _in(each: dict, slot: WorkSlot, now: datetime) -> bool:
    """Whether a step is worked on in a slot; what should have been done before is in the one that is on, or the next."""
    begins = [datetime.fromisoformat(piece[0]) for piece in each["pieces"]]
    return any(slot.begins_at <= at < slot.ends_at for at in begins) or (
        datetime.fromisoformat(each["ends"]) < min(now, slot.begins_at)
    )


def _in_slot(each: dict, steps: dict[str, MadeStep], here: list[dict], slot: WorkSlot) -> InSlot:
    step = steps[each["key"]]
    treated = {other["key"] for other in here}
    waits = [
        hours for other in steps.values() for key, hours in other.within_h.items() if key == step.key and other.key not in treated
    ]  # fmt: skip
    ends = datetime.fromisoformat(each["ends"])
    return InSlot(
        step=step,
        whole=ends <= slot.ends_at,
        bare_until=ends + timedelta(hours=min(waits)) if waits else None,
    )


def quiet_day(vehicle: Vehicle, now: datetime) -> DayShown | None:
    """The same, None where nothing can be told."""
    try:
        return day_of(vehicle, now)
    except CoreError:
        return None


#: Shopping looks so many slots ahead.
SHOPPING_SLOTS = 2


def shopping(vehicle: Vehicle, now: datetime) -> list[str]:
    """What must be bought or fetched for the next slots: parts that their steps wait for, and what runs short of what they use up. Raises: CoreError."""
    plan = plan_of(vehicle)
    slots = to_come(vehicle, now)[:SHOPPING_SLOTS]
    if plan is None or not slots:
        return []
    stands = standing(vehicle, plan, now)
    last = slots[-1].ends_at
    here = [step for step in stands.steps if step.key in stands.placed and datetime.fromisoformat(stands.placed[step.key]["begins"]) < last]  # fmt: skip
    found = [f"{step.waits}, for R-{step.repair:02d}" for step in here if step.waits]
    kinds = {step.kind for step in here}
    for lack in lacking(vehicle):
        if any(lack.key.startswith(begin) and kinds & used for begin, used in USED_UP.items()):
            found.append(lack.name)
    return list(dict.fromkeys(found))


#: Which lacks are used up by which kinds of work, by how their keys begin.
USED_UP = {"weld-": {"weld", "cut", "dress"}, "can-": {"protect"}, "steel-": {"make"}}


def quiet_shopping(vehicle: Vehicle, now: datetime) -> list[str]:
    """The same, nothing where nothing can be told."""
    try:
        return shopping(vehicle, now)
    except CoreError:
        return []
