"""What is asked of outlines as they are stored: rings of corners in one plane, mm."""

from collections.abc import Iterable, Sequence

from shapely import LineString, Polygon, unary_union

Outline = Sequence[Sequence[float]]


def area_of(outline: Outline) -> float:
    """Area inside, mm²."""
    return float(Polygon(outline).area)


def perimeter_of(outline: Outline) -> float:
    """Length round it, mm."""
    return float(Polygon(outline).length)


def length_of(path: Outline) -> float:
    """Length of an open line, mm."""
    return float(LineString(path).length)


def touch(one: Outline, other: Outline) -> bool:
    """Whether two outlines have a place in common."""
    return bool(Polygon(one).intersects(Polygon(other)))


def touching(some: Iterable[Outline], others: Sequence[Outline]) -> list[int]:
    """Which of the others have a place in common with any of some: their indices."""
    together = unary_union([Polygon(outline) for outline in some])
    return [i for i, other in enumerate(others) if together.intersects(Polygon(other))]


def apart(one: Outline, other: Outline) -> float:
    """The least distance between two outlines, mm; 0 where they touch."""
    return float(Polygon(one).distance(Polygon(other)))


def share_covered(outline: Outline, by: Outline) -> float:
    """The share of an outline's area that another lies over, 0 to 1.

    >>> share_covered([(0, 0), (4, 0), (4, 4), (0, 4)], [(2, 0), (9, 0), (9, 4), (2, 4)])
    0.5
    """
    shape = Polygon(outline)
    return float(shape.intersection(Polygon(by)).area / shape.area) if shape.area else 0.0
