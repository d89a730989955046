"""Findings as a table, out and in: CSV (commas, semicolons or tabs, decimal commas) and JSON.

Every row is read on its own; what is wrong with it is told beside its number, and the caller imports all rows or none.
"""

import csv
import io
import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from ..errors import BadField, BadOutline, CoreError
from ..records import once
from ..said import Listed, Said
from ..survey.grading import EVIDENCE_WORDS, Evidence, fault_in
from ..survey.growth import STAGES
from .csv import whole_words

COLUMNS = (
    "finding",
    "view",
    "panel",
    "name",
    "stage",
    "day",
    "corners",
    "evidence",
    "old_repair",
    "note",
    "grade",
    "why",
    "area_cm2",
)
NEEDED = ("view", "panel", "corners")
MOST_ROWS = 2000
DAYS = ("%Y-%m-%d", "%d.%m.%Y", "%d/%m/%Y", "%d %b %Y")
_PAIR = re.compile(r"^(-?\d+(?:[.,]\d+)?)[\s;]+(-?\d+(?:[.,]\d+)?)$")


@dataclass(frozen=True, slots=True, kw_only=True)
class FindingRow:
    """One finding to take in: place, corners in the shell's own axes (mm), evidence, words."""

    row: int
    number: int | None = None
    view: str
    panel: str
    name: str
    stage: str
    day: date | None
    corners: list[tuple[float, float]]
    evidence: list[Evidence]
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RefusedRow:
    row: int
    why: str


def corners_cell(corners: Iterable[Iterable[float]]) -> str:
    """``698 300 | 708 274``: corners that survive any list separator."""
    return " | ".join(" ".join(f"{value:g}" for value in corner) for corner in corners)


def evidence_cell(looks: Iterable[Evidence]) -> str:
    """``probe through 3/5 | gauge 0.74``."""
    words = []
    for look in looks:
        text = (
            f"{look.method} {look.thickness_mm:g}"
            if look.method == "gauge"
            else f"{look.method} {look.result}"
        )
        if look.hits:
            text += f" {look.hits}/{look.tries}" if look.tries else f" {look.hits}"
        words.append(text)
    return " | ".join(words)


def read_findings(text: str, today: date) -> tuple[list[FindingRow], list[RefusedRow]]:
    """Read a CSV or JSON table of findings.

    Args: text: the file; today: for rows without a day.
    Returns: the rows that can be taken and those that cannot, each with its reason.
    Raises: BadField where the whole cannot be read: no table, missing columns, too many rows.
    """
    rows = _json_rows(text) if text.lstrip("\ufeff \n\r\t").startswith(("{", "[")) else _csv_rows(text)
    if not rows:
        raise BadField(
            "There is no finding in this file.",
            "file",
            Said("Its first line names the columns: {needed} and more.", needed=Listed(tuple(NEEDED))),
        )
    if len(rows) > MOST_ROWS:
        raise BadField(
            Said(
                "This file has {rows} rows; {most_rows} are taken at once.",
                rows=len(rows),
                most_rows=MOST_ROWS,
            ),
            "file",
            "Divide it.",
        )
    taken, refused = [], []
    for number, row in rows:
        try:
            taken.append(_row(number, row, today))
        except CoreError as error:
            refused.append(RefusedRow(row=number, why=error.message))
    return taken, refused


def _csv_rows(text: str) -> list[tuple[int, dict[str, Any]]]:
    text = text.lstrip("\ufeff")
    first = text.split("\n", 1)[0]
    delimiter = max(",;\t", key=first.count)
    if first.count(delimiter) == 0:
        raise BadField(
            "This is neither a table nor JSON.",
            "file",
            Said("Its first line names the columns: {needed} and more.", needed=Listed(tuple(NEEDED))),
        )
    try:
        lines = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter))
    except csv.Error as error:
        raise BadField(
            Said("This table cannot be read: {error}.", error=error), "file", "Save it again as CSV."
        ) from None
    names = [name.strip().lower() for name in lines[0]]
    if missing := [name for name in NEEDED if name not in names]:
        raise BadField(
            Said("The column '{missing}' is missing.", missing=missing[0]),
            "file",
            Said("The columns are: {columns}.", columns=Listed(tuple(COLUMNS))),
        )
    if unknown := [name for name in names if name and name not in COLUMNS]:
        raise BadField(
            Said("Nobody knows the column '{unknown}'.", unknown=unknown[0][:30]),
            "file",
            Said("The columns are: {columns}.", columns=Listed(tuple(COLUMNS))),
        )
    return named_cells(names, lines[1:])


def named_cells(names: Sequence[str], lines: Sequence[Sequence[str]]) -> list[tuple[int, dict[str, Any]]]:
    """The filled rows under a head, each with its number in the file, counted from 2.

    Raises: BadField for a column named twice, or a row with more cells than there are columns.
    """
    if twice := next((name for i, name in enumerate(names) if name and name in names[:i]), ""):
        raise BadField(
            Said("The column '{twice}' is there twice.", twice=twice[:30]), "file", "Take one of them out."
        )
    rows = []
    for number, cells in enumerate(lines, start=2):
        if not any(map(str.strip, cells)):
            continue
        if any(cell.strip() for cell in cells[len(names) :]):
            raise BadField(
                Said(
                    "Row {number} has {cells} cells under {names} columns.",
                    number=number,
                    cells=len(cells),
                    names=len(names),
                ),
                "file",
                "A comma or semicolon inside a text needs quotes round the text.",
            )
        rows.append((number, dict(zip(names, map(plain_cell, cells), strict=False))))
    return rows


