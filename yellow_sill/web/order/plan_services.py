"""The plan: asked for, taken, made again with least change; what holds up what; when it will be done."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.order.chain import Chain, ChainRequest, chain
from yellow_sill.core.order.finish import Finish, FinishRequest, finish
from yellow_sill.core.order.judge import broken
from yellow_sill.core.order.picture import Drawn
from yellow_sill.core.order.plan import Plan
from yellow_sill.core.order.replan import Replan, ReplanRequest, replan
from yellow_sill.core.order.work import MadeStep
from yellow_sill.core.said import Said
from yellow_sill.web.frame import jobs
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.models import Job
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.shells.models import Vehicle

from .models import TakenPlan, WorkSlot
from .slot_services import as_core, limits_of, to_come
from .step_services import READ, steps_of


def plan_of(vehicle: Vehicle) -> TakenPlan | None:
    return TakenPlan.objects.filter(vehicle=vehicle).first()


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """The plan beside the steps as they are now: those it has, those it lacks, what of it is over and not done, what else is not so any more in words."""

    steps: list[MadeStep]
    placed: dict[str, dict[str, Any]]
    lacks: list[MadeStep]
    overdue: list[str]
    broken: list[Said]

    @property
    def holds(self) -> bool:
        return not self.lacks and not self.overdue and not self.broken


def standing(vehicle: Vehicle, plan: TakenPlan, now: datetime) -> Standing:
    """Args: plan: the vehicle's own. Raises: CoreError."""
    stands = _beside(vehicle, now.date())
    late = [key for key, each in stands.placed.items() if datetime.fromisoformat(each["ends"]) < now]
    return replace(stands, overdue=late)


@by_revision(4, *READ)
def _beside(vehicle: Vehicle, today: date) -> Standing:
    """The plan beside the steps, but for what the clock says of it."""
    plan = plan_of(vehicle)
    steps = steps_of(vehicle, today).steps
    open_ = {step.key: step for step in steps}
    placed = {each["key"]: each for each in (plan.placed if plan else []) if each["key"] in open_}
    spark = limits_of(vehicle).latest_spark
    slots = [as_core(slot, spark) for slot in vehicle.work_slots.filter(missed=False)]
    pieces = {step.key: step.pieces for step in drawn(list(placed.values()))}
    return Standing(
        steps=steps,
        placed=placed,
        lacks=[step for step in steps if step.key not in placed],
        overdue=[],
        broken=broken([step.plain() for step in steps], slots, pieces),
    )


def asked_of(vehicle: Vehicle, now: datetime) -> tuple[dict[str, Any], list[WorkSlot]]:
    """What a plan is asked with, and the slots as they are stored, in the same order. Raises: BadField where there is nothing to plan."""
    steps, slots = steps_of(vehicle, now.date()).steps, to_come(vehicle, now)
    if not steps:
        raise BadField("No step is open.", "steps", "Open a repair, or add a step of your own.")
    if not slots:
        raise BadField("There is no slot to come.", "slots", "Add the evenings and Saturdays that you have.")
    begun = now.replace(second=0, microsecond=0)
    told = []
    spark = limits_of(vehicle).latest_spark
    for slot in slots:
        each = as_core(slot, spark).model_dump(mode="json")
        told.append({**each, "begins": max(slot.begins_at, begun).isoformat()})
    plain = [step.plain().model_dump(mode="json") for step in steps]
    return {"steps": plain, "slots": told, "open_areas": limits_of(vehicle).open_areas}, slots


def ask_plan(vehicle: Vehicle, now: datetime) -> Job:
    """Have the best plan worked out beside the pages. Raises: CoreError."""
    return jobs.ask("plan", vehicle.pk, asked_of(vehicle, now)[0])


def _as_stored(vehicle: Vehicle, placed: Sequence[Mapping[str, Any]], today: date) -> list[dict[str, Any]]:
    steps = {step.key: step for step in steps_of(vehicle, today).steps}
    return [
        {
            "key": each["key"], "name": each["name"], "begins": each["begins"], "ends": each["ends"], "pieces": each["pieces"],
            "repair": steps[each["key"]].repair if each["key"] in steps else 0,
            "cure_h": steps[each["key"]].cure_h if each["key"] in steps else 0.0,
            "sparks": steps[each["key"]].sparks if each["key"] in steps else False,
        }
        for each in placed
    ]  # fmt: skip


@one_change
def take_plan(
    vehicle: Vehicle, answer: Mapping[str, Any], *, version: int | None, today: date, by: str
) -> None:
    """Make an answer of the search the vehicle's plan. Raises: BadField where it holds none; ChangedMeanwhile."""
    if not answer.get("possible"):
        raise BadField("There is no such plan to take.", "plan", "Change what contradicts itself.")
    _keep(vehicle, answer["placed"], answer["finish"], answer["bound"], version, today, by)


def _keep(
    vehicle: Vehicle, placed: Sequence[Mapping[str, Any]], ends: str, bound: str, version: int | None, today: date, by: str
) -> None:  # fmt: skip
    values = {
        "placed": _as_stored(vehicle, placed, today),
        "told": {"finish": ends, "bound": bound},
        "taken_on": today,
    }
    stored = plan_of(vehicle)
    if stored is None:
        TakenPlan.objects.create(vehicle=vehicle, changed_by=by, **values)
    else:
        stored.save_as(version, by, **values)


