"""What each stretch of a cut's outline is: a joint to old metal of the same sheet, a flange on a neighbour, the panel's free edge, an open seam."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import LineString, Point, Polygon
from shapely.ops import unary_union

from ..geometry import outline_polygon
from ..records import Corners, Record
from ..said import Mm, Said, drawn_name
from .around import MOST, At, NamedPath

#: The kinds and their words; only a joint is set back by the gap and welded along, only a flange gets plugs or spots.
KINDS = {
    "joint": "Joint to old metal",
    "flange": "Flange on a neighbour",
    "free": "Free edge",
    "seam": "Open seam",
}
#: An edge of a cut lies on the panel's own edge within this; a neighbour meets it within the second, mm.
ON_PANEL_MM, MEETS_MM = 0.4, 2.0
#: A row of spot welds stands on the flange along an edge within this, mm; source: docs/methods.md section 3.
ROW_REACH_MM = 25.0
#: Of an edge so much must be met by a row or a neighbour; shorter stretches than this go with what lies beside them, mm.
MET_SHARE, LEAST_MM = 0.5, 3.0
#: What a person said of a place counts for the stretch that passes within this, mm.
SAID_MM = 3.0
#: New welds on a flange of which no old row is known stand this far apart, mm (rule of thumb).
FLANGE_PITCH_MM = 30.0

Kind = Literal["joint", "flange", "free", "seam"]


class SaidOfStretch(Record):
    """What a person said of a stretch: a place on it, and what it is."""

    at: At
    kind: Kind


#: What a stretch of a sheet's edge (``core.shell.edges``) is to a cut that reaches it: what is butted, leaded or brazed to a neighbour is joined again.
AS_CUT = {
    "free": "free", "return": "free", "hem": "free", "bolt": "free", "flange": "flange", "butt": "joint", "lead": "joint", "braze": "joint",
}  # fmt: skip


class EdgeTold(Record):
    """What a person said of a stretch of the sheet's own edge: what it is to a cut, the sheet that it meets, and where it runs."""

    kind: Kind
    meets: Annotated[str, Field(max_length=60)] = ""
    path: Corners


