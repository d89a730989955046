"""Polygons and paths that the stages share, on shapely. Plane coordinates in millimetres."""

import math
from collections.abc import Iterable, Sequence

import numpy as np
from shapely import make_valid
from shapely.geometry import LineString, MultiPolygon, Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.validation import explain_validity

from .errors import BadOutline
from .records import FARTHEST_MM, MOST_CORNERS
from .said import Said

Xy = tuple[float, float]

#: Stored coordinates are rounded to this; a scriber line is some 0.1 mm wide.
ROUND_MM = 0.001

#: An outline smaller than this is a slip of the hand, not a hole; a 1 mm pinhole has 0.8 mm2.
LEAST_AREA_MM2 = 0.5

#: Straight pieces per quarter turn when a corner is rounded; half a hundredth of the radius off a true arc.
QUARTER_STEPS = 8


def outline_polygon(points: Iterable[Sequence[float]], where: str) -> Polygon:
    """A polygon from typed or drawn corners, or a refusal that says what to mend.

    Args:
        points: corners [x, y] in mm, in order round the outline; a repeated first corner at the end is dropped.
        where: what the outline belongs to, for the message.
    Returns: a valid polygon without holes, corners in the order given.
    Raises: BadOutline: fewer than three corners, more than MOST_CORNERS, not finite, crossing itself, or no area.
    """
    corners: list[Xy] = []
    for number, point in enumerate(points, start=1):
        if number > MOST_CORNERS + 1:
            raise BadOutline(
                Said("More than {most_corners} corners.", most_corners=MOST_CORNERS),
                where,
                "Trace it with fewer corners; 5 mm apart is plenty.",
            )
        x, y = float(point[0]), float(point[1])
        if not (math.isfinite(x) and math.isfinite(y)):
            raise BadOutline(
                Said("Corner {number} is not a number.", number=number),
                where,
                "Type it in millimetres, such as 684, 292.",
            )
        if max(abs(x), abs(y)) > FARTHEST_MM:
            raise BadOutline(
                Said("Corner {number} lies more than 20 m off.", number=number),
                where,
                "Check the figure; it is in millimetres.",
            )
        if not corners or math.dist(corners[-1], (x, y)) > ROUND_MM:
            corners.append((x, y))
    if len(corners) > 1 and math.dist(corners[0], corners[-1]) <= ROUND_MM:
        corners.pop()
    if len(corners) < 3:
        raise BadOutline(
            Said("An outline needs three corners; this one has {corners}.", corners=len(corners)),
            where,
            "Add a corner.",
        )
    if len(corners) > MOST_CORNERS:
        raise BadOutline(
            Said("More than {most_corners} corners.", most_corners=MOST_CORNERS),
            where,
            "Trace it with fewer corners; 5 mm apart is plenty.",
        )
    polygon = Polygon(corners)
    if polygon.area < LEAST_AREA_MM2 and polygon.convex_hull.area < LEAST_AREA_MM2:
        raise BadOutline("The outline has no area.", where, "Move the corners apart.", corners[0])
    if not polygon.is_valid:
        place = _place_of(explain_validity(polygon))
        raise BadOutline(
            "The outline crosses itself.", where, "Move a corner so that no two edges cross.", place
        )
    if polygon.area < LEAST_AREA_MM2:
        raise BadOutline("The outline has no area.", where, "Move the corners apart.", corners[0])
    return polygon


def _place_of(explanation: str) -> Xy | None:
    try:
        x, y = explanation[explanation.index("[") + 1 : explanation.index("]")].split()
        return float(x), float(y)
    except ValueError:
        return None


def polygons_of(shape: BaseGeometry) -> list[Polygon]:
    """The polygons in any geometry, largest first; lines and points are dropped."""
    if isinstance(shape, Polygon):
        return [] if shape.is_empty else [shape]
    parts = [polygon for part in getattr(shape, "geoms", ()) for polygon in polygons_of(part)]
    return sorted(parts, key=lambda polygon: -polygon.area)


