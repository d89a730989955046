from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.calc import plain
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.weld.cautions import HOT_WORK, STANDING
from yellow_sill.core.weld.tacks import pass_list
from yellow_sill.web.cut.sheet_services import sheets_of
from yellow_sill.web.cut.views.common import chosen_cut, one_cut, repair_context
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.board_json import answer, json_body
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role
from yellow_sill.web.shells.unchanged import by_the_clock

from ..book_services import plan_setting
from ..forms import JointForm, WeldForm
from ..hot_services import running
from ..models import WeldPlan
from ..pages import WeldPage
from ..services import (
    heat_at,
    hot_behind,
    joint_of,
    known_of_joint,
    save_weld,
    thickness_of,
    tick_cautions,
    ticked_on,
    weld_of,
)
from ..step_services import progress_of, record_tack, take_last_back

FIELDS = (
    "process",
    "joint",
    "pitch_mm",
    "cooling",
    "backing",
    "limit_c",
    "ambient_c",
    "tack_energy_j",
    "proved",
)


@by_the_clock
@with_repair
def weld(request: HttpRequest, repair: Repair) -> HttpResponse:
    """Settings, the numbered tacks, and the plate's heat step by step."""
    cuts, cut = chosen_cut(request, repair, "patch", "weld")
    if cut is not None and "cut" not in request.GET:
        cut = _in_hand(repair, cuts, cut)
    context = repair_context(repair, "weld", cuts, cut)
    if cut is None:
        return render(request, "weld/weld.html", context)
    here = f"{reverse('weld:weld', args=[repair.vehicle_id, repair.number])}?cut={cut.number}"
    plan = weld_of(cut)
    context |= _joint(request, repair, cut)
    stored = {name: getattr(plan, name) for name in FIELDS}
    form = WeldForm(request.POST or None, initial={**stored, "version": plan.version})
    error = conflict = None
    if request.method == "POST" and form.is_valid():
        values = {name: form.cleaned_data[name] for name in FIELDS}
        try:
            save_weld(plan, values, version=form.cleaned_data["version"], by=request.user.get_username())
            messages.success(request, "The tacks are worked out again.")
            return redirect(here)
        except CoreError as refused:
            error = refused
        except ChangedMeanwhile as changed:
            if not (conflict := both_of(request, form, changed, FIELDS)):
                return redirect(here)
            context["stored"] = changed.stored
    context |= _context(request, repair, cut, plan) | {"form": form, "error": error, "conflict": conflict}
    return render(
        request,
        "weld/weld.html",
        context,
        status=409 if conflict else 422 if form.errors or error else 200,
    )


def _in_hand(repair: Repair, cuts: list, first):
    """The cut of the sheet that is to be welded next, from the inside out; the first where none is."""
    try:
        left = [sheet.cut.pk for sheet in sheets_of(repair) if sheet.told.state in ("fitted", "tacked")]
    except CoreError:
        return first
    return next((cut for key in left for cut in cuts if cut.pk == key), first)


def _joint(request: HttpRequest, repair: Repair, cut) -> dict:
    """Which joint, by what the query says of the place; what is known is filled in."""
    known = known_of_joint(cut)
    form = JointForm(request.GET if "layers" in request.GET else None, initial=known)
    if not form.is_bound:
        return {"joint_form": form, "joint": joint_of(cut, known), "joint_open": False}
    return {
        "joint_form": form,
        "joint": joint_of(cut, form.cleaned_data) if form.is_valid() else None,
        "joint_open": True,
    }


