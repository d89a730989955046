"""The record of a repair on paper."""

import io
from dataclasses import dataclass, field

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Image, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from .pdf import INK, draw_sketch, title_block
from .sketch import Sketch

TEXT_MM = 174.0  #: width between the margins
DRAWING_MM = 84.0  #: height of the tallest drawing


@dataclass(frozen=True, slots=True)
class Section:
    """One part of the record: label and text rows, drawings with captions, photos (bytes or None when lost) with captions."""

    head: str
    rows: list[tuple[str, str]] = field(default_factory=list)
    drawings: list[tuple[str, Sketch]] = field(default_factory=list)
    photos: list[tuple[bytes | None, str]] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordSheet:
    title: str
    cells: list[tuple[str, str]]
    sections: list[Section]


class _Drawing(Flowable):
    """A sketch fitted into a column."""

    def __init__(self, sketch: Sketch, width_mm: float) -> None:
        super().__init__()
        x0, y0, x1, y1 = sketch.bounds()
        self.sketch = sketch
        self.scale = min((width_mm - 4) / max(x1 - x0, 1e-6), DRAWING_MM / max(y1 - y0, 1e-6), 1.0)
        self.origin = (2 - x0 * self.scale, 2 - y0 * self.scale)
        self.size = (width_mm * mm, ((y1 - y0) * self.scale + 4) * mm)

    def wrap(self, *_available) -> tuple[float, float]:
        return self.size

    def draw(self) -> None:
        draw_sketch(self.canv, self.sketch, self.scale, self.origin)


def _escaped(text: str) -> str:
    text = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace("\u202f", "\u00a0")
    return text.replace("\r\n", "\n").replace("\n", "<br/>")


def record_pdf(sheet: RecordSheet) -> bytes:
    """The record as an A4 PDF with a title block on every page.

    Args: sheet: what it says.
    Returns: the file.
    """
    body = ParagraphStyle("body", fontName="Helvetica", fontSize=9, leading=12, textColor=INK)
    label = ParagraphStyle("label", parent=body, fontName="Helvetica-Bold")
    head = ParagraphStyle("head", parent=body, fontName="Helvetica-Bold", fontSize=11.5, leading=15, spaceBefore=8, spaceAfter=3, keepWithNext=1)
    small = ParagraphStyle("small", parent=body, fontSize=8, leading=10)
    grid = TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, -1), 0.3, INK), ("LEFTPADDING", (0, 0), (-1, -1), 0)])
    plain = TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)])
    story: list = []
    for section in sheet.sections:
        opening = [Paragraph(_escaped(section.head), head)]  # stays with whatever comes first below it
        if section.rows:
            story += opening
            opening = []
            rows = [[Paragraph(_escaped(a), label), Paragraph(_escaped(b), body)] for a, b in section.rows]
            story.append(Table(rows, colWidths=[34 * mm, (TEXT_MM - 34) * mm], style=grid, splitInRow=1))
        for i in range(0, len(section.drawings), 2):
            pair = section.drawings[i : i + 2]
            width = TEXT_MM / len(pair)
            cells = [[_Drawing(sketch, width), Paragraph(_escaped(f"{caption}, scale {_scale(sketch, width)}"), small)] for caption, sketch in pair]
            story.append(KeepTogether([*opening, Spacer(1, 2 * mm), Table([cells], colWidths=[width * mm] * len(pair), style=plain)]))
            opening = []
        for i in range(0, len(section.photos), 2):
            pair = [_photo(data, caption, small) for data, caption in section.photos[i : i + 2]]
            story.append(KeepTogether([*opening, Table([pair], colWidths=[TEXT_MM / 2 * mm] * len(pair), style=plain)]))
            opening = []
    story.append(Spacer(1, 4 * mm))
    caution = "Planning and record of work done. Not a structural approval: chassis, seat-belt, suspension and steering mounts need qualified inspection."
    story.append(Paragraph(caution, small))
    stream = io.BytesIO()
    document = SimpleDocTemplate(
        stream,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=34 * mm,
        bottomMargin=16 * mm,
        title=sheet.title,
        author="Yellow Sill",
        invariant=1,
    )

    def furniture(canvas, doc) -> None:
        title_block(canvas, (18, 297 - 30, TEXT_MM, 20), sheet.title, [*sheet.cells, ("Page", str(doc.page))])

    document.build(story, onFirstPage=furniture, onLaterPages=furniture)
    return stream.getvalue()


def _scale(sketch: Sketch, width_mm: float) -> str:
    scale = _Drawing(sketch, width_mm).scale
    return "1:1" if scale > 0.999 else f"1:{1 / scale:.1f}"


def _photo(data: bytes | None, caption: str, style: ParagraphStyle) -> list:
    if data is None:
        return [Paragraph("The file of this photo is missing.", style), Paragraph(_escaped(caption), style)]
    picture = Image(io.BytesIO(data))
    share = min((TEXT_MM / 2 - 4) * mm / picture.imageWidth, 62 * mm / picture.imageHeight)
    picture.drawWidth, picture.drawHeight = picture.imageWidth * share, picture.imageHeight * share
    return [picture, Paragraph(_escaped(caption), style)]