class StretchRequest(Record):
    """A cut's outline on its panel with what may meet it.

    ``neighbours``: edges of other panels; ``rows``: rows of spot welds; ``edges``: what was said of the sheet's own edge; ``said``: of the cut's.
    """

    outline: Corners
    panel: Corners
    neighbours: Annotated[list[NamedPath], Field(max_length=MOST)] = []
    rows: Annotated[list[NamedPath], Field(max_length=MOST)] = []
    edges: Annotated[list[EdgeTold], Field(max_length=MOST)] = []
    said: Annotated[list[SaidOfStretch], Field(max_length=MOST)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """A run of edges of the outline that is one thing.

    Attributes:
        kind: see KINDS; edges: their numbers (edge i runs from corner i to corner i + 1); length_mm; middle: a place on it.
        meets: the neighbour or the row it is a flange on, where one is known; by_hand: whether a person said so.
    """

    kind: str
    edges: list[int]
    length_mm: float
    middle: list[float]
    meets: str
    by_hand: bool

    @property
    def words(self) -> str:
        what = (
            Said(KINDS[self.kind])
            if not self.meets
            else Said("Flange on {meets}", meets=drawn_name(self.meets))
        )
        if self.by_hand:
            return Said("{what}, {length}, said by hand", what=what, length=Mm(self.length_mm, 0))
        return Said("{what}, {length}", what=what, length=Mm(self.length_mm, 0))


def stretches(request: StretchRequest) -> list[Stretch]:
    """Tell what each stretch of a cut's outline is.

    An edge inside the panel is a joint; one along the panel's own edge is a flange where a row of spot welds or a neighbour's edge runs along it,
    else free. What a person said of the sheet's edge goes before that, and what was said of a place of the cut before both.

    Args: request: see StretchRequest.
    Returns: the stretches in the order of the outline.
    Raises: BadOutline.
    Source: docs/methods.md section 3.
    """
    shape, panel = outline_polygon(request.outline, "outline"), outline_polygon(request.panel, "panel")
    points = [(float(u), float(v)) for u, v in request.outline]
    lines = [LineString([a, b]) for a, b in zip(points, points[1:] + points[:1], strict=True) if a != b]
    rim = panel.exterior.buffer(ON_PANEL_MM)
    near = [(each.name, LineString(each.path).buffer(MEETS_MM)) for each in request.neighbours]
    rows = [(each.name, LineString(each.path).buffer(ROW_REACH_MM)) for each in request.rows]
    near = [(name, zone) for name, zone in near if zone.intersects(shape)]
    rows = [(name, zone) for name, zone in rows if zone.intersects(shape)]
    edges = [(each, LineString(each.path).buffer(ON_PANEL_MM)) for each in request.edges]
    told = [_said(line, rim, edges) or _told(line, rim, near, rows) for line in lines]
    told = _smoothed(told, [line.length for line in lines])
    runs: list[list[int]] = []
    for i, each in enumerate(told):
        if runs and told[runs[-1][-1]] == each:
            runs[-1].append(i)
        else:
            runs.append([i])
    if len(runs) > 1 and told[runs[0][0]] == told[runs[-1][-1]]:
        runs[0] = runs.pop() + runs[0]
    return [_stretch(run, told[run[0]], lines, request.said) for run in runs]


#: What one edge of the outline is: its kind, what it meets, whether a person said so of the sheet.
_Told = tuple[str, str, bool]


def _said(line: LineString, rim: Polygon, edges: Sequence[tuple[EdgeTold, Polygon]]) -> _Told | None:
    """What a person said of the sheet's edge along which a line runs."""
    if line.intersection(rim).length < MET_SHARE * line.length:
        return None
    best = max(((line.intersection(zone).length, i) for i, (_, zone) in enumerate(edges)), default=(0.0, 0))
    if best[0] < MET_SHARE * line.length:
        return None
    return edges[best[1]][0].kind, edges[best[1]][0].meets, True


def _told(
    line: LineString, rim: Polygon, near: Sequence[tuple[str, Polygon]], rows: Sequence[tuple[str, Polygon]]
) -> _Told:
    if line.intersection(rim).length < MET_SHARE * line.length:
        return "joint", "", False
    for met in (near, rows):
        best = max(((line.intersection(zone).length, name) for name, zone in met), default=(0.0, ""))
        if best[0] >= MET_SHARE * line.length:
            return "flange", best[1], False
    return "free", "", False


def _smoothed(told: list[_Told], lengths: Sequence[float]) -> list[_Told]:
    """Edges shorter than LEAST_MM between two of one kind go with them: a rounded corner has no kind of its own."""
    out = list(told)
    for i in range(len(out)):
        before, after = out[i - 1], told[(i + 1) % len(told)]
        if lengths[i] < LEAST_MM and out[i] != before and before == after:
            out[i] = before
    return out


def _stretch(
    run: list[int], told: _Told, lines: Sequence[LineString], said: Sequence[SaidOfStretch]
) -> Stretch:
    length = sum(lines[i].length for i in run)
    left, place = length / 2, lines[run[0]].interpolate(0.5, normalized=True)
    for i in run:
        if left <= lines[i].length:
            place = lines[i].interpolate(left)
            break
        left -= lines[i].length
    whole = unary_union([lines[i] for i in run])
    mine = [each for each in said if whole.distance(Point(each.at)) <= SAID_MM]
    kind, meets = (mine[-1].kind, told[1] if mine[-1].kind == "flange" else "") if mine else told[:2]
    middle = [round(float(place.x), 1), round(float(place.y), 1)]
    return Stretch(
        kind=kind,
        edges=run,
        length_mm=round(length, 1),
        middle=middle,
        meets=meets,
        by_hand=told[2] or bool(mine),
    )


def lengths_of(found: Sequence[Stretch]) -> dict[str, float]:
    """How much of an outline is of each kind, mm."""
    return {kind: round(sum(each.length_mm for each in found if each.kind == kind), 1) for kind in KINDS}


def flange_welds(length_mm: float, pitch_mm: float = FLANGE_PITCH_MM) -> int:
    """New plugs or spots on a flange of which no old row is known.

    >>> flange_welds(300), flange_welds(10), flange_welds(0)
    (11, 1, 0)
    """
    return 0 if length_mm <= 0 else int(np.floor(length_mm / pitch_mm)) + 1 if length_mm >= pitch_mm else 1
