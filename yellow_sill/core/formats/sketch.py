"""A drawing in millimetres that every format can take: lines by pen, and labels."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from ..patch.base import arc_points
from ..patch.rims import Piece

Xy = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Pen:
    """How a line is drawn: width and dashes in mm on paper, colours as #rrggbb, fill or ""; layer is its DXF name."""

    layer: str
    width_mm: float
    dash_mm: tuple[float, ...] = ()
    ink: str = "#14181b"
    fill: str = ""


PENS = {
    "flat": Pen("CUT", 0.35),
    "hole": Pen("CUT", 0.25),
    "bend up": Pen("BEND_UP", 0.25, (4, 2), "#1b4b91"),
    "bend down": Pen("BEND_DOWN", 0.25, (6, 1.5, 1, 1.5), "#1b4b91"),
    "opening": Pen("MARK", 0.18, (1, 1.2), "#566167"),
    "panel": Pen("PANEL", 0.25, (), "#566167", "#e4e9eb"),
    "rust": Pen("RUST", 0.3, (), "#8c3a2b", "#ddb9ae"),
    "cut": Pen("CUT", 0.5),
    "new": Pen("PATCH", 0.3, (), "#14181b", "#fdfefe"),
    "seam": Pen("SEAM", 0.45),
    "tack": Pen("TACK", 0.3, (), "#14181b", "#ffffff"),
    "mark": Pen("MARK", 0.2, (), "#566167"),
}


@dataclass(frozen=True, slots=True)
class Stroke:
    pen: str
    points: tuple[Xy, ...]
    closed: bool = False


@dataclass(frozen=True, slots=True)
class Rim:
    """A line of straight pieces and true arcs from a place on; a closed one ends where it began."""

    pen: str
    start: Xy
    pieces: tuple[Piece, ...]
    closed: bool = True

    @property
    def points(self) -> list[Xy]:
        """Its corners, arcs as chords within 0.002 mm."""
        found, at = [self.start], self.start
        for piece in self.pieces:
            if piece.centre is None:
                found.append(piece.to)
            else:
                found += arc_points(piece.centre, math.dist(at, piece.centre), at, piece.to, piece.clockwise)[
                    1:
                ]
            at = piece.to
        return found[:-1] if self.closed else found


@dataclass(frozen=True, slots=True)
class Disc:
    pen: str
    centre: Xy
    radius_mm: float


@dataclass(frozen=True, slots=True)
class Label:
    """Text centred on a place; height in mm on paper at full size; a kind gives its ink."""

    text: str
    at: Xy
    height_mm: float = 4.0
    ink: str = "#14181b"


@dataclass(slots=True)
class Sketch:
    """Strokes, discs and labels, in the order they are laid down. x right, y up, mm."""

    items: list[Stroke | Rim | Disc | Label] = field(default_factory=list)

    def stroke(self, pen: str, points: Sequence[Sequence[float]], closed: bool = False) -> None:
        self.items.append(Stroke(pen, tuple((float(x), float(y)) for x, y in points), closed))

    def rim(self, pen: str, start: Sequence[float], pieces: Sequence[Piece], closed: bool = True) -> None:
        self.items.append(Rim(pen, (float(start[0]), float(start[1])), tuple(pieces), closed))

    def disc(self, pen: str, centre: Sequence[float], radius_mm: float) -> None:
        self.items.append(Disc(pen, (float(centre[0]), float(centre[1])), radius_mm))

    def label(self, text: str, at: Sequence[float], height_mm: float = 4.0, ink: str = "#14181b") -> None:
        self.items.append(Label(text, (float(at[0]), float(at[1])), height_mm, ink))

    def mirrored(self) -> "Sketch":
        """The other hand: x reversed, text still readable."""
        flip = lambda p: (-p[0], p[1])  # noqa: E731
        out = Sketch()
        for item in self.items:
            if isinstance(item, Stroke):
                out.items.append(Stroke(item.pen, tuple(map(flip, item.points)), item.closed))
            elif isinstance(item, Rim):
                pieces = [
                    Piece(flip(p.to), p.centre and flip(p.centre), not p.clockwise) for p in item.pieces
                ]
                out.items.append(Rim(item.pen, flip(item.start), tuple(pieces), item.closed))
            elif isinstance(item, Disc):
                out.items.append(Disc(item.pen, flip(item.centre), item.radius_mm))
            else:
                out.items.append(Label(item.text, flip(item.at), item.height_mm, item.ink))
        return out

    def bounds(self) -> tuple[float, float, float, float]:
        """x0, y0, x1, y1 of strokes and discs, mm."""
        xs, ys = [], []
        for item in self.items:
            if isinstance(item, Stroke | Rim):
                xs += [p[0] for p in item.points]
                ys += [p[1] for p in item.points]
            elif isinstance(item, Disc):
                xs += [item.centre[0] - item.radius_mm, item.centre[0] + item.radius_mm]
                ys += [item.centre[1] - item.radius_mm, item.centre[1] + item.radius_mm]
        return min(xs), min(ys), max(xs), max(ys)
