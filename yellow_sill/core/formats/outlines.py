"""An outline from a drawing made elsewhere: the largest closed shape of an SVG or DXF file, in millimetres."""

import cmath
import io
import math
import re
from collections.abc import Sequence
from itertools import islice
from typing import Any
from xml.etree import ElementTree

import numpy as np
from shapely.geometry import Polygon

from ..errors import BadField
from ..geometry import outline_polygon, ring
from ..records import MOST_CORNERS
from ..said import Listed, Mm, Said

MOST_BYTES = 2_000_000
FLAT_MM = 0.2  #: curves become straight pieces no farther than this off
#: So many points a drawing may have; so many elements with all that is drawn again; so deep may they lie in one another.
MOST_POINTS, MOST_ECHOES, MOST_DEEP = 20_000, 30_000, 60
#: A side bulged more (in DXF, the tangent of a quarter of its angle) would be an arc of all but a full circle.
MOST_BULGE = 1000.0
#: Units of a DXF ($INSUNITS) in mm: inch, foot, mm, cm, m.
_DXF_MM = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}
_SVG_PX_MM = 25.4 / 96
#: What a person may say a drawing's unit is, and the words for it.
UNITS = {"": "as the drawing says", "mm": "millimetres", "cm": "centimetres", "in": "inches"}
_SAID_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}
_PHYSICAL = re.compile(r"^\s*[0-9.]+(?:e[-+]?[0-9]+)?\s*(mm|cm|in|pt|pc)\s*$", re.IGNORECASE)


class UnitUnknown(BadField):
    """A drawing that does not say what its figures are."""

    code = "UNIT-UNKNOWN"


def _ask(kind: str) -> UnitUnknown:
    return UnitUnknown(
        Said("This {kind} does not say in which unit it is drawn.", kind=kind),
        "unit",
        "Say it beside the file: millimetres, centimetres or inches.",
    )


def outline_from_file(
    data: bytes, name: str, at: Sequence[float] = (0.0, 0.0), unit: str = ""
) -> list[list[float]]:
    """The largest closed outline in a file.

    Args: data: the file; name: for its ending, .svg or .dxf; at: where the lower left of its bounds is laid, mm;
        unit: mm, cm or in, said by a person; empty: as the drawing says.
    Returns: corners, y up, mm.
    Raises: BadField for another kind of file, or one without a closed outline or not flat; UnitUnknown where nobody says the unit;
        BadOutline for one that crosses itself.
    """
    if len(data) > MOST_BYTES:
        raise BadField(
            Said("This drawing has {data:.0f} MB; 2 MB are taken.", data=len(data) / 1e6),
            "drawing",
            "Save only the outline.",
        )
    kind = name.lower().rsplit(".", 1)[-1]
    if kind not in ("svg", "dxf"):
        raise BadField(
            Said("A .{kind} file cannot be read here.", kind=kind[:8]),
            "drawing",
            "Save the outline as SVG or DXF.",
        )
    if unit not in UNITS:
        raise BadField(
            "There is no such unit.",
            "unit",
            Said("Choose one of: {units}.", units=Listed(tuple(UNITS.values()))),
        )
    shapes = _svg(data, unit) if kind == "svg" else _dxf(data, unit)
    closed = [points for points in shapes if len(points) >= 3 and Polygon(points).area > 1]
    if not closed:
        raise BadField(
            "There is no closed outline in this drawing.",
            "drawing",
            "Draw it as one closed polyline or path.",
        )
    best = max(closed, key=lambda points: Polygon(points).area)
    if len(best) > MOST_CORNERS:
        best = list(Polygon(best).simplify(FLAT_MM).exterior.coords)[:-1]
    u0, v0, _, _ = Polygon(best).bounds
    return ring(
        outline_polygon([(u - u0 + at[0], v - v0 + at[1]) for u, v in best], "drawing").exterior.coords, 2
    )


def _svg_scale(data: bytes, unit: str) -> float:
    """Millimetres for one pixel as the library counts them. Raises: UnitUnknown."""
    head = re.search(rb"<svg\b[^>]*>", data, re.DOTALL)
    if head is None:
        raise BadField("This SVG cannot be read.", "drawing", "Save it again as plain SVG.")
    told = dict(re.findall(r"""([\w:-]+)\s*=\s*["']([^"']*)["']""", head[0].decode("utf-8", "replace")))
    width = told.get("width", "")
    if not unit:
        if _PHYSICAL.match(width) or _PHYSICAL.match(told.get("height", "")):
            return _SVG_PX_MM
        raise _ask("SVG")
    box = [
        float(part)
        for part in re.findall(r"-?[0-9.]+(?:e[-+]?[0-9]+)?", told.get("viewBox", ""), re.IGNORECASE)
    ]
    shown = re.match(r"\s*([0-9.]+)", width)
    if len(box) != 4 or box[2] <= 0 or not shown:
        return _SAID_MM[unit]
    physical = _PHYSICAL.match(width)
    px = (
        {"mm": 96 / 25.4, "cm": 960 / 25.4, "in": 96.0, "pt": 96 / 72, "pc": 16.0}[physical[1].lower()]
        if physical
        else 1.0
    )
    return _SAID_MM[unit] * box[2] / (float(shown[1]) * px)


