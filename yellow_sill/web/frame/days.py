"""The day it is, and moments in words."""

from datetime import date, datetime

from django.utils import timezone

from yellow_sill.core.days import day_words


def today() -> date:
    """The garage's own day, by the clock of this machine."""
    return date.today()  # noqa: DTZ011 - the garage's own day


def now() -> datetime:
    """The garage's own time, by the clock of this machine, without a zone."""
    return timezone.localtime().replace(tzinfo=None)


def moment_words(stored: str) -> str:
    """A moment that was kept as ISO text, by the clock of this machine; empty for none."""
    try:
        at = timezone.localtime(datetime.fromisoformat(stored))
    except ValueError:
        return ""
    return f"{day_words(at.date())}, {at:%H:%M}"
