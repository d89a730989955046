"""Time on a step: started, paused, done; what was worked goes into the hours of its repair, what is done onto its ribbon."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from django.db import transaction
from django.urls import reverse

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.order.removal import NO_REPAIR
from yellow_sill.core.order.work import MadeStep
from yellow_sill.core.repairs.hours import MOST_MIN, clock
from yellow_sill.core.repairs.sheets import AS_RIBBON
from yellow_sill.core.said import Quoted, Said
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.sheet_services import names_of, step_sheet
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.hold.order_services import step_done
from yellow_sill.web.logbook.services import add_work
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import move_on_ribbon
from yellow_sill.web.shells.models import Vehicle

from .models import WorkTime
from .step_services import say_of_step, spent_on, steps_of


def running(vehicle: Vehicle) -> WorkTime | None:
    """The time that runs; at most one does."""
    return vehicle.work_times.filter(minutes=None).last()


def step_at(vehicle: Vehicle, key: str, today: date) -> MadeStep:
    """Raises: BadField where there is no such step any more."""
    step = next((each for each in steps_of(vehicle, today).steps if each.key == key), None)
    if step is None:
        raise BadField("That step is done, or its sheet has gone past it.", "step", "Look at the plan anew.")
    return step


@one_change
def start(vehicle: Vehicle, key: str, *, now: datetime, today: date, by: str) -> Said:
    """Let the time of a step run; that of another one is stopped first. Args: now: with its zone. Raises: BadField."""
    step = step_at(vehicle, key, today)
    under_way = running(vehicle)
    if under_way is not None and under_way.key == key:
        raise BadField("Its time runs already.", "step", "Pause it, or say that it is done.")
    stopped = pause(vehicle, now=now, today=today, by=by) if under_way is not None else Said("")
    WorkTime.objects.create(
        vehicle=vehicle, key=key, name=step.said, repair=step.repair, kind=step.kind, begun_at=now, by=by
    )  # fmt: skip
    return stopped


@one_change
def pause(vehicle: Vehicle, *, now: datetime, today: date, by: str, minutes: int | None = None) -> Said:
    """Stop the time that runs and write it into the hours.

    Args: minutes: what it really was, where the clock ran on; None takes the clock's.
    Raises: BadField: none runs, more than a day.
    """
    under_way = running(vehicle)
    if under_way is None:
        raise BadField("No time runs.", "step", "Start the step first.")
    clocked = round((now - under_way.begun_at).total_seconds() / 60)
    spent = max(1, clocked) if minutes is None else minutes
    if not 0 < spent <= MOST_MIN:
        raise BadField(
            Said("The clock has run for {clocked}.", clocked=clock(clocked)), "minutes",
            "Say how many minutes it really was.",
        )  # fmt: skip
    repair = Repair.objects.filter(vehicle=vehicle, number=under_way.repair).first()
    begun = under_way.begun_at.astimezone(now.tzinfo).date()
    entry = add_work(
        vehicle, repair, worked_on=min(begun, today), kind=under_way.kind, typed=f"{spent} min", note=under_way.name, by=by
    )  # fmt: skip
    under_way.minutes, under_way.entry = spent, entry
    under_way.save()
    return Said("{time} on {name} is in the hours.", time=clock(spent), name=Quoted(under_way.name))


@one_change
def drop_time(vehicle: Vehicle) -> None:
    """Forget the time that runs: it was started by a slip. Raises: BadField."""
    under_way = running(vehicle)
    if under_way is None:
        raise BadField("No time runs.", "step")
    under_way.delete()


@dataclass(frozen=True, slots=True, kw_only=True)
class Done:
    """What became of a step that is done: in words, and the page on which its ribbon wants more, empty where it does not."""

    words: Said
    url: str = ""
    why: str = ""


@one_change
def finish_step(vehicle: Vehicle, key: str, *, now: datetime, today: date, by: str) -> Done:
    """A step is done: its time is written down if it runs, its sheet or repair goes on where it brings it there.

    Where the ribbon refuses (a gate is shut, a datum check is lacking) the step stays open and the page says where to look.
    Raises: BadField.
    """
    step = step_at(vehicle, key, today)
    under_way = running(vehicle)
    if under_way is not None and under_way.key == key:
        pause(vehicle, now=now, today=today, by=by)
    cures = _cures(vehicle, step, now, today)
    in_order = bool(part_of(step))
    moves = bool(step.to) and (not in_order or step.to in ("cut", "welded"))
    if moves:
        try:
            with transaction.atomic():
                if in_order:
                    action = f"{'-' if step.to == 'cut' else '+'}{part_of(step)}"
                    step_done(vehicle, undo=False, version=None, by=by, today=today, action=action)
                else:
                    _bring(vehicle, step, today, by)
        except CoreError as refused:
            return Done(
                words=Said("{name} is not written down as done yet.", name=Quoted(step.name)),
                url=page_of(vehicle, step) if in_order else reverse("logbook:log", args=[vehicle.pk, step.repair]), why=str(refused.message),
            )  # fmt: skip
    if cures or not moves:
        say_of_step(vehicle, key, cures | ({} if moves else {"done": True}), today=today, by=by)
    return Done(words=Said("{name} is done.", name=Quoted(step.name)))


def _cures(vehicle: Vehicle, step: MadeStep, now: datetime, today: date) -> dict[str, Any]:
    """What waits for the cure of a step that is done now, and until when."""
    if not step.cure_h:
        return {}
    waits = [each.key for each in steps_of(vehicle, today).steps if step.key in each.after]
    until = now.replace(tzinfo=None, microsecond=0) + timedelta(hours=step.cure_h)
    return {"holds": waits, "holds_until": until.isoformat()}


def _bring(vehicle: Vehicle, step: MadeStep, today: date, by: str) -> None:
    """Bring the sheet or the repair of a step to where the step brings it. Raises: CoreError."""
    repair = Repair.objects.get(vehicle=vehicle, number=step.repair)
    cut = cut_of(repair, step)
    if cut is not None and step.to not in ("opened", "signed off"):
        step_sheet(cut, step.to, seen=None, made_on=today, by=by, today=today)
    else:
        to = AS_RIBBON.get(step.to, step.to)
        if to != repair.state:
            move_on_ribbon(repair, to, version=None, made_on=today, note="", by=by, today=today)


def cut_of(repair: Repair, step: MadeStep) -> Cut | None:
    """The cut of a step's sheet."""
    cuts = list(repair.cuts.without_drawings())
    named = names_of(cuts)
    return next((cut for cut in cuts if named[cut.pk] == step.sheet), None)


