from dataclasses import asdict

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.cut.check import CheckedCut
from yellow_sill.core.cut.stretches import KINDS
from yellow_sill.core.days import day_words
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.geometry import bounds_of, size_of
from yellow_sill.core.outlines import share_covered
from yellow_sill.core.said import Said
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.board_json import answer, corner_list, json_body
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.meanwhile import say_meanwhile
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.frame.units import corners_said, corners_text, corners_typed
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.forms import ClearancesForm
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import delete_repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role

from ..around_services import own_of, swages
from ..extent_services import add_to_repair, addable, change_clearances, propose_anew, take_cut_out
from ..models import Cut
from ..pages import Behind, CutPage, DrawnNugget
from ..release_services import release_list
from ..services import check, follow_stretches, move_cut, take_new_line
from ..stretch_services import say_stretches
from .common import chosen_cut, one_cut, repair_context


@require_GET
@with_repair
def cut(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The cut line on the board, with its corners to move."""
    cuts, chosen = chosen_cut(request, repair)
    return render(request, "cut/cut.html", _context(repair, cuts, chosen))


def _context(repair: Repair, cuts: list, chosen) -> dict:
    context = repair_context(repair, "cut", cuts, chosen)
    if chosen is None:
        return context
    view, panel = chosen.panel.view, chosen.panel
    bounds = bounds_of(chosen.outline)
    checked, things = check(chosen, chosen.corners, cuts), own_of(panel)
    layers = _layers(panel, chosen.outline)
    behind = [other for other in cuts if other.panel_id != panel.pk and other.panel.view_id == view.pk]
    nuggets, release_error = _nuggets(repair, panel, cuts)
    return context | {
        "met": checked.met.words,
        "stretches": checked.stretches,
        "stretch_kinds": KINDS,
        "addable": addable(repair),
        "clearances": ClearancesForm(
            initial={name: getattr(repair, name) for name in ClearancesForm.base_fields}
        ),
        "things": things,
        "far_items": [
            item.text
            for item in panel.items.all()
            if item.kind == "behind" and item.text not in {thing.name for thing in things}
        ],
        "layers": layers,
        "release_error": release_error,
        "nugget_count": len(nuggets),
        "set_out": _set_out(view),
        "view": view,
        "svg": shell_svg(view, chosen.panel.layer if view.layered else 1),
        "findings": list(chosen.findings.all()),
        "grown": context["grown_cuts"].get(chosen.number),
        "other_cuts": [other for other in cuts if other.pk != chosen.pk and other.panel_id == panel.pk],
        "layer_cuts": behind,
        "board": _board(repair, chosen, checked, nuggets, layers, behind),
        "bounds": bounds_of([*chosen.outline, *chosen.corners]),
        "corners_text": corners_text(view.in_shell(chosen.corners)),
        "size": size_of(bounds),
        "weld_mm": sum(each.weld_length_mm for each in cuts),
        "cells": [
            ("Repair", repair.code),
            ("Body no.", repair.vehicle.body_no or "–"),
            ("Cut", f"{chosen.number} of {len(cuts)}"),
            ("Steel, mm", f"{chosen.panel.thickness_mm:g}"),
            ("Drawn", day_words(chosen.changed_at)),
            ("Units", units.unit.get()),
        ],
    }


def _board(
    repair: Repair, chosen: Cut, checked: CheckedCut, nuggets: list, layers: list, behind: list[Cut]
) -> CutPage:
    """What the board draws. Args: layers: the sheets behind; behind: the cuts in them."""
    return CutPage(
        corners=chosen.corners,
        proposed=chosen.proposed_corners,
        outline=chosen.outline,
        remarks=chosen.remarks,
        set_out=checked.set_out,
        panel=chosen.panel.outline,
        lines=swages(chosen.panel),
        nuggets=nuggets,
        layers=_behind(layers, behind),
        ends=chosen.panel.view.plane.ends(ENDS),
        check=reverse("cut:check", args=[repair.vehicle_id, repair.number, chosen.number]),
        tags=[
            Tag.of(f.number, f.bounds_mm, letter=f.grade or "?", name=f"Finding {f.number}")
            for f in chosen.findings.all()
        ],
    )


def _behind(layers: list, cuts: list) -> list[Behind]:
    """The sheets of other layers and the cuts in them, by name."""
    sheets = [
        Behind(name=Said("{layer} {name}", layer=each.layer, name=each.name), outline=each.outline)
        for each in layers
    ]
    return sheets + [
        Behind(
            name=Said("cut {number}, {name}", number=each.number, name=each.panel.name), outline=each.outline
        )
        for each in cuts
    ]


#: Sheets of other layers are drawn where they lie over this share of the cut.
LAYER_SHARE = 0.1
#: What the ends of a drawing's axes are called, at the low and the high end.
ENDS = {"x": ("front", "rear"), "y": ("left", "right"), "z": ("lower", "upper")}


def _layers(panel, outline) -> list:
    """Sheets of the other layers that lie behind or before the cut."""
    if not panel.view.layered:
        return []
    return [
        other
        for other in panel.view.panels.exclude(layer=panel.layer)
        if share_covered(outline, other.outline) > LAYER_SHARE
    ]


def _set_out(view) -> list[tuple[str, str]]:
    """The four corners of a panel that sizes can run from: which ends, and in words."""
    left, right, low, high = view.plane.ends(ENDS)
    ways = ((0, left, 0, low), (1, right, 0, low), (0, left, 1, high), (1, right, 1, high))
    return [(f"{u},{v}", f"{first} end, {second} edge") for u, first, v, second in ways]


def _nuggets(repair: Repair, panel, cuts: list) -> tuple[list[DrawnNugget], CoreError | None]:
    """The old spot welds that the panel's cuts take, for the board."""
    try:
        rows = next(each.rows for each in release_list(repair) if each.panel.pk == panel.pk)
    except CoreError as error:
        return [], error
    tick = lambda number: reverse("cut:tick", args=[repair.vehicle_id, repair.number, panel.pk, number])  # noqa: E731
    return [
        DrawnNugget(n=each.number, at=each.at, done=each.tick is not None, tick=tick(each.number))
        for row in rows
        for each in row.nuggets
    ], None


@require_POST
@with_repair
def extent(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """Add a finding or panel to the repair, take a cut out of it, or delete it while nothing is done."""
    chosen, here = (
        one_cut(repair, cut_number),
        f"{reverse('cut:cut', args=[repair.vehicle_id, repair.number])}?cut={cut_number}",
    )
    what, sure = request.POST.get("what", "add"), "sure" in request.POST
    try:
        if what == "add":
            messages.success(
                request, add_to_repair(repair, request.POST.get("add", ""), by=request.user.get_username())
            )
        elif not sure:
            raise BadField(
                "It was not ticked that this is meant.",
                "sure",
                "Tick it first: patterns and weld plans go too.",
            )
        elif what == "cut":
            messages.success(request, take_cut_out(chosen))
            here = repair.get_absolute_url()
        else:
            delete_repair(repair)
            messages.success(request, f"{repair.code} is deleted; its findings are still there.")
            here = reverse("repairs:repairs", args=[repair.vehicle_id])
    except CoreError as error:
        messages.error(request, error.message)
    return redirect(here)


@require_POST
@with_repair
def clearances(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """Change the repair's margin, corner radius and web; what is refused comes back as it was typed."""
    one_cut(repair, cut_number)
    form, more, status = ClearancesForm(request.POST), {}, 422
    if form.is_valid():
        try:
            change_clearances(
                repair,
                version=whole_number(request.POST.get("version", "")),
                by=request.user.get_username(),
                **form.cleaned_data,
            )
        except CoreError as error:
            form.add_error(error.where if error.where in form.fields else None, error.message)
        except ChangedMeanwhile as error:
            more, status = {"clearances_stored": error.stored}, 409
        else:
            messages.success(
                request,
                "The lines stay as they are drawn, checked anew. 'Back to the proposal' takes a line that keeps these.",
            )
            return redirect(f"{reverse('cut:cut', args=[repair.vehicle_id, repair.number])}?cut={cut_number}")
    repair.refresh_from_db()
    cuts, _ = chosen_cut(request, repair)
    chosen = next(each for each in cuts if each.number == cut_number)
    return render(
        request,
        "cut/cut.html",
        _context(repair, cuts, chosen) | {"clearances": form} | more,
        status=status,
    )


@require_POST
@with_repair
@open_to(Role.VIEWER)
def check_moved(request: HttpRequest, repair: Repair, cut_number: int) -> JsonResponse:
    """What the core says of corners that are being dragged."""
    cut = one_cut(repair, cut_number)
    try:
        checked = check(cut, corner_list(json_body(request).get("corners")))
    except CoreError as error:
        return error_json(error, place=cut.panel.view.place_words(error.at))
    remarks = [asdict(remark) | {"what": remark.what} for remark in checked.remarks]
    met = checked.met.words
    return answer({**asdict(checked), "met": met, "remarks": remarks, "leaves_rust": checked.leaves_rust})


@require_POST
@with_repair
def move(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """Keep a moved cut line. A refused one comes back as it was typed."""
    chosen = one_cut(repair, cut_number)
    text, view = request.POST.get("corners", ""), chosen.panel.view
    version = request.POST.get("version", "")
    target = f"{reverse('cut:cut', args=[repair.vehicle_id, repair.number])}?cut={cut_number}"
    try:
        checked = move_cut(
            chosen,
            view.in_shell(corners_typed(text)),
            version=whole_number(version),
            by=request.user.get_username(),
        )
    except (CoreError, ChangedMeanwhile) as error:
        cuts, fresh = chosen_cut(request, repair)
        fresh = next(each for each in cuts if each.number == cut_number)
        context = _context(repair, cuts, fresh) | {"corners_text": text}
        if isinstance(error, ChangedMeanwhile):
            stored = error.stored
            conflict = [
                (
                    "Corners",
                    f"{len(text.splitlines())} corners",
                    corners_said(stored.corners, stored.area_mm2),
                )
            ]
            return render(
                request, "cut/cut.html", context | {"stored": stored, "conflict": conflict}, status=409
            )
        context["error"] = error
        return render(request, "cut/cut.html", context, status=422)
    messages.success(
        request,
        "The cut line is stored. "
        + ("Rust stays outside it." if checked.leaves_rust else "All rust lies inside it."),
    )
    return redirect(target)


@require_POST
@with_repair
def say_stretch(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """Keep what a person says of the stretches of a cut's outline."""
    chosen = one_cut(repair, cut_number)
    try:
        say_stretches(
            chosen,
            request.POST.getlist("kind"),
            version=whole_number(request.POST.get("version", "")),
            by=request.user.get_username(),
        )
    except ChangedMeanwhile as error:
        say_meanwhile(request, error, f"cut {cut_number}", then="say what its stretches are")
    except CoreError as error:
        messages.warning(request, units.said(error.message))
    else:
        follow_stretches(chosen)
        messages.success(request, "What each stretch is, is kept: patch, weld and record follow it.")
    return redirect(f"{reverse('cut:cut', args=[repair.vehicle_id, repair.number])}?cut={cut_number}")


@require_POST
@with_repair
def redraw(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """Draw an outgrown cut anew."""
    chosen = one_cut(repair, cut_number)
    version = request.POST.get("version", "")
    try:
        growth = take_new_line(
            chosen,
            version=whole_number(version),
            by=request.user.get_username(),
            today=days.today(),
        )
    except CoreError as error:
        messages.warning(request, units.said(error.message))
    except ChangedMeanwhile as error:
        say_meanwhile(request, error, "this line", then="draw it anew if it still has to be")
    else:
        messages.success(
            request,
            f"Drawn anew: {growth.added_weld_mm:.0f} mm of weld and {growth.added_min:.0f} minutes more than planned. It is in the record.",
        )
    return redirect(f"{reverse('cut:cut', args=[repair.vehicle_id, repair.number])}?cut={cut_number}")


@require_POST
@with_repair
def propose(request: HttpRequest, repair: Repair) -> HttpResponse:
    """Propose the cuts of a repair that has none."""
    try:
        propose_anew(repair, by=request.user.get_username())
        messages.success(request, "The cuts are proposed afresh.")
    except CoreError as error:
        messages.error(request, str(error.message))
    return redirect(repair)
