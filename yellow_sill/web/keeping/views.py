"""Backups: where, how large and when; a copy elsewhere; a rehearsal."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from yellow_sill.home.backup import make_backup, newest_whole, rehearse
from yellow_sill.home.copies import choose, copy_newest
from yellow_sill.home.places import Home, HomeError
from yellow_sill.web.frame.page import Page, show

from .services import Kept, Told, home, is_householder, keeper_fault, kept, known, told


@dataclass(frozen=True, slots=True, kw_only=True)
class BackupsPage(Page):
    """``folder``: where they lie, empty in the demo, which keeps none; ``problems``: what went wrong by itself or with what was asked for;
    ``typed``, ``fault``: a folder for copies that is refused, and why."""

    folder: str
    rows: list[Kept]
    copies: Told | None
    problems: list[str]
    way_back: str = "./yellow-sill restore FILE"
    typed: str
    fault: str


@require_http_methods(["GET", "POST"])
def backups(request: HttpRequest) -> HttpResponse:
    """The backups; ``what`` in a POST makes one, rehearses the newest, or sets where copies go."""
    if not is_householder(request.user):
        raise Http404
    place, fault = home(), ""
    if request.method == "POST" and place is not None:
        try:
            messages.success(request, _done(request, place))
            return redirect("keeping:backups")
        except HomeError as error:
            fault = str(error)
    copies = request.POST.get("what") == "copies"
    page = BackupsPage(
        cells=[],
        folder=str(place.backups) if place else "",
        rows=kept(place) if place else [],
        copies=told(place) if place else None,
        typed=request.POST.get("folder", ""),
        problems=[said for said in (keeper_fault(), "" if copies else fault) if said],
        fault=fault if copies else "",
    )
    return show(request, "keeping/backups.html", page, status=422 if fault else 200)


def _done(request: HttpRequest, place: Home) -> str:
    """Do what the page asks for; what is told of it. Raises: HomeError."""
    what, now = request.POST.get("what"), timezone.localtime()
    if what == "make":
        made = make_backup(place, None, known(), now=now)
        copy_newest(place, now)
        return f"Backed up: {made.name}."
    if what == "check":
        found = newest_whole(place, known())
        if found is None:
            raise HomeError("There is no whole backup yet.")
        inside = rehearse(place, found[0], known())
        return f"{found[0].name} was brought back into a scratch folder and is whole: {inside.words}."
    if what == "copies":
        chosen = choose(place, request.POST.get("folder", ""))
        copy_newest(place, now)
        return (
            f"A copy of each backup goes to {chosen.folder}."
            if chosen.folder
            else "No copies are made any more."
        )
    raise HomeError("Nothing was done: this page does not know what was asked. Reload it.")
