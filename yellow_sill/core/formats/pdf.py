"""PDF: sketches on paper at a stated scale, and the full-size pattern sheets."""

import io
from collections.abc import Sequence

from reportlab.lib.colors import HexColor, white
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from ..patch.tiles import CHECK_MM, FOOT_MM, MARGIN_MM, OVERLAP_MM, Tile, Tiling
from .letters import Page, width_of
from .sketch import PENS, Disc, Label, Rim, Sketch, Stroke

#: Type on paper is not set smaller than this, points.
LEAST_TYPE = 5.0
LEADING_MM = 5 / 9  #: from line to line, mm for each point of the type
INK, BLUE = HexColor("#14181b"), HexColor("#1b4b91")


def draw_sketch(canvas: Canvas, sketch: Sketch, scale: float, origin_mm: tuple[float, float]) -> None:
    """Draw a sketch: its point (0, 0) lands at ``origin_mm`` on the page; pens keep their width at any scale."""

    def place(p) -> tuple[float, float]:
        return (origin_mm[0] + p[0] * scale) * mm, (origin_mm[1] + p[1] * scale) * mm

    for item in sketch.items:
        if isinstance(item, Label):
            size = max(item.height_mm * min(scale, 1.0) * mm * 1.35, 5.2)
            canvas.setFont("Helvetica", size)
            x, y = place(item.at)
            canvas.setFillColor(HexColor(item.ink))
            canvas.drawCentredString(x, y - size * 0.35, item.text)
            continue
        pen = PENS[item.pen]
        canvas.setLineWidth(pen.width_mm * mm)
        canvas.setStrokeColor(HexColor(pen.ink))
        canvas.setDash([d * mm for d in pen.dash_mm])
        if pen.fill:
            canvas.setFillColor(HexColor(pen.fill))
        if isinstance(item, Disc):
            x, y = place(item.centre)
            canvas.circle(x, y, item.radius_mm * scale * mm, fill=bool(pen.fill))
            continue
        _stroke(canvas, item, place, bool(pen.fill))
    canvas.setDash([])


def _stroke(canvas: Canvas, item: Stroke | Rim, place, fill: bool) -> None:
    path = canvas.beginPath()
    path.moveTo(*place(item.points[0]))
    for point in item.points[1:]:
        path.lineTo(*place(point))
    if item.closed:
        path.close()
    canvas.drawPath(path, stroke=1, fill=int(fill and item.closed))


def fitted(canvas: Canvas, sketch: Sketch, box_mm: tuple[float, float, float, float]) -> float:
    """Draw a sketch as large as a box (x, y, width, height in mm) allows, never above full size; gives the scale."""
    x0, y0, x1, y1 = sketch.bounds()
    x, y, width, height = box_mm
    scale = min(width / max(x1 - x0, 1e-6), height / max(y1 - y0, 1e-6), 1.0)
    origin = (
        x + (width - (x1 - x0) * scale) / 2 - x0 * scale,
        y + (height - (y1 - y0) * scale) / 2 - y0 * scale,
    )
    draw_sketch(canvas, sketch, scale, origin)
    return scale


def clip_text(text: str, width_mm: float, size: float, font: str = "Helvetica") -> str:
    """Text shortened with an ellipsis so that it fits a width on paper."""
    if width_of(text, font, size) <= width_mm * mm:
        return text
    while text and width_of(text + "…", font, size) > width_mm * mm:
        text = text[:-1]
    return text.rstrip() + "…"


def fitting_size(text: str, width_mm: float, size: float, font: str) -> float:
    """The size, points, at which a text fits a width on paper; never below LEAST_TYPE."""
    return max(LEAST_TYPE, min(size, size * width_mm * mm / max(width_of(text, font, size), 1e-6)))


