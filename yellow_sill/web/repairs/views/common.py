"""What the pages of one repair share."""

from collections.abc import Callable
from functools import wraps

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils.functional import SimpleLazyObject

from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..models import Cut, Repair
from ..ribbon_services import shown_along
from ..services import grown_cuts


def with_repair(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Give the view the repair of this vehicle."""

    @with_vehicle
    @wraps(view)
    def inner(request: HttpRequest, vehicle: Vehicle, number: int, *args, **kwargs) -> HttpResponse:
        repair = get_object_or_404(Repair.objects.filter(vehicle=vehicle), number=number)
        repair.vehicle = vehicle
        return view(request, repair, *args, **kwargs)

    return inner


def chosen_cut(request: HttpRequest, repair: Repair) -> tuple[list[Cut], Cut]:
    """All cuts of a repair and the one that ``?cut=`` names, the first by default."""
    cuts = list(repair.cuts.without_drawings().select_related("patch", "weld").prefetch_related("findings"))
    wanted = request.GET.get("cut", "")
    cut = next((cut for cut in cuts if str(cut.number) == wanted), cuts[0] if cuts else None)
    for each in cuts:
        each.repair = repair
    return cuts, cut


def one_cut(repair: Repair, number: int) -> Cut:
    cut = get_object_or_404(
        Cut.objects.without_drawings().select_related("patch", "weld"), repair=repair, number=number
    )
    cut.repair = repair
    return cut


def repair_context(repair: Repair, tab: str, cuts: list[Cut], cut: Cut | None) -> dict:
    # worked out only where a page shows them
    told = {
        "along": SimpleLazyObject(lambda: shown_along(repair)),
        "grown_cuts": SimpleLazyObject(lambda: grown_cuts(repair, cuts or None)),
    }
    return {"current_stage": "repairs", "repair": repair, "tab": tab, "cuts": cuts, "cut": cut} | told
