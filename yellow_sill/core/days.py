"""Days as people read them."""

from calendar import monthrange
from collections.abc import Iterable
from datetime import date, datetime

from .errors import BadField


def day_words(day: date) -> str:
    """A day in words, without a leading zero.

    >>> day_words(date(2026, 11, 4))
    '4 Nov 2026'
    """
    return f"{day.day} {day:%b %Y}"


def months_later(day: date, months: int) -> date:
    """The same day so many months later, or the last of that month.

    >>> months_later(date(2026, 1, 31), 1), months_later(date(2024, 2, 29), 12)
    (datetime.date(2026, 2, 28), datetime.date(2025, 2, 28))
    """
    years, month = divmod(day.month - 1 + months, 12)
    year = day.year + years
    return date(year, month + 1, min(day.day, monthrange(year, month + 1)[1]))


def require_one_zone(times: Iterable[tuple[str, datetime]], now: datetime) -> None:
    """Let no time with a zone stand beside one without. Args: times: where each stands in the request, and the time. Raises: BadField."""
    for where, at in times:
        if (at.tzinfo is None) != (now.tzinfo is None):
            raise BadField(
                "One time has a zone and another has none.", where, "Give all of them the same way."
            )
