"""An opening that was templated beside the line that was cut: where it leaves it, and what each of its edges is."""

from collections.abc import Mapping, Sequence

from shapely.geometry import LineString, Point, Polygon

from ..errors import BadOutline
from ..geometry import outline_polygon
from ..remarks import Remark
from ..said import Mm, Said

#: A templated edge is what the cut's nearest edge is, within this, mm; farther off the cut's line than FAR_MM is worth a look.
SAME_EDGE_MM, FAR_MM = 15.0, 5.0


def own_line_remarks(outline: Sequence[Sequence[float]], cut: Sequence[Sequence[float]]) -> list[Remark]:
    """What to look at in a templated opening.

    Args: outline: of the opening; cut: the line that was cut, mm in one plane.
    Raises: BadOutline: no outline, or one that lies off the cut.
    """
    shape, line = outline_polygon(outline, "corners"), Polygon(cut)
    if shape.intersection(line).area < 0.3 * min(shape.area, line.area):
        raise BadOutline(
            "The outline does not lie where the cut is.", "corners", "Check the figures against the drawing.", (shape.centroid.x, shape.centroid.y)
        )  # fmt: skip
    far = max(line.exterior.distance(Point(at)) for at in shape.exterior.coords)
    if far <= FAR_MM:
        return []
    at = max(shape.exterior.coords, key=lambda each: line.exterior.distance(Point(each)))
    what = Said("The opening leaves the cut's line by up to {far}.", far=Mm(far, 1))
    mend = "If it was cut so, draw the cut anew too: the weld and the record go by it."
    return [Remark(code="OPEN-01", where="opening", what=what, mend=mend, at=(at[0], at[1]))]


def kinds_along(
    outline: Sequence[Sequence[float]], cut: Sequence[Sequence[float]], kinds: Mapping[int, str]
) -> dict[int, str]:
    """What each edge of a templated opening is, from the cut's nearest edge; nothing for one that lies farther off.

    Args: kinds: of the cut's edges by number.
    """
    lines = {number: LineString([cut[number], cut[(number + 1) % len(cut)]]) for number in kinds}
    found = {}
    for number, at in enumerate(outline):
        after = outline[(number + 1) % len(outline)]
        middle = Point((at[0] + after[0]) / 2, (at[1] + after[1]) / 2)
        near = min(lines, key=lambda each: lines[each].distance(middle), default=None)
        if near is not None and lines[near].distance(middle) <= SAME_EDGE_MM:
            found[number] = kinds[near]
    return found
