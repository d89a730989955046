"""The datum book as a table, out and in: CSV with commas, semicolons or tabs, decimal points or commas."""

import csv
import io
import re
from collections.abc import Iterable
from dataclasses import dataclass

from ..datum.network import LEAST_SIGMA_MM, MOST_POINTS, TOLERANCE_MM, TRUST_SIGMA_MM
from ..datum.starting_set import POINT_KINDS, SOURCES
from ..errors import BadField, CoreError
from ..records import FARTHEST_MM
from ..said import Listed, Mm, Said
from .csv import csv_text, whole_words
from .survey_tables import RefusedRow, named_cells

COLUMNS = (
    "point",
    "name",
    "kind",
    "how",
    "x_mm",
    "y_mm",
    "z_mm",
    "source",
    "source_note",
    "tolerance_mm",
    "trusted",
    "trust_sigma_mm",
    "mirror",
)
NEEDED = ("point", "x_mm", "y_mm", "z_mm")
CODE = re.compile(r"^[A-Za-z0-9][A-Za-z0-9.+-]{0,11}$")
_YES, _NO = ("yes", "y", "true", "1", "x"), ("no", "n", "false", "0", "")


@dataclass(frozen=True, slots=True, kw_only=True)
class DatumRow:
    """One point of the table; nominal in the shell's axes, mm."""

    row: int
    code: str
    name: str
    kind: str
    how: str
    nominal: tuple[float, float, float]
    source: str
    source_note: str
    tolerance_mm: float
    trusted: bool
    trust_sigma_mm: float
    mirror_code: str


def write_datums(rows: Iterable[DatumRow]) -> str:
    return csv_text(
        list(COLUMNS),
        (
            [
                r.code,
                r.name,
                r.kind,
                r.how,
                *r.nominal,
                r.source,
                r.source_note,
                r.tolerance_mm,
                "yes" if r.trusted else "no",
                r.trust_sigma_mm,
                r.mirror_code,
            ]
            for r in rows
        ),
    )


def read_datums(text: str) -> tuple[list[DatumRow], list[RefusedRow]]:
    """Read a table of datum points.

    Returns: the rows that can be taken and those that cannot, each with its reason.
    Raises: BadField where the whole cannot be read.
    """
    text = text.lstrip("\ufeff")
    first = text.split("\n", 1)[0]
    delimiter = max(",;\t", key=first.count)
    try:
        lines = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter))
    except csv.Error as error:
        raise BadField(
            Said("This table cannot be read: {error}.", error=error), "file", "Save it again as CSV."
        ) from None
    names = [name.strip().lower() for name in lines[0]] if lines else []
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
    filled = named_cells(names, lines[1:])
    if not filled:
        raise BadField(
            "There is no point in this file.",
            "file",
            Said("Its first line names the columns: {needed} and more.", needed=Listed(tuple(NEEDED))),
        )
    if len(filled) > MOST_POINTS:
        raise BadField(
            Said(
                "This file has {filled} rows; a book has at most {most_points} points.",
                filled=len(filled),
                most_points=MOST_POINTS,
            ),
            "file",
            "Leave some out.",
        )
    taken, refused, seen = [], [], set()
    for number, cells in filled:
        try:
            row = _row(number, {name: str(cell).strip() for name, cell in cells.items()})
            if row.code.casefold() in seen:
                raise BadField(
                    Said("{code} is there twice.", code=row.code),
                    "point",
                    "Give each its own; capitals make no difference.",
                )
            seen.add(row.code.casefold())
            taken.append(row)
        except CoreError as error:
            refused.append(RefusedRow(row=number, why=error.message))
    return taken, refused


def _place(cells: dict[str, str], axis: str) -> float:
    return _number(cells.get(f"{axis}_mm", ""), f"{axis}_mm")


def _row(number: int, cells: dict[str, str]) -> DatumRow:
    code = cells.get("point", "")
    if not CODE.match(code):
        raise BadField(
            Said("'{code}' is no name for a point.", code=code[:20]),
            "point",
            "Use up to 12 letters and figures, such as 2L.",
        )
    kind, source = cells.get("kind", "").lower() or "hole", cells.get("source", "").lower() or "drawing"
    if kind not in POINT_KINDS:
        raise BadField(
            Said("There is no kind '{kind}'.", kind=kind[:20]),
            "kind",
            Said("Choose one of: {point_kinds}.", point_kinds=Listed(tuple(POINT_KINDS))),
        )
    if source not in SOURCES:
        raise BadField(
            Said("There is no source '{source}'.", source=source[:20]),
            "source",
            Said("Choose one of: {sources}.", sources=Listed(tuple(SOURCES))),
        )
    trusted = cells.get("trusted", "").lower()
    if trusted not in (*_YES, *_NO):
        raise BadField(Said("Trusted is yes or no, not '{trusted}'.", trusted=trusted[:20]), "trusted")
    tolerance = _number(cells.get("tolerance_mm", "") or str(TOLERANCE_MM), "tolerance_mm")
    if not 0 < tolerance <= 100:
        raise BadField(
            Said("A tolerance of {tolerance} is none.", tolerance=Mm(tolerance)),
            "tolerance_mm",
            "Give more than 0 and at most 100.",
        )
    sure = _number(cells.get("trust_sigma_mm", "") or str(TRUST_SIGMA_MM), "trust_sigma_mm")
    if not LEAST_SIGMA_MM <= sure <= 20:
        raise BadField(
            Said("No trusted place is sure to {sure}.", sure=Mm(sure)),
            "trust_sigma_mm",
            Said("Give {least_sigma_mm:g} to 20.", least_sigma_mm=LEAST_SIGMA_MM),
        )
    return DatumRow(
        row=number,
        code=code,
        name=whole_words(cells.get("name", ""), 60, "name") or code,
        kind=kind,
        how=whole_words(cells.get("how", ""), 200, "how"),
        nominal=(_place(cells, "x"), _place(cells, "y"), _place(cells, "z")),
        source=source,
        source_note=whole_words(cells.get("source_note", ""), 200, "source_note"),
        tolerance_mm=tolerance,
        trusted=trusted in _YES,
        trust_sigma_mm=sure,
        mirror_code=cells.get("mirror", "")[:12],
    )


def _number(text: str, name: str) -> float:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        raise BadField(
            Said("{name}: '{text}' is no number.", name=name, text=text[:20]), name, "Type it like -376.5."
        ) from None
    if not abs(value) <= FARTHEST_MM:
        raise BadField(
            Said("{name}: {text} lies off every shell.", name=name, text=text[:20]),
            name,
            "Places are in millimetres.",
        )
    return value
