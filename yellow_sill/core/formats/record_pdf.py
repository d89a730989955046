"""The record of a repair on paper."""

import io
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import (
    Flowable,
    KeepTogether,
    PageBreak,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)

from .letters import Page, markup
from .pdf import INK, draw_sketch, title_block
from .sketch import Sketch

TEXT_MM = 174.0  #: width between the margins
DRAWING_MM = 56.0  #: height of the tallest drawing
PHOTO_MM = 44.0  #: height of the tallest photo
#: Shares of the width that drawings beside one another get; the last of three, the tack map, has numbers to read.
SHARES = {1: (1.0,), 2: (0.5, 0.5), 3: (0.28, 0.28, 0.44)}
ABREAST = 3  #: drawings or photos beside one another; with these sizes the usual repair fits on one page


CAUTION = "Planning and record of work done. Not a structural approval: chassis, seat-belt, suspension and steering mounts need qualified inspection."


#: A photo: its bytes, or the file that holds them, for hundreds at once fill the memory.
Photo = bytes | Path


def photo_bytes(photo: Photo) -> bytes:
    """The bytes of a photo. Raises: OSError, where its file is gone."""
    return photo.read_bytes() if isinstance(photo, Path) else photo


@dataclass(frozen=True, slots=True)
class Section:
    """One part of the record: label and text rows, drawings with captions, photos (None when lost) with captions.

    Short rows may stand in several ``columns``, read downwards. ``table``: rows of cells below its heading row; the last column holds figures.
    ``new_page``: it begins on a page of its own.
    """

    head: str
    rows: list[tuple[str, str]] = field(default_factory=list)
    table: list[list[str]] = field(default_factory=list)
    columns: int = 1
    drawings: list[tuple[str, Sketch]] = field(default_factory=list)
    photos: Sequence[tuple[Photo | None, str]] = field(default_factory=list)
    new_page: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordSheet:
    title: str
    cells: list[tuple[str, str]]
    sections: list[Section]
    foot: str = CAUTION


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


class _Jpeg(ImageReader):
    """A JPEG that goes into the file as it is: it is never decoded, hundreds at once would fill the memory."""

    _dataA = None

    def getRGBData(self):
        self.fp.seek(0)
        data = self.fp.read()
        self.fp.seek(0)
        return data


class _Picture(Flowable):
    """A photo fitted into a third of the width."""

    def __init__(self, photo: Photo) -> None:
        super().__init__()
        self.photo = photo
        wide, high = ImageReader(io.BytesIO(photo_bytes(photo))).getSize()
        share = min((TEXT_MM / ABREAST - 3) * mm / wide, PHOTO_MM * mm / high)
        self.size = (wide * share, high * share)

    def wrap(self, *_available) -> tuple[float, float]:
        return self.size

    def draw(self) -> None:
        data = photo_bytes(self.photo)
        kind = _Jpeg if data[:2] == b"\xff\xd8" else ImageReader
        self.canv.drawImage(kind(io.BytesIO(data)), 0, 0, *self.size)


def _escaped(text: str) -> str:
    text = text.replace("\u202f", "\u00a0").replace("\r\n", "\n")
    return "<br/>".join(markup(line) for line in text.split("\n"))


def _abreast(things: Sequence) -> list[Sequence]:
    return [things[i : i + ABREAST] for i in range(0, len(things), ABREAST)]


def _tight(pad: float) -> list[tuple]:
    return [("TOPPADDING", (0, 0), (-1, -1), pad), ("BOTTOMPADDING", (0, 0), (-1, -1), pad)]


def _told(section: Section, label: ParagraphStyle, body: ParagraphStyle) -> Table:
    """The rows as a table, dealt over the section's columns downwards."""
    deep, wide = math.ceil(len(section.rows) / section.columns), TEXT_MM / section.columns
    label_mm = 30.0 if section.columns == 1 else 20.0
    lines = [
        [
            Paragraph(_escaped(part), style)
            for pair in section.rows[line::deep]
            for part, style in zip(pair, (label, body), strict=True)
        ]
        for line in range(deep)
    ]
    lines = [line + [""] * (2 * section.columns - len(line)) for line in lines]
    grid = TableStyle(
        [
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("LINEBELOW", (0, 0), (-1, -1), 0.3, INK),
            ("LEFTPADDING", (0, 0), (-1, -1), 0),
            *_tight(1.5),
        ]
    )
    return Table(
        lines, colWidths=[label_mm * mm, (wide - label_mm) * mm] * section.columns, style=grid, splitInRow=1
    )


BODY = ParagraphStyle("body", fontName="Helvetica", fontSize=8.5, leading=10.5, textColor=INK)
LABEL = ParagraphStyle("label", parent=BODY, fontName="Helvetica-Bold")
HEAD = ParagraphStyle(
    "head",
    parent=BODY,
    fontName="Helvetica-Bold",
    fontSize=11,
    leading=13,
    spaceBefore=6,
    spaceAfter=2,
    keepWithNext=1,
)
SMALL = ParagraphStyle("small", parent=BODY, fontSize=8, leading=9.5)


