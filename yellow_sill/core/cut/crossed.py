"""What else the shell knows where a cut goes: other panels of the same layer, and holes and slots that the piece takes with it."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points, unary_union

from ..geometry import polygons_of, ring
from ..remarks import Remark
from ..said import Mm, Mm2, Said, first_up, joined

#: Drawings of neighbours lie over each other by this much without meaning it, mm.
DRAWN_MM = 2.0
#: Two drawn holes whose middles are so near are one; and this much of a hole outside the piece is the drawing's, mm.
SAME_HOLE_MM, LEAST_OUT_MM = 4.0, 0.5
#: A hole whose height and width differ by less than this share is called round.
ROUND = 0.08
#: A hole's sagitta that may be left out of its outline, mm.
SIMPLE_MM = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Lying:
    """Another panel of the same layer: its name, outline, what is not metal or is cut out of it too (outlines, mm), and whether it is cut too."""

    name: str
    outline: Sequence[Sequence[float]]
    without: Sequence[Sequence[Sequence[float]]] = ()
    cut_too: bool = False


def distinct_holes(outlines: Sequence[Sequence[Sequence[float]]]) -> list[Polygon]:
    """Holes as they are drawn, each once; lines that enclose nothing are left out."""
    found: list[Polygon] = []
    for outline in outlines:
        for hole in polygons_of(Polygon(outline).buffer(0)) if len(outline) > 2 else ():
            if hole.area > 1 and not any(
                hole.centroid.distance(other.centroid) < SAME_HOLE_MM for other in found
            ):
                found.append(hole)
    return found


def _size(hole: Polygon) -> tuple[bool, Said]:
    """Whether a hole is round, and its size."""
    u0, v0, u1, v1 = hole.bounds
    wide, high = u1 - u0, v1 - v0
    if abs(wide - high) < ROUND * max(wide, high) and hole.area < 0.9 * wide * high:
        return True, Said("{wide}", wide=Mm((wide + high) / 2, 0))
    return False, Said("{wide} × {high}", wide=Mm(wide, 0, bare=True), high=Mm(high, 0))


def hole_words(hole: Polygon | Sequence[Sequence[float]]) -> str:
    """A hole's size in words. Args: hole: a polygon, or its corners.

    >>> hole_words(Polygon([(0, 0), (84, 0), (84, 36), (0, 36)]))
    'an opening of 84 × 36 mm'
    """
    is_round, size = _size(hole if isinstance(hole, Polygon) else Polygon(hole))
    return Said("a hole of {size}", size=size) if is_round else Said("an opening of {size}", size=size)


def openings_within(
    cut: Sequence[Sequence[float]], holes: Sequence[Sequence[Sequence[float]]]
) -> list[list[list[float]]]:
    """The holes and slots that lie wholly in a piece, to be made again in its patch: outlines, mm."""
    piece = Polygon(cut).buffer(LEAST_OUT_MM)
    near = [hole for hole in holes if _touches(hole, piece.bounds)]
    return [
        ring(hole.simplify(SIMPLE_MM).exterior.coords) for hole in distinct_holes(near) if piece.covers(hole)
    ]


def crossed(
    cut: Polygon,
    panel: Polygon,
    welded: BaseGeometry,
    beside: Sequence[Lying],
    holes: Sequence[Sequence[Sequence[float]]],
    margin_mm: float,
) -> list[Remark]:
    """Remarks on what else a cut takes or comes near.

    Args: cut: what is taken, panel: of which; welded: its line but for the panel's edge; beside: other panels of the same layer; holes: outlines of
        holes and slots in the panel; margin_mm: what is kept from the line.
    Returns: CUT-15 other panels in or beside the cut, CUT-16 holes on the line or within the margin, CUT-17 holes that go with the piece.
    """
    near = box(*cut.bounds).buffer(margin_mm)
    neighbours = [other for other in beside if _touches(other.outline, near.bounds)]
    holes_near = distinct_holes([each for each in holes if _touches(each, near.bounds)])
    return [
        *(
            remark
            for other in neighbours
            if (remark := _neighbour(other, cut, panel, welded, margin_mm)) is not None
        ),
        *_holes(holes_near, cut, welded, margin_mm),
    ]


def _neighbour(
    other: Lying, cut: Polygon, panel: Polygon, welded: BaseGeometry, margin_mm: float
) -> Remark | None:
    """CUT-15: another panel in the cut, or beside its line."""
    without = unary_union([Polygon(each).buffer(0.5) for each in other.without if len(each) > 2])
    on_panel = Polygon(other.outline).buffer(0).difference(without).intersection(panel)
    over = on_panel.intersection(cut)
    if over.buffer(-DRAWN_MM).area > 0:
        place = max(polygons_of(over), key=lambda part: part.area).representative_point()
        text = Said(
            "Goes through {area} of {name} too, which lies in the same layer.",
            area=Mm2(over.area, 0, large=True),
            name=other.name,
        )
        mend = "Add that panel to the repair, so that it gets a cut and a patch of its own, or move the line off it."
        return _remark("CUT-15", other.name, text, mend, place)
    if other.cut_too or on_panel.buffer(-DRAWN_MM).area <= 0 or welded.is_empty:
        return None
    gap = welded.distance(on_panel)
    if gap >= margin_mm:
        return None
    text = Said(
        "Only {gap} from {name}, which lies on this panel; {margin_mm} are wanted.",
        gap=Mm(gap, 0),
        name=other.name,
        margin_mm=Mm(margin_mm),
    )
    mend = "Move the line away: no torch gets into that corner."
    return _remark("CUT-15", other.name, text, mend, nearest_points(welded, on_panel)[0])


def _holes(holes: Sequence[Polygon], cut: Polygon, welded: BaseGeometry, margin_mm: float) -> list[Remark]:
    """CUT-16: holes on the line or within the margin; CUT-17: holes that go with the piece."""
    remarks: list[Remark] = []
    taken: list[Polygon] = []
    for hole in holes:
        words = hole_words(hole)
        if not welded.is_empty and welded.intersects(hole):
            text = Said("The line runs through {words}.", words=words)
            mend = "Move the line clear of it, or take it in whole and make it again in the patch."
            place = welded.intersection(hole).representative_point()
            remarks.append(_remark("CUT-16", "line", text, mend, place))
        elif cut.buffer(LEAST_OUT_MM).covers(hole):
            taken.append(hole)
        elif not welded.is_empty and (gap := welded.distance(hole)) < margin_mm:
            text = Said(
                "Only {gap} from {words}; {margin_mm} are wanted.",
                gap=Mm(gap, 0),
                words=words,
                margin_mm=Mm(margin_mm),
            )
            mend = "Move the line away: the edge of the hole burns off."
            remarks.append(_remark("CUT-16", "line", text, mend, nearest_points(welded, hole)[0]))
    return remarks + ([_taken(taken)] if taken else [])


def _touches(outline: Sequence[Sequence[float]], bounds: tuple[float, float, float, float]) -> bool:
    """Whether the box round an outline reaches into bounds: most panels and holes are nowhere near."""
    us, vs = [point[0] for point in outline], [point[1] for point in outline]
    u0, v0, u1, v1 = bounds
    return bool(us) and min(us) <= u1 and max(us) >= u0 and min(vs) <= v1 and max(vs) >= v0


def _taken(holes: Sequence[Polygon]) -> Remark:
    """The holes that go with a piece, in one remark."""
    if len(holes) == 1:
        text = Said("{hole} goes with the piece.", hole=first_up(hole_words(holes[0])))
        mend = Said("It is on the pattern, to be made again. Measure its place")
    else:
        sizes = Counter(_size(hole)[1] for hole in holes)
        each = joined((Said("{count} × {size}", count=n, size=size) for size, n in sizes.items()), ", ")
        text = Said("{holes} openings go with the piece: {each}.", holes=len(holes), each=each)
        mend = Said("They are on the pattern, to be made again. Measure their places")
    return _remark(
        "CUT-17",
        "piece",
        text,
        Said("{mend} to metal that stays before you cut.", mend=mend),
        holes[0].centroid,
    )


def _remark(code: str, where: str, what: str, mend: str, place) -> Remark:
    return Remark(code=code, where=where, what=what, mend=mend, at=(round(place.x, 1), round(place.y, 1)))
