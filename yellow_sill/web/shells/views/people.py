"""Who else works in this garage, and what each may do with which vehicle."""

from dataclasses import dataclass
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods

from yellow_sill.core.errors import CoreError
from yellow_sill.web.accounts.door import WAY_IN, code_for, link_for
from yellow_sill.web.accounts.forms import PersonForm
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.keeping.services import is_householder

from ..access import makers_only
from ..models import Role
from ..people_services import Person, add_person, open_vehicles, people, shut_out


@dataclass(frozen=True, slots=True, kw_only=True)
class PeoplePage(Page):
    """``may_add``: whether this person makes accounts; ``link``: the address on which ``link_of`` chooses a password, with its code; ``reached``:
    whether others can reach it."""

    rows: list[Person]
    form: PersonForm
    may_add: bool
    roles: list[tuple[int, str]]
    link: str = ""
    link_of: str = ""
    code: str = ""
    reached: bool
    way: str = WAY_IN


@never_cache
@require_http_methods(["GET", "POST"])
@makers_only
def page(request: HttpRequest) -> HttpResponse:
    """``what`` in a POST: ``new`` an account, a new ``link`` for one, ``roles`` on vehicles, ``shut`` or ``let-in``."""
    what, form, linked = request.POST.get("what", ""), PersonForm(), None
    may_add = is_householder(request.user)
    if request.method == "POST":
        if what != "roles" and not may_add:
            raise Http404
        if what == "new":
            form = PersonForm(request.POST)
            if form.is_valid():
                try:
                    linked, form = add_person(form.cleaned_data["name"]), PersonForm()
                except CoreError as error:
                    form.add_error("name", error.message)
        else:
            user = _one(request)
            if what == "link":
                linked = user
            else:
                messages.success(request, _done(request, what, user))
                return redirect("shells:people")
    link = request.build_absolute_uri(link_for(linked)) if linked else ""
    shown = PeoplePage(
        cells=[], rows=people(request.user), form=form, may_add=may_add, roles=[(0, "Nothing: does not see it"), *Role.choices],
        link=link, link_of=linked.get_username() if linked else "", code=code_for(link) if link else "", reached=bool(settings.SHARED),
    )  # fmt: skip
    return show(request, "shells/people.html", shown, status=422 if form.errors else 200)


def _one(request: HttpRequest) -> Any:
    """The person that a form is about, never oneself."""
    others = get_user_model().objects.exclude(pk=request.user.pk)
    return get_object_or_404(others, pk=whole_number(request.POST.get("user", "")) or 0)


def _done(request: HttpRequest, what: str, user: Any) -> str:
    """Do what the page asks for somebody; what is told of it."""
    name = user.get_username()
    if what == "roles":
        typed = {
            key.removeprefix("role-"): value for key, value in request.POST.items() if key.startswith("role-")
        }
        open_vehicles(
            request.user,
            user,
            {whole_number(key) or 0: whole_number(value) or 0 for key, value in typed.items()},
        )
        return f"Kept: what {name} may do."
    if what not in ("shut", "let-in"):
        raise Http404
    shut_out(user, what == "shut")
    return (
        f"{name} is signed out everywhere and kept out." if what == "shut" else f"{name} may come in again."
    )