def record_pdf(sheet: RecordSheet) -> bytes:
    """The record as an A4 PDF with a title block on every page.

    Args: sheet: what it says.
    Returns: the file.
    """
    return _built(sheet, sheet.sections, sheet.foot, 0)[0]


def record_parts(sheet: RecordSheet, most_photos: int) -> Iterator[bytes]:
    """The same as several files, one after another, their pages counted on; a part begins where a section has a page of its own.

    Args: sheet: what it says; most_photos: once a part has so many, the next one begins as soon as it can.
    """
    page, first, photos = 0, 0, 0
    for n, section in enumerate(sheet.sections):
        if n > first and section.new_page and photos >= most_photos:
            data, page = _built(sheet, sheet.sections[first:n], "", page)
            yield data
            first, photos = n, 0
        photos += len(section.photos)
    yield _built(sheet, sheet.sections[first:], sheet.foot, page)[0]


def _built(sheet: RecordSheet, sections: Sequence[Section], foot: str, before: int) -> tuple[bytes, int]:
    """Some sections as a file, and the number of its last page. Args: before: so many pages come before it."""
    story: list[Flowable] = []
    for section in sections:
        story += [PageBreak()] if section.new_page and story else []
        story += _section(section)
    if foot:
        story += [Spacer(1, 2 * mm), Paragraph(_escaped(foot), SMALL)]
    stream = io.BytesIO()
    document = SimpleDocTemplate(
        stream,
        pagesize=A4,
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=31 * mm,
        bottomMargin=11 * mm,
        title=sheet.title,
        author="Yellow Sill",
        invariant=1,
    )

    def furniture(canvas, doc) -> None:
        page = ("Page", str(before + doc.page))
        title_block(canvas, (18, 297 - 29, TEXT_MM, 20), sheet.title, [*sheet.cells, page])

    document.build(story, onFirstPage=furniture, onLaterPages=furniture, canvasmaker=Page)
    return stream.getvalue(), before + document.page


def _section(section: Section) -> list:
    """What a section puts on paper; its head stays with whatever comes first below it."""
    plain = TableStyle(
        [("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0), *_tight(1)]
    )
    groups: list[list] = []
    if section.rows:
        groups.append([_told(section, LABEL, BODY)])
    if section.table:
        groups.append([_figures(section.table)])
    for some in _abreast(section.drawings):
        widths = [TEXT_MM * share for share in SHARES[len(some)]]
        cells = [
            [
                _Drawing(sketch, width),
                Paragraph(_escaped(f"{caption}, scale {_scale(sketch, width)}"), SMALL),
            ]
            for (caption, sketch), width in zip(some, widths, strict=True)
        ]
        table = Table([cells], colWidths=[width * mm for width in widths], style=plain)
        groups.append([Spacer(1, 2 * mm), table])
    for some in _abreast(section.photos):
        cells = [_photo(data, caption, SMALL) for data, caption in some]
        widths = [TEXT_MM / ABREAST * mm] * len(some)
        groups.append([Table([cells], colWidths=widths, style=plain, hAlign="LEFT")])
    head = Paragraph(_escaped(section.head), HEAD)
    flowables: list = []
    for nth, group in enumerate(groups):
        opening = [head] if nth == 0 else []
        rows_first = nth == 0 and section.rows
        flowables += [*opening, *group] if rows_first else [KeepTogether([*opening, *group])]
    return flowables


def _figures(rows: list[list[str]]) -> Table:
    """A table under its heading row; what is not words stands at the right, the widest room is that of the words."""
    wide = max(range(len(rows[0])), key=lambda n: max(len(row[n]) for row in rows))
    narrow = 26.0
    longest = max(len(row[0]) for row in rows)
    first = min(narrow, max(8.0, 2.1 * longest)) if wide else TEXT_MM - narrow * (len(rows[0]) - 1)
    widths = [first if n == 0 else narrow for n in range(len(rows[0]))]
    widths[wide] = TEXT_MM - sum(width for n, width in enumerate(widths) if n != wide)
    right = ParagraphStyle("right", parent=BODY, alignment=2)
    cells = [
        [
            Paragraph(_escaped(text), LABEL if line == 0 and n <= wide else BODY if n <= wide else right)
            for n, text in enumerate(row)
        ]
        for line, row in enumerate(rows)
    ]
    style = TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, -1), 0.3, INK), ("LINEABOVE", (0, -1), (-1, -1), 0.8, INK),
                        ("LEFTPADDING", (0, 0), (-1, -1), 0), *_tight(1.5)])  # fmt: skip
    return Table(cells, colWidths=[width * mm for width in widths], style=style, repeatRows=1)


def _scale(sketch: Sketch, width_mm: float) -> str:
    scale = _Drawing(sketch, width_mm).scale
    return "1:1" if scale > 0.999 else f"1:{1 / scale:.1f}"


def _photo(data: Photo | None, caption: str, style: ParagraphStyle) -> list:
    if data is None:
        return [Paragraph("The file of this photo is missing.", style), Paragraph(_escaped(caption), style)]
    return [_Picture(data), Paragraph(_escaped(caption), style)]