def largest(shape: BaseGeometry) -> Polygon:
    """The largest polygon of a geometry; an empty polygon where there is none."""
    parts = polygons_of(shape)
    return parts[0] if parts else Polygon()


def sound(shape: BaseGeometry) -> BaseGeometry:
    """The same region as a valid geometry of polygons."""
    if shape.is_valid:
        return shape
    return MultiPolygon(polygons_of(make_valid(shape)))


def ring(coordinates: Sequence[Sequence[float]], digits: int = 3) -> list[list[float]]:
    """Coordinates as plain lists for JSON, rounded, the closing repeat dropped, -0.0 made 0.0."""
    points = (np.round(np.asarray(coordinates, float).reshape(-1, 2), digits) + 0.0).tolist()
    if len(points) > 1 and points[0] == points[-1]:
        points.pop()
    return points


def rounded(shape: Polygon, radius_mm: float) -> BaseGeometry:
    """A polygon with every corner, outward or inward, rounded to at least the radius.

    Narrower places than twice the radius vanish. Source: morphological opening, then closing, by a disc.
    """
    if radius_mm <= 0:
        return shape
    # A hair less inward than outward keeps a strip exactly 2 r wide alive.
    opened = shape.buffer(-radius_mm + 1e-9, join_style="mitre").buffer(radius_mm, quad_segs=QUARTER_STEPS)
    return opened.buffer(radius_mm, join_style="mitre").buffer(-radius_mm, quad_segs=QUARTER_STEPS)


def covers(
    outline: Iterable[Sequence[float]], inner: Iterable[Sequence[float]], slack_mm: float = 0.2
) -> bool:
    """Whether an outline holds another, within a hair."""
    return Polygon(outline).buffer(slack_mm).covers(Polygon(inner))


def bounds_of(points: Iterable[Sequence[float]]) -> list[float]:
    """[u0, v0, u1, v1] of some points."""
    us, vs = zip(*((p[0], p[1]) for p in points))
    return [min(us), min(vs), max(us), max(vs)]


def middle_of(bounds: Sequence[float]) -> list[float]:
    """The middle of [u0, v0, u1, v1]."""
    return [(bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2]


def shaped(bounds: tuple[float, float, float, float], shape: float) -> tuple[float, float, float, float]:
    """Bounds grown about their middle until they are ``shape`` times as wide as high.

    >>> shaped((0, 0, 100, 10), 2.0)
    (0.0, -20.0, 100.0, 30.0)
    """
    u0, v0, u1, v1 = bounds
    wide, high = max(u1 - u0, shape * (v1 - v0)), max(v1 - v0, (u1 - u0) / shape)
    u, v = (u0 + u1) / 2, (v0 + v1) / 2
    return u - wide / 2, v - high / 2, u + wide / 2, v + high / 2


def widened(bounds: Sequence[float], by_mm: float) -> tuple[float, float, float, float]:
    """Bounds with a border all round."""
    return bounds[0] - by_mm, bounds[1] - by_mm, bounds[2] + by_mm, bounds[3] + by_mm


def size_of(bounds: Sequence[float]) -> tuple[float, float]:
    """Width and height of [u0, v0, u1, v1]."""
    return bounds[2] - bounds[0], bounds[3] - bounds[1]


def nearest_on(line: BaseGeometry, point: Xy) -> Xy:
    """The place on a line nearest to a point."""
    place = line.interpolate(line.project(Point(point)))
    return place.x, place.y


def turn_deg(before: Xy, corner: Xy, after: Xy) -> float:
    """Change of direction at a corner, degrees, positive to the left, -180 to 180."""
    inward = math.atan2(corner[1] - before[1], corner[0] - before[0])
    outward = math.atan2(after[1] - corner[1], after[0] - corner[0])
    return math.degrees((outward - inward + math.pi) % (2 * math.pi) - math.pi)


def along(path: LineString, distances_mm: Iterable[float]) -> list[Xy]:
    """Points at the given distances along a path."""
    return [path.interpolate(distance).coords[0][:2] for distance in distances_mm]
