"""The seams of a cut: where its outline is welded, leaving out what runs along the panel's own edge."""

from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import LineString, MultiLineString, Polygon
from shapely.ops import linemerge, unary_union

from ..geometry import ring

#: The cut's outline counts as the panel's edge within this distance; stored outlines are rounded to 0.001 mm.
ON_EDGE_MM = 0.05
LEAST_SEAM_MM = 5.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Seam:
    path: list[list[float]]
    closed: bool
    length_mm: float


def seams_of(
    cut_outline: Sequence[Sequence[float]],
    panel_outline: Sequence[Sequence[float]],
    unwelded: Sequence[Sequence[Sequence[float]]] = (),
    welded: Sequence[Sequence[Sequence[float]]] = (),
) -> list[Seam]:
    """The seams of a cut, longest first.

    Args:
        cut_outline, panel_outline: mm; unwelded: paths along the cut that are not welded though they do not lie on the panel's edge;
            welded: paths that are, though they do.
    Returns: closed for a cut wholly inside the panel, else one open seam a run; may be empty.
    """
    cut, edge = Polygon(cut_outline), Polygon(panel_outline).exterior
    rest = unary_union(
        [
            edge.buffer(ON_EDGE_MM),
            *(LineString(path).buffer(ON_EDGE_MM, cap_style="flat") for path in unwelded),
        ]
    )
    if welded:  # a little wider than the edge, so that nothing of it stays
        rest = rest.difference(unary_union([LineString(path).buffer(2 * ON_EDGE_MM) for path in welded]))
    if not cut.exterior.intersects(rest):
        return [Seam(path=ring(cut.exterior.coords), closed=True, length_mm=round(cut.exterior.length, 2))]
    runs = cut.exterior.difference(rest)
    merged = linemerge(runs) if isinstance(runs, MultiLineString) else runs
    lines = [
        line
        for line in getattr(merged, "geoms", [merged])
        if isinstance(line, LineString) and line.length >= LEAST_SEAM_MM
    ]
    return [
        Seam(path=ring(line.coords), closed=line.is_ring, length_mm=round(line.length, 2))
        for line in sorted(lines, key=lambda line: -line.length)
    ]
