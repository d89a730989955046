"""The extent of a finding: a polygon on one panel, checked, measured and put into words."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import Polygon

from ..errors import BadField, BadOutline
from ..geometry import largest, nearest_on, outline_polygon, polygons_of, ring
from ..said import Said
from ..units import parse_length

#: A corner this far outside the panel is taken for one on its edge; a finger is blunter than a scriber.
SNAP_MM = 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Extent:
    """A checked outline with its figures. Lengths in mm, area in mm2, u and v in the view's plane."""

    outline: list[list[float]]
    area_mm2: float
    perimeter_mm: float
    bounds_mm: tuple[float, float, float, float]

    @property
    def size_mm(self) -> tuple[float, float]:
        u0, v0, u1, v1 = self.bounds_mm
        return u1 - u0, v1 - v0


def extent_on_panel(
    corners: Sequence[Sequence[float]], panel_outline: Sequence[Sequence[float]], panel_name: str
) -> Extent:
    """Check an outline drawn or typed for a panel.

    A corner within SNAP_MM outside the panel is drawn in to its edge; one farther off is refused.

    Args: corners, panel_outline: [u, v] in mm, same view. panel_name: for the message.
    Returns: the extent, clipped to the panel.
    Raises: BadOutline, with the place where it happens.
    """
    panel = Polygon(panel_outline)
    drawn = outline_polygon(corners, panel_name)
    outside = drawn.difference(panel.buffer(SNAP_MM))
    if not outside.is_empty:
        far = largest(outside).representative_point()
        raise BadOutline(
            "The outline leaves the panel.",
            panel_name,
            "Move that corner back, or draw the rest as a finding of the panel next to it.",
            (far.x, far.y),
        )
    inside = polygons_of(drawn.intersection(panel))
    if not inside:
        near = nearest_on(panel.exterior, (corners[0][0], corners[0][1]))
        raise BadOutline(
            "The outline lies beside the panel.", panel_name, "Choose the panel that it lies on.", near
        )
    extent = largest(inside[0])
    kept = extent if abs(extent.area - drawn.area) > 1e-6 else drawn
    return Extent(
        outline=ring(kept.exterior.coords),
        area_mm2=round(kept.area, 1),
        perimeter_mm=round(kept.exterior.length, 1),
        bounds_mm=tuple(round(b, 3) for b in kept.bounds),
    )


def typed_corners(text: str, unit: str = "mm") -> list[tuple[float, float]]:
    """Corners typed one a line, two lengths a line: ``684 292``, ``684; 292``, ``684.5, 292``, ``684,5 292,0``, ``27 1/2"; 11"``.

    Args: unit: of bare numbers, mm or in.
    Returns: corners in mm.
    Raises: BadOutline, naming the line that cannot be read.

    >>> typed_corners("684, 292\\n700; 264,5"), typed_corners('1/2; 2"', "in")
    ([(684.0, 292.0), (700.0, 264.5)], [(12.7, 50.8)])
    """
    corners = []
    for number, line in enumerate(text.strip().splitlines(), start=1):
        words = line.strip()
        if not words:
            continue
        try:
            u, v = (parse_length(part, unit) for part in _two(words))
        except (BadField, ValueError):
            mend = (
                "Type two numbers a line in mm, such as 684, 292."
                if unit == "mm"
                else 'Type two lengths a line, such as 27 1/2"; 11.'
            )
            raise BadOutline(
                Said("Line {number} is not a corner: '{words}'.", number=number, words=words[:40]),
                "corners",
                mend,
            ) from None
        corners.append((u, v))
    return corners


def _two(words: str) -> list[str]:
    """A line divided in two: at a semicolon, a comma before a space, a tab or space, or a lone comma."""
    for divider in (r"\s*;\s*", r",\s+", r"\t+"):
        parts = re.split(divider, words)
        if len(parts) == 2:
            return parts
    parts = words.split()
    if len(parts) == 1:
        parts = words.split(",")
    return parts if len(parts) == 2 else re.split(r"\s{2,}", words)
