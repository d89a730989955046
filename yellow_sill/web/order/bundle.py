"""The calendar in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_order import (
    CalendarPart,
    LimitsPart,
    PlacedPart,
    PlanPart,
    SlotPart,
    TimePart,
)
from yellow_sill.core.order.work import Changed
from yellow_sill.web.frame.bundles import Section, Storing, part
from yellow_sill.web.shells.models import Vehicle

from .models import OrderLimits, StepWord, TakenPlan, WorkSlot, WorkTime


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    limits = OrderLimits.objects.filter(vehicle=vehicle).first()
    plan = TakenPlan.objects.filter(vehicle=vehicle).first()
    return {
        "calendar": CalendarPart(
            slots=[part(SlotPart, each) for each in vehicle.work_slots.all()],
            words=[
                Changed.model_validate({"key": word.key, **word.said}) for word in vehicle.step_words.all()
            ],
            plan=PlanPart(
                placed=[PlacedPart.model_validate(each) for each in plan.placed], finish=plan.told.get("finish") or None,
                bound=plan.told.get("bound") or None, taken_on=plan.taken_on,
            ) if plan else None,
            times=[part(TimePart, each) for each in vehicle.work_times.all()],
            limits=part(LimitsPart, limits) if limits else None,
        )
    }  # fmt: skip


def _store(storing: Storing, bundle: Any) -> None:
    calendar: CalendarPart = bundle.calendar
    mine = {"vehicle": storing.vehicle, "changed_by": storing.by}
    WorkSlot.objects.bulk_create([WorkSlot(**mine, **each.model_dump()) for each in calendar.slots])
    for word in calendar.words:
        said = word.model_dump(mode="json", exclude={"key"}, exclude_defaults=True)
        StepWord.objects.create(**mine, key=word.key, said=said)
    if plan := calendar.plan:
        told = {
            name: at.isoformat() if at else ""
            for name, at in (("finish", plan.finish), ("bound", plan.bound))
        }
        placed = [each.model_dump(mode="json") for each in plan.placed]
        TakenPlan.objects.create(**mine, placed=placed, told=told, taken_on=plan.taken_on)
    WorkTime.objects.bulk_create(
        [WorkTime(vehicle=storing.vehicle, **each.model_dump()) for each in calendar.times]
    )
    if calendar.limits:
        OrderLimits.objects.create(**mine, **calendar.limits.model_dump())


SECTION = Section(vehicle=_vehicle, store=_store)
