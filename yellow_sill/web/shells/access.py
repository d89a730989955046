"""Opening a vehicle: only its owner sees it."""

from collections.abc import Callable
from functools import wraps

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from .models import Vehicle


def with_vehicle(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Give the view the vehicle instead of its key; a stranger's vehicle does not exist."""

    @wraps(view)
    def inner(request: HttpRequest, vehicle_id: int, *args, **kwargs) -> HttpResponse:
        request.vehicle = get_object_or_404(Vehicle, pk=vehicle_id, owner=request.user)
        return view(request, request.vehicle, *args, **kwargs)

    return inner
