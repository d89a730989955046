"""An outline from a drawing made elsewhere: the largest closed shape of an SVG or DXF file, in millimetres."""

import io
import math
import re
from collections.abc import Sequence

from shapely.geometry import Polygon

from ..errors import BadField
from ..geometry import outline_polygon, ring
from ..records import MOST_CORNERS
from ..said import Listed, Mm, Said

MOST_BYTES = 2_000_000
FLAT_MM = 0.2  #: curves become straight pieces no farther than this off
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
    scale = _svg_scale(data, unit)
    from svgelements import SVG, Path, Shape  # slow to import, and only this needs it

    try:
        drawing = SVG.parse(io.BytesIO(data), reify=True)
        found = []
        for element in drawing.elements():
            if not isinstance(element, Shape):
                continue
            for part in Path(element).as_subpaths():
                path = Path(part)
                length = path.length(error=1e-3)
                if not math.isfinite(length) or length <= 0:
                    continue
                pieces = [segment for segment in path if type(segment).__name__ != "Move"]
                points: list[tuple[float, float]] = []
                for segment in pieces:
                    curved = type(segment).__name__ not in ("Line", "Close")
                    steps = max(4, min(64, int(segment.length(error=1e-3) / 12))) if curved else 1
                    points += [
                        (p.x * scale, -p.y * scale)
                        for p in (segment.point(k / steps) for k in range(steps))
                        if p is not None
                    ]
                found.append(points)
        return found
    except Exception:
        raise BadField("This SVG cannot be read.", "drawing", "Save it again as plain SVG.") from None


def _dxf(data: bytes, unit: str) -> list[list[tuple[float, float]]]:
    import ezdxf
    from ezdxf import recover
    from ezdxf.path import make_path

    try:
        document, _ = recover.read(io.BytesIO(data))
        scale = _SAID_MM[unit] if unit else _DXF_MM.get(document.header.get("$INSUNITS", 0), 0.0)
        if not scale:
            raise _ask("DXF")
        found = []
        for entity in document.modelspace().query("LWPOLYLINE POLYLINE CIRCLE ELLIPSE SPLINE"):
            path = make_path(entity)
            if path.is_closed:
                points = [(p.x * scale, p.y * scale, p.z * scale) for p in path.flattening(FLAT_MM / scale)][
                    :-1
                ]
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