#: On which page of a repair a kind of work is drawn; its log for all others.
PAGES = {"cut": "cut:release", "make": "cut:cut", "weld": "weld:joints", "protect": "protect:protect"}


def page_of(vehicle: Vehicle, step: MadeStep) -> str:
    """The page on which a step's work is drawn; empty where it is drawn nowhere."""
    if step.apart:
        number = step.key.rpartition("-")[2].partition("/")[0]
        return reverse("parts:need", args=[vehicle.pk, int(number)])
    if step.key.endswith(":closing"):
        return reverse("protect:box", args=[vehicle.pk, step.repair])
    if step.repair:
        return reverse(PAGES.get(step.kind, "logbook:log"), args=[vehicle.pk, step.repair])
    return reverse("hold:order", args=[vehicle.pk]) if part_of(step) else ""


def part_of(step: MadeStep) -> str:
    """The part of the order of removal that a step is work on, where no repair has it; empty else."""
    return step.sheet if step.key.startswith(f"R{NO_REPAIR}:") else ""


@one_change
def took_longer(vehicle: Vehicle, key: str, left: int, *, today: date, by: str) -> None:
    """So many minutes are left of a step, whatever was planned. Raises: BadField."""
    step_at(vehicle, key, today)
    if not 0 < left <= MOST_MIN:
        raise BadField("Say how many minutes are left, 1 to 1440.", "left", "Or say that it is done.")
    say_of_step(
        vehicle,
        key,
        {"minutes": left + spent_on(vehicle).get(key, 0), "late_minutes": None},
        today=today,
        by=by,
    )