def again(vehicle: Vehicle, plan: TakenPlan, now: datetime, put: Mapping[str, int] | None = None) -> Replan:
    """The plan again with least change. Args: put: by step the key of the slot that it is put into. Raises: CoreError."""
    values, slots = asked_of(vehicle, now)
    places = {slot.pk: n for n, slot in enumerate(slots)}
    if any(key not in places for key in (put or {}).values()):
        raise BadField("That slot is not to come.", "slot", "Choose one that is.")
    open_ = {step["key"] for step in values["steps"]}
    if any(key not in open_ for key in put or {}):
        raise BadField("That step is done, or its sheet has gone past it.", "step", "Look at the plan anew.")
    was = {each["key"]: each["begins"] for each in plan.placed if each["key"] in open_}
    return replan(
        ReplanRequest.read(
            values | {"was": was, "put": [{"key": key, "slot": values["slots"][places[slot]]["begins"]} for key, slot in (put or {}).items()]}
        )
    )  # fmt: skip


@one_change
def take_again(
    vehicle: Vehicle, now: datetime, put: Mapping[str, int], *, version: int | None, by: str
) -> Replan:
    """Make the plan again and take it. Raises: CoreError; ChangedMeanwhile."""
    plan = plan_of(vehicle)
    if plan is None:
        raise BadField("There is no plan yet.", "plan", "Have one made first.")
    plan.require_version(version)
    told = again(vehicle, plan, now, put)
    if not told.plan.possible:
        raise BadField(told.words, "slots")
    answer = as_answer(told.plan)
    _keep(vehicle, answer["placed"], answer["finish"], answer["bound"], version, now.date(), by)
    return told


def as_answer(plan: Plan) -> dict[str, Any]:
    """A plan as a search beside the pages answers it."""
    ends = {
        name: at.isoformat() if at else "" for name, at in (("finish", plan.finish), ("bound", plan.bound))
    }
    return {"possible": plan.possible, "placed": plain_placed(plan), **ends}


def plain_placed(plan: Plan) -> list[dict[str, Any]]:
    return [
        {
            "key": each.key, "name": each.name, "begins": each.begins.isoformat(), "ends": each.ends.isoformat(),
            "pieces": [[begins.isoformat(), ends.isoformat()] for begins, ends in each.pieces],
        }
        for each in plan.placed
    ]  # fmt: skip


def drawn(placed: Sequence[Mapping[str, Any]], first: str = "") -> list[Drawn]:
    """The steps of a stored plan as they are drawn. Args: first: the key of the next one."""
    return [
        Drawn(
            key=each["key"], name=each["name"], repair=each.get("repair", 0), cure_h=each.get("cure_h", 0.0), sparks=each.get("sparks", False),
            next=each["key"] == first,
            pieces=[(datetime.fromisoformat(begins), datetime.fromisoformat(ends)) for begins, ends in each["pieces"]],
        )
        for each in placed
    ]  # fmt: skip


@by_revision(16, *READ)
def chain_of(vehicle: Vehicle, key: str, today: date) -> Chain | None:
    """What holds up a step, or the whole; None where the plan no longer holds. Raises: CoreError."""
    stands = _beside(vehicle, today)
    if not stands.holds or not stands.steps:
        return None
    values, _ = asked_of(vehicle, datetime.combine(today, time()))
    placed = {key: {"begins": each["begins"], "ends": each["ends"]} for key, each in stands.placed.items()}
    return chain(ChainRequest.read(values | {"placed": placed, "key": key}))


@by_revision(4, *READ)
def finish_of(vehicle: Vehicle, today: date) -> Finish | None:
    """When it will be done, by the plan's order; None without one. Raises: CoreError."""
    plan = plan_of(vehicle)
    if plan is None:
        return None
    now = datetime.combine(today, datetime.min.time())
    slots = to_come(vehicle, now)
    at = {each["key"]: each["begins"] for each in plan.placed}
    steps = sorted(steps_of(vehicle, today).steps, key=lambda step: at.get(step.key, "9"))
    if not slots or not steps:
        return None
    had, missed = slots_had(vehicle, now)
    before: set[str] = set()
    told = []
    for step in steps:
        told.append({
            "key": step.key, "name": step.said, "minutes": step.minutes, "late_minutes": step.late_minutes, "cure_h": step.cure_h,
            "after": [key for key in step.after if key in before],
            "there": step.not_before.date() if step.not_before else None, "there_late": step.there_late.date() if step.there_late else None,
        })  # fmt: skip
        before.add(step.key)
    core = [as_core(slot).model_dump(mode="json") for slot in slots]
    return finish(FinishRequest.read({"steps": told, "slots": core, "had": had, "missed": missed}))


def slots_had(vehicle: Vehicle, now: datetime) -> tuple[int, int]:
    """How many slots of the past are known: worked in, or said to be missed; and how many of those were missed. The others nobody knows of."""
    past = list(vehicle.work_slots.filter(day__lt=now.date()))
    worked = set(vehicle.work_entries.filter(worked_on__gte=now.date() - timedelta(days=730)).values_list("worked_on", flat=True))  # fmt: skip
    missed = sum(slot.missed for slot in past)
    return missed + sum(not slot.missed and slot.day in worked for slot in past), missed
