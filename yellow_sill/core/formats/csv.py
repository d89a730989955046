"""CSV for spreadsheets: text that looks like a formula is made plain text."""

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

from ..errors import BadField

_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def safe_cell(value: object) -> object:
    """A cell that no spreadsheet will run. Numbers stay numbers.

    >>> safe_cell("=1+1"), safe_cell(-2.5)
    ("'=1+1", -2.5)
    """
    return f"'{value}" if isinstance(value, str) and value.startswith(_FORMULA) else value


def whole_words(text: str, most: int, column: str) -> str:
    """A person's words from a table, whole. Raises: BadField where they are longer than can be kept: nothing is cut off unseen."""
    if len(text) > most:
        raise BadField(
            f"'{column}' has {len(text)} characters; {most} can be kept.",
            column,
            "Shorten it in the table: nothing is cut off here.",
        )
    return text


def csv_text(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A table as CSV with a head line, comma separated, UTF-8."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\r\n")
    writer.writerow(head)
    writer.writerows([safe_cell(value) for value in row] for row in rows)
    return stream.getvalue()


def cells_of(text: str, delimiters: str = ",;\t") -> list[list[str]]:
    """The cells of a table, whatever divides them; rows without a word in them are left out."""
    try:
        dialect: Any = csv.Sniffer().sniff(text[:4000], delimiters=delimiters)
    except csv.Error:
        dialect = csv.excel
    return [
        row for row in csv.reader(io.StringIO(text, newline=""), dialect) if any(cell.strip() for cell in row)
    ]
