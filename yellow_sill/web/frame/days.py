"""The day it is."""

from datetime import date


def today() -> date:
    """The garage's own day, by the clock of this machine."""
    return date.today()  # noqa: DTZ011 - the garage's own day
