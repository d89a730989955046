"""When opening shows more than the survey did: whether a cut is outgrown, the line it needs now, and what that adds."""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field
from shapely.geometry import Polygon
from shapely.ops import unary_union

from ..errors import BadOutline
from ..geometry import outline_polygon
from ..records import Corners, Record
from ..said import Mm, Mm2, Said
from ..steel import KG_PER_MM3
from .around import STEP_MM
from .asked import CORNER_RADIUS_MM, MARGIN_MM, MOST_WINDOWS, CutFinding, CutPanel, CutRequest, Millimetres
from .lines import cut_lines, weld_length_mm
from .rates import Prices, Rates
from .through import windows_of

#: Less rust than this outside is a drawing error; a margin shorter by less is too, mm² and mm.
LEAST_LEFT_MM2, LEAST_SHORT_MM = 1.0, 0.5
#: One line is wanted round all of it: cuts nearer than this are joined, mm.
_JOIN_MM = 500.0


class ReplanRequest(Record):
    """A cut as planned, and its findings as they are known now; ``behind``: cuts in sheets behind that it is the window to, ``step_mm`` wider.

    ``cut_already``: the metal is out, so that the new line holds the old.
    """

    panel: CutPanel
    planned: Corners
    findings: Annotated[list[CutFinding], Field(max_length=100)]
    behind: Annotated[list[Corners], Field(max_length=MOST_WINDOWS)] = []
    step_mm: Millimetres = STEP_MM
    cut_already: bool = False
    margin_mm: Millimetres = MARGIN_MM
    corner_radius_mm: Millimetres = CORNER_RADIUS_MM
    style: Literal["rectangle", "hull"] = "rectangle"
    worth_turning_pct: Annotated[float, Field(ge=0, le=50)] = 0.0
    rates: Rates = Rates()
    prices: Prices = Prices()


#: A planned cut may reach this far beyond its panel, mm: a slip of the ruler, not another panel.
OFF_PANEL_MM = 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Replanned:
    """Whether a cut is outgrown and by what; the new line; what it adds in weld (mm), metal (mm²), minutes and money.

    ``left_mm2``: rust outside the planned line; ``margin_mm``: the least margin it has now, below the wanted one where it is short.
    """

    outgrown: bool
    left_mm2: float
    margin_mm: float
    outline: list[list[float]]
    corners: list[list[float]]
    added_weld_mm: float
    added_area_mm2: float
    added_min: float
    added_money: float
    words: str


def replanned(request: ReplanRequest) -> Replanned:
    """Lay what is known now beside what was planned.

    Args: request: see ReplanRequest.
    Returns: see Replanned; where it is not outgrown the new line is the planned one and nothing is added.
    Raises: BadOutline, naming the panel, the planned line or the finding.
    """
    panel, planned = (
        outline_polygon(request.panel.outline, "panel.outline"),
        outline_polygon(request.planned, "planned"),
    )
    if planned.difference(panel.buffer(OFF_PANEL_MM)).area > LEAST_LEFT_MM2:
        raise BadOutline(
            Said(
                "The planned cut reaches more than {off_panel_mm} beyond the panel.",
                off_panel_mm=Mm(OFF_PANEL_MM),
            ),
            "planned",
            "Give the cut of this panel.",
        )
    rust = unary_union(
        [
            outline_polygon(finding.outline, f"findings[{i}].outline")
            for i, finding in enumerate(request.findings)
        ]
    ).intersection(panel)
    left = rust.difference(planned.buffer(0.05)).area
    welded = planned.exterior.difference(panel.exterior.buffer(0.1))
    margin = 0.0 if left > LEAST_LEFT_MM2 or welded.crosses(rust) else request.margin_mm
    if margin and not welded.is_empty and not rust.is_empty:
        margin = float(welded.distance(rust))
    blocked = _window_short(request, panel, planned)
    outgrown = left > LEAST_LEFT_MM2 or margin < request.margin_mm - LEAST_SHORT_MM or blocked
    if not outgrown:
        ring = [[float(u), float(v)] for u, v in request.planned]
        return Replanned(
            outgrown=False, left_mm2=round(left, 1), margin_mm=round(margin, 1), outline=ring, corners=ring, added_weld_mm=0.0, added_area_mm2=0.0,
            added_min=0.0, added_money=0.0, words="The line still holds all rust with its margin.",
        )  # fmt: skip
    new = _new_line(request, planned)
    shape = Polygon(new.outline)
    weld = new.weld_length_mm - weld_length_mm(planned, panel)
    around, area = shape.exterior.length - planned.exterior.length, shape.area - planned.area
    rates, prices = request.rates, request.prices
    minutes = (
        (rates.cut_m + rates.weld_m + rates.dress_m) * weld + (rates.make_m + rates.fit_m) * around
    ) / 1000 + rates.protect_dm2 * area / 1e4
    money = (
        prices.weld_m * weld / 1000
        + prices.steel_kg * area * request.panel.thickness_mm * KG_PER_MM3
        + prices.hour * minutes / 60
    )
    return Replanned(
        outgrown=True, left_mm2=round(left, 1), margin_mm=round(margin, 1), outline=new.outline, corners=new.corners, added_weld_mm=round(weld, 1),
        added_area_mm2=round(area, 1), added_min=round(minutes, 1), added_money=round(money, 2), words=_words(left, margin, request.margin_mm),
    )  # fmt: skip


def _new_line(request: ReplanRequest, planned: Polygon):
    """One line round all that is known now, and round the hole where there is one."""
    findings = [CutFinding(id=finding.id, layer=0, outline=finding.outline) for finding in request.findings]
    if request.cut_already:
        inner = planned.buffer(-request.margin_mm, join_style="mitre")
        hole = inner if inner.geom_type == "Polygon" and not inner.is_empty else planned
        findings = [
            *findings,
            CutFinding(
                id="the hole", layer=0, outline=[(float(u), float(v)) for u, v in hole.exterior.coords[:-1]]
            ),
        ]
    plan = cut_lines(
        CutRequest(
            panel=request.panel, findings=findings, margin_mm=request.margin_mm, corner_radius_mm=request.corner_radius_mm, web_mm=_JOIN_MM,
            style=request.style, worth_turning_pct=request.worth_turning_pct, windows=windows_of("the sheet behind", request.behind), step_mm=request.step_mm,
        )
    )  # fmt: skip
    return max(plan.cuts, key=lambda cut: cut.area_mm2)


def _window_short(request: ReplanRequest, panel: Polygon, planned: Polygon) -> bool:
    """Whether a cut behind has outgrown its window."""
    wide = max(0.0, request.step_mm - LEAST_SHORT_MM)
    wanted = [
        outline_polygon(outline, f"behind[{i}]").buffer(wide) for i, outline in enumerate(request.behind)
    ]
    return (
        bool(wanted)
        and unary_union(wanted).intersection(panel).difference(planned.buffer(0.05)).area > LEAST_LEFT_MM2
    )


def _words(left: float, margin: float, wanted: float) -> str:
    if left > LEAST_LEFT_MM2:
        return Said("{left} of rust lie outside the planned line now.", left=Mm2(left, 1, large=True))
    if margin >= wanted - LEAST_SHORT_MM:
        return "The cut in the sheet behind has grown: its window here is too small to weld through."
    return Said(
        "Only {margin} of margin are left to the rust; {wanted} are wanted.",
        margin=Mm(margin, 0),
        wanted=Mm(wanted),
    )
