"""The survey board: the shell at a view and layer, and the regions looked at."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame.board_json import answer, corner_list, json_body
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Panel, Role, ShellView, Vehicle
from yellow_sill.web.shells.services import views_missing

from ..coverage_services import cover_of, mark_looked, mark_panel, take_back, unknown_paths
from ..forms import LookedForm
from .common import board_context, layer_asked, panels_of


@require_GET
@with_vehicle
def survey(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    first = vehicle.views.only("name").first()
    return redirect("survey:board", vehicle.pk, first.name)


@require_GET
@with_vehicle
def board(request: HttpRequest, vehicle: Vehicle, view_name: str) -> HttpResponse:
    view = get_object_or_404(ShellView.objects.defer("features"), vehicle=vehicle, name=view_name)
    layer = layer_asked(request)
    panels = (
        panels_of(view, layer)
        .select_related("cover")
        .only(
            "view_id",
            "code",
            "name",
            "named_by_hand",
            "mirror_code",
            "layer",
            "thickness_mm",
            "cover__area_mm2",
            "cover__looked_mm2",
        )
    )
    return render(
        request,
        "survey/board.html",
        board_context(vehicle, view, layer)
        | {"panels": panels, "looked_form": LookedForm(), "missing": views_missing(vehicle)},
    )


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def looked(request: HttpRequest, vehicle: Vehicle, view_name: str) -> JsonResponse:
    """Mark a region as looked at, in one gesture on the board."""
    view = get_object_or_404(
        ShellView.objects.defer("features", "silhouette"), vehicle=vehicle, name=view_name
    )
    values, layer = json_body(request), layer_asked(request)
    form = LookedForm({"method": values.get("method", ""), "made_on": ""})
    if not form.is_valid():
        return answer(
            {"error": {"what": next(iter(form.errors.values()))[0], "mend": "", "where": "method"}},
            status=422,
        )
    try:
        mark_looked(
            view,
            layer,
            corner_list(values.get("corners")),
            by=request.user.get_username(),
            **form.cleaned_data,
        )
    except CoreError as error:
        return error_json(error, place=view.place_words(error.at))
    cover = cover_of(vehicle)
    shares = {"whole": cover.whole, **dict(cover.layers)}
    return answer({"unknown": unknown_paths(view, layer), "shares": shares})


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def looked_panel(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """Mark a whole panel as looked at: the way without a pointer."""
    panel = get_object_or_404(Panel.objects.select_related("view"), pk=pk, view__vehicle=vehicle)
    form = LookedForm(request.POST)
    if form.is_valid():
        mark_panel(panel, by=request.user.get_username(), **form.cleaned_data)
        messages.success(request, f"{panel.code} is marked as looked at.")
    else:
        messages.warning(request, "Say how it was looked at.")
    return redirect(
        request.POST.get("next") if request.POST.get("next", "").startswith(f"/v/{vehicle.pk}/") else vehicle
    )


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def looked_back(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Take back the region marked last."""
    region = take_back(vehicle)
    if region is None:
        messages.warning(request, "Nothing is marked as looked at.")
        return redirect("survey:survey", vehicle.pk)
    messages.success(request, "The region marked last is taken back.")
    return redirect("survey:board", vehicle.pk, region.view.name)
