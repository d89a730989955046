"""Findings: drawn, looked at again, corrected, overruled."""

from collections.abc import Sequence
from math import dist

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.web.frame import days
from yellow_sill.web.frame.board_json import answer, corner_list, json_body
from yellow_sill.web.frame.meanwhile import Row, both_of, say_meanwhile
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.frame.units import corners_said, corners_text
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Panel, Role, ShellView, Vehicle

from ..forms import FindingForm, OverruleForm, SurveyPhotoForm
from ..grid_services import grid_summary
from ..models import FarSide, Finding
from ..services import (
    FindingInUse,
    create_finding,
    delete_finding,
    look_again,
    overrule,
    preview,
    update_finding,
)
from ..where_services import behind, mirror_state, stack_across, stack_at, where_words
from .common import board_context, layer_asked, panels_of
from .photo import outline_from

#: Corners nearer than this to another finding's are the same, mm.
TWIN_MM = 0.01


@with_vehicle
@open_to(Role.HELPER)
def new(request: HttpRequest, vehicle: Vehicle, view_name: str) -> HttpResponse:
    """Draw or type a new finding."""
    view = get_object_or_404(ShellView.objects.defer("features"), vehicle=vehicle, name=view_name)
    layer = layer_asked(request)
    panels = panels_of(view, layer)
    form = FindingForm(
        request.POST or None,
        view=view,
        panels=panels,
        initial={"panel": request.GET.get("panel", "")}
        | _from_photo(request, vehicle, view)
        | _from_other_side(request, vehicle, view),
    )
    if request.method == "POST" and form.is_valid():
        try:
            require_new(vehicle, form.stored())
            made = create_finding(vehicle, by=request.user.get_username(), **form.stored())
            messages.success(request, f"Finding {made.number} is stored.")
            return redirect(made)
        except CoreError as error:
            form.refuse(error)
    context = board_context(vehicle, view, layer) | _form_context(request, view, form, panels)
    return render(request, "survey/edit.html", context, status=422 if form.errors else 200)


def require_new(vehicle: Vehicle, values: dict) -> None:
    """The same form sent twice, by Back and Store again, makes no twin. Raises: BadField naming the finding that is it already."""
    corners = [[float(u), float(v)] for u, v in values["corners"]]
    for number, outline in values["panel"].findings.values_list("number", "outline"):
        if len(outline) == len(corners) and all(
            dist(a, b) < TWIN_MM for a, b in zip(outline, corners, strict=True)
        ):
            raise BadField(
                f"Finding {number} has this very outline already.",
                "corners",
                f"Change finding {number}, or draw this one where it lies.",
            )


def _from_photo(request: HttpRequest, vehicle: Vehicle, view: ShellView) -> dict:
    """Corners traced on a photo, for a form that was asked to take them."""
    outline = outline_from(vehicle, request.GET.get("photo", ""))
    return {"corners": corners_text(view.in_shell(outline))} if outline else {}


def _from_other_side(request: HttpRequest, vehicle: Vehicle, view: ShellView) -> dict:
    """The outline of a finding of the other side, mirrored, for a form that was asked to take it; what was found there is not taken over."""
    other = (
        vehicle.findings.filter(number=whole_number(request.GET.get("mirror")))
        .select_related("panel__view")
        .first()
    )
    if other is None or other.panel.view.plane.axes != view.plane.axes:
        return {}
    return {"corners": corners_text(other.panel.view.plane.over_the_centre(other.outline))}


def _form_context(
    request: HttpRequest, view: ShellView, form: FindingForm, panels, finding: Finding | None = None
) -> dict:
    rings = {
        panel.code: {
            "outline": panel.outline,
            "holes": panel.holes,
            "name": panel.name,
            "mm": panel.thickness_mm,
        }
        for panel in panels
    }
    return {
        "form": form,
        "panel_rings": rings,
        "check_url": reverse("survey:check", args=[view.vehicle_id]),
        "draft_key": _draft_key(request, view, finding),
    }


def _draft_key(request: HttpRequest, view: ShellView, finding: Finding | None) -> str:
    """The place that a draft in the browser belongs to: what is drawn here is offered here again, and nowhere else."""
    layer, panel, photo = (request.GET.get(name, "") for name in ("layer", "panel", "photo"))
    of = f"{finding.number}-{finding.version}" if finding else "new-0"
    return "-".join(
        [
            str(view.vehicle_id),
            view.name,
            layer,
            panel,
            of,
            *(["again"] if "again" in request.GET else []),
            *([photo] if photo else []),
            *([f"mirror{mirror}"] if (mirror := request.GET.get("mirror", "")) else []),
        ]
    )


