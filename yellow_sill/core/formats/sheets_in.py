"""The first sheet of a spreadsheet as texts: what is written, not how it is worked out."""

import io
import zipfile
from datetime import date, datetime, time, timedelta
from typing import Any

from openpyxl import load_workbook

from ..errors import BadField

#: A spreadsheet may unpack to so much; so many rows and columns are read.
MOST_BYTES, MOST_ROWS, MOST_COLUMNS = 80 * 1024 * 1024, 20_000, 200


def xlsx_rows(data: bytes) -> list[list[str]]:
    """The cells of the first sheet, rows without a word left out.

    Args: data: an XLSX file. Returns: days as 2026-03-01, times as 1:30, figures with a point.
    Raises: BadField: no spreadsheet, one that unpacks to far too much, too many rows.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(each.file_size for each in archive.infolist()) > MOST_BYTES:
                raise BadField(
                    "This spreadsheet unpacks to far too much.", "table", "Save the one sheet as CSV."
                )
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        found = []
        for row in sheet.iter_rows(max_col=MOST_COLUMNS, values_only=True):
            cells = [_text(value) for value in row]
            if any(cells):
                found.append(cells)
            if len(found) > MOST_ROWS:
                raise BadField(f"It has more than {MOST_ROWS} rows.", "table", "Divide it.")
    except BadField:
        raise
    except (
        Exception
    ) as error:  # a file made by anything: whatever its reader trips over, it is not one that can be read
        raise BadField(
            "This is no spreadsheet that can be read.", "table", "Save it as CSV or XLSX."
        ) from error
    while found and all(len(row) > 1 and not row[-1] for row in found):
        found = [row[:-1] for row in found]
    return found


def _text(value: Any) -> str:
    """
    >>> [_text(each) for each in (None, 2.0, 1.5, timedelta(minutes=90), time(1, 30), datetime(2026, 3, 1), "a ")]
    ['', '2', '1.5', '1:30', '1:30', '2026-03-01', 'a']
    """
    if value is None:
        return ""
    if isinstance(value, timedelta):
        whole = round(value.total_seconds() / 60)
        return f"{whole // 60}:{whole % 60:02d}"
    if isinstance(value, time):
        return f"{value.hour}:{value.minute:02d}"
    if isinstance(value, datetime):
        return value.date().isoformat()
    if isinstance(value, date):
        return value.isoformat()
    return f"{value:.10g}" if isinstance(value, float) else str(value).strip()
