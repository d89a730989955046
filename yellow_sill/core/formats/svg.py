"""A sketch as an SVG file at full size."""

import math
from xml.sax.saxutils import escape

from ..patch.rims import bulge
from .sketch import PENS, Disc, Label, Rim, Sketch, Stroke

BORDER_MM = 5.0


def _number(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".") or "0"


def svg_file(sketch: Sketch, title: str) -> str:
    """The sketch as a stand-alone SVG: width and height in mm, one user unit is one millimetre.

    Args: sketch: at least one stroke; title: shown by viewers.
    Returns: the file's text.
    """
    x0, y0, x1, y1 = sketch.bounds()
    width, height = x1 - x0 + 2 * BORDER_MM, y1 - y0 + 2 * BORDER_MM
    body = "".join(_item(item, y0 + y1) for item in sketch.items)
    view = f"{_number(x0 - BORDER_MM)} {_number(y0 - BORDER_MM)} {_number(width)} {_number(height)}"
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{_number(width)}mm" height="{_number(height)}mm" viewBox="{view}">'
        f"<title>{escape(title)}</title>{body}</svg>\n"
    )


def svg_parts(sketch: Sketch) -> tuple[str, str]:
    """The view box and the body of a sketch for a page, y already turned down."""
    x0, y0, x1, y1 = sketch.bounds()
    edge = 0.04 * max(x1 - x0, y1 - y0)
    view = f"{_number(x0 - edge)} {_number(y0 - edge)} {_number(x1 - x0 + 2 * edge)} {_number(y1 - y0 + 2 * edge)}"
    return view, "".join(_item(item, y0 + y1) for item in sketch.items)


def _item(item: Stroke | Rim | Disc | Label, flip: float) -> str:
    if isinstance(item, Label):
        x, y = item.at
        size = _number(item.height_mm)
        place = f'x="{_number(x)}" y="{_number(flip - y + item.height_mm * 0.35)}"'
        return f'<text {place} font-size="{size}" text-anchor="middle" font-family="sans-serif" fill="{item.ink}">{escape(item.text)}</text>'
    pen = PENS[item.pen]
    look = f'fill="{pen.fill or "none"}" stroke="{pen.ink}" stroke-width="{pen.width_mm}"'
    if pen.dash_mm:
        look += f' stroke-dasharray="{" ".join(map(_number, pen.dash_mm))}"'
    if isinstance(item, Disc):
        return f'<circle class="pen-{item.pen}" cx="{_number(item.centre[0])}" cy="{_number(flip - item.centre[1])}" r="{_number(item.radius_mm)}" {look}/>'
    if isinstance(item, Rim):
        return f'<path class="pen-{_pen(item.pen)}" d="{_rim(item, flip)}" {look}/>'
    path = (
        "M"
        + "L".join(f"{_number(x)} {_number(flip - y)}" for x, y in item.points)
        + ("Z" if item.closed else "")
    )
    return f'<path class="pen-{_pen(item.pen)}" d="{path}" {look}/>'


def _pen(name: str) -> str:
    return name.replace(" ", "-")


def _rim(rim: Rim, flip: float) -> str:
    """Its path; arcs as arcs, the page's y turned down."""
    told, at = [f"M{_number(rim.start[0])} {_number(flip - rim.start[1])}"], rim.start
    for piece in rim.pieces:
        x, y = _number(piece.to[0]), _number(flip - piece.to[1])
        if piece.centre is None:
            told.append(f"L{x} {y}")
        else:
            radius = _number(math.dist(at, piece.centre))
            large = int(abs(bulge(at, piece)) > 1.0)  # more than half a turn
            told.append(f"A{radius} {radius} 0 {large} {int(piece.clockwise)} {x} {y}")
        at = piece.to
    return "".join(told) + ("Z" if rim.closed else "")
