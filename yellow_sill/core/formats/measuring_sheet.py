"""The measuring sheet on paper: the drawing with its points, and an empty box for each reading in walking order."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from .letters import Page
from .pdf import INK, clip_text, fitted, title_block
from .sketch import Sketch

WIDTH_MM, HEIGHT_MM, EDGE_MM = 210.0, 297.0, 12.0
ROW_MM, COLUMNS, BOX_MM, GAP_MM = 8.2, 3, 21.0, 4.0
DRAWING_MM = 78.0
CELL_MM = 8.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetRow:
    """One reading to write down: its number in the walk, a word for its kind, its points, a short hint."""

    number: int
    word: str
    points: str
    hint: str


def measuring_sheet_pdf(
    title: str,
    cells: Sequence[tuple[str, str]],
    drawings: Sequence[tuple[str, Sketch]],
    rows: Sequence[SheetRow],
) -> bytes:
    """The sheet as a PDF on A4; two boxes a reading, the second for a repeat.

    Args: drawings: (caption, sketch) pairs for the first page; rows: in walking order.
    """
    stream = io.BytesIO()
    canvas = Page(stream, pagesize=(WIDTH_MM * mm, HEIGHT_MM * mm), pageCompression=1, invariant=1)
    canvas.setTitle(title)
    canvas.setAuthor("Yellow Sill")
    top = HEIGHT_MM - EDGE_MM
    for caption, sketch in drawings:
        fitted(canvas, sketch, (EDGE_MM, top - DRAWING_MM, WIDTH_MM - 2 * EDGE_MM, DRAWING_MM - 6))
        canvas.setFillColor(INK)
        canvas.setFont("Helvetica-Bold", 9)
        canvas.drawString(EDGE_MM * mm, (top - 3) * mm, caption)
        top -= DRAWING_MM + 2
    page, left = 1, list(rows)
    while True:
        left = _boxes(canvas, left, top - 4)
        cell = [*cells, ("Sheet", f"{page}")]
        title_block(canvas, (EDGE_MM, EDGE_MM - 4, WIDTH_MM - 2 * EDGE_MM, 15), title, cell)
        canvas.showPage()
        if not left:
            break
        page, top = page + 1, HEIGHT_MM - EDGE_MM
    canvas.save()
    return stream.getvalue()


def _boxes(canvas: Canvas, rows: list[SheetRow], top: float) -> list[SheetRow]:
    """Fill one page, column by column; gives what did not fit."""
    width = (WIDTH_MM - 2 * EDGE_MM - (COLUMNS - 1) * GAP_MM) / COLUMNS
    fit = max(1, int((top - EDGE_MM - 16) / ROW_MM))
    here, rest = rows[: fit * COLUMNS], rows[fit * COLUMNS :]
    high = min(fit, -(-len(here) // COLUMNS))
    for i, row in enumerate(here):
        x, y = EDGE_MM + (i // high) * (width + GAP_MM), top - (i % high + 1) * ROW_MM
        canvas.setFillColor(INK)
        canvas.setFont("Courier-Bold", 9)
        canvas.drawString(x * mm, (y + 2.6) * mm, f"{row.number:>3} {row.points}")
        canvas.setFont("Helvetica", 5.5)
        canvas.drawString(
            x * mm, (y + 0.3) * mm, clip_text(f"{row.word}. {row.hint}", width - 2 * (BOX_MM - 7) - 2, 5.5)
        )
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.25 * mm)
        for k in (2, 1):
            canvas.rect(
                (x + width - k * (BOX_MM - 7)) * mm, (y + 0.4) * mm, (BOX_MM - 7.6) * mm, (ROW_MM - 1.6) * mm
            )
    return rest
