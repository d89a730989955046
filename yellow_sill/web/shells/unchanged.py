"""A page of a vehicle that was seen before and has not changed since is not sent again."""

import hashlib
import secrets
from collections.abc import Callable
from typing import Any

from django.contrib.messages import get_messages
from django.http import HttpRequest, HttpResponse, HttpResponseNotModified
from django.utils import timezone
from django.utils.translation import get_language

from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.revision import revision_of
from yellow_sill.web.frame.stages import told

from .access import role_of
from .models import Vehicle

#: Pages of one run only: after an upgrade everything is sent anew.
_RUN = secrets.token_hex(4)
_ALWAYS_ANEW = "always_anew_with"
_BY_THE_CLOCK = "by_the_clock"


def always_anew_with(*names: str) -> Callable[[Callable[..., HttpResponse]], Callable[..., HttpResponse]]:
    """A page that, where its query has one of these names, also shows what is not stored with the vehicle (a search under way)."""

    def marked(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
        setattr(view, _ALWAYS_ANEW, names)
        return view

    return marked


def by_the_clock(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """A page that shows another thing a minute later, though nothing was stored: it is always sent anew."""
    setattr(view, _BY_THE_CLOCK, True)
    return view


class UnchangedMiddleware:
    """Answers 304 where the vehicle's revision, the person, their units and terms, the day and what runs by the clock are those of the page a browser has.

    Stands before the security policy: a page that is shown again keeps the headers it came with.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        shown = getattr(request, "unchanged_shown", None)
        if response.status_code == 304:
            response.headers.pop("Content-Security-Policy", None)
        if (
            shown is not None
            and response.status_code in (200, 304)
            and response.headers.get("Content-Type", "text/html").startswith("text/html")
        ):
            response.headers["ETag"] = _tag(request, shown)
            response.headers["Cache-Control"] = "private, no-cache"
        if request.method == "POST" and (vehicle := getattr(request, "vehicle", None)) is not None:
            response.headers["Vehicle-Revision"] = str(revision_of(vehicle.pk))
        return response

    def process_view(self, request: HttpRequest, view, view_args, view_kwargs) -> HttpResponse | None:
        if request.method != "GET" or len(get_messages(request)) or getattr(view, _BY_THE_CLOCK, False):
            return None
        if any(name in request.GET for name in getattr(view, _ALWAYS_ANEW, ())):
            return None
        seen = _seen(view_kwargs.get("vehicle_id"), request.user)
        if seen is None:
            return None
        request.unchanged_shown = shown = _shown(request, seen)
        known = request.headers.get("If-None-Match", "")
        return HttpResponseNotModified() if _tag(request, shown) in known.split(", ") else None


def _seen(vehicle_id: int | None, user: Any) -> tuple[int, int, tuple[str, ...]] | None:
    """The revision of a vehicle, the role of whoever asks and what runs by the clock; None where there is no such vehicle for them."""
    vehicle = (
        Vehicle.objects.filter(pk=vehicle_id).only("revision", "owner_id").first()
        if vehicle_id is not None and user.pk
        else None
    )
    role = role_of(vehicle, user) if vehicle is not None else 0
    if vehicle is None or not role:
        return None
    now = timezone.now()
    return vehicle.revision, role, tuple(alert.words for say in told("alerts") for alert in say(vehicle, now))


def _shown(request: HttpRequest, seen: tuple[int, int, tuple[str, ...]]) -> tuple:
    """All that a page depends on, taken while the person's units and terms are set: around the view, not outside of it."""
    return (
        _RUN,
        seen,
        request.get_full_path(),
        request.headers.get("Accept", ""),
        request.user.pk,
        request.user.get_username(),
        units.unit.get(),
        units.degrees.get(),
        get_language(),
        days.today(),
    )


def _tag(request: HttpRequest, shown: tuple) -> str:
    """The tag of a page, by the token that its forms carry, too."""
    told = (*shown, request.META.get("CSRF_COOKIE", ""))
    return f'W/"{hashlib.sha256(repr(told).encode()).hexdigest()[:24]}"'
