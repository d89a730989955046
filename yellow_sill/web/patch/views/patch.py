from collections.abc import Mapping
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.patch.around import grips
from yellow_sill.core.patch.opening import by_name, usual
from yellow_sill.core.patch.part import shown
from yellow_sill.core.patch.pattern import path_of, rim_of
from yellow_sill.core.patch.tiles import PAPERS_MM
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.views.common import chosen_cut, one_cut, repair_context
from yellow_sill.web.frame import units
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.models import Role

from ..forms import PatchForm
from ..pages import FoldPage, Mark, NamedLine, NamedPlace, PatternPage, RimTick, WeldHole, WidthGrip
from ..services import (
    Developed,
    developed,
    edges_of,
    folding,
    how_words,
    new_welds,
    patch_of,
    pattern_file,
    pattern_marks,
    ribs_of,
    said_of,
    save_patch,
    stored_values,
)


def _drawing(cut: Cut, result: Developed | None, mirror_hand: bool) -> PatternPage:
    """What the board draws of a developed pattern. The mirror hand is the same drawing with u turned round."""
    repair = cut.repair
    args = [repair.vehicle_id, repair.number, cut.number]
    preview, folded = reverse("patch:preview", args=args), reverse("patch:folded", args=args)
    if result is None:
        return PatternPage(preview=preview, folded=folded)
    way = -1 if mirror_hand else 1
    turn = lambda points: [[way * u, v] for u, v in points]  # noqa: E731
    pattern = result.pattern
    steps = {face.name for face in pattern.faces if face.kind == "joggle"}
    return PatternPage(
        preview=preview,
        folded=folded,
        flat=turn(pattern.corners),
        cut_outs=[turn(each) for each in pattern.cut_outs],
        opening=turn(result.opening),
        holes=[turn(hole) for hole in result.holes] + [turn(rim_of(hole)) for hole in pattern.holes],
        bends=[NamedLine(name=bend_name(bend.name, steps), way=bend.direction, path=turn(path_of(bend))) for bend in pattern.bends],
        names=[NamedPlace(name=edge.name, at=[way * edge.middle[0], edge.middle[1]]) for edge in result.seen],
        rims=[RimTick(at=[way * mark.at[0], mark.at[1]], gain_mm=mark.gain_mm) for rim in result.rims for mark in rim.marks],
        transfers=[NamedPlace(name=name, at=[way * at[0], at[1]]) for name, at in pattern_marks(cut)],
        ribs=[turn(line) for line in ribs_of(cut, result.opening)],
        welds=[WeldHole(at=[way * weld.at[0], weld.at[1]], hole_mm=weld.hole_mm) for weld in new_welds(cut, result.opening)],
        grips=[
            WidthGrip(field=f"{grip.size}_{grip.edge}", at=[way * grip.at[0], grip.at[1]], out=[way * grip.out[0], grip.out[1]])
            for grip in grips(result.seen, result.made, pattern.corners)
        ],
        marks=[Mark(text=remark.what, at=[way * remark.at[0], remark.at[1]]) for remark in pattern.warnings if remark.at],
    )  # fmt: skip


def bend_name(name: str, steps: set[str]) -> str:
    """A bend's name on the drawing; the two of a joggle's step have one. Args: steps: names of the bends of joggles."""
    return shown(name).split(".")[0] if name in steps else shown(name)


def _edges(cut: Cut, values: Mapping[str, Any]) -> dict:
    """The view of a cut's patch, its edges, how each is made by now, and what fits none any more. Raises: CoreError."""
    seen = edges_of(cut, values)
    made, lost = by_name(seen, said_of(cut, values))
    return {"view": cut.panel.view, "seen": seen, "made": usual(seen) | made, "lost": lost}


