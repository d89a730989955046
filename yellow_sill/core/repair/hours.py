"""Hours by kind of work."""

import re
from collections import defaultdict
from collections.abc import Iterable

from ..errors import BadField

KINDS = ("survey", "strip", "cut", "make", "fit", "weld", "dress", "protect", "clean", "fetch")
KIND_WORDS = {
    "survey": "Survey", "strip": "Strip and clean", "cut": "Cut out", "make": "Make patch", "fit": "Fit up", "weld": "Weld", "dress": "Dress",
    "protect": "Protect", "clean": "Tidy up", "fetch": "Fetch and order",
}  # fmt: skip
MOST_MIN = 24 * 60


def minutes(text: str) -> int:
    """Minutes from what a person types: ``1:30``, ``1h30``, ``1.5 h``, ``1,5``, ``90 min``. A bare number is hours.

    Raises: BadField when it cannot be read, is not above 0, or is more than a day.

    >>> minutes("1:30"), minutes("1,5"), minutes("90 min"), minutes("2 h")
    (90, 90, 90, 120)
    """
    typed = text.strip().lower().replace(",", ".")
    clock = re.fullmatch(r"(\d{1,2})\s*(?::|h)\s*(\d{1,2})(?:\s*min)?", typed)
    single = re.fullmatch(r"(\d+(?:\.\d+)?)\s*(h|hours?|min|m)?", typed)
    if clock and int(clock[2]) < 60:
        total = int(clock[1]) * 60 + int(clock[2])
    elif single:
        total = round(float(single[1]) * (1 if (single[2] or "h").startswith("m") else 60))
    else:
        raise BadField(f"'{text.strip()[:20]}' is not a time.", "hours", "Type 1:30, 1.5 or 90 min.")
    if not 0 < total <= MOST_MIN:
        raise BadField("One entry covers more than 0 and at most 24 hours.", "hours", "Divide it by days.")
    return total


def clock(total_min: int) -> str:
    """Minutes as hours and minutes.

    >>> clock(95)
    '1 h 35'
    """
    return f"{total_min // 60} h {total_min % 60:02d}"


def by_kind(entries: Iterable[tuple[str, int]]) -> list[tuple[str, int]]:
    """(kind, minutes) summed by kind, most first."""
    sums: dict[str, int] = defaultdict(int)
    for kind, spent in entries:
        sums[kind] += spent
    return sorted(sums.items(), key=lambda item: (-item[1], item[0]))
