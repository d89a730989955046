"""Labels for boxes and bags: what is in it, in letters read at arm's length, and a square code."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

import segno
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from .letters import Page
from .pdf import clip_text

#: Labels on a sheet of paper: columns, rows, and their size, mm.
COLUMNS, ROWS, WIDE_MM, HIGH_MM = 2, 4, 99.0, 67.0
MOST_LINES = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """A label: the box's name, where it stands, whose vehicle, what is in it, what its code says."""

    name: str
    shelf: str
    vehicle: str
    lines: Sequence[str]
    code: str


def labels_pdf(labels: Sequence[Label]) -> bytes:
    """Labels, eight on a sheet of A4. Args: labels: in their order; an empty sheet where there is none."""
    stream = io.BytesIO()
    page = Page(stream, pagesize=A4)
    page.setTitle("Labels")
    for place, label in enumerate(labels):
        at = place % (COLUMNS * ROWS)
        if place and at == 0:
            page.showPage()
        x = (6 + (at % COLUMNS) * WIDE_MM) * mm
        y = A4[1] - (12 + (at // COLUMNS + 1) * HIGH_MM) * mm
        _draw(page, label, x, y)
    page.showPage()
    page.save()
    return stream.getvalue()


def _draw(page: Canvas, label: Label, x: float, y: float) -> None:
    page.setLineWidth(0.4)
    page.rect(x, y, WIDE_MM * mm, HIGH_MM * mm)
    page.setFont("Helvetica-Bold", 34)
    page.drawString(x + 5 * mm, y + (HIGH_MM - 15) * mm, clip_text(label.name, 58, 34, "Helvetica-Bold"))
    page.setFont("Helvetica", 10)
    page.drawString(
        x + 5 * mm, y + (HIGH_MM - 21) * mm, clip_text(f"{label.vehicle}   {label.shelf}", 60, 10)
    )
    for n, line in enumerate(label.lines[:MOST_LINES]):
        page.drawString(x + 5 * mm, y + (HIGH_MM - 28 - 5 * n) * mm, clip_text(line, 88 if n > 1 else 60, 10))
    if len(label.lines) > MOST_LINES:
        page.drawString(x + 5 * mm, y + 3 * mm, f"and {len(label.lines) - MOST_LINES} more")
    code = segno.make(label.code, error="m")
    size = 28 * mm
    cells = list(code.matrix_iter(border=2))
    cell = size / len(cells)
    left, top = x + (WIDE_MM - 32) * mm, y + (HIGH_MM - 4) * mm
    for row, bits in enumerate(cells):
        for column, bit in enumerate(bits):
            if bit:
                page.rect(left + column * cell, top - (row + 1) * cell, cell, cell, stroke=0, fill=1)
