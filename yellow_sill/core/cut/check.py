"""The live check of a cut line that a person has moved."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points

from ..geometry import polygons_of, ring
from ..remarks import Remark
from ..said import Mm, Mm2, Said
from ..shell.duties import joint_remark
from .around import AT_EDGE, Around, Met
from .asked import CutFinding
from .crossed import Lying, crossed
from .lines import shaped_cut, thin_strips, weld_length_mm
from .stretches import Stretch
from .surroundings import Surroundings

#: A shortfall below this is a rounding, not a thin margin.
SLACK_MM = 0.05
#: A panel that laps less than twice this over a cut behind it does not hide it.
LEAST_COVER_MM = 5.0
#: A bend of less is no corner to set out.
LEAST_TURN_DEG = 10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckedCut:
    """A cut as it would be cut, with what is wrong about it; ``set_out``: its corners on the panel before they are rounded, to be marked with a rule;
    ``stretches``: what each stretch of the outline is, where the shell was asked.
    """

    outline: list[list[float]]
    set_out: list[list[float]]
    perimeter_mm: float
    weld_length_mm: float
    area_mm2: float
    bounding_box_mm: list[float]
    least_margin_mm: float | None
    met: Met
    remarks: list[Remark]
    stretches: list[Stretch] = field(default_factory=list)

    @property
    def leaves_rust(self) -> bool:
        return any(remark.code == "CUT-10" for remark in self.remarks)


def check_cut(
    corners: Sequence[Sequence[float]],
    panel_outline: Sequence[Sequence[float]],
    findings: Sequence[CutFinding],
    others: Sequence[Sequence[Sequence[float]]] = (),
    *,
    margin_mm: float,
    radius_mm: float,
    web_mm: float,
    around: Around | None = None,
    behind: Sequence[Sequence[Sequence[float]]] = (),
    step_mm: float = 0.0,
    in_front: Sequence[tuple[str, Sequence, Sequence, bool]] = (),
    beside: Sequence[Lying] = (),
    holes: Sequence[Sequence[Sequence[float]]] = (),
    sheet: str = "",
) -> CheckedCut:
    """Check a moved cut line against the rust it must take out.

    Args:
        corners: the person's corners, mm; panel_outline: mm; findings: those this cut is for.
        others: outlines of the other cuts of the same layer and panel; around: what the cut meets.
        behind: outlines of the cuts in sheets behind that are reached through this one, which holds them ``step_mm`` wider.
        in_front: panels before this one that nothing is cut out of here: name, outline, holes, whether the sheet is cut in another view.
        beside: other panels of the same layer; holes: outlines of holes and slots in the panel, mm; sheet: the panel's code.
    Returns: the shaped cut, what it meets, and remarks, each with its place: rust outside, margin too thin, too near another cut, thin strips,
        a cut behind that cannot be reached, a closed panel in front of it, other panels
        and holes in or beside it, keep-outs and fittings in the way, a line along a row of spot welds or
        square across a curve, a joint across a sheet that carries belts, springs or steering.
    Raises: BadOutline for corners that make no cut.
    """
    panel, cut = Polygon(panel_outline), shaped_cut(corners, panel_outline, radius_mm)
    welded = cut.exterior.difference(panel.exterior.buffer(0.1))
    least, remarks = _margins(cut, panel, welded, findings, margin_mm)
    remarks += _webs(cut, others, web_mm)
    remarks += _windows(cut, panel, behind, step_mm)
    remarks += _covered(cut, in_front)
    remarks += crossed(cut, panel, welded, beside, holes, margin_mm)
    if not welded.is_empty and (across := joint_remark(sheet, _middle(welded))):
        remarks.append(across)
    remarks += thin_strips(cut, panel, "cut line", margin_mm)
    surroundings = Surroundings(around or Around())
    lies_on = surroundings.lies_on(cut)
    edge = [] if panel.contains_properly(cut) or any(each.kind == "edge" for each in lies_on) else [AT_EDGE]
    met, meets = surroundings.met(cut, lies_on + edge, [], "cut line")
    remarks += [*meets, *surroundings.misplaced(cut, welded, "cut line")]
    return CheckedCut(
        outline=ring(cut.exterior.coords),
        set_out=set_out_corners(corners, panel),
        perimeter_mm=round(cut.exterior.length, 2),
        weld_length_mm=round(weld_length_mm(cut, panel), 2),
        area_mm2=round(cut.area, 2),
        bounding_box_mm=[round(bound, 3) for bound in cut.bounds],
        least_margin_mm=None if least is None else round(least, 2),
        met=met,
        remarks=remarks,
    )


def _middle(line: BaseGeometry) -> tuple[float, float]:
    at = line.interpolate(0.5, normalized=True)
    return round(at.x, 1), round(at.y, 1)


def _margins(
    cut: Polygon, panel: Polygon, welded: BaseGeometry, findings: Sequence[CutFinding], margin_mm: float
) -> tuple[float | None, list[Remark]]:
    """The least margin between the welded line and the rust, and remarks on rust outside (CUT-10) and thin margins (CUT-11)."""
    remarks: list[Remark] = []
    least = None
    for finding in findings:
        rust = Polygon(finding.outline).intersection(panel)
        for left in polygons_of(rust.difference(cut.buffer(SLACK_MM))):
            text = Said("Rust of finding {id} stays outside, {area}.", id=finding.id, area=Mm2(left.area, 0))
            remarks.append(_outwards("CUT-10", finding, text, left.representative_point()))
        if welded.is_empty:
            continue
        margin = 0.0 if rust.crosses(welded) else welded.distance(rust)
        least = margin if least is None else min(least, margin)
        if margin < margin_mm - SLACK_MM and cut.buffer(SLACK_MM).covers(rust):
            text = Said(
                "Only {margin} of margin to finding {id}; {margin_mm} are wanted.",
                margin=Mm(margin, 1),
                id=finding.id,
                margin_mm=Mm(margin_mm),
            )
            remarks.append(_outwards("CUT-11", finding, text, nearest_points(welded, rust)[0]))
    return least, remarks


def _outwards(code: str, finding: CutFinding, text: str, place: Point) -> Remark:
    return Remark(
        code=code,
        where=f"finding {finding.id}",
        what=text,
        mend="Move the line outwards here.",
        at=(round(place.x, 1), round(place.y, 1)),
    )


def _webs(cut: Polygon, others: Sequence[Sequence[Sequence[float]]], web_mm: float) -> list[Remark]:
    """Remarks on other cuts nearer than the web (CUT-12)."""
    remarks = []
    for outline in others:
        other = Polygon(outline)
        gap = cut.distance(other)
        if gap < web_mm - SLACK_MM:
            spot = nearest_points(cut, other)[0]
            text = (
                Said("This cut overlaps another one.")
                if gap == 0
                else Said(
                    "Only {gap} of metal stay to the next cut; {web_mm} are wanted.",
                    gap=Mm(gap, 0),
                    web_mm=Mm(web_mm),
                )
            )
            remarks.append(
                Remark(
                    code="CUT-12",
                    where="web",
                    what=text,
                    mend="Join the two cuts.",
                    at=(round(spot.x, 1), round(spot.y, 1)),
                )
            )
    return remarks


def set_out_corners(corners: Sequence[Sequence[float]], panel: Polygon) -> list[list[float]]:
    """Where the straight lines of a cut meet each other and the panel's edge, counter-clockwise from the lowest left, mm."""
    kept = polygons_of(Polygon(corners).buffer(0).intersection(panel))
    points = np.array(kept[0].simplify(0.2).exterior.coords[:-1]) if kept else np.empty((0, 2))
    if len(points) < 3:
        return []
    if not kept[0].exterior.is_ccw:
        points = points[::-1]
    before, after = points - np.roll(points, 1, axis=0), np.roll(points, -1, axis=0) - points
    turns = np.degrees(
        np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1))
    )
    points = points[np.abs(turns) > LEAST_TURN_DEG]
    first = int((points[:, 0] + points[:, 1]).argmin()) if len(points) else 0
    return [[round(float(u), 1), round(float(v), 1)] for u, v in np.roll(points, -first, axis=0)]