@with_vehicle
@open_to(Role.HELPER)
def finding(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """One finding: shown with its detail; ``?edit`` corrects the latest look, ``?again`` adds one."""
    chosen = get_object_or_404(
        Finding.objects.select_related("panel__view")
        .prefetch_related("inspections__evidence", "repairs", "photos", "readings", "panel__items")
        .defer("panel__view__features", "panel__view__silhouette"),
        vehicle=vehicle,
        number=number,
    )
    view, layer = chosen.panel.view, chosen.panel.layer
    context = board_context(vehicle, view, layer if view.layered else 1, chosen)
    again = "again" in request.GET
    if request.method != "POST" and "edit" not in request.GET and not again:
        context |= _shown(chosen, view, context["marks"])
        return render(request, "survey/finding.html", context)
    panels = panels_of(view, layer)
    if again:
        panels = panels.filter(pk=chosen.panel_id)
    form = FindingForm(
        request.POST or None,
        view=view,
        panels=panels,
        finding=chosen,
        again=again,
        initial=_from_photo(request, vehicle, view),
    )
    conflict = None
    if request.method == "POST" and form.is_valid():
        values = form.cleaned_data
        try:
            if again:
                look_again(
                    chosen, version=values["version"], by=request.user.get_username(), **form.looked_again()
                )
            else:
                update_finding(
                    chosen, version=values["version"], by=request.user.get_username(), **form.stored()
                )
            messages.success(request, f"Finding {number} is stored.")
            return redirect(chosen)
        except CoreError as error:
            form.refuse(error)
        except ChangedMeanwhile as error:
            conflict = both_of(request, form, error, rows=_both(values, error.stored))
            context["stored"] = error.stored
    context |= _form_context(request, view, form, panels, chosen) | {"conflict": conflict, "again": again}
    return render(
        request, "survey/edit.html", context, status=409 if conflict else 422 if form.errors else 200
    )


def _shown(chosen: Finding, view: ShellView, marks: Sequence) -> dict:
    """A finding's detail: its mirror image, what lies behind, its looks, repairs and readings."""
    mirror, mirrored = mirror_state(chosen)
    stack = stack_at(chosen, view.panels.all(), marks) if view.layered else stack_across(chosen, view)
    inspections = list(chosen.inspections.all())
    return where_words(chosen, view) | {
        "mirror_panel": mirror,
        "mirrored": mirrored,
        "stack": stack,
        "repairs": chosen.repairs.all(),
        "inspections": inspections,
        "behind": behind(chosen, inspections[-1].stage, stack) if view.layered else [],
        "grid": grid_summary(chosen),
        "far_side": FarSide.objects.filter(panel=chosen.panel).first(),
        "overrule_form": OverruleForm(
            initial={
                "version": chosen.version,
                "overruled_to": chosen.overruled_to,
                "overruled_reason": chosen.overruled_reason,
            }
        ),
        "photo_form": SurveyPhotoForm(),
    }


def _both(values: dict, stored: Finding) -> list[Row]:
    """What a person typed beside what is stored now."""
    return [
        ("Panel", values["panel"], stored.panel),
        ("Name", values["title"], stored.title),
        (
            "Corners",
            f"{len(values['corners'])} corners",
            corners_said(stored.outline, stored.area_mm2),
        ),
        ("Grade", "by your evidence", stored.grade_word),
        ("Note", values["note"], stored.note),
    ]


@require_POST
@with_vehicle
def overruled(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    """A person's own grade with its reason, or back to the evidence."""
    chosen = get_object_or_404(Finding.objects.select_related("panel"), vehicle=vehicle, number=number)
    form = OverruleForm(request.POST)
    if form.is_valid():
        values = form.cleaned_data
        try:
            overrule(
                chosen,
                version=values["version"],
                to=values["overruled_to"],
                reason=values["overruled_reason"],
                by=request.user.get_username(),
            )
            messages.success(request, f"Finding {number} is {chosen.grade_word.lower()} now.")
        except CoreError as error:
            messages.warning(request, error.message)
        except ChangedMeanwhile as error:
            now = (error.stored.grade_word, error.stored.overruled_reason or "none")
            grades = dict(form.fields["overruled_to"].choices)
            wanted = (grades[values["overruled_to"]], values["overruled_reason"] or "none")
            rows = zip(("the grade", "the reason"), wanted, now, strict=True)
            say_meanwhile(request, error, f"finding {number}", rows, "overrule it")
    return redirect(chosen)


@require_POST
@with_vehicle
def delete(request: HttpRequest, vehicle: Vehicle, number: int) -> HttpResponse:
    chosen = get_object_or_404(Finding, vehicle=vehicle, number=number)
    view_name = chosen.panel.view.name
    try:
        delete_finding(chosen)
    except FindingInUse as error:
        messages.warning(request, f"Finding {number} is mended by {error}; it stays in the record.")
        return redirect(chosen)
    messages.success(request, f"Finding {number} is deleted.")
    return redirect("survey:board", vehicle.pk, view_name)


@require_POST
@with_vehicle
@open_to(Role.VIEWER)
def check(request: HttpRequest, vehicle: Vehicle) -> JsonResponse:
    """What the core says of a finding that is being drawn."""
    values = json_body(request)
    name, code = str(values.get("view", "")), str(values.get("panel", ""))
    panel = get_object_or_404(
        Panel.objects.select_related("view"), view__vehicle=vehicle, view__name=name, code=code
    )
    evidence = [
        {"made_on": days.today().isoformat(), **row}
        for row in values.get("evidence", [])
        if isinstance(row, dict)
    ]
    try:
        extent, grading = preview(panel, corner_list(values.get("corners")), evidence)
    except CoreError as error:
        return error_json(error, place=panel.view.place_words(error.at))
    return answer(
        {
            "size_mm": extent and [round(size, 1) for size in extent.size_mm],
            "area_mm2": extent and extent.area_mm2,
            "grade": grading.grade.value if grading.grade else "",
            "word": grading.grade.word if grading.grade else "Not graded",
            "why": grading.why,
        }
    )
