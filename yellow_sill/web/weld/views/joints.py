"""The sheets of a repair, from the inside out, and the joints of each: what is next, how, and what was made."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.repairs.sheets import SHEET_STATES, SHEET_TO_DO
from yellow_sill.core.weld.book import BookSetting, SpotRowTold
from yellow_sill.core.weld.plan import plan_words
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.sheet_services import Sheet, Stepped, step_sheet
from yellow_sill.web.cut.views.common import repair_context
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role

from ..book_services import joint_setting, spots_of
from ..joint_forms import JointWordForm, MadeForm, StepForm
from ..joint_services import Joint, Joints, joint_made, joints_of, say_joint
from ..shop_services import shop_of


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetRow:
    """A sheet in the list: the places of its states with whether each is reached, its next step in words, its joints."""

    sheet: Sheet
    places: list[tuple[str, bool]]
    to_do: str
    joints: list[Joint]
    fault: str


@with_repair
@open_to(Role.HELPER, what=("made", "unmade", "step"))
def joints(request: HttpRequest, repair: Repair) -> HttpResponse:
    """``joint`` in the address opens one; ``what`` in a POST says what is done."""
    cuts = list(repair.cuts.without_drawings())
    if not cuts:
        return render(request, "weld/joints.html", repair_context(repair, "joints", [], None))
    error: CoreError | None = None
    try:
        told = joints_of(repair)
    except CoreError as fault:
        told, error = Joints(sheets=[], joints=[], told=None, faults={}), fault
    chosen = _chosen(request, told)
    forms = {
        "form": JointWordForm(initial=_word_of(chosen)),
        "made_form": MadeForm(initial={"made_on": days.today()}),
        "step_form": StepForm(initial={"made_on": days.today()}),
    }
    conflict, status = None, 200
    if request.method == "POST":
        try:
            if done := _done(request, repair, told, chosen, forms):
                return done
            status = 422
        except CoreError as refused:
            error, status = refused, 422
        except ChangedMeanwhile as changed:
            if not (
                conflict := both_of(
                    request, forms["form"], changed, rows=_both(forms["form"], changed.stored)
                )
            ):
                return redirect(_here(repair, chosen))
            status = 409
    context = _page(repair, cuts, told, chosen) | forms | {"error": error, "conflict": conflict}
    context["typed"] = request.POST if status != 200 else {}
    return render(request, "weld/joints.html", context, status=status)


def _chosen(request: HttpRequest, told: Joints) -> Joint | None:
    number = whole_number(request.GET.get("joint", ""))
    if number is None:
        return next((each for each in told.joints if not (each.word and each.word.made_on)), None)
    return next((each for each in told.joints if each.told.number == number), None)


def _word_of(joint: Joint | None) -> dict:
    if joint is None:
        return {}
    word = joint.word
    if word is None:
        return {"version": 0}
    names = ("process", "both_sides", "from_side", "fixes_datum", "made_brazed", "tight_end", "version")
    return {name: getattr(word, name) for name in names}


def _both(form: JointWordForm, stored) -> list[tuple]:
    """What differs between what was typed and what is stored now."""
    told = lambda value: {None: "nobody has said", True: "yes", False: "no", "": "nothing"}.get(value, value)  # noqa: E731
    return [
        (str(form.fields[name].label), told(value), told(getattr(stored, name)))
        for name, value in form.values().items()
        if value != getattr(stored, name)
    ]


def _here(repair: Repair, joint: Joint | None) -> str:
    page = reverse("weld:joints", args=[repair.vehicle_id, repair.number])
    return f"{page}?joint={joint.told.number}" if joint else page


def _done(
    request: HttpRequest, repair: Repair, told: Joints, chosen: Joint | None, forms: dict
) -> HttpResponse | None:
    """Store what was sent; None where its form shows why not. Raises: CoreError, ChangedMeanwhile."""
    what, by, today = request.POST.get("what", ""), request.user.get_username(), days.today()
    if what == "step":
        return _stepped(request, repair, told, forms)
    if chosen is None:
        messages.warning(request, "That joint is not there any more.")
        return redirect(_here(repair, None))
    cut = chosen.sheet.cut
    if what == "say":
        form = forms["form"] = JointWordForm(request.POST)
        if not form.is_valid():
            return None
        say_joint(cut, chosen.at, form.values(), version=form.cleaned_data["version"], by=by)
        messages.success(request, "Stored; the joints are in order again.")
    elif what == "made":
        form = forms["made_form"] = MadeForm(request.POST)
        if not form.is_valid():
            return None
        joint_made(
            cut,
            chosen.at,
            made_on=form.cleaned_data["made_on"],
            how=form.cleaned_data["how"],
            by=by,
            today=today,
        )
    elif what == "unmade":
        joint_made(cut, chosen.at, made_on=None, how="", by=by, today=today)
    return redirect(_here(repair, None if what == "made" else chosen))


def _stepped(request: HttpRequest, repair: Repair, told: Joints, forms: dict) -> HttpResponse | None:
    """Raises: CoreError."""
    form = forms["step_form"] = StepForm(request.POST)
    number = whole_number(request.POST.get("cut", ""))
    sheet = next((each for each in told.sheets if each.cut.number == number), None)
    if sheet is None or not form.is_valid():
        return None
    values = form.cleaned_data
    try:
        state = step_sheet(
            sheet.cut, request.POST.get("to", ""), seen=request.POST.get("seen") or None, made_on=values["made_on"], note=values["note"],
            despite=values["despite"], by=request.user.get_username(), today=days.today(),
        )  # fmt: skip
    except Stepped as meanwhile:
        messages.warning(
            request, f"{sheet.told.name} is {meanwhile.state} since you looked. Nothing of yours is stored."
        )
        return redirect(_here(repair, None))
    if state != repair.state:
        messages.success(request, f"No sheet is behind it: {repair.code} is {state}.")
    return redirect(_here(repair, None))


def _page(repair: Repair, cuts: list[Cut], told: Joints, chosen: Joint | None) -> dict:
    here = chosen.sheet.cut if chosen else (told.sheets[0].cut if told.sheets else cuts[0])
    view, layer = here.panel.view, here.panel.layer if here.panel.view.layered else 1
    mine = [each for each in told.joints if each.sheet.cut.panel.view_id == view.pk]
    setting, spots, fault = _settings(repair, chosen)
    return repair_context(repair, "joints", cuts, here) | {
        "rows": [_row(sheet, told) for sheet in told.sheets],
        "chosen": chosen,
        "drawn": [(each, each is chosen, bool(each.word and each.word.made_on), each.sheet.cut.pk != here.pk) for each in mine],
        "outlines": [sheet.cut.outline for sheet in told.sheets if sheet.cut.panel.view_id == view.pk],
        "setting": setting,
        "spots": spots,
        "setting_fault": fault,
        "plan_words": plan_words(told.told) if told.told else "",
        "svg": shell_svg(view, layer),
        "view": view,
        "bounds": bounds_of([at for sheet in told.sheets if sheet.cut.panel.view_id == view.pk for at in sheet.cut.outline] or here.outline),
        "tags": [
            Tag.of(each.told.number, bounds_of([each.at, each.at]), selected=each is chosen, href=_here(repair, each), name=str(each.told.words))
            for each in mine
        ],
        "today": days.today(),
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Sheets", len(told.sheets)), ("Joints", len(told.joints)),
            ("Made", sum(bool(each.word and each.word.made_on) for each in told.joints)), ("Units", units.unit.get()),
        ],
    }  # fmt: skip


def _settings(repair: Repair, joint: Joint | None) -> tuple[BookSetting | None, SpotRowTold | None, str]:
    """What the book says for a joint, which of its spots the arms reach, or why neither can be told."""
    if joint is None:
        return None, None, ""
    try:
        reach = joint.word.both_sides if joint.word else None
        spots = (
            spots_of(shop_of(repair.vehicle), joint.told, reach)
            if joint.told.kind in ("spot row", "plug row")
            else None
        )
        return joint_setting(repair.vehicle, joint.sheet.cut, joint.told), spots, ""
    except CoreError as error:
        return None, None, error.message


def _row(sheet: Sheet, told: Joints) -> SheetRow:
    at = SHEET_STATES.index(sheet.told.state)
    return SheetRow(
        sheet=sheet,
        places=[(state, place <= at) for place, state in enumerate(SHEET_STATES) if place],
        to_do=SHEET_TO_DO.get(sheet.to or "", ""),
        joints=[each for each in told.joints if each.sheet is sheet],
        fault=told.faults.get(sheet.told.name, ""),
    )
