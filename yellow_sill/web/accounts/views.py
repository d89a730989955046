from dataclasses import dataclass

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login
from django.contrib.auth.views import LoginView, LogoutView
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods, require_POST

from yellow_sill.core.units import UNITS
from yellow_sill.web.frame.page import Page, show

from .door import WAY_IN, SignedIn, code_for, end, invited, signed_in
from .forms import JoinForm, SignInForm, WelcomeForm
from .models import DEGREES, Preferences


@never_cache
def welcome(request: HttpRequest) -> HttpResponse:
    """First visit: make the owner's account. Afterwards this door is shut."""
    if get_user_model().objects.exists():
        return redirect("today:home")
    form = WelcomeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        with (
            transaction.atomic()
        ):  # it takes the lock for writing as it begins: of many first visits one makes the account
            if get_user_model().objects.exists():
                return redirect("accounts:sign_in")
            user = form.save()
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
        return redirect("today:home")
    return render(request, "accounts/welcome.html", {"form": form}, status=422 if form.errors else 200)


@never_cache
@require_http_methods(["GET", "POST"])
def join(request: HttpRequest, who: str, token: str) -> HttpResponse:
    """Somebody with a link from the garage's owner chooses a password, and is signed in."""
    user = invited(who, token)
    if user is None:
        return render(request, "accounts/join.html", {"form": None}, status=410)
    form = JoinForm(user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        form.save()
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
        return redirect("today:home")
    return render(
        request,
        "accounts/join.html",
        {"form": form, "name": user.get_username()},
        status=422 if form.errors else 200,
    )


@require_POST
def display(request: HttpRequest) -> HttpResponse:
    """Change a unit or the terms, and go back to where one was."""
    values = {"unit": request.POST["unit"]} if request.POST.get("unit") in UNITS else {}
    if request.POST.get("terms") in ("british", "american"):
        values["american_terms"] = request.POST["terms"] == "american"
    if request.POST.get("degrees") in DEGREES:
        values["degrees"] = request.POST["degrees"]
    if values:
        Preferences.objects.update_or_create(user=request.user, defaults=values)
    back = request.POST.get("next", "")
    return redirect(back if url_has_allowed_host_and_scheme(back, {request.get_host()}) else "today:home")


def shut(
    request: HttpRequest, response: HttpResponse | None = None, credentials: dict | None = None
) -> HttpResponse:
    """Too many wrong passwords: the door stays shut for a while."""
    minutes = round(settings.AXES_COOLOFF_TIME.total_seconds() / 60)
    form = SignInForm(request, initial={"username": request.POST.get("username", "")})
    said = (
        f"Too many wrong passwords: wait {minutes} minutes, then try again. Nobody else is kept out by this."
    )
    page = {"form": form, "shut": said, "next": request.POST.get("next", "")}
    return render(request, "accounts/sign_in.html", page, status=429)


@dataclass(frozen=True, slots=True, kw_only=True)
class DoorPage(Page):
    """The browsers that are signed in; the address that a tablet opens, with its code, where others can reach it; else the way to that."""

    rows: list[SignedIn]
    address: str
    code: str
    way: str = WAY_IN


@require_http_methods(["GET", "POST"])
def door(request: HttpRequest) -> HttpResponse:
    """Who is signed in as this account; ``end`` in a POST signs out a browser, or all others."""
    if request.method == "POST":
        asked = request.POST.get("end", "")
        ended = end(request, {row.mark for row in signed_in(request)} if asked == "all" else {asked})
        messages.success(request, f"Signed out of {ended} browser{'s' if ended != 1 else ''}.")
        return redirect("accounts:door")
    address = request.build_absolute_uri("/") if settings.SHARED else ""
    page = DoorPage(
        cells=[], rows=signed_in(request), address=address, code=code_for(address) if address else ""
    )
    return show(request, "accounts/door.html", page)


class SignIn(LoginView):
    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True


sign_in = SignIn.as_view()
sign_out = LogoutView.as_view()
