"""Opening a vehicle: its owner, and whom the owner opened it to, each as far as their role goes."""

import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, wraps
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.urls import URLPattern, get_resolver

from yellow_sill.core.errors import CoreError
from yellow_sill.web.keeping.services import is_householder

from .models import Access, Role, Vehicle

#: What each role may do, as it is told where something else was tried.
MAY = {
    Role.VIEWER: "You look at this vehicle only.",
    Role.HELPER: "As a helper you log hours, notes and photos, measure, and tick.",
}


class NotYours(CoreError):
    """Somebody tried what their role does not allow."""

    code = "ROLE"
    status = 403


@dataclass(frozen=True, slots=True, kw_only=True)
class Opening:
    """From which role on a page takes what is sent to it; ``what``: only these of its forms (all where empty); ``but``: not with these buttons."""

    role: Role
    what: tuple[str, ...] = ()
    but: tuple[str, ...] = ()

    def lets(self, role: int, sent: Any) -> bool:
        """Whether somebody of this role may send this."""
        if role == Role.OWNER:
            return True
        asked = not self.what or sent.get("what") in self.what
        return role >= self.role and asked and not any(name in sent for name in self.but)


#: Where nothing is said, only an owner changes anything.
SHUT = Opening(role=Role.OWNER)


def open_to(role: Role, *, what: tuple[str, ...] = (), but: tuple[str, ...] = ()) -> Callable:
    """Let somebody who is not the owner send this view its form: a helper what belongs to helping, a viewer what is only worked out."""

    def marked(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
        view.opening = Opening(role=role, what=what, but=but)
        return view

    return marked


def role_of(vehicle: Vehicle, user: Any) -> int:
    """The role of somebody on a vehicle; 0 for a stranger."""
    if vehicle.owner_id == user.pk:
        return Role.OWNER
    return Access.objects.filter(vehicle=vehicle.pk, user=user.pk).values_list("role", flat=True).first() or 0


def with_vehicle(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Give the view the vehicle instead of its key; a stranger's vehicle does not exist.

    Raises: NotYours for a form that this person's role may not send.
    """
    opening: Opening = getattr(view, "opening", SHUT)

    @wraps(view)
    def inner(request: HttpRequest, vehicle_id: int, *args, **kwargs) -> HttpResponse:
        request.vehicle = get_object_or_404(Vehicle.objects.seen_by(request.user), pk=vehicle_id)
        request.role = role_of(request.vehicle, request.user)
        if request.method == "POST" and not opening.lets(request.role, request.POST):
            raise not_yours(request)
        return view(request, request.vehicle, *args, **kwargs)

    return inner


def not_yours(request: HttpRequest, what: str = "") -> NotYours:
    """The refusal of what a role does not allow. Args: what: said instead of what the role may do."""
    owner = request.vehicle.owner.get_username()
    return NotYours(what or MAY[Role(request.role)], "role", f"Nothing is changed. Ask {owner}, who owns it.")


def may_make(user: Any) -> bool:
    """Whether somebody may bring vehicles in: whoever made this house, and owners. Helpers and viewers work on what is opened to them."""
    return (
        is_householder(user)
        or Vehicle.objects.filter(owner=user.pk).exists()
        or Access.objects.filter(user=user.pk, role=Role.OWNER).exists()
    )


def makers_only(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """A page that brings a vehicle in. Raises: NotYours for helpers and viewers."""

    @wraps(view)
    def inner(request: HttpRequest, *args, **kwargs) -> HttpResponse:
        if not may_make(request.user):
            what = "Only owners bring vehicles in; you work on those that are opened to you."
            raise NotYours(what, "role", "Nothing is changed. Ask whoever made your account.")
        return view(request, *args, **kwargs)

    return inner


def own_only(request: HttpRequest, by: str) -> None:
    """What somebody else wrote is changed by an owner alone. Raises: NotYours."""
    if request.method == "POST" and request.role < Role.OWNER and by != request.user.get_username():
        raise not_yours(
            request, f"{by or 'Somebody else'} wrote this, and a helper changes only what is their own."
        )


@cache
def openings(role: int) -> tuple[dict[str, Any], ...]:
    """The addresses that take a form from a role which is not the owner's, as a page's script reads them: ``path`` a pattern."""

    def found(patterns: Any, ahead: str = "^/") -> list[dict[str, Any]]:
        rows = []
        for each in patterns:
            if not isinstance(each, URLPattern):
                rows += found(each.url_patterns, ahead)
            elif (opening := getattr(each.callback, "opening", None)) is not None and role >= opening.role:
                path = (
                    re.sub(r"\(\?P<\w+>", "(", each.pattern.regex.pattern)
                    .removeprefix("^")
                    .replace(r"\Z", "$")
                    .replace(r"\-", "-")
                )
                rows.append({"path": ahead + path, "what": opening.what, "but": opening.but})
        return rows

    return tuple(found(get_resolver().url_patterns))
