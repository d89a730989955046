"""The order of removal: a person's own tried step by step, a better one searched for, one accepted and gone through."""

from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.hold.bodies import all_out_first
from yellow_sill.core.hold.ordered import compared
from yellow_sill.core.hold.words import node_name, part_name, said_plainly
from yellow_sill.core.said import Said, first_low, joined
from yellow_sill.web.frame import days, jobs, units
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.meanwhile import say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle
from yellow_sill.web.shells.unchanged import always_anew_with

from ..board_services import part_rows
from ..brace_services import blocking
from ..charts import done_rows, order_chart, order_rows, typed_rows
from ..models import WorkOrder
from ..order_services import (
    LEAST_PARTS,
    MOST_PARTS,
    LooseWithoutReason,
    accept_order,
    ahead,
    order_of,
    order_values,
    own_order,
    step_done,
    still_ahead,
    work_order_of,
)
from ..removal_services import words_of
from ..services import Facts, facts_now, has_structure, request_of
from .common import cells, choices, kept_facts, none_yet


@always_anew_with("find")
@require_GET
@with_vehicle
def order(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The order that the query tries, or the accepted one."""
    return _page(
        request,
        vehicle,
        choices(request.GET, "job"),
        request.GET.getlist("step"),
        request.GET.get("find", ""),
    )


def _page(
    request: HttpRequest,
    vehicle: Vehicle,
    parts: tuple[str, ...],
    steps: list[str],
    key: str,
    *,
    status: int = 200,
    **more,
) -> HttpResponse:
    if not has_structure(vehicle):
        return none_yet(request)
    try:
        setup, facts = kept_facts(vehicle)
    except CoreError as error:
        return none_yet(request, error)
    accepted = work_order_of(vehicle)
    context = {
        "current_stage": "hold",
        "least": LEAST_PARTS,
        "most": MOST_PARTS,
        "ticked": parts,
        "setup": setup,
        "find": key,
        "accepted": accepted,
    } | more
    context["parts"] = sorted(part_rows(request_of(facts), setup, ()), key=lambda row: row.code not in parts)
    if parts:
        try:
            context |= _tried(vehicle, facts, parts, steps, key)
        except CoreError as error:
            context |= _refused(error, parts, steps)
            status = 422
    elif accepted:
        context |= _on_the_way(vehicle, facts, accepted)
    context["cells"] = cells(
        vehicle,
        ("Parts", len(parts) or (len(accepted.steps) // 2 if accepted else 0)),
        ("Braces", len(setup.braces)),
    )
    return render(request, "hold/order.html", context, status=status)


def _refused(error: CoreError, parts: tuple[str, ...], steps: list[str]) -> dict:
    """An order that cannot be, with the step that breaks a rule among the person's own."""
    return {
        "error": BadField(said_plainly(_named(error.what, parts)), error.where, error.mend),
        "wrong_step": whole_number(error.where.removeprefix("own_order[").rstrip("]")),
        "rows": typed_rows([step for step in steps if step[1:] in parts]),
    }


def _on_the_way(vehicle: Vehicle, facts: Facts, accepted: WorkOrder) -> dict:
    """How far the accepted order is, and what is next."""
    told, following = still_ahead(vehicle, accepted), ahead(vehicle, accepted)
    return {
        "blocking": blocking(facts, following.part) if following else [],
        "done_rows": done_rows(told),
        "ahead": following,
        "gone": told.gone,
        "chart": order_chart(told.gone, None),
        "done_count": len(accepted.steps) - len(told.gone.order.steps),
        "recorded_here": any(step.here for step in told.along),
    }


def _named(message: str, parts: tuple[str, ...]) -> str:
    """A message with parts in the garage's words instead of their codes."""
    if not isinstance(message, Said):
        return message
    return Said(
        message.template, **{key: _named_value(value, parts) for key, value in message.values.items()}
    )


def _named_value(value, parts: tuple[str, ...]):
    if isinstance(value, Said):
        return _named(value, parts)
    if isinstance(value, str) and value[1:] in parts and value[0] in "-+":
        return words_of(value)
    return first_low(part_name(value)) if isinstance(value, str) and value in parts else value


def _tried(vehicle: Vehicle, facts, parts: tuple[str, ...], steps: list[str], key: str) -> dict:
    steps = steps or all_out_first(parts)
    own = own_order(facts, parts, tuple(steps))
    search = jobs.find(vehicle.pk, key) if key else None
    found = order_of(search.answer["found"]) if search and search.answer else None
    return {
        "own": own, "steps": steps, "rows": order_rows(own.order, found), "chart": order_chart(own, found), "search": search, "found": found,
        "locked_check": joined((node_name(name) for name in own.order.locked_in_check), " to "),
        "is_found": bool(found) and [step.action for step in found.steps] == steps, "found_steps": [step.action for step in found.steps] if found else [],
        "compared": compared(own.order, found) if found else [], "proved": search.answer["proved"] if found else "", "lost": bool(key) and search is None,
    }  # fmt: skip


def _back(vehicle: Vehicle, parts, steps, key: str = "") -> HttpResponse:
    query = urlencode(
        [
            *(("job", part) for part in parts),
            *(("step", step) for step in steps),
            *([("find", key)] if key else []),
        ]
    )
    return redirect(f"{reverse('hold:order', args=[vehicle.pk])}{'?' + query if query else ''}")


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def find(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Begin to search for a better order; the page asks how far it is."""
    parts, steps = choices(request.POST, "job"), request.POST.getlist("step")
    try:
        asked = order_values(facts_now(vehicle), parts, steps)
    except CoreError as error:
        return _page(request, vehicle, parts, steps, "", status=422, error=error)
    return _back(vehicle, parts, steps, jobs.ask("removal_order", vehicle.pk, asked).fingerprint)


@require_GET
@with_vehicle
def progress(request: HttpRequest, vehicle: Vehicle, key: str) -> JsonResponse:
    """How far a search is."""
    search = jobs.find(vehicle.pk, key)
    if search is None:
        raise Http404
    return answer({"share": search.share, "done": search.done, "fault": search.fault})


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def stop(request: HttpRequest, vehicle: Vehicle, key: str) -> HttpResponse:
    """Stop a search; the order that was tried stays."""
    if search := jobs.find(vehicle.pk, key):
        jobs.stop(search)
    return _back(vehicle, choices(request.POST, "job"), request.POST.getlist("step"))


@require_POST
@with_vehicle
def accept(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Make the order that is tried the vehicle's order of work."""
    parts, steps, despite = (
        choices(request.POST, "job"),
        request.POST.getlist("step"),
        request.POST.get("despite", "")[:300],
    )
    try:
        version = whole_number(request.POST.get("version", ""))
        accept_order(
            vehicle,
            parts,
            steps,
            version=version,
            by=request.user.get_username(),
            today=days.today(),
            despite=despite,
        )
    except ChangedMeanwhile:
        return _page(
            request,
            vehicle,
            parts,
            steps,
            request.POST.get("find", ""),
            status=409,
            changed=True,
            despite=despite,
        )
    except LooseWithoutReason as error:
        return _page(request, vehicle, parts, steps, request.POST.get("find", ""), status=422, loose=error)
    except CoreError as error:
        return _page(request, vehicle, parts, steps, "", status=422, error=error)
    messages.success(request, "Accepted: this is the vehicle's order of work.")
    return _back(vehicle, (), ())


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def done(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Record the next step as done, or take the last one back."""
    undo, despite = "undo" in request.POST, request.POST.get("despite", "")[:300]
    version = whole_number(request.POST.get("version", ""))
    try:
        words = step_done(
            vehicle,
            undo=undo,
            version=version,
            by=request.user.get_username(),
            today=days.today(),
            despite=despite,
        )
    except ChangedMeanwhile as error:
        say_meanwhile(request, error, "this list", then="record your step")
    except LooseWithoutReason as error:
        return _page(request, vehicle, (), [], "", status=422, loose=error)
    except CoreError as error:
        messages.warning(request, units.said(error.message))
    else:
        messages.success(request, f"{'Taken back' if undo else 'Done'}: {units.said(words)}.")
    return _back(vehicle, (), ())
