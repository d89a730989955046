"""A receipt that came as PDF: looked over before it is kept, and its pages as pictures."""

import io
from threading import Lock

import pypdfium2

from ..errors import BadField
from ..said import Said

MOST_BYTES, MOST_PAGES = 20 * 1024 * 1024, 60
#: A page's picture is so long at most, px.
LONGEST_PX = 1600
#: The library draws one page at a time in a process.
_one_at_a_time = Lock()


def require_size(size: int) -> None:
    """Raises: BadField for a file that is larger than a receipt may be."""
    if size > MOST_BYTES:
        raise BadField(
            Said("This file has {size:.0f} MB; a receipt may have {most} MB.", size=size / 1024 / 1024, most=MOST_BYTES // 1024 // 1024),
            "file", "Save it smaller, or send the page that counts.",
        )  # fmt: skip


def page_count(data: bytes) -> int:
    """How many pages a PDF has. Raises: BadField: too large, none, locked, damaged, without or with too many pages."""
    require_size(len(data))
    with _one_at_a_time:
        document = _opened(data)
        count = len(document)
        document.close()
    if not 1 <= count <= MOST_PAGES:
        raise BadField(
            Said("This PDF has {count} pages; a receipt has 1 to {most}.", count=count, most=MOST_PAGES), "file", "Send the pages that count."
        )  # fmt: skip
    return count


def page_picture(data: bytes, page: int) -> bytes:
    """A page as JPEG. Args: page: from 1. Raises: BadField: what ``page_count`` refuses, no such page."""
    with _one_at_a_time:
        document = _opened(data)
        try:
            if not 1 <= page <= len(document):
                raise BadField("There is no such page.", "page")
            sheet = document[page - 1]
            picture = sheet.render(scale=min(2.2, LONGEST_PX / max(*sheet.get_size(), 1.0))).to_pil()
        except pypdfium2.PdfiumError:
            raise _damaged() from None
        finally:
            document.close()
    stream = io.BytesIO()
    picture.convert("RGB").save(stream, "JPEG", quality=86)
    return stream.getvalue()


def _damaged() -> BadField:
    return BadField("This PDF cannot be read: it is damaged or locked.", "file", "Save it again without a password, or take a photo.")  # fmt: skip


def _opened(data: bytes) -> pypdfium2.PdfDocument:
    if not data.startswith(b"%PDF-"):
        raise BadField("This file is neither a photo nor a PDF.", "file", "Take a JPEG, PNG, WebP or PDF.")
    try:
        return pypdfium2.PdfDocument(data)
    except pypdfium2.PdfiumError:
        raise _damaged() from None
