"""The cutting plan on paper: a page a piece, to scale, with where each pattern lies."""

import io
from collections.abc import Mapping, Sequence
from typing import Any

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ..errors import BadField
from ..geometry import bounds_of
from ..patch.tiles import FOOT_MM, MARGIN_MM, PAPERS_MM
from ..said import Said
from .drawings import plan_sketch
from .letters import Page
from .pdf import INK, clip_text, fitted, title_block

#: Lines of places under the drawing, and their height, mm.
ROWS_A_COLUMN, ROW_MM = 8, 4.4


def plan_pdf(
    sheets: Sequence[Mapping[str, Any]], title: str, cells: Sequence[tuple[str, str]], paper: str
) -> bytes:
    """Args: sheets: of the nest; title, cells: for the title block; paper: a key of PAPERS_MM. Returns: the file. Raises: BadField for an unknown paper."""
    if paper not in PAPERS_MM:
        raise BadField(Said("No paper '{paper}' is kept.", paper=paper), "paper", "Choose A4 or Letter.")
    height, width = PAPERS_MM[paper]
    stream = io.BytesIO()
    canvas = Page(stream, pagesize=(width * mm, height * mm), pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setAuthor("Yellow Sill")
    for number, sheet in enumerate(sheets):
        inner = width - 2 * MARGIN_MM
        rows = ROW_MM * min(ROWS_A_COLUMN, len(sheet["placed"])) + 4
        floor = MARGIN_MM + FOOT_MM + rows
        scale = fitted(canvas, plan_sketch([sheet]), (MARGIN_MM, floor, inner, height - MARGIN_MM - floor))
        _places(canvas, sheet, floor - 4, inner)
        size = f"1:{1 / scale:.1f}" if scale < 1 else "1:1"
        more = [("Piece", sheet["stock"]), ("Scale", size), ("Sheet", f"{number + 1} of {len(sheets)}")]
        title_block(canvas, (MARGIN_MM, MARGIN_MM, inner, FOOT_MM - 4), title, [*cells, *more])
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


def _places(canvas: Canvas, sheet: Mapping[str, Any], top: float, width: float) -> None:
    """Each pattern's lowest left place from the piece's lower left corner, and its turn, in columns."""
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica", 8)
    u0, v0, _, _ = bounds_of(sheet["outline"])
    columns = -(-len(sheet["placed"]) // ROWS_A_COLUMN)
    for number, placed in enumerate(sheet["placed"]):
        a0, b0, a1, b1 = bounds_of(placed["outline"])
        flipped = ", turned over" if placed["flipped"] else ""
        words = f"{placed['part']}: {a0 - u0:.1f} right, {b0 - v0:.1f} up, {a1 - a0:.1f} × {b1 - b0:.1f} mm, turned {placed['turned_deg']:g}°{flipped}"
        column, row = divmod(number, ROWS_A_COLUMN)
        x = MARGIN_MM + column * width / columns
        canvas.drawString(x * mm, (top - ROW_MM * row - 3) * mm, clip_text(words, width / columns - 3, 8))
