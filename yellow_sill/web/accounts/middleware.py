"""Who may come in: whoever has an account. On a first visit there is none yet, and the account is made."""

from collections.abc import Callable

from django.conf import settings
from django.contrib.auth import get_user_model
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import translation

from yellow_sill.web.frame import units
from yellow_sill.web.frame.changes import asking

from .models import Preferences

BRITISH = "en-gb"
_OPEN = (
    "accounts:sign_in",
    "accounts:welcome",
    "accounts:join",
    "frame:waiting",
    "frame:who",
    "frame:worker",
    "order:feed",
    "record:given",
)


class OwnerMiddleware:
    """Everything but the door asks for somebody who is signed in."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view_func, view_args, view_kwargs) -> HttpResponse | None:
        if request.user.is_authenticated or request.resolver_match.view_name in _OPEN:
            return None
        if not get_user_model().objects.exists():
            return redirect("accounts:welcome")
        return redirect(f"{reverse('accounts:sign_in')}?next={request.path}")


class NotKeptMiddleware:
    """Where several people use one browser on a network, it keeps no page and no photo of ours; signing out empties it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if settings.SHARED:
            response["Cache-Control"] = "no-store"
        if request.method == "POST" and request.path == reverse("accounts:sign_out"):
            response["Clear-Site-Data"] = '"cache"'
        return response


class DemoOwnerMiddleware:
    """In the demo its one owner is always signed in."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.user.is_authenticated:
            request.user = get_user_model().objects.first() or request.user
        return self.get_response(request)


class PreferencesMiddleware:
    """The units and the terms of whoever asks, for this request only."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        wanted = (
            Preferences.objects.filter(user=request.user).first() if request.user.is_authenticated else None
        )
        asked_by = asking.set(request.user.get_username())
        held = (
            units.unit.set(wanted.unit if wanted else "mm"),
            units.degrees.set(wanted.degrees if wanted else "C"),
        )
        try:
            with translation.override(units.AMERICAN if wanted and wanted.american_terms else BRITISH):
                return self.get_response(request)
        finally:
            asking.reset(asked_by)
            units.unit.reset(held[0])
            units.degrees.reset(held[1])
