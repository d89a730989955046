"""The plan: weeks as rows, a step in hand, a proposal beside it; slots, limits, steps of one's own."""

from datetime import datetime
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.order.asked import POSITIONS
from yellow_sill.core.order.picture import weeks
from yellow_sill.core.repairs.hours import KIND_WORDS, clock
from yellow_sill.web.frame import days, jobs, units
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.meanwhile import both_of, say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile, Job
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.shells.unchanged import always_anew_with, by_the_clock

from ..forms import WEEKDAYS, LimitsForm, OwnStepForm, RhythmForm, SlotForm, StepForm
from ..models import OrderLimits, TakenPlan, WorkSlot
from ..plan_services import (
    Standing,
    again,
    ask_plan,
    chain_of,
    drawn,
    finish_of,
    plain_placed,
    plan_of,
    standing,
    take_again,
    take_plan,
)
from ..slot_services import (
    add_slots,
    as_core,
    change_slot,
    drop_slot,
    gone_by,
    keep_limits,
    limits_of,
    rhythm,
    to_come,
)
from ..step_services import add_step, drop_step, panels_of, say_of_step, spent_on, steps_of, whole_of, word_on
from ..time_services import page_of

#: How wide a week's row is drawn, px, and where its bars begin.
WIDTH, LEFT = 690.0, 84.0
#: So many links of the chain that sets the finish are told at first.
MOST_LINKS = 6