def _windows(
    cut: Polygon, panel: Polygon, behind: Sequence[Sequence[Sequence[float]]], step_mm: float
) -> list[Remark]:
    """Cuts behind that the line does not clear by the step, or does not reach at all."""
    remarks = []
    for outline in behind:
        inner = Polygon(outline).intersection(panel)
        if inner.area < 1:
            continue
        blocked = inner.difference(cut.buffer(SLACK_MM))
        edge = cut.exterior.difference(panel.exterior.buffer(0.1))
        gap = 0.0 if blocked.area >= 1 else edge.distance(inner) if not edge.is_empty else step_mm
        if gap < step_mm - SLACK_MM:
            spot = blocked.representative_point() if blocked.area >= 1 else nearest_points(edge, inner)[0]
            text = (
                Said("The cut behind cannot be reached here.")
                if blocked.area >= 1
                else Said(
                    "Only {gap} beside the cut behind; {step_mm} are wanted.",
                    gap=Mm(gap, 0),
                    step_mm=Mm(step_mm),
                )
            )
            mend = "Move the line outwards here: the inner joint must be welded and dressed through it."
            remarks.append(
                Remark(
                    code="CUT-13",
                    where="window",
                    what=text,
                    mend=mend,
                    at=(round(spot.x, 1), round(spot.y, 1)),
                )
            )
    return remarks


def _covered(cut: Polygon, in_front: Sequence[tuple[str, Sequence, Sequence, bool]]) -> list[Remark]:
    """Panels that stay closed before the cut."""
    remarks = []
    for name, outline, holes, elsewhere in in_front:
        over = cut.intersection(Polygon(outline, holes).buffer(0))
        if over.buffer(-LEAST_COVER_MM).area > 0:
            place = max(polygons_of(over), key=lambda part: part.area).representative_point()
            text = Said(
                "{area} of this cut lie behind {name}, which is cut in another view."
                if elsewhere
                else "{area} of this cut lie behind {name}, which is not cut here.",
                area=Mm2(over.area, 0, large=True),
                name=name,
            )
            mend = (
                "Look from both sides whether its opening reaches as far as this cut."
                if elsewhere
                else "Take that panel off first, or plan a cut in it too."
            )
            remarks.append(
                Remark(
                    code="CUT-14",
                    where="window",
                    what=text,
                    mend=mend,
                    at=(round(place.x, 1), round(place.y, 1)),
                )
            )
    return remarks