def title_block(
    canvas: Canvas, box_mm: tuple[float, float, float, float], title: str, cells: Sequence[tuple[str, str]]
) -> None:
    """A title block: the title above a row of label and value cells."""
    x, y, width, height = box_mm
    canvas.setStrokeColor(INK)
    canvas.setFillColor(white)
    canvas.setLineWidth(0.45 * mm)
    canvas.rect(x * mm, y * mm, width * mm, height * mm, fill=1)
    canvas.setLineWidth(0.2 * mm)
    row = height * 0.56  # the cells; the title above has the rest
    canvas.line(x * mm, (y + row) * mm, (x + width) * mm, (y + row) * mm)
    canvas.setFillColor(INK)
    size = fitting_size(title, width - 4, 10, "Helvetica-Bold")
    canvas.setFont("Helvetica-Bold", size)
    canvas.drawString(
        (x + 2) * mm,
        (y + row + (height - row) / 2 - 1.3) * mm,
        clip_text(title, width - 4, size, "Helvetica-Bold"),
    )
    step = width / len(cells)
    for i, (label, value) in enumerate(cells):
        left = x + i * step
        if i:
            canvas.line(left * mm, y * mm, left * mm, (y + row) * mm)
        canvas.setFont("Helvetica", 5.5)
        canvas.drawString((left + 1.5) * mm, (y + row - 2.7) * mm, label)
        size = fitting_size(value, step - 2, 8, "Courier")
        for k, line in enumerate(reversed(simpleSplit(value, "Courier", size, (step - 2) * mm)[:2])):
            canvas.setFont("Courier", size)
            canvas.drawString(
                (left + 1.5) * mm,
                (y + 1.1 + 2.0 * k + 0.6 * (size > LEAST_TYPE)) * mm,
                clip_text(line, step - 2, size, "Courier"),
            )


def pattern_pdf(
    sketch: Sketch, sheets: Tiling, title: str, cells: Sequence[tuple[str, str]], notes: Sequence[str]
) -> bytes:
    """Full-size pattern: a cover with the check square and the map of sheets, then every sheet at 1:1.

    Args:
        sketch: the pattern in mm, already the hand wanted.
        sheets: from ``tiling`` of the sketch's bounds.
        title, cells: for the title block of each sheet.
        notes: lines for the cover: bends, steps, cautions.
    Returns: the file.
    """
    stream = io.BytesIO()
    canvas = Page(
        stream, pagesize=(sheets.width_mm * mm, sheets.height_mm * mm), pageCompression=1, invariant=1
    )
    canvas.setTitle(title)
    canvas.setAuthor("Yellow Sill")
    _cover(canvas, sketch, sheets, title, cells, notes)
    for tile in sheets.tiles:
        _sheet(canvas, sketch, sheets, tile, title, cells)
    canvas.save()
    return stream.getvalue()


def _cover(canvas: Canvas, sketch: Sketch, sheets: Tiling, title: str, cells, notes: Sequence[str]) -> None:
    width, height = sheets.width_mm, sheets.height_mm
    title_block(
        canvas,
        (MARGIN_MM, MARGIN_MM, width - 2 * MARGIN_MM, FOOT_MM - 4),
        title,
        [*cells, ("Sheet", f"cover of {len(sheets.tiles)}")],
    )
    x, y = MARGIN_MM, height - MARGIN_MM - CHECK_MM
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.3 * mm)
    canvas.rect(x * mm, y * mm, CHECK_MM * mm, CHECK_MM * mm)
    canvas.setFillColor(INK)
    canvas.setFont("Helvetica-Bold", 11)
    canvas.drawCentredString((x + CHECK_MM / 2) * mm, (y + 58) * mm, f"{CHECK_MM:g} mm square")
    canvas.setFont("Helvetica", 9)
    for i, line in enumerate(
        (
            "Print at 100 %, not 'fit to page'.",
            "Measure both sides of this square",
            "before you cut anything.",
        )
    ):
        canvas.drawCentredString((x + CHECK_MM / 2) * mm, (y + 50 - 5 * i) * mm, line)
    beside = width - 2 * MARGIN_MM - CHECK_MM - 6 > 60
    box = (
        (x + CHECK_MM + 6, y, width - 2 * MARGIN_MM - CHECK_MM - 6, CHECK_MM)
        if beside
        else (x, y - 70, width - 2 * MARGIN_MM, 66)
    )
    bounds = Sketch(list(sketch.items))
    for tile in sheets.tiles:
        bounds.stroke(
            "mark",
            [(tile.x0, tile.y0), (tile.x1, tile.y0), (tile.x1, tile.y1), (tile.x0, tile.y1)],
            closed=True,
        )
        bounds.label(tile.name, (tile.x0 + 12, tile.y1 - 12), 12, "#566167")
    fitted(canvas, bounds, box)
    canvas.setFillColor(INK)
    floor = y - 8 if beside else y - 78
    size, lines = _set(notes, width - 2 * MARGIN_MM, floor - FOOT_MM - MARGIN_MM)
    canvas.setFont("Helvetica", size)
    for i, line in enumerate(lines):
        canvas.drawString(x * mm, (floor - LEADING_MM * size * i) * mm, line)
    canvas.showPage()


