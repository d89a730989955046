"""Photos of the survey: sent, shown, traced, made into an outline."""

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.said import joined
from yellow_sill.core.survey.rectify import SEEN_FROM
from yellow_sill.core.units import exact_length
from yellow_sill.web.frame import units
from yellow_sill.web.frame.board_json import answer, corner_list, json_body
from yellow_sill.web.frame.fields import length_typed
from yellow_sill.web.frame.middleware import error_json, refused
from yellow_sill.web.frame.pictures import photo_path, picture_response, removed
from yellow_sill.web.frame.templatetags.figures import cm2, large
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Panel, Role, Vehicle

from ..forms import SurveyPhotoForm
from ..models import Finding, SurveyPhoto
from ..photo_services import MARKS_APART_MM, add_survey_photo, keep_trace, stored_trace, traced
from .panel import one_panel

MOST_POINTS, FARTHEST_PX = 2000, 100_000
CARD_MM = (85.6, 54.0)  #: a bank card lies in every pocket


def _one(vehicle: Vehicle, pk: int) -> SurveyPhoto:
    return get_object_or_404(
        SurveyPhoto.objects.select_related("panel__view", "finding").defer("panel__view__features"),
        pk=pk,
        vehicle=vehicle,
    )


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def add(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """A photo of a panel, or of a finding on it (``finding`` in the form)."""
    panel: Panel = one_panel(vehicle, pk)
    number = request.POST.get("finding", "")
    finding = (
        get_object_or_404(Finding, vehicle=vehicle, panel=panel, number=whole_number(number))
        if number
        else None
    )
    back = finding.get_absolute_url() if finding else reverse("survey:panel", args=[vehicle.pk, panel.pk])
    form = SurveyPhotoForm(request.POST, request.FILES)
    if form.is_valid():
        values = form.cleaned_data
        try:
            made = add_survey_photo(
                panel,
                finding,
                values["photo"],
                caption=values["caption"],
                taken_on=values["taken_on"],
                by=request.user.get_username(),
            )
            return redirect("survey:photo", vehicle.pk, made.pk)
        except BadField as error:
            return refused(request, error, back)
    return refused(request, BadField(next(iter(form.errors.values()))[0], "photo"), back)


@require_GET
@with_vehicle
def photo_file(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    return picture_response(get_object_or_404(SurveyPhoto, pk=pk, vehicle=vehicle).file)


def _typed(values: dict, photo: SurveyPhoto) -> dict:
    """What the board sends: points in pixels, sizes and places as typed.

    Raises: BadField, naming what cannot be read.
    """
    if not {"reference", "trace", "marks"} <= set(values):
        raise BadField("The board sent something that cannot be read.", "$", "Reload the page.")
    read = {
        name: [list(point) for point in corner_list(values[name])][:MOST_POINTS]
        for name in ("reference", "trace", "marks")
    }
    if not all(abs(value) <= FARTHEST_PX for points in read.values() for point in points for value in point):
        raise BadField("A point lies outside the picture.", "trace", "Click it again.")
    size, distances = (
        _numbers(values.get("size"), "card size"),
        _numbers(values.get("distances"), "distances"),
    )
    by_distances = values.get("by") == "distances"
    read |= {"size_mm": None if by_distances else size, "distances_mm": distances if by_distances else None}
    read["seen_from"] = values["seen_from"] if values.get("seen_from") in list(SEEN_FROM) else ""
    places = _numbers(values.get("on_panel"), "place on the panel")
    read["on_panel"] = photo.panel.view.in_shell([places[:2], places[2:]]) if len(places) == 4 else []
    return read


def _numbers(texts, where: str) -> list[float]:
    """Typed numbers, all or none of them."""
    if not isinstance(texts, list):
        return []
    try:
        found = [length_typed(str(text), units.unit.get()) for text in texts[:6]]
    except Exception:
        raise BadField(
            "One of these is not a number.", where, "Type lengths such as 85.6 mm or 3 3/8."
        ) from None
    return [number for number in found if number is not None] if None not in found else []


@with_vehicle
@open_to(Role.HELPER)
def photo(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """The photo as a board: click the card, trace the hole; a POST keeps it."""
    chosen = _one(vehicle, pk)
    if request.method == "POST":
        try:
            values = json_body(request)
            keep_trace(chosen, _typed(values, chosen))
        except CoreError as error:
            return error_json(error)
        return answer({"kept": True})
    target = (
        chosen.finding.get_absolute_url() + "?again&"
        if chosen.finding
        else reverse("survey:new", args=[vehicle.pk, chosen.panel.view.name])
        + f"?layer={chosen.panel.layer_name}&panel={chosen.panel.code}&"
    )
    context = {
        "current_stage": "survey",
        "photo": chosen,
        "there": photo_path(chosen.file).is_file(),
        "board": stored_trace(chosen) | {"on_panel": chosen.panel.view.in_shell(chosen.on_panel)},
        "target": f"{target}photo={chosen.pk}",
        "distance_names": list(
            zip(
                ("1 to 2", "2 to 3", "3 to 4", "4 to 1", "1 to 3"),
                _shown(chosen.distances_mm) or [""] * 5,
                strict=False,
            )
        ),
        "card": _shown(chosen.size_mm or CARD_MM),
        "place_names": _place_names(chosen),
        "sides": [(key, words, key == chosen.seen_from) for key, words in SEEN_FROM.items()],
        "bounds": [0, -chosen.height, chosen.width, 0],
    }
    return render(request, "survey/photo.html", context)


def _shown(lengths_mm) -> list[str]:
    """Lengths for fields, in the person's unit."""
    return [exact_length(value, units.unit.get()) for value in lengths_mm or ()]


def _place_names(chosen: SurveyPhoto) -> list[tuple[str, str]]:
    """Labels and values of the four figures that say where the two points lie on the panel."""
    view = chosen.panel.view
    known = _shown([value for point in view.in_shell(chosen.on_panel) for value in point]) or [""] * 4
    axes = view.plane.axes * 2
    return [
        (f"Point {i // 2 + 1}, {axis} {units.unit.get()}", value)
        for i, (axis, value) in enumerate(zip(axes, known, strict=True))
    ]


@require_POST
@with_vehicle
@open_to(Role.VIEWER)
def photo_check(request: HttpRequest, vehicle: Vehicle, pk: int) -> JsonResponse:
    """The millimetres of what is being clicked."""
    chosen = _one(vehicle, pk)
    try:
        found = traced(_typed(json_body(request), chosen))
    except CoreError as error:
        return error_json(error)
    result = found.rectified
    x0, y0, x1, y1 = result.bounding_box_mm
    remarks = [joined((remark.what, remark.mend)) for remark in result.warnings]
    if found.marks_off_mm is not None and abs(found.marks_off_mm) > MARKS_APART_MM:
        apart = "farther apart" if found.marks_off_mm > 0 else "nearer"
        remarks.append(
            f"The two points are {abs(found.marks_off_mm):.1f} mm {apart} on the panel than in the picture. Check both."
        )
    return answer(
        {
            "size": f"{large(x1 - x0)} × {large(y1 - y0)}",
            "area": cm2(result.area_mm2),
            "error_pct": result.scale_error_pct,
            "remarks": remarks,
            "placed": found.outline is not None,
        }
    )


@require_POST
@with_vehicle
def photo_delete(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    chosen = _one(vehicle, pk)
    back = (
        chosen.finding.get_absolute_url()
        if chosen.finding
        else reverse("survey:panel", args=[vehicle.pk, chosen.panel_id])
    )
    removed(chosen)
    return redirect(back)


def outline_from(vehicle: Vehicle, key: str) -> list[list[float]]:
    """The outline that a photo gives for its panel, in the view's plane; empty where it gives none."""
    chosen = SurveyPhoto.objects.select_related("panel").filter(pk=whole_number(key), vehicle=vehicle).first()
    try:
        return (chosen and traced(stored_trace(chosen)).outline) or []
    except CoreError:
        return []
