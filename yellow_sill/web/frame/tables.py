"""Tables that a person sends: their size and encoding, before anything is read from them."""

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.errors import CoreError

MOST_TABLE_BYTES = 4 * 1024 * 1024


def table_text(upload: UploadedFile) -> str:
    """The text of an uploaded table.

    Raises: CoreError for a file that is too large or no text.
    """
    if upload.size > MOST_TABLE_BYTES:
        raise CoreError(
            f"This file has {upload.size / 1024 / 1024:.0f} MB; a table may have 4 MB.", "table", "Divide it."
        )
    data = upload.read()
    wide = data[:2] in (b"\xff\xfe", b"\xfe\xff")  # how spreadsheets save "Unicode text"
    for encoding in ("utf-16",) if wide else ("utf-8-sig", "cp1252"):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise CoreError("This file is no text.", "table", "Save the table as CSV, or take JSON.")
