"""The shell as it stood at the end of a day: findings, pieces out, new metal, what is on it, braces."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from pydantic import Field

from ..records import OneOf, Record
from ..repairs.sheets import SHEET_STATES
from ..said import Count, Said, joined

#: What is seen of a sheet by its state: nothing yet, a hole, new metal that is tacked in, metal that is welded.
SEEN = {
    "planned": "", "cut": "out", "made": "out", "fitted": "out", "tacked": "tacked", "welded": "new", "dressed": "new", "protected": "coated",
}  # fmt: skip
assert tuple(SEEN) == SHEET_STATES
_Outline = Annotated[list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(max_length=2000)]


class FoundOn(Record):
    """A finding: its number, outline in its view (mm), grade as it is known today, the day, the repairs that mend it by number."""

    number: int
    outline: _Outline
    grade: Annotated[str, Field(max_length=1)] = ""
    found_on: date
    repairs: list[int] = []


class SheetLife(Record):
    """A sheet of a repair: repair, panel, outline of its cut (mm), its states with their days in the order in which they were said, days of coats."""

    repair: int
    panel: Annotated[str, Field(max_length=20)] = ""
    outline: _Outline
    steps: Annotated[list[tuple[date, Annotated[str, OneOf(SHEET_STATES)]]], Field(max_length=200)] = []
    coats: Annotated[list[date], Field(max_length=500)] = []


class ShellOnRequest(Record):
    """A day, and all that was found and done."""

    day: date
    findings: Annotated[list[FoundOn], Field(max_length=5000)] = []
    sheets: Annotated[list[SheetLife], Field(max_length=2000)] = []
    braces: Annotated[int, Field(ge=0, le=200)] = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetSeen:
    """A sheet as it stood: repair, panel, outline, what is seen of it (out, tacked, new, coated)."""

    repair: int
    panel: str
    outline: Sequence[Sequence[float]]
    seen: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FindingSeen:
    """A finding as it was known: its number, outline, grade of today."""

    number: int
    outline: Sequence[Sequence[float]]
    grade: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ShellOn:
    """The shell at the end of a day: findings that were known and not cut out, sheets that were begun, in words."""

    findings: list[FindingSeen]
    sheets: list[SheetSeen]
    words: Said


def shell_on(request: ShellOnRequest) -> ShellOn:
    """What was known and done by the end of a day.

    Args: request: see ShellOnRequest. Returns: see ShellOn. A sheet that went back stands where the last word said by then put it; a finding
        is gone once the first sheet of a repair that mends it is cut.
    """
    sheets, cut = [], set[int]()
    for each in request.sheets:
        said = [state for day, state in each.steps if day <= request.day]
        seen = SEEN[said[-1]] if said else ""
        if not seen:
            continue
        cut.add(each.repair)
        if seen == "new" and any(day <= request.day for day in each.coats):
            seen = "coated"
        sheets.append(SheetSeen(repair=each.repair, panel=each.panel, outline=each.outline, seen=seen))
    known = [
        FindingSeen(number=each.number, outline=each.outline, grade=each.grade)
        for each in request.findings
        if each.found_on <= request.day and not cut & set(each.repairs)
    ]
    return ShellOn(findings=known, sheets=sheets, words=_words(len(known), sheets, request.braces))


def _words(findings: int, sheets: Sequence[SheetSeen], braces: int) -> Said:
    count = lambda *seen: sum(each.seen in seen for each in sheets)  # noqa: E731
    told = [
        (findings, Count(findings, "finding", "findings")), (count("out"), Count(count("out"), "piece out", "pieces out")),
        (count("tacked"), Count(count("tacked"), "sheet tacked", "sheets tacked")),
        (count("new", "coated"), Count(count("new", "coated"), "sheet of new metal", "sheets of new metal")),
        (count("coated"), Count(count("coated"), "of them coated", "of them coated")), (braces, Count(braces, "brace", "braces")),
    ]  # fmt: skip
    parts = [each for number, each in told if number]
    if not parts:
        return Said("Nothing was known and nothing done yet.")
    return joined((Said("{count}", count=each) for each in parts), ", ")