def plain_cell(cell: str) -> str:
    """A cell without the apostrophe that our own export puts before what looks like a formula."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in ("=", "+", "-", "@") else cell


def _json_rows(text: str) -> list[tuple[int, dict[str, Any]]]:
    try:
        read = json.loads(text.lstrip("\ufeff"), object_pairs_hook=once)
    except BadField:
        raise
    except (ValueError, RecursionError):
        raise BadField("This is not JSON.", "file", "Export it again.") from None
    found = read.get("findings") if isinstance(read, dict) else read
    if not isinstance(found, list) or not all(isinstance(row, dict) for row in found):
        raise BadField(
            "There is no list of findings in this file.",
            "file",
            'It should begin with {"findings": [ ... ]}.',
        )
    return list(enumerate(found, start=1))


def _row(number: int, row: Mapping[str, Any], today: date) -> FindingRow:
    for name in NEEDED:
        if not row.get(name):
            raise BadField(Said("'{name}' is empty.", name=name), name, "Fill it in.")
    if unknown := [name for name in row if name not in COLUMNS]:
        raise BadField(
            Said("Nobody knows '{unknown}'.", unknown=str(unknown[0])[:30]),
            str(unknown[0])[:30],
            Said("Known are: {columns}.", columns=Listed(tuple(COLUMNS))),
        )
    stage = str(row.get("stage") or STAGES[0]).strip()
    if stage not in STAGES:
        raise BadField(
            Said("There is no stage '{stage}'.", stage=stage[:20]),
            "stage",
            Said("Choose one of: {stages}.", stages=Listed(tuple(STAGES))),
        )
    day = _day(str(row.get("day") or "").strip(), today)
    return FindingRow(
        row=number,
        number=_number(row.get("finding")),
        view=str(row["view"]).strip(),
        panel=str(row["panel"]).strip(),
        name=whole_words(str(row.get("name") or ""), 80, "name"),
        stage=stage,
        day=day,
        corners=_corners(row["corners"]),
        evidence=_evidence(row.get("evidence") or "", day or today),
        note=whole_words(str(row.get("note") or ""), 4000, "note"),
    )


def _number(cell: Any) -> int | None:
    """The finding's own number in its first column; None where it is empty."""
    text = str("" if cell is None else cell).strip()
    if not text:
        return None
    if not text.isascii() or not text.isdigit() or not 0 < int(text) < 1_000_000:
        raise BadField(
            Said("'{text}' is no number of a finding.", text=text[:20]),
            "finding",
            "Leave it empty for a new one.",
        )
    return int(text)


def _day(text: str, today: date) -> date | None:
    if not text:
        return None
    for form in DAYS:
        try:
            day = datetime.strptime(text, form).date()  # noqa: DTZ007 - a day has no zone
        except ValueError:
            continue
        if day > today:
            raise BadField(
                Said("The day {text} has not come yet.", text=text), "day", "Give the day it was found."
            )
        return day
    raise BadField(
        Said("'{text}' is no day.", text=text[:20]), "day", "Type it like 2026-02-14 or 14.2.2026."
    )


def _corners(cell: Any) -> list[tuple[float, float]]:
    pairs = []
    for place, part in enumerate(cell if isinstance(cell, list) else str(cell).split("|"), start=1):
        try:
            if isinstance(part, (list, tuple)):
                u, v = part
                pairs.append((float(u), float(v)))
                continue
            found = _PAIR.match(str(part).strip())
            if found is None:
                raise ValueError(part)
            pairs.append((float(found[1].replace(",", ".")), float(found[2].replace(",", "."))))
        except (TypeError, ValueError):
            raise BadOutline(
                Said("Corner {place} cannot be read: '{part}'.", place=place, part=str(part).strip()[:30]),
                "corners",
                "Write corners like 698 300 | 708 274.",
            ) from None
    return pairs


def _evidence(cell: Any, day: date) -> list[Evidence]:
    looks = []
    for part in cell if isinstance(cell, list) else [part for part in str(cell).split("|") if part.strip()]:
        look = (
            Evidence.read({"made_on": day, **part})
            if isinstance(part, dict)
            else _look(str(part).split(), day)
        )
        if fault := fault_in(look):
            raise BadField(fault, "evidence")
        looks.append(look)
    return looks


def _look(words: list[str], day: date) -> Evidence:
    method, rest = words[0].lower(), words[1:]
    if method not in EVIDENCE_WORDS or not rest:
        raise BadField(
            Said("'{words}' is no evidence.", words=" ".join(words)[:30]),
            "evidence",
            "Write it like 'probe through 3/5' or 'gauge 0.74'.",
        )
    if method == "gauge":
        return Evidence.read(
            {"method": method, "result": "reading", "made_on": day, "thickness_mm": rest[0].replace(",", ".")}
        )
    hits, _, tries = rest[1].partition("/") if len(rest) > 1 else ("", "", "")
    return Evidence.read(
        {
            "method": method,
            "result": rest[0].lower(),
            "made_on": day,
            "hits": hits or None,
            "tries": tries or None,
        }
    )
