"""Which repair a page is about."""

from collections.abc import Callable
from functools import wraps

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from .models import Repair


def with_repair(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Give the view the repair of this vehicle."""

    @with_vehicle
    @wraps(view)
    def inner(request: HttpRequest, vehicle: Vehicle, number: int, *args, **kwargs) -> HttpResponse:
        repair = get_object_or_404(Repair.objects.filter(vehicle=vehicle), number=number)
        repair.vehicle = vehicle
        return view(request, repair, *args, **kwargs)

    return inner
