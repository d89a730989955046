"""Pages for what goes wrong outside any stage."""

from urllib.parse import urlsplit

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from yellow_sill.core.errors import CoreError

from .middleware import error_json, typed_in, wants_json


def expired(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form that was open too long: show what was typed and offer to send it again.

    Only a form that came from our own page is offered again; a stranger's page gets nothing to click.
    """
    if wants_json(request):
        return error_json(
            CoreError("This page was open too long.", "form", "Reload it; the board keeps your draft."),
            status=403,
        )
    sender = urlsplit(request.headers.get("Origin") or request.headers.get("Referer", ""))
    own = sender.netloc == request.get_host()
    fields = (
        [
            (name, value)
            for name, values in request.POST.lists()
            if name != "csrfmiddlewaretoken"
            for value in values
        ]
        if own
        else []
    )
    return render(
        request,
        "frame/expired.html",
        {"fields": fields, "path": request.get_full_path(), "had_files": bool(own and request.FILES)},
        status=403,
    )


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Nothing under this address. What was typed for it is shown, if it came from a page of ours: it may have been deleted meanwhile."""
    typed = []
    if wants_json(request):
        what = "This was deleted while you had it open." if request.method == "POST" else "This is not there."
        told = CoreError(what, "form", "What you have here stays until you leave the page.")
        return error_json(told, status=404)
    if request.method == "POST" and request.user.is_authenticated:
        typed = typed_in(request)
    return render(request, "frame/not_found.html", {"typed": typed}, status=404)


def broken(request: HttpRequest) -> HttpResponse:
    return render(request, "frame/broken.html", status=500)
