"""An outline from a drawing made elsewhere: the largest closed shape of an SVG or DXF file, in millimetres."""

import io
import math
from collections.abc import Sequence

from shapely.geometry import Polygon

from ..errors import BadField
from ..geometry import outline_polygon, ring
from ..records import MOST_CORNERS

MOST_BYTES = 2_000_000
FLAT_MM = 0.2  #: curves become straight pieces no farther than this off
#: Units of a DXF ($INSUNITS) in mm: inch, foot, mm, cm, m; without a unit it is taken as mm.
_DXF_MM = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}
_SVG_PX_MM = 25.4 / 96


def outline_from_file(data: bytes, name: str, at: Sequence[float] = (0.0, 0.0)) -> list[list[float]]:
    """The largest closed outline in a file.

    Args: data: the file; name: for its ending, .svg or .dxf; at: where the lower left of its bounds is laid, mm.
    Returns: corners, y up, mm.
    Raises: BadField for another kind of file, or one without a closed outline; BadOutline for one that crosses itself.
    """
    if len(data) > MOST_BYTES:
        raise BadField(f"This drawing has {len(data) / 1e6:.0f} MB; 2 MB are taken.", "drawing", "Save only the outline.")
    kind = name.lower().rsplit(".", 1)[-1]
    if kind not in ("svg", "dxf"):
        raise BadField(f"A .{kind[:8]} file cannot be read here.", "drawing", "Save the outline as SVG or DXF.")
    shapes = _svg(data) if kind == "svg" else _dxf(data)
    closed = [points for points in shapes if len(points) >= 3 and Polygon(points).area > 1]
    if not closed:
        raise BadField("There is no closed outline in this drawing.", "drawing", "Draw it as one closed polyline or path.")
    best = max(closed, key=lambda points: Polygon(points).area)
    if len(best) > MOST_CORNERS:
        best = list(Polygon(best).simplify(FLAT_MM).exterior.coords)[:-1]
    u0, v0, _, _ = Polygon(best).bounds
    return ring(outline_polygon([(u - u0 + at[0], v - v0 + at[1]) for u, v in best], "drawing").exterior.coords, 2)


def _svg(data: bytes) -> list[list[tuple[float, float]]]:
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
                    points += [(p.x * _SVG_PX_MM, -p.y * _SVG_PX_MM) for p in (segment.point(k / steps) for k in range(steps)) if p is not None]
                found.append(points)
        return found
    except Exception:
        raise BadField("This SVG cannot be read.", "drawing", "Save it again as plain SVG.") from None


def _dxf(data: bytes) -> list[list[tuple[float, float]]]:
    import ezdxf
    from ezdxf import recover
    from ezdxf.path import make_path

    try:
        document, _ = recover.read(io.BytesIO(data))
        scale = _DXF_MM.get(document.header.get("$INSUNITS", 0), 1.0)
        found = []
        for entity in document.modelspace().query("LWPOLYLINE POLYLINE CIRCLE ELLIPSE SPLINE"):
            path = make_path(entity)
            if path.is_closed:
                found.append([(p.x * scale, p.y * scale) for p in path.flattening(FLAT_MM / scale)][:-1])
        return found
    except (ezdxf.DXFError, OSError, ValueError, TypeError, KeyError, IndexError):
        raise BadField("This DXF cannot be read.", "drawing", "Save it again as DXF, any year.") from None
