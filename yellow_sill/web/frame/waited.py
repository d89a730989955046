"""What waited in a browser without signal: the page that keeps it there, and how it is stored once."""

import json
import re
from collections.abc import Callable
from functools import cache, wraps
from pathlib import Path

from django.contrib.staticfiles import finders
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.templatetags.static import static
from django.urls import reverse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import BadField, CoreError

from .board_json import answer
from .changes import StoredBefore, sent_as
from .middleware import error_json
from .models import Waited

#: A key as our script makes them.
KEY = re.compile(r"[0-9a-f]{32}")
#: What the waiting page needs while nothing answers.
STYLES = (
    "vendor/bootstrap.min.css", "frame/tokens.css", "frame/frame.css", "frame/frame_sheet.css", "frame/parts/strip.css", "frame/parts/sheet.css",
    "frame/parts/fields.css", "frame/parts/paper.css", "frame/parts/release.css", "frame/draw.css", "frame/draw_marks.css",
)  # fmt: skip
SCRIPTS = (
    "frame/waiting/page.js",
    "frame/waiting/send.js",
    "frame/waiting/store.js",
    "frame/waiting/words.js",
)
FONTS = (
    "barlow-latin-400-normal",
    "barlow-latin-500-normal",
    "barlow-latin-600-normal",
    "barlow-semi-condensed-latin-600-normal",
)


@require_GET
@never_cache
def page(request: HttpRequest) -> HttpResponse:
    """What waits in this browser. It says nothing of anybody, so a browser may keep it for when nothing answers."""
    return render(request, "frame/waiting.html", {"styles": STYLES})


@require_GET
@never_cache
def worker(request: HttpRequest) -> HttpResponse:
    """The script that shows the waiting page when nothing answers; it keeps that page and what it needs, and no other."""
    return HttpResponse(_worker(), content_type="text/javascript")


@cache
def _worker() -> str:
    """Put together once a run: browsers ask for it again and again."""
    kept = [
        *STYLES,
        *SCRIPTS,
        *(f"vendor/fonts/{name}.woff2" for name in FONTS),
        "frame/spangle.svg",
        "frame/icon.svg",
    ]
    told = {
        "name": f"yellow-sill {static('')}",
        "page": reverse("frame:waiting"),
        "kept": [static(path) for path in kept],
    }
    script = Path(finders.find("frame/waiting/worker.js")).read_text(encoding="utf-8")
    return f"self.yellowSill = {json.dumps(told)};\n{script}"


@require_GET
@never_cache
def who(request: HttpRequest) -> JsonResponse:
    """Who is signed in in this browser, and the token of its forms: asked before anything that waited is sent."""
    name = request.user.get_username() if request.user.is_authenticated else ""
    return answer({"user": name, "token": get_token(request) if name else ""})


def stored_once(view: Callable[..., JsonResponse]) -> Callable[..., JsonResponse]:
    """A view whose change a browser sends under a ``key``: stored once, and said to be stored as often as it is sent."""

    @wraps(view)
    def inner(request: HttpRequest, *args, **kwargs) -> JsonResponse:
        key = request.POST.get("key", "")
        if not KEY.fullmatch(key):
            return error_json(BadField("This came without its key.", "key", "Write it again on its page."))
        if Waited.objects.filter(key=key).exists():
            return answer({"stored": True})
        token = sent_as.set(key)
        try:
            return view(request, *args, **kwargs)
        except StoredBefore:
            return answer({"stored": True})
        except CoreError as error:
            return error_json(error, getattr(error, "status", 422))
        finally:
            sent_as.reset(token)

    return inner