@by_the_clock
@always_anew_with("find")
@with_vehicle
def plan(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``step`` and ``slot`` in the address open one, ``find`` shows a plan that was asked for, ``step`` with ``into`` what putting it there does."""
    now = days.now()
    forms = _forms(request, vehicle, now)
    error, conflict, status = None, None, 200
    if request.method == "POST":
        try:
            if done := _done(request, vehicle, forms, now):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
            form = forms.get(request.POST.get("what", ""))
            if form is not None and form.is_bound and refused.where in form.fields:
                form.add_error(refused.where, refused.message)
        except ChangedMeanwhile as changed:
            form = forms.get(request.POST.get("what", ""))
            names = {"slot": SlotForm.NAMES}.get(request.POST.get("what", ""))
            if form is None or not names:
                say_meanwhile(request, changed, "the plan", then="say it again")
                return redirect(request.get_full_path())
            if not (conflict := both_of(request, form, changed, names)):
                return redirect(request.get_full_path())
            status = 409
    context = _page(request, vehicle, now) | {
        "forms": forms,
        "error": error,
        "conflict": conflict,
        "stored": forms["stored"],
    }
    return render(request, "order/plan.html", context, status=status)


def _forms(request: HttpRequest, vehicle: Vehicle, now: datetime) -> dict[str, Any]:
    """The forms by what they say; those of a step and a slot only where one is open."""

    def data(what: str) -> Any:
        return request.POST if request.POST.get("what") == what else None

    pk = whole_number(request.GET.get("slot", ""))
    slot = get_object_or_404(vehicle.work_slots, pk=pk) if pk is not None else None
    try:
        told = steps_of(vehicle, now.date())
        every = [*told.steps, *told.unplanned]
    except CoreError:
        every = []
    key = request.GET.get("step", "")
    step = next((each for each in every if each.key == key), None)
    names = {each.key: each.said for each in every}
    # of another repair the end alone: a list of hundreds helps nobody
    others = [
        (each.key, each.said) for each in every
        if each.own or each.to == "signed off" or (step is not None and each.repair == step.repair)
    ]  # fmt: skip
    panels = panels_of(vehicle)
    return {
        "rhythm": RhythmForm(data("rhythm"), initial={"weekday": 5, "begins": "9:00", "ends": "13:00"}),
        "slot": SlotForm(data("slot"), initial=SlotForm.of(slot) if slot else {"day": days.today()}),
        "stored": slot,
        "limits": LimitsForm(data("limits"), initial=LimitsForm.of(limits_of(vehicle))),
        "own": OwnStepForm(data("own"), others=others, repairs=vehicle.repairs.all(), panels=panels),
        "word": StepForm(
            data("word"), initial=StepForm.of(word_on(vehicle, key)), others=[each for each in others if each[0] != key],
            ties=[(each, names[each]) for each in step.after if each in names], panels=panels, own=step.own, repair=step.repair,
        ) if step else None,
    }  # fmt: skip


def _done(
    request: HttpRequest, vehicle: Vehicle, forms: dict[str, Any], now: datetime
) -> HttpResponse | None:
    """Store what was sent; None where its form shows why not. Raises: CoreError, ChangedMeanwhile."""
    what, by, today = request.POST.get("what", ""), request.user.get_username(), now.date()
    page, version = reverse("order:plan", args=[vehicle.pk]), whole_number(request.POST.get("version", ""))
    form = forms.get(what)
    if form is not None and not form.is_valid():
        return None
    if what == "ask":
        return redirect(f"{page}?find={ask_plan(vehicle, now).fingerprint}")
    if what == "take":
        job = _job(vehicle, request.GET.get("find", ""))
        if job is None or not job.answer:
            raise BadField("That plan is not kept any more.", "plan", "Have it worked out again.")
        take_plan(vehicle, job.answer, version=version, today=today, by=by)
        messages.success(request, "This is the plan now. Changes takes it back.")
    elif what == "stop":
        if job := _job(vehicle, request.GET.get("find", "")):
            jobs.stop(job)
        return redirect(request.get_full_path())
    elif what == "again":
        told = take_again(vehicle, now, _put(request), version=version, by=by)
        messages.success(request, units.said(told.words))
    elif what in ("rhythm", "slot", "unslot", "missed", "limits"):
        _slots(request, vehicle, what, forms, version, by, now)
    else:
        return _steps(request, vehicle, what, forms, by, now)
    return redirect(page)


def _job(vehicle: Vehicle, find: str) -> Job | None:
    """The search for a plan that is shown; None where it is not kept, or something else was searched."""
    job = jobs.find(vehicle.pk, find) if find else None
    return job if job is not None and job.command == "plan" else None


def _put(request: HttpRequest) -> dict[str, int]:
    slot = whole_number(request.GET.get("into", ""))
    return {request.GET["step"]: slot} if slot is not None and request.GET.get("step") else {}


def _slots(
    request: HttpRequest, vehicle: Vehicle, what: str, forms: dict[str, Any], version: int | None, by: str, now: datetime
) -> None:  # fmt: skip
    """Slots and limits. Raises: CoreError, ChangedMeanwhile."""
    slot: WorkSlot | None = forms["stored"]
    if what == "rhythm":
        told = forms["rhythm"].cleaned_data
        on = rhythm(now.date(), told["weekday"], told["weeks"])
        count = add_slots(vehicle, on, told["begins"], told["ends"], hands=told["hands"], note="", by=by)
        messages.success(
            request, f"{count} slot{'s' if count > 1 else ''} on {WEEKDAYS[told['weekday']]}s added."
        )
    elif what == "slot" and slot is None:
        told = forms["slot"].values()
        add_slots(vehicle, [told.pop("day")], told.pop("begins"), told.pop("ends"), by=by, **told)
    elif what == "slot" and slot is not None:
        change_slot(
            slot, forms["slot"].values(), version=whole_number(request.POST.get("version", "")), by=by
        )
    elif what == "unslot" and slot is not None:
        drop_slot(slot, version=version)
        messages.success(request, "The slot is deleted; Changes takes that back.")
    elif what == "missed" and slot is not None:
        slot.set_fields(by, missed=not slot.missed)
    elif what == "limits":
        stored = OrderLimits.objects.filter(vehicle=vehicle).exists()
        keep_limits(
            vehicle,
            forms["limits"].values(),
            version=forms["limits"].cleaned_data["version"] if stored else None,
            by=by,
        )


def _steps(
    request: HttpRequest, vehicle: Vehicle, what: str, forms: dict[str, Any], by: str, now: datetime
) -> HttpResponse:
    """What is said of steps. Raises: CoreError."""
    page, key = reverse("order:plan", args=[vehicle.pk]), request.GET.get("step", "")
    if what == "word" and forms["word"] is not None:
        say_of_step(vehicle, key, forms["word"].said(), today=now.date(), by=by)
        if forms["word"].for_whole:
            whole = whole_of(forms["word"].repair)
            say_of_step(vehicle, whole, {"position": forms["word"].stands()}, today=now.date(), by=by)
    elif what == "own":
        key = add_step(vehicle, forms["own"].said(), today=now.date(), by=by)
    elif what == "unword":
        drop_step(vehicle, key)
        messages.success(request, "What was said of it is taken away; Changes takes that back.")
        return redirect(page)
    else:
        raise BadField("Nothing of that kind can be done here.", "what")
    return redirect(f"{page}?step={key}")


def _page(request: HttpRequest, vehicle: Vehicle, now: datetime) -> dict[str, Any]:
    stored, find, key = plan_of(vehicle), request.GET.get("find", ""), request.GET.get("step", "")
    job = _job(vehicle, find)
    stands, told, trouble = _standing(vehicle, stored, now)
    slots, limits = to_come(vehicle, now), limits_of(vehicle)
    proposal, moved = _proposal(request, vehicle, stored, job, now)
    placed = proposal if proposal is not None else list(stands.placed.values()) if stands else []
    steps = {step.key: step for step in ([*told.steps, *told.unplanned] if told else [])}
    comes = [(step.waits, step.not_before) for step in steps.values() if step.waits and step.not_before]
    first = min(placed, key=lambda each: each["begins"])["key"] if placed else ""
    return {
        "current_stage": "order", "plan": stored, "find": find, "job": job, "lost": bool(find) and job is None, "stands": stands, "told": told,
        "trouble": trouble, "slots": slots, "moved": moved, "proposal": proposal is not None, "left": LEFT, "width": WIDTH + LEFT,
        "rows": weeks([(slot.pk, as_core(slot, limits.latest_spark)) for slot in slots], _drawn(placed, steps, first), comes, width=WIDTH),
        "limits": limits, "gone": gone_by(vehicle, now),
        **_finish(vehicle, now), "chosen": _chosen(request, vehicle, steps.get(key), placed, stored, now),
        "last": _last(vehicle, stored, now) if not key and not find else None,
        "cells": [
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Steps", len(steps)), ("Slots to come", len(slots)),
            ("Hours to do", clock(sum(step.minutes for step in steps.values()))), ("Units", units.unit.get()),
        ],
    }  # fmt: skip


def _drawn(placed: list, steps: dict, first: str) -> list:
    """As they are drawn, with what the steps say of them now."""
    return drawn(
        [
            each | {"repair": steps[each["key"]].repair, "cure_h": steps[each["key"]].cure_h, "sparks": steps[each["key"]].sparks}
            for each in placed if each["key"] in steps
        ],
        first,
    )  # fmt: skip


def _standing(
    vehicle: Vehicle, stored: TakenPlan | None, now: datetime
) -> tuple[Standing | None, Any, CoreError | None]:
    try:
        told = steps_of(vehicle, now.date())
        return (standing(vehicle, stored, now) if stored else None), told, None
    except CoreError as error:
        return None, None, error


def _quietly(work: Any, *args: Any) -> Any:
    try:
        return work(*args)
    except CoreError:
        return None


def _finish(vehicle: Vehicle, now: datetime) -> dict[str, Any]:
    """When it will be done, or why nobody can tell."""
    try:
        return {"finish": finish_of(vehicle, now.date())}
    except CoreError as refused:
        return {"no_finish": refused}


def _proposal(
    request: HttpRequest, vehicle: Vehicle, stored: TakenPlan | None, job: Any, now: datetime
) -> tuple[list | None, Any]:
    """What is proposed beside the plan: a searched one, or this one with a step put elsewhere; and what moves then."""
    if job is not None and job.done and job.answer and job.answer["possible"]:
        return job.answer["placed"], None
    if stored and request.method == "GET" and (put := _put(request)):
        try:
            told = again(vehicle, stored, now, put)
        except CoreError as error:
            return None, error
        return (plain_placed(told.plan) if told.plan.possible else None), told
    return None, None


def _last(vehicle: Vehicle, stored: TakenPlan | None, now: datetime) -> dict[str, Any] | None:
    """The end of the chain that sets the finish, and the number of its first link shown."""
    found = _quietly(chain_of, vehicle, "", now.date()) if stored else None
    return (
        {"links": found.links[-MOST_LINKS:], "first": max(1, len(found.links) - MOST_LINKS + 1)}
        if found
        else None
    )


def _chosen(
    request: HttpRequest, vehicle: Vehicle, step: Any, placed: list, stored: TakenPlan | None, now: datetime
) -> dict[str, Any] | None:
    """The step in hand: what it is, where it is in the plan, what holds it up and what waits for it."""
    if step is None:
        return None
    at = next((each for each in placed if each["key"] == step.key), None)
    found = _quietly(chain_of, vehicle, step.key, now.date()) if stored else None
    names = {each["key"]: each["name"] for each in placed}
    return {
        "step": step, "kind": KIND_WORDS[step.kind], "stands": POSITIONS[step.position] if step.position else "",
        "spent": clock(spent_on(vehicle).get(step.key, 0)),
        "at": datetime.fromisoformat(at["begins"]) if at else None, "until": datetime.fromisoformat(at["ends"]) if at else None,
        "url": page_of(vehicle, step), "chain": found, "said": word_on(vehicle, step.key),
        "on": [(key, names[key]) for key in found.on if key in names] if found else [], "into": whole_number(request.GET.get("into", "")),
    }  # fmt: skip


@require_GET
@with_vehicle
def progress(request: HttpRequest, vehicle: Vehicle, key: str) -> JsonResponse:
    """How far a plan is."""
    job = jobs.find(vehicle.pk, key)
    if job is None:
        raise Http404
    return answer({"share": job.share, "done": job.done, "fault": job.fault})
