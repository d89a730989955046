"""Who is signed in where, and the address that opens a tablet."""

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import segno
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.auth.tokens import default_token_generator
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.urls import reverse
from django.utils import timezone
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode
from django.utils.safestring import SafeString, mark_safe

from yellow_sill.web.frame.days import moment_words

#: How Yellow Sill is started so that others in the garage reach it.
WAY_IN = "./yellow-sill run --host 0.0.0.0"
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
    found = [(session.session_key, values.get(BEGAN) or {}) for session, values in _of(request.user)]
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
    for session, _ in list(_of(request.user)):
        if _mark(session.session_key) in marks and session.session_key != request.session.session_key:
            session.delete()
            ended += 1
    return ended


def end_all(user: Any) -> None:
    """Sign an account out everywhere."""
    for session, _ in list(_of(user)):
        session.delete()


def link_for(user: Any) -> str:
    """The path on which somebody chooses a password: good for three days, once, and only until another is chosen."""
    return reverse(
        "accounts:join",
        args=[urlsafe_base64_encode(force_bytes(user.pk)), default_token_generator.make_token(user)],
    )


def invited(who: str, token: str) -> Any:
    """Whose link it is; None where it is worn out or was never one."""
    try:
        key = int(urlsafe_base64_decode(who))
    except (ValueError, OverflowError):
        return None
    user = get_user_model().objects.filter(pk=key, is_active=True).first() if key < 2**63 else None
    return user if user is not None and default_token_generator.check_token(user, token) else None


def _of(user: Any) -> Iterator[tuple[Session, dict]]:
    """The sessions of an account that count, with what is in them."""
    for session in Session.objects.filter(expire_date__gt=timezone.now()):
        values = session.get_decoded()
        if values.get("_auth_user_id") == str(user.pk):
            yield session, values


def _mark(key: str) -> str:
    return hashlib.sha256(f"{settings.SECRET_KEY}{key}".encode()).hexdigest()[:20]


def code_for(address: str) -> SafeString:
    """A square code of an address, as SVG in ink on paper."""
    drawn = segno.make(address, error="m").svg_inline(scale=6, border=2, svgclass="ys-code", lineclass=None)
    return mark_safe(drawn)  # noqa: S308 - drawn from an address of ours
