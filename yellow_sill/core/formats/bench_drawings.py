"""Drawings of the bench's sums: rings of strain, section templates, formers, drill templates and frames of jigs."""

from collections.abc import Sequence

from ..geometry import Xy
from ..patch.filler import Filler
from ..patch.jig import Jig, JigMark
from ..patch.pressed import BeadTold, Former, PressedTold
from ..patch.rims import Piece
from ..patch.shape import ShapeTold
from .drawings import BLUE, CROSS_MM
from .sketch import Sketch

#: Card left under a section's lowest place; between two things on one drawing, mm.
CARD_MM, BETWEEN_MM = 40.0, 30.0


def strain_sketch(told: ShapeTold) -> Sketch:
    """The panel from above with its rings of strain and their figures in per cent, and what each edge must gain."""
    sketch = Sketch()
    u, v = told.size_mm
    type_mm = max(3.0, 0.032 * max(u, v))
    sketch.stroke("flat", [(0, 0), (u, 0), (u, v), (0, v)], closed=True)
    for ring in told.rings:
        sketch.stroke("bend up" if ring.strain >= 0 else "bend down", ring.path)
        sketch.label(f"{100 * ring.strain:+.1f} %", ring.path[len(ring.path) // 2], type_mm * 0.8, BLUE)
    off = 1.2 * type_mm
    places = ((u / 4, off), (u / 4, v - off), (2.6 * type_mm, v / 4), (u - 2.6 * type_mm, v / 4))
    for edge, at in zip(told.edges, places, strict=True):
        sketch.label(f"{edge.gain_mm:+.1f} mm", at, type_mm)
    return sketch


def template_sketch(told: ShapeTold) -> Sketch:
    """Section templates at full size, one above another: the curve above, a straight base with its name below."""
    sketch, floor = Sketch(), 0.0
    names = [
        f"{way} {share}"
        for way in ("along", "across")
        for share in ("at a quarter", "in the middle", "at three quarters")
    ]
    for name, points in zip(names, told.templates, strict=True):
        low, high = min(h for _, h in points), max(h for _, h in points)
        base = floor - high
        length = points[-1][0]
        rim = [(s, base + h) for s, h in points]
        sketch.stroke(
            "flat", [*rim, (length, base + low - CARD_MM), (0.0, base + low - CARD_MM)], closed=True
        )
        sketch.label(name, (length / 2, base + low - CARD_MM / 2), max(6.0, 0.05 * length))
        floor = base + low - CARD_MM - BETWEEN_MM
    return sketch


def _rounded(sketch: Sketch, middle: Xy, size: tuple[float, float, float]) -> None:
    """A rectangle with true round corners: length, width, corner."""
    u, v, r = size[0] / 2, size[1] / 2, min(size[2], size[0] / 2, size[1] / 2)
    a, b = middle
    if r <= 0:
        sketch.stroke("flat", [(a - u, b - v), (a + u, b - v), (a + u, b + v), (a - u, b + v)], closed=True)
        return
    pieces = []
    for su, sv, first in ((1, -1, False), (1, 1, True), (-1, 1, False), (-1, -1, True)):
        centre = (a + su * (u - r), b + sv * (v - r))
        along, across = (centre[0], b + sv * v), (a + su * u, centre[1])
        start, end = (across, along) if first else (along, across)
        pieces += [Piece(start, None, False), Piece(end, centre, False)]
    sketch.rim("flat", pieces[-1].to, pieces)


def former_sketch(formers: Sequence[Former]) -> Sketch:
    """Formers beside one another at full size, with their names."""
    sketch, left = Sketch(), 0.0
    for former in formers:
        middle = (left + former.length_mm / 2, former.width_mm / 2)
        _rounded(sketch, middle, (former.length_mm, former.width_mm, former.corner_mm))
        if former.hole_mm:
            _rounded(sketch, middle, former.hole_mm)
        sketch.label(former.name, middle, max(7.0, 0.05 * former.length_mm))
        left += former.length_mm + BETWEEN_MM
    return sketch


def bead_sketch(beads: Sequence[BeadTold], height_mm: float = 200.0) -> Sketch:
    """A row of beads on the flat: their middles, numbered in the order of pressing."""
    sketch = Sketch()
    for order, bead in enumerate(beads, start=1):
        sketch.stroke("bend up", [(bead.flat_mm, 0), (bead.flat_mm, height_mm)])
        sketch.label(str(order), (bead.flat_mm, height_mm + 8), 6.0)
        sketch.label(f"{bead.flat_mm:+.1f}", (bead.flat_mm, -8), 5.0)
    return sketch


def pressed_sketch(told: PressedTold) -> Sketch | None:
    """Formers, else the beads; None where there is neither."""
    if told.recess:
        return former_sketch(told.recess.formers)
    return bead_sketch(told.beads) if told.beads else None


def jig_sketch(told: Jig, marks: Sequence[JigMark]) -> Sketch:
    """A plate as a drill template at full size; a frame from above with its bars and their lengths."""
    sketch = Sketch()
    if told.holes:
        sketch.stroke("flat", told.outline, closed=True)
        for hole in told.holes:
            _drilled(sketch, hole.at, hole.diameter_mm, hole.mark)
        return sketch
    at = _from_above(marks)
    size = max(
        40.0, 0.03 * max(max(p[k] for p in at.values()) - min(p[k] for p in at.values()) for k in (0, 1))
    )
    for bar in told.bars:
        first, second = at[bar.first], at[bar.second]
        sketch.stroke("cut", [first, second])
        middle = ((first[0] + second[0]) / 2, (first[1] + second[1]) / 2)
        sketch.label(f"{bar.holes_mm:.0f}", middle, size * 0.7, BLUE)
    for name, place in at.items():
        sketch.disc("tack", place, size * 0.25)
        sketch.label(name, (place[0], place[1] + size * 0.8), size * 0.7)
    return sketch


def _from_above(marks: Sequence[JigMark]) -> dict[str, Xy]:
    """Marks along the two axes in which they spread most."""
    spread = [max(mark.at[k] for mark in marks) - min(mark.at[k] for mark in marks) for k in range(3)]
    first, second = sorted(sorted(range(3), key=lambda k: -spread[k])[:2])
    return {mark.name: (mark.at[first], mark.at[second]) for mark in marks}


def _drilled(sketch: Sketch, at: Xy, diameter: float, name: str) -> None:
    u, v = at
    sketch.disc("hole", at, diameter / 2)
    arm = diameter / 2 + CROSS_MM
    sketch.stroke("mark", [(u - arm, v), (u + arm, v)])
    sketch.stroke("mark", [(u, v - arm), (u, v + arm)])
    sketch.label(f"{name}, {diameter:g} mm", (u, v + arm + 3), 5.0)


def filler_sketch(strip: Filler) -> Sketch:
    """A filler strip at full size, with the line to which the patch is cut back."""
    sketch = Sketch()
    sketch.stroke("flat", strip.outline, closed=True)
    sketch.stroke("opening", strip.cut_back)
    middle = strip.cut_back[len(strip.cut_back) // 2]
    sketch.label(f"{strip.name}: cut the patch back to here", (middle[0], middle[1] + 6), 4.0)
    return sketch
