"""Days as people read them."""

from datetime import date


def day_words(day: date) -> str:
    """A day in words, without a leading zero.

    >>> day_words(date(2026, 11, 4))
    '4 Nov 2026'
    """
    return f"{day.day} {day:%b %Y}"
