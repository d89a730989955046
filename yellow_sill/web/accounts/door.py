"""Who is signed in where, and the address that opens a tablet."""

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass

import segno
from django.conf import settings
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.utils import timezone
from django.utils.safestring import SafeString, mark_safe

from yellow_sill.web.frame.days import moment_words

#: What is kept of a sign-in, in its session.
BEGAN = "door"
#: What a tablet or a phone says of itself.
HAND_HELD = ("mobile", "tablet", "ipad", "android")


@dataclass(frozen=True, slots=True, kw_only=True)
class SignedIn:
    """One browser that is signed in: a mark of its session (not its key), on what, from where, since when; whether it is this one."""

    mark: str
    kind: str
    address: str
    since: str
    this: bool


def remember(request: HttpRequest) -> None:
    """Keep with a session where and when it began."""
    said = request.headers.get("User-Agent", "").casefold()
    request.session[BEGAN] = {
        "kind": "a tablet or phone" if any(word in said for word in HAND_HELD) else "a computer",
        "from": request.META.get("REMOTE_ADDR", ""),
        "at": timezone.now().isoformat(timespec="minutes"),
    }


def signed_in(request: HttpRequest) -> list[SignedIn]:
    """The browsers in which this account is signed in, this one first, then the latest."""
    here = request.session.session_key
    found = [(session.session_key, values.get(BEGAN) or {}) for session, values in _of(request)]
    found.sort(key=lambda each: (each[0] == here, each[1].get("at", "")), reverse=True)
    return [
        SignedIn(
            mark=_mark(key),
            kind=began.get("kind", "a browser"),
            address=began.get("from", ""),
            since=moment_words(began.get("at", "")),
            this=key == here,
        )
        for key, began in found
    ]


def end(request: HttpRequest, marks: set[str]) -> int:
    """Sign this account out of other browsers. Returns: of how many."""
    ended = 0
    for session, _ in list(_of(request)):
        if _mark(session.session_key) in marks and session.session_key != request.session.session_key:
            session.delete()
            ended += 1
    return ended


def _of(request: HttpRequest) -> Iterator[tuple[Session, dict]]:
    for session in Session.objects.filter(expire_date__gt=timezone.now()):
        values = session.get_decoded()
        if values.get("_auth_user_id") == str(request.user.pk):
            yield session, values


def _mark(key: str) -> str:
    return hashlib.sha256(f"{settings.SECRET_KEY}{key}".encode()).hexdigest()[:20]


def code_for(address: str) -> SafeString:
    """A square code of an address, as SVG in ink on paper."""
    drawn = segno.make(address, error="m").svg_inline(scale=6, border=2, svgclass="ys-code", lineclass=None)
    return mark_safe(drawn)  # noqa: S308 - drawn from an address of ours