@with_repair
def patch(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The patch: sides, treatments, flat pattern."""
    cuts, cut = chosen_cut(request, repair, "patch")
    context = repair_context(repair, "patch", cuts, cut)
    if cut is None:
        return render(request, "patch/patch.html", context)
    stored = patch_of(cut)
    form = PatchForm(
        request.POST or None,
        **_edges(cut, stored_values(stored)),
        stored=stored_values(stored),
        version=stored.version,
    )
    error = conflict = None
    here = f"{reverse('patch:patch', args=[repair.vehicle_id, repair.number])}?cut={cut.number}"
    if request.method == "POST" and form.is_valid():
        try:
            save_patch(
                stored, form.values(), version=form.cleaned_data["version"], by=request.user.get_username()
            )
            messages.success(request, "The pattern is stored.")
            return redirect(here)
        except CoreError as refused:
            error = refused
        except ChangedMeanwhile as changed:
            theirs, yours = stored_values(changed.stored), form.values()
            rows = [
                (name.replace("_", " "), how_words(yours[name]), how_words(theirs[name]))
                for name in yours
                if yours[name] != theirs[name]
            ]
            if not (conflict := both_of(request, form, changed, rows=rows)):
                return redirect(here)
            context["stored"] = changed.stored
    try:
        values = form.values() if form.is_bound and form.is_valid() else stored_values(stored)
        result = developed(cut, values)
    except CoreError as refused:
        result, error, values = None, error or refused, stored_values(stored)
    context |= {
        "form": form,
        "error": error,
        "conflict": conflict,
        "result": result,
        "papers": PAPERS_MM,
        "patch": stored,
        "board": _drawing(cut, result, values["mirror_hand"]),
        "folded": request.GET.get("show") == "folded",
        "lost": form.lost,
        "bounds": _bounds(result, cut, values["mirror_hand"]),
        "cells": _cells(repair, cut, values),
    }
    return render(
        request,
        "patch/patch.html",
        context,
        status=409 if conflict else 422 if form.errors or (error and request.method == "POST") else 200,
    )


def _bounds(result: Developed | None, cut: Cut, mirror_hand: bool) -> list[float]:
    u0, v0, u1, v1 = bounds_of(
        [*(result.opening if result else cut.outline), *(result.pattern.corners if result else [])]
    )
    return [-u1, v0, -u0, v1] if mirror_hand else [u0, v0, u1, v1]


def _cells(repair: Repair, cut: Cut, values: dict) -> list:
    hand = "mirror" if values["mirror_hand"] else "as drawn"
    steel = f"{values['thickness_mm']:g}"
    return [
        ("Repair", repair.code),
        ("Body no.", repair.vehicle.body_no or "–"),
        ("Pattern for", f"cut {cut.number}"),
        ("Steel, mm", steel),
        ("Hand", hand),
        ("Units", units.unit.get()),
    ]


@require_POST
@with_repair
@open_to(Role.VIEWER)
def folded(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """The part folding bend by bend, as the form has it."""
    cut = one_cut(repair, cut_number, "patch")
    stored = patch_of(cut)
    form = PatchForm(
        request.POST,
        **_edges(cut, stored_values(stored)),
        stored=stored_values(stored),
        version=stored.version,
    )
    if not form.is_valid():
        return answer(
            {
                "error": {
                    "what": next(iter(form.errors.values()))[0],
                    "mend": "",
                    "where": next(iter(form.errors)),
                }
            },
            status=422,
        )
    values = form.values()
    try:
        told = folding(developed(cut, values), values["mirror_hand"])
    except CoreError as error:
        return error_json(error)
    words = render_to_string("patch/_fold_order.html", {"play": told})
    return answer({"play": FoldPage(flat=told.flat, stages=told.stages), "order": words})


@require_POST
@with_repair
@open_to(Role.VIEWER)
def preview(request: HttpRequest, repair: Repair, cut_number: int) -> HttpResponse:
    """The pattern of a form that is not stored yet."""
    cut = one_cut(repair, cut_number, "patch")
    stored = patch_of(cut)
    form = PatchForm(
        request.POST,
        **_edges(cut, stored_values(stored)),
        stored=stored_values(stored),
        version=stored.version,
    )
    if not form.is_valid():
        faults = {name: errors[0] for name, errors in form.errors.items()}
        return answer(
            {
                "error": {"what": next(iter(faults.values())), "mend": "", "where": next(iter(faults))},
                "fields": faults,
            },
            status=422,
        )
    values = form.values()
    try:
        result = developed(cut, values)
    except CoreError as error:
        return error_json(error)
    figures = render_to_string("patch/_pattern_figures.html", {"result": result})
    drawing, bounds = (
        _drawing(cut, result, values["mirror_hand"]),
        _bounds(result, cut, values["mirror_hand"]),
    )
    return answer(
        {
            "board": drawing,
            "figures": figures,
            "bounds": bounds,
            "cells": [value for _, value in _cells(repair, cut, values)],
        }
    )


@require_GET
@with_repair
def download(request: HttpRequest, repair: Repair, cut_number: int, form: str) -> HttpResponse:
    """The stored pattern as SVG, DXF or full-size PDF."""
    if form not in ("svg", "dxf", "pdf"):
        raise Http404
    cut = one_cut(repair, cut_number, "patch")
    stored = patch_of(cut)
    hand = request.GET.get("hand", "mirror" if stored.mirror_hand else "drawn") == "mirror"
    card = request.GET.get("card") == "1"
    data, mime, name = pattern_file(
        cut, stored, form, paper=request.GET.get("paper", "A4"), mirror_hand=hand, card=card
    )
    return attachment(data, name, mime)
