"""Before and after: two photos of a repair, laid over one another with a slider."""

from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.db.models import Count
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.record.overlay import Overlay
from yellow_sill.web.frame import units
from yellow_sill.web.frame.board_json import answer, json_body
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..models import PhotoPair
from ..pair_services import Pairing, keep_pair, lay, pairing


@dataclass(frozen=True, slots=True, kw_only=True)
class PairsPage(Page):
    """``told``: the photos to choose from and the two in hand; ``laid``: how one lies over the other (None: side by side); ``kept``: all pairs."""

    told: Pairing | None
    laid: Overlay | None
    lay_data: dict[str, Any]
    both: list[tuple[str, Photo]]
    error: CoreError | None
    repairs: list[Repair]
    repair: Repair | None
    kept: list[PhotoPair]


@with_vehicle
@open_to(Role.HELPER, what=("keep",))
def pairs(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """``repair``, ``before`` and ``after`` in the address say which; a form keeps the points that were tapped."""
    repairs = list(vehicle.repairs.annotate(shown=Count("photos")).filter(shown__gt=1))
    kept = list(vehicle.photo_pairs.select_related("before__repair", "after"))
    number = whole_number(request.GET.get("repair", ""))
    first = kept[-1].before.repair.number if kept and kept[-1].before.repair else None
    repair = next(
        (each for each in repairs if each.number == (number or first)), repairs[0] if repairs else None
    )
    told = (
        pairing(
            repair, whole_number(request.GET.get("before", "")), whole_number(request.GET.get("after", ""))
        )
        if repair
        else None
    )
    error, status = None, 200
    if request.method == "POST" and told and told.before and told.after:
        try:
            return _stored(request, vehicle, told)
        except CoreError as refused:
            error, status = refused, 422
    laid, points = None, told.kept.points if told and told.kept else []
    if told and told.before and told.after and points:
        try:
            laid = lay(told.before, told.after, points)
        except CoreError as refused:
            error = error or refused
    page = PairsPage(
        current_stage="record", told=told, laid=laid, error=error, repairs=repairs, repair=repair, kept=kept,
        both=[("before", told.before), ("after", told.after)] if told and told.before and told.after else [],
        lay_data={"points": points, "matrix": laid.matrix if laid else None},
        cells=[
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Repair", repair.code if repair else "–"),
            ("Photos", len(told.photos) if told else 0), ("Pairs kept", len(kept)), ("Units", units.unit.get()),
        ],
    )  # fmt: skip
    return show(request, "record/pairs.html", page, status=status)


def _stored(request: HttpRequest, vehicle: Vehicle, told: Pairing) -> HttpResponse:
    """Raises: CoreError."""
    assert told.before and told.after
    here = f"{reverse('record:pairs', args=[vehicle.pk])}?before={told.before.pk}&after={told.after.pk}&repair={request.GET.get('repair', '')}"
    keep_pair(
        vehicle,
        told.before,
        told.after,
        points_typed(request.POST.get("points", "")),
        by=request.user.get_username(),
    )
    messages.success(request, "The two photos are kept as they lie.")
    return redirect(here)


def points_typed(text: str) -> list[list[float]]:
    """Points as the page sends them: four figures each, one after another with commas between. Raises: BadField."""
    try:
        figures = [float(each) for each in text.replace(";", ",").split(",") if each.strip()]
        if len(figures) % 4:
            raise ValueError
    except ValueError:
        raise BadField("These points cannot be read.", "points", "Tap them again.") from None
    return [figures[n : n + 4] for n in range(0, len(figures), 4)]


@require_POST
@with_vehicle
@open_to(Role.VIEWER)
def lay_over(request: HttpRequest, vehicle: Vehicle) -> JsonResponse:
    """How the later photo lies over the earlier one by the points that are tapped so far."""
    try:
        sent = json_body(request)
        both = [
            get_object_or_404(
                Photo, vehicle=vehicle, pk=sent.get(name) if isinstance(sent.get(name), int) else 0
            )
            for name in ("before", "after")
        ]
        points = sent.get("points")
        if not isinstance(points, list) or not all(
            isinstance(point, list) and len(point) == 4 for point in points
        ):
            raise BadField("These points cannot be read.", "points", "Tap them again.")
        laid = lay(both[0], both[1], points)
    except CoreError as error:
        return error_json(error)
    return answer({"matrix": laid.matrix, "shared": laid.shared, "words": laid.words})
