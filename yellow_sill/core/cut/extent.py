"""What a repair takes in: panels its cuts go through without a cut of their own, the cut that a new finding belongs to."""

from collections.abc import Sequence

from shapely import Polygon, unary_union

from ..geometry import polygons_of, ring
from ..outlines import Outline, apart

#: A panel is offered where the repair's cuts take at least so much of it, mm².
LEAST_TAKEN_MM2 = 25.0
#: Outlines of what is taken are drawn this much simpler, and slivers thinner than twice a millimetre are left, mm.
SIMPLE_MM, SLIVER_MM = 0.5, 1.0


def taken_of(panel: Outline, cuts: Sequence[Outline]) -> list[list[list[float]]]:
    """The parts of a panel that cuts of other panels before or behind it take: outlines to cut it along; none where it is too little."""
    if not cuts:
        return []
    over = unary_union([Polygon(cut) for cut in cuts]).intersection(Polygon(panel).buffer(0))
    parts = polygons_of(over.buffer(-SLIVER_MM).buffer(SLIVER_MM))
    return [ring(part.simplify(SIMPLE_MM).exterior.coords) for part in parts if part.area > LEAST_TAKEN_MM2]


def cut_for(finding: Outline, cuts: Sequence[Outline], margin_mm: float, web_mm: float) -> int | None:
    """The cut that a new finding of the same panel belongs to: the nearest within a margin and a web; None where it needs its own."""
    near = [(away, i) for i, cut in enumerate(cuts) if (away := apart(cut, finding)) <= margin_mm + web_mm]
    return min(near)[1] if near else None
