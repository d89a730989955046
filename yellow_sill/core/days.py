"""Days as people read them."""

from collections.abc import Iterable
from datetime import date, datetime

from .errors import BadField


def day_words(day: date) -> str:
    """A day in words, without a leading zero.

    >>> day_words(date(2026, 11, 4))
    '4 Nov 2026'
    """
    return f"{day.day} {day:%b %Y}"


def require_one_zone(times: Iterable[tuple[str, datetime]], now: datetime) -> None:
    """Let no time with a zone stand beside one without. Args: times: where each stands in the request, and the time. Raises: BadField."""
    for where, at in times:
        if (at.tzinfo is None) != (now.tzinfo is None):
            raise BadField(
                "One time has a zone and another has none.", where, "Give all of them the same way."
            )
