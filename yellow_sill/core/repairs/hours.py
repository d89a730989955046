"""Hours by kind of work."""

import re
from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ..errors import BadField
from ..said import Said

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
        raise BadField(
            Said("'{text}' is not a time.", text=text.strip()[:20]), "hours", "Type 1:30, 1.5 or 90 min."
        )
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


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """Minutes of one kind of work: planned (None where nothing was planned), spent, and how the two stand in words."""

    kind: str
    planned: float | None
    spent: int
    words: str


def beside(planned: Mapping[str, float], spent: Mapping[str, int]) -> list[Beside]:
    """Planned beside spent, by kind of work in the order the work is done; kinds with neither are left out.

    >>> [(row.kind, row.words) for row in beside({"make": 120, "weld": 50}, {"make": 930, "strip": 30})]
    [('strip', 'not planned'), ('make', '7.8 times as long'), ('weld', 'nothing logged yet')]
    """
    return [
        Beside(kind=kind, planned=planned.get(kind), spent=spent.get(kind, 0), words=_how(planned.get(kind), spent.get(kind, 0)))
        for kind in KINDS if planned.get(kind) or spent.get(kind)
    ]  # fmt: skip


def all_beside(planned: Mapping[str, float], spent: Mapping[str, int]) -> Beside:
    """The same for all kinds together; ``words`` compare only the kinds that are both planned and begun."""
    begun = [kind for kind, each in planned.items() if each and spent.get(kind)]
    words = (
        _how(sum(planned[kind] for kind in begun), sum(spent[kind] for kind in begun))
        if begun
        else _how(sum(planned.values()), 0)
    )
    return Beside(
        kind="all", planned=sum(planned.values()) if planned else None, spent=sum(spent.values()), words=words
    )


def _how(planned: float | None, spent: int) -> str:
    if not planned:
        return "not planned"
    if not spent:
        return "nothing logged yet"
    times = spent / planned
    if 0.9 <= times <= 1.1:
        return "as planned"
    return Said("{times:.1f} times as long", times=times) if times > 1 else f"{100 * (1 - times):.0f} % less"