def _svg(data: bytes, unit: str) -> list[list[tuple[float, float]]]:
    _refuse_echoes(data)
    scale = _svg_scale(data, unit)
    from svgelements import SVG, Path, Shape  # slow to import, and only this needs it

    try:
        drawing = SVG.parse(io.BytesIO(data), reify=True)
        found, left = [], MOST_POINTS
        for element in drawing.elements():
            if not isinstance(element, Shape):
                continue
            for part in Path(element).as_subpaths():
                points: list[complex] = []
                for segment in Path(part):
                    points += _flattened(segment, FLAT_MM / scale, left - len(points))
                left -= len(points)
                found.append([(p.real * scale, -p.imag * scale) for p in points])
        return found
    except BadField:
        raise
    except Exception:
        raise BadField("This SVG cannot be read.", "drawing", "Save it again as plain SVG.") from None


def _refuse_echoes(data: bytes) -> None:
    """A drawing that draws parts of itself again and again. Raises: BadField where all its echoes are too many to draw."""
    try:
        root = ElementTree.fromstring(data)  # noqa: S314 - expat refuses entities that grow
    except (ElementTree.ParseError, ValueError):
        raise BadField("This SVG cannot be read.", "drawing", "Save it again as plain SVG.") from None
    by_id = {each.get("id"): each for each in root.iter() if each.get("id")}
    drawn: dict[object, int] = {}

    def count(element: ElementTree.Element, deep: int) -> int:
        if element in drawn:
            return drawn[element]
        echo = None
        if element.tag.rpartition("}")[2] == "use":
            name = element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or ""
            echo = by_id.get(name.removeprefix("#"))
        total = MOST_ECHOES + 1 if deep > MOST_DEEP else 1 + sum(count(each, deep + 1) for each in element)
        if echo is not None and total <= MOST_ECHOES:
            total += count(echo, deep + 1)
        drawn[element] = min(total, MOST_ECHOES + 1)
        return drawn[element]

    if count(root, 0) > MOST_ECHOES:
        raise BadField(
            "This SVG draws parts of itself again too many times.",
            "drawing",
            "Save only the outline, as a plain path.",
        )


def _flattened(segment: Any, flat: float, most: int) -> list[complex]:
    """A segment of a path as points, without its last, no farther off it than ``flat`` (in the drawing's own unit).

    Raises: BadField for more than ``most`` points.
    Source: the second derivative of a Bezier bounds how far a chord is off it; docs/methods.md section 4.
    """
    kind = type(segment).__name__
    if kind == "Move" or segment.start is None or segment.end is None:
        return []
    if kind == "Arc":
        return [point for curve in segment.as_cubic_curves() for point in _flattened(curve, flat, most)]
    ends = [complex(segment.start), complex(segment.end)]
    if kind == "CubicBezier":
        handles = [complex(segment.control1), complex(segment.control2)]
    elif kind == "QuadraticBezier":
        middle = complex(segment.control)
        handles = [(ends[0] + 2 * middle) / 3, (ends[1] + 2 * middle) / 3]
    else:
        handles = []
    a, d = ends
    if not all(cmath.isfinite(point) for point in (*ends, *handles)):
        raise BadField("A corner of this drawing has no place.", "drawing", "Save it again as plain SVG.")
    steps = 1
    if handles:
        b, c = handles
        off = max(abs(a - 2 * b + c), abs(b - 2 * c + d))
        steps = max(1, math.ceil(math.sqrt(min(0.75 * off / flat, 1e12))))
    if steps > most:
        raise _too_many()
    if not handles:
        return [a]
    t = np.arange(steps) / steps
    return list((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d)


def _too_many() -> BadField:
    return BadField(
        Said("This drawing has more than {most} points.", most=MOST_POINTS),
        "drawing",
        "Save only the outline, with fewer of them.",
    )


def _dxf(data: bytes, unit: str) -> list[list[tuple[float, float]]]:
    import ezdxf
    from ezdxf import recover
    from ezdxf.path import make_path

    try:
        document, _ = recover.read(io.BytesIO(data))
        scale = _SAID_MM[unit] if unit else _DXF_MM.get(document.header.get("$INSUNITS", 0), 0.0)
        if not scale:
            raise _ask("DXF")
        found, left = [], MOST_POINTS
        for entity in document.modelspace().query("LWPOLYLINE POLYLINE CIRCLE ELLIPSE SPLINE"):
            if any(abs(bulge) > MOST_BULGE for bulge in _bulges(entity)):
                raise BadField(
                    "An arc of this DXF is bulged beyond a full circle.",
                    "drawing",
                    "Draw that arc again, or as short lines.",
                )
            path = make_path(entity)
            if path.is_closed:
                points = [
                    (p.x * scale, p.y * scale, p.z * scale)
                    for p in islice(path.flattening(FLAT_MM / scale), left + 1)
                ][:-1]
                left -= len(points)
                if left <= 0:
                    raise _too_many()
                heights = [z for _, _, z in points]
                if heights and max(heights) - min(heights) > FLAT_MM:
                    deep = max(heights) - min(heights)
                    raise BadField(
                        Said("An outline of this DXF is not flat: it rises by {deep}.", deep=Mm(deep, 1)),
                        "drawing",
                        "Draw it flat, in the panel's own plane.",
                    )
                found.append([(x, y) for x, y, _ in points])
        return found
    except (ezdxf.DXFError, OSError, ValueError, TypeError, KeyError, IndexError):
        raise BadField("This DXF cannot be read.", "drawing", "Save it again as DXF, any year.") from None


def _bulges(entity: Any) -> list[float]:
    """How far each side of a polyline is bulged: the tangent of a quarter of its arc's angle."""
    if entity.dxftype() == "LWPOLYLINE":
        return [float(point[0]) for point in entity.get_points("b")]
    if entity.dxftype() == "POLYLINE":
        return [float(vertex.dxf.get("bulge", 0.0)) for vertex in entity.vertices]
    return []
