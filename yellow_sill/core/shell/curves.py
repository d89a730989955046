"""Curves of the body draughtsman: splines, filleted polylines, superellipses, slots.

Every function takes and gives lists of (u, v) in millimetres; closed figures do not repeat their first point.
"""

import math
from collections.abc import Sequence

from shapely.geometry import LineString, Polygon

Xy = tuple[float, float]


def spline(points: Sequence[Xy], steps: int = 9) -> list[Xy]:
    """Centripetal Catmull-Rom curve through all points, ``steps`` pieces between neighbours.

    Source: Barry and Goldman's pyramidal form with alpha = 0.5, which cannot loop between knots.
    """
    if len(points) < 3:
        return list(points)
    first = (2 * points[0][0] - points[1][0], 2 * points[0][1] - points[1][1])
    last = (2 * points[-1][0] - points[-2][0], 2 * points[-1][1] - points[-2][1])
    knots = [first, *points, last]
    curve: list[Xy] = []
    for i in range(1, len(knots) - 2):
        p = knots[i - 1 : i + 3]
        t = [0.0]
        for a, b in zip(p, p[1:], strict=False):
            t.append(t[-1] + max(math.dist(a, b), 1e-6) ** 0.5)
        for k in range(steps):
            s = t[1] + (t[2] - t[1]) * k / steps
            a1, a2, a3 = (_between(p[j], p[j + 1], t[j], t[j + 1], s) for j in range(3))
            b1, b2 = _between(a1, a2, t[0], t[2], s), _between(a2, a3, t[1], t[3], s)
            curve.append(_between(b1, b2, t[1], t[2], s))
    return [*curve, (points[-1][0], points[-1][1])]


def _between(a: Xy, b: Xy, ta: float, tb: float, s: float) -> Xy:
    return ((tb - s) * a[0] + (s - ta) * b[0]) / (tb - ta), ((tb - s) * a[1] + (s - ta) * b[1]) / (tb - ta)


def filleted(vertices: Sequence[tuple[float, ...]], closed: bool = True, step_deg: float = 9) -> list[Xy]:
    """Polygon or polyline whose vertices may carry a fillet radius: (u, v) or (u, v, radius)."""
    n, out = len(vertices), []
    for i, vertex in enumerate(vertices):
        x, y, radius = (*vertex, 0)[:3]
        if radius <= 0 or (not closed and i in (0, n - 1)):
            out.append((x, y))
            continue
        before, after = vertices[i - 1], vertices[(i + 1) % n]
        out += _fillet((x, y), (before[0], before[1]), (after[0], after[1]), radius, step_deg)
    return out


def _fillet(corner: Xy, before: Xy, after: Xy, radius: float, step_deg: float) -> list[Xy]:
    x, y = corner
    ux, uy, vx, vy = before[0] - x, before[1] - y, after[0] - x, after[1] - y
    lu, lv = math.hypot(ux, uy), math.hypot(vx, vy)
    if min(lu, lv) < 1e-6:
        return [corner]
    ux, uy, vx, vy = ux / lu, uy / lu, vx / lv, vy / lv
    angle = math.acos(max(-1, min(1, ux * vx + uy * vy)))
    if angle > math.pi - 0.02:
        return [corner]
    tangent = min(radius / math.tan(angle / 2), lu * 0.499, lv * 0.499)
    fitted = tangent * math.tan(angle / 2)
    bx, by = ux + vx, uy + vy
    reach = fitted / math.sin(angle / 2) / math.hypot(bx, by)
    cx, cy = x + bx * reach, y + by * reach
    start = math.atan2(y + uy * tangent - cy, x + ux * tangent - cx)
    end = math.atan2(y + vy * tangent - cy, x + vx * tangent - cx)
    sweep = (end - start + math.pi) % (2 * math.pi) - math.pi
    k = max(2, int(abs(math.degrees(sweep)) / step_deg))
    return [
        (cx + fitted * math.cos(start + sweep * j / k), cy + fitted * math.sin(start + sweep * j / k))
        for j in range(k + 1)
    ]


def ellipse(
    cu: float,
    cv: float,
    ru: float,
    rv: float | None = None,
    start_deg: float = 0,
    end_deg: float = 360,
    pieces: int = 40,
    power: float = 2.0,
) -> list[Xy]:
    """Arc of a (super)ellipse; power 2 is round, above 2 squarer."""
    rv = ru if rv is None else rv
    out = []
    for i in range(pieces + 1):
        t = math.radians(start_deg + (end_deg - start_deg) * i / pieces)
        c, s = math.cos(t), math.sin(t)
        out.append(
            (
                cu + ru * math.copysign(abs(c) ** (2 / power), c),
                cv + rv * math.copysign(abs(s) ** (2 / power), s),
            )
        )
    return out


def slot(u0: float, v0: float, u1: float, v1: float, width: float, quarter: int = 8) -> list[Xy]:
    """A slot or pressed rib with round ends between two centres."""
    return list(LineString([(u0, v0), (u1, v1)]).buffer(width / 2, quad_segs=quarter).exterior.coords)[:-1]


def rect(u0: float, v0: float, u1: float, v1: float, radius: float = 0) -> list[Xy]:
    """A rectangle with rounded corners."""
    return filleted([(u0, v0, radius), (u1, v0, radius), (u1, v1, radius), (u0, v1, radius)])


def strip(points: Sequence[Xy], half_width: float) -> Polygon:
    """A strip of constant width along a line, square ends."""
    return LineString(points).buffer(half_width, cap_style="flat")


def mirror_v(points: Sequence[Xy]) -> list[Xy]:
    return [(u, -v) for u, v in points]


def half_and_mirror(half: list[Xy]) -> Polygon:
    """A shape across the centre line from its right half (x, y), given from front to rear or round it."""
    return Polygon([*half, *[(x, -y) for x, y in reversed(half)]]).buffer(0)


def walk(points: Sequence[Xy], pitch: float, inset: float = 0) -> list[Xy]:
    """Points at about equal pitch along a line, such as a row of spot welds; ``inset`` stays free at both ends."""
    path = LineString(points)
    n = max(1, round((path.length - 2 * inset) / pitch))
    return [path.interpolate(inset + (path.length - 2 * inset) * i / n).coords[0] for i in range(n + 1)]
