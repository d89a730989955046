"""Around every view: text goes compressed; a refusal of the core that no view caught becomes a plain answer."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.gzip import GZipMiddleware
from django.shortcuts import render

from yellow_sill.core.errors import CoreError

from . import units
from .models import ChangedMeanwhile
from .trouble import trouble_of

#: What a form sends besides what a person typed.
NEVER_SHOWN = {"csrfmiddlewaretoken", "password", "password1", "password2"}
NOT_TYPED = NEVER_SHOWN | {"version", "next", "what", "of"}


def wants_json(request: HttpRequest) -> bool:
    return request.headers.get("Accept", "").startswith("application/json")


def error_json(error: CoreError, status: int = 422, place: str = "") -> JsonResponse:
    """A refusal for a script of ours: what, where, mend, and the place on the drawing."""
    told = {"code": error.code, "what": units.said(error.what), "mend": units.said(error.mend) + place}
    return JsonResponse({"error": told | {"where": error.where, "at": error.at}}, status=status)


def typed_in(request: HttpRequest) -> list[tuple[str, str]]:
    """What a person typed into the form that was sent, by the name of its field."""
    return [
        (name.replace("_", " "), value)
        for name, values in request.POST.lists()
        for value in values
        if name not in NOT_TYPED and value.strip()
    ]


def refused(request: HttpRequest, error: CoreError, back: str) -> HttpResponse:
    """A deed that is refused and has no form of its own to say so in: the sentence, what was typed, and the way back."""
    page = {"error": error, "typed": typed_in(request), "back": back}
    return render(request, "frame/refused.html", page, status=422)


class CoreErrorMiddleware:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        if isinstance(exception, CoreError):
            status = getattr(exception, "status", 422)
            if wants_json(request):
                return error_json(exception, status)
            page = {"error": exception, "typed": typed_in(request) if status == 403 else []}
            return render(request, "frame/refused.html", page, status=status)
        if isinstance(exception, ChangedMeanwhile) and wants_json(request):
            mend = "Reload the page to see it; what you have here stays until you do."
            who = exception.stored.changed_by or "Somebody"
            return error_json(CoreError(f"{who} saved this meanwhile.", "version", mend), status=409)
        trouble = trouble_of(exception)
        if trouble is None:
            return None
        if wants_json(request):
            return error_json(trouble, status=trouble.status)
        sent = [(name, value) for name, values in request.POST.lists() for value in values]
        page = {
            "trouble": trouble,
            "fields": [(name, value) for name, value in sent if name not in NEVER_SHOWN],
            "typed": typed_in(request),
            "path": request.get_full_path(),
            "had_files": bool(request.FILES),
        }
        return render(request, "frame/not_stored.html", page, status=trouble.status)


class TextCompressedMiddleware(GZipMiddleware):
    """Compresses pages, drawings, scripts and styles for the garage's slow wireless; what is packed already is left alone.

    Pages carry a masked token and the parent adds a random length, so the compressed size tells nothing of a secret.
    """

    TEXT = ("text/", "application/json", "application/javascript", "image/svg+xml")

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        if response.status_code != 200 or not response.headers.get("Content-Type", "").startswith(self.TEXT):
            return response
        return super().process_response(request, response)