def _context(request: HttpRequest, repair: Repair, cut, plan: WeldPlan) -> dict:
    seams = plan.tack_plans
    wanted = request.GET.get("seam", "1")
    index = number - 1 if (number := whole_number(wanted)) and number <= len(seams) else 0
    seam = seams[index] if seams else None
    passes = pass_list(seam["tacks"]) if seam else []
    view = cut.panel.view
    session = running(repair.vehicle, timezone.now())
    ticked = session.ticks if session and session.last_spark_at is None else ticked_on(plan, days.today())
    going = progress_of(plan, index, days.now()) if seam else None
    return {
        "going": going,
        "plan": plan,
        "edges": bool(seam and seam.get("edges")),
        "behind": hot_behind(plan),
        "book": (book := plan_setting(plan)),
        "setting": book.start,
        "seams": list(range(1, len(seams) + 1)),
        "seam": seam,
        "seam_number": index + 1,
        "passes": passes,
        "cautions": [(caution, caution.key in ticked) for caution in HOT_WORK],
        "all_seen_to": len(ticked) == len(HOT_WORK),
        "ticked_before": None if ticked or not plan.cautions else plan.cautions_on,
        "standing": STANDING,
        "svg": shell_svg(view, cut.panel.layer if view.layered else 1),
        "bounds": bounds_of(cut.outline),
        "thickness": thickness_of(cut),
        "board": WeldPage(
            seam=index,
            path=seam["path"] if seam else [],
            closed=bool(seam and seam["closed"]),
            paths=(seam.get("paths") or [{"path": seam["path"], "closed": seam["closed"]}]) if seam else [],
            tacks=[
                tack | {"plate_shown": units.temperature(tack["plate_C_before"])}
                for tack in (seam["tacks"] if seam else [])
            ],
            limit=plan.limit_c,
            limit_shown=units.temperature(plan.limit_c),
            ready=len(ticked) == len(HOT_WORK),
            heat=reverse("weld:heat", args=[repair.vehicle_id, repair.number, cut.number]),
            cautions=reverse("weld:cautions", args=[repair.vehicle_id, repair.number, cut.number]),
            steps=reverse("weld:steps", args=[repair.vehicle_id, repair.number, cut.number]),
            going=plain(going) if going else None,
        ),
        "cells": [
            ("Repair", repair.code),
            ("Body no.", repair.vehicle.body_no or "–"),
            ("Seam, mm", f"{seam['seam_mm']:.0f}" if seam else "–"),
            ("Tacks", len(seam["tacks"]) if seam else 0),
            ("Steel, mm", f"{thickness_of(cut):g}"),
            ("Units", units.unit.get()),
        ],
    }


@require_GET
@with_repair
def heat(request: HttpRequest, repair: Repair, cut_number: int) -> JsonResponse:
    """Isotherms just after a tack."""
    cut = one_cut(repair, cut_number, "patch", "weld")
    numbers = [request.GET.get(name, "") for name in ("seam", "step")]
    seam, step = (-1 if (number := whole_number(text)) is None else number for text in numbers)
    return JsonResponse(heat_at(weld_of(cut), seam, step))


@require_POST
@with_repair
@open_to(Role.HELPER)
def cautions(request: HttpRequest, repair: Repair, cut_number: int) -> JsonResponse:
    """Ticks of the hot-work cautions."""
    plan = weld_of(one_cut(repair, cut_number, "patch", "weld"))
    keys = json_body(request).get("keys")
    ticked = tick_cautions(plan, [str(key) for key in keys] if isinstance(keys, list) else [], days.today())
    return JsonResponse({"keys": ticked, "ready": len(ticked) == len(HOT_WORK)})


@require_POST
@with_repair
@open_to(Role.HELPER)
def steps(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """What became of a tack, or the last word of it taken back; answers how far the seam is."""
    cut = one_cut(repair, cut_number, "patch", "weld")
    now = days.now()
    try:
        sent = json_body(request)
        seam, tack = sent.get("seam"), sent.get("tack")
        if not isinstance(seam, int) or not isinstance(tack, int):
            raise BadField("The board sent something that cannot be read.", "$", "Reload the page.")
        if sent.get("what") == "back":
            told = take_last_back(cut, seam, now=now)
        else:
            told = record_tack(
                cut, seam, tack, str(sent.get("what")), now=now, by=request.user.get_username()
            )
    except CoreError as error:
        return error_json(error)
    return answer({"going": plain(told)})
