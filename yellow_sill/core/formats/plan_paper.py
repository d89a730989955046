"""The plan on paper: a slot's card to take into the garage, and the whole way from the first day to the likely finish for the wall."""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from reportlab.lib.pagesizes import A3, A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from ..order.asked import Slot
from ..order.picture import Drawn, bar_of, ticks
from .letters import Page
from .pdf import clip_text

MARGIN = 15 * mm
#: Sheets for the wall.
WALLS = {"a4": landscape(A4), "a3": landscape(A3)}


@dataclass(frozen=True, slots=True, kw_only=True)
class Card:
    """What a slot's card says: steps with their times in words, what must be ready, how it ends."""

    vehicle: str
    title: str
    slot: Slot
    drawn: Sequence[Drawn]
    lines: Sequence[tuple[str, str]]
    ready: Sequence[str]
    end: str


def slot_card(card: Card) -> bytes:
    """A slot's card, A4 upright: the ruled bar, the steps with a box to tick, what must be ready, the end."""
    stream = io.BytesIO()
    canvas = Page(stream, pagesize=A4, invariant=1)
    canvas.setTitle(f"{card.title}, {card.vehicle}")
    width, height = A4
    wide = width - 2 * MARGIN
    canvas.setFont("Helvetica-Bold", 18)
    canvas.drawString(MARGIN, height - 22 * mm, clip_text(card.title, 120, 18, "Helvetica-Bold"))
    canvas.setFont("Helvetica", 10)
    canvas.drawRightString(width - MARGIN, height - 22 * mm, card.vehicle)
    minutes = (card.slot.ends - card.slot.begins).total_seconds() / 60
    scale, low = wide / max(1.0, minutes), height - 46 * mm
    bar = bar_of(card.slot, card.drawn, x=MARGIN, scale=scale)
    for tick in ticks(card.slot, scale=scale):
        long = 4 * mm if tick.figure else 1.6 * mm
        canvas.line(MARGIN + tick.x, low + 10 * mm, MARGIN + tick.x, low + 10 * mm + long)
        if tick.figure:
            canvas.setFont("Courier", 8)
            canvas.drawCentredString(MARGIN + tick.x, low + 15 * mm, tick.figure)
    canvas.setFillGray(0.9)
    canvas.rect(bar.watch, low, bar.watch_width, 10 * mm, fill=1)
    canvas.setFillGray(0)
    canvas.rect(MARGIN, low, wide, 10 * mm)
    for piece in bar.pieces:
        canvas.setFillGray(1)
        canvas.rect(piece.x, low, piece.width, 10 * mm, fill=1)
        canvas.setFillGray(0)
        if piece.width < 24:
            continue
        canvas.setFont("Helvetica", 7.5)
        canvas.drawString(piece.x + 2, low + 4 * mm, clip_text(piece.name, (piece.width - 4) / mm, 7.5))
    at = low - 12 * mm
    for times, name in card.lines:
        at = _room(canvas, at, height)
        canvas.rect(MARGIN, at - 0.6 * mm, 4 * mm, 4 * mm)
        canvas.setFont("Courier", 9)
        canvas.drawString(MARGIN + 7 * mm, at, times)
        canvas.setFont("Helvetica", 11)
        canvas.drawString(MARGIN + 40 * mm, at, clip_text(name, wide / mm - 42, 11))
        at -= 8 * mm
    for head, lines in (
        ("Ready before", card.ready),
        (
            "At its end",
            [card.end, "Fire watch: an hour after the last spark. Look again before you lock up."],
        ),
    ):
        at = _room(canvas, at - 3 * mm, height)
        canvas.setFont("Helvetica-Bold", 11)
        canvas.drawString(MARGIN, at, head)
        at -= 6 * mm
        canvas.setFont("Helvetica", 10)
        for line in lines:
            at = _room(canvas, at, height)
            canvas.drawString(MARGIN, at, clip_text(line, wide / mm, 10))
            at -= 5.5 * mm
    canvas.save()
    return stream.getvalue()


def _room(canvas: Canvas, at: float, height: float) -> float:
    """Where the next line goes: on a new page where this one is full."""
    if at > 18 * mm:
        return at
    canvas.showPage()
    return height - 22 * mm


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """A row of the wall picture: a repair's name, what was worked on it (days), its way in the plan (first, last day), whether it is done."""

    name: str
    worked: Sequence[date]
    first: date | None = None
    last: date | None = None


def wall(
    vehicle: str, spans: Sequence[Span], today: date, likely: date | None, late: date | None, sheet: str
) -> bytes:
    """One picture from the first day to the likely finish. Args: sheet: a4 or a3."""
    stream, size = io.BytesIO(), WALLS[sheet]
    canvas = Page(stream, pagesize=size, invariant=1)
    canvas.setTitle(f"The way of {vehicle}")
    width, height = size
    days = [day for span in spans for day in (*span.worked, span.first, span.last) if day]
    first = min([*days, today]).replace(day=1)
    last = max([*days, today, *([late] if late else [])]) + timedelta(days=7)
    left, right, top, low = MARGIN + 52 * mm, width - MARGIN, height - 30 * mm, 18 * mm
    x = lambda day: left + (right - left) * (day - first).days / max(1, (last - first).days)  # noqa: E731
    canvas.setFont("Helvetica-Bold", 18)
    canvas.drawString(MARGIN, height - 18 * mm, vehicle)
    month = first
    canvas.setFont("Helvetica", 8)
    while month <= last:
        canvas.setStrokeGray(0.8)
        canvas.line(x(month), low, x(month), top)
        canvas.drawString(x(month) + 1.5, top + 2, f"{month:%b %y}")
        month = (month + timedelta(days=32)).replace(day=1)
    tall = min(18 * mm, (top - low) / max(1, len(spans)))
    for n, span in enumerate(spans):
        y = top - (n + 1) * tall
        canvas.setFont("Helvetica", min(10.0, tall * 0.55))
        canvas.drawString(MARGIN, y + tall * 0.3, clip_text(span.name, 50, min(10.0, tall * 0.55)))
        canvas.setFillGray(0)
        for day in span.worked:
            canvas.rect(x(day), y + tall * 0.2, max(1.2, x(day + timedelta(days=1)) - x(day)), tall * 0.6, stroke=0, fill=1)  # fmt: skip
        if span.first and span.last:
            canvas.setStrokeGray(0)
            canvas.rect(x(span.first), y + tall * 0.2, max(2.0, x(span.last) - x(span.first)), tall * 0.6)
    marks = ((today, "today"), (likely, "as likely as not"), (late, "four times in five"))
    for n, (mark, words) in enumerate(marks):
        if mark:
            canvas.setStrokeGray(0)
            canvas.setLineWidth(1.6 if mark == today else 0.8)
            canvas.line(x(mark), low - 4 - 9 * n, x(mark), top)
            canvas.setFont("Helvetica-Bold", 8)
            said = f"{words}, {mark.day}.{mark.month}.{mark.year}"
            canvas.drawRightString(x(mark) - 3, low - 4 - 9 * n, said)
    canvas.save()
    return stream.getvalue()


def times_of(begins: datetime, ends: datetime) -> str:
    """From and to, as a card says it."""
    return f"{begins:%H:%M}-{ends:%H:%M}"