def _set(notes: Sequence[str], width_mm: float, room_mm: float) -> tuple[float, list[str]]:
    """Notes broken into lines, at the largest size at which all of them fit the room; nothing of them is left out."""
    for size in (9.0, 8.0, 7.0, 6.0, LEAST_TYPE):
        lines = [line for note in notes for line in simpleSplit(note, "Helvetica", size, width_mm * mm)]
        if LEADING_MM * size * len(lines) <= room_mm:
            break
    return size, lines


def _sheet(canvas: Canvas, sketch: Sketch, sheets: Tiling, tile: Tile, title: str, cells) -> None:
    width = sheets.width_mm
    left, low = MARGIN_MM, MARGIN_MM + FOOT_MM
    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(left * mm, low * mm, (tile.x1 - tile.x0) * mm, (tile.y1 - tile.y0) * mm)
    canvas.clipPath(clip, stroke=0)
    draw_sketch(canvas, sketch, 1.0, (left - tile.x0, low - tile.y0))
    canvas.restoreState()
    _overlap_marks(canvas, sheets, tile, left, low)
    cells = [
        *cells,
        ("Sheet", f"{tile.name}, {tile.row * sheets.columns + tile.column + 1} of {len(sheets.tiles)}"),
    ]
    title_block(canvas, (MARGIN_MM, MARGIN_MM, width - 2 * MARGIN_MM, FOOT_MM - 8), title, cells)
    # a check bar on every sheet, in case only one is printed again
    y = MARGIN_MM + FOOT_MM - 4
    canvas.setLineWidth(0.3 * mm)
    canvas.setStrokeColor(INK)
    canvas.line(left * mm, y * mm, (left + CHECK_MM) * mm, y * mm)
    for x in (left, left + CHECK_MM):
        canvas.line(x * mm, (y - 1.5) * mm, x * mm, (y + 1.5) * mm)
    canvas.setFont("Helvetica", 6.5)
    canvas.drawString((left + CHECK_MM + 2) * mm, (y - 0.8) * mm, f"{CHECK_MM:g} mm at full size")
    canvas.showPage()


def _overlap_marks(canvas: Canvas, sheets: Tiling, tile: Tile, left: float, low: float) -> None:
    """Where the neighbour's edge comes to lie: a fine line, a cross at each corner and the neighbour's name."""
    right, high = left + tile.x1 - tile.x0, low + tile.y1 - tile.y0
    canvas.setStrokeColor(BLUE)
    canvas.setFillColor(BLUE)
    canvas.setLineWidth(0.15 * mm)
    canvas.setFont("Helvetica", 6.5)
    ups = [
        x
        for x, there in (
            (left + OVERLAP_MM, tile.column > 0),
            (right - OVERLAP_MM, tile.column < sheets.columns - 1),
        )
        if there
    ]
    levels = [
        y
        for y, there in ((high - OVERLAP_MM, tile.row > 0), (low + OVERLAP_MM, tile.row < sheets.rows - 1))
        if there
    ]
    canvas.setDash([0.6 * mm, 1.2 * mm])
    for x in ups:
        canvas.line(x * mm, low * mm, x * mm, high * mm)
    for y in levels:
        canvas.line(left * mm, y * mm, right * mm, y * mm)
    canvas.setDash([])
    for x in [left, *ups, right]:
        for y in [low, *levels, high]:
            canvas.line((x - 3) * mm, y * mm, (x + 3) * mm, y * mm)
            canvas.line(x * mm, (y - 3) * mm, x * mm, (y + 3) * mm)
    for x, step in ((left + 1, -1), (right - 17, 1)):
        if 0 <= tile.column + step < sheets.columns:
            canvas.drawString(
                x * mm, ((low + high) / 2) * mm, f"joins {chr(65 + tile.row)}{tile.column + step + 1}"
            )
    for y, step in ((high - 4, -1), (low + 2, 1)):
        if 0 <= tile.row + step < sheets.rows:
            canvas.drawCentredString(
                (left + right) / 2 * mm, y * mm, f"joins {chr(65 + tile.row + step)}{tile.column + 1}"
            )
