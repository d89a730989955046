"""Four ways to renew a panel, and the person's own: small patches, merged ones, a part panel to the best seams, the whole panel; compared."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from shapely import distance, line_interpolate_point
from shapely.geometry import LineString, MultiLineString, Point, Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import split, unary_union

from ..errors import BadField, BadOutline
from ..geometry import outline_polygon, polygons_of, ring
from ..said import Said
from ..steel import KG_PER_MM3
from .asked import CutFinding
from .joints import RUST_TRAP
from .lines import shaped_cut
from .plans import BehindSheet, InnerCuts, Option, Options, OptionsRequest
from .ranking import ranked, tips_of, turns_of
from .release import MINUTES
from .shapes import LEAST_GROW_MM, ON_EDGE_MM
from .shared_rows import SharedRows, SheetRows, met_edge, unseen_welds
from .spots import REACH_MM, SpotRequest, spot_rows
from .through import LayerSheet, ThroughRequest, cuts_through

#: A weld this far from every stiffening line pulls fully, mm; nearer ones in proportion.
PULLS_FROM_MM = 120.0
#: Rust within this share of a panel's length from its end takes the end with it.
NEAR_END = 0.25
NAMES = {"patches": "Small patches", "merged": "Merged patches", "part": "Part panel", "whole": "Whole panel"}
#: Corners along a curved edge are left out as long as the line stays this near, mm.
SIMPLE_MM = 0.3
#: A part panel larger than this share is the whole one.
MOST_PART = 0.97
#: The cuts of one sheet, each with the corners that give it.
Shapes = list[tuple[Polygon, Polygon]]


def cut_options(request: OptionsRequest) -> Options:
    """Work out and compare the ways to renew a panel.

    Args: request: see OptionsRequest.
    Returns: the plans ranked by the person's weights, with what tips the scale and what would change it.
    Raises: BadOutline, BadField: an outline that cannot be used, two plans of one name, a row that cannot be.
    Source: docs/methods.md section 3.
    """
    if not request.findings and not any(sheet.findings for sheet in request.behind):
        raise BadField(
            "At least 1 are needed here; 0 given.", "findings", "Give the rust that is to be cut out."
        )
    stack = _Stack(request)
    plans = [_worked_out(name, NAMES[name], layers, stack) for name, layers in _usual(stack).items()]
    merged = stack.through(request.web_mm)[1:]
    for i, own in enumerate(request.own):
        if own.name in NAMES or any(plan.name == own.name for plan in plans):
            raise BadField(
                Said("Two plans bear the name {name}.", name=own.name), f"own[{i}].name", "Give it another."
            )
        shapes = [
            outline_polygon(outline, f"own[{i}].outlines[{k}]").intersection(stack.front.panel)
            for k, outline in enumerate(own.outlines)
        ]
        taken = unary_union(shapes).buffer(0.01)
        why_not = "Rust is left outside it." if stack.front.rust.difference(taken).area >= 1 else ""
        if not why_not and stack.opened(merged, 0.0).difference(taken).area >= 1:
            why_not = "The sheet behind cannot be reached through it."
        plans.append(
            _worked_out(own.name, own.name, [[(shape, shape) for shape in shapes], *merged], stack, why_not)
        )
    return _compared(request, plans, stack.corrected)


def with_hold(request: OptionsRequest, told: Options, hold: Mapping[str, str]) -> Options:
    """The same plans with what the hold says of each, ranked again.

    Args: request: what ``told`` was worked out from; hold: HELD, SOFT or LOOSE by a plan's name.
    """
    return _compared(
        request, [replace(plan, hold=hold.get(plan.name, plan.hold)) for plan in told.options], told.corrected
    )


def _compared(request: OptionsRequest, plans: Sequence[Option], corrected: dict[str, float]) -> Options:
    best_first = ranked(plans, request.weights)
    best = best_first[0].name
    return Options(
        options=best_first,
        best=best,
        tips=tips_of(best_first, request.weights),
        turns=turns_of(request, plans, best),
        corrected=corrected,
    )


class _Sheet:
    """One sheet with what is asked of it for every plan."""

    def __init__(self, sheet: BehindSheet | OptionsRequest, request: OptionsRequest, where: str = "") -> None:
        self.name = sheet.name if isinstance(sheet, BehindSheet) else ""
        self.thickness_mm, self.findings, self.rows, self.around = (
            sheet.panel.thickness_mm,
            sheet.findings,
            sheet.rows,
            sheet.around,
        )
        self.asked = sheet.panel
        self.panel = outline_polygon(sheet.panel.outline, f"{where}panel.outline")
        rust = [
            outline_polygon(finding.outline, f"{where}findings[{i}].outline")
            for i, finding in enumerate(sheet.findings)
        ]
        self.rust = unary_union(rust).intersection(self.panel)
        self.grown = self.rust
        if request.margin_mm > LEAST_GROW_MM:
            self.grown = (
                unary_union(rust).buffer(request.margin_mm, join_style="mitre").intersection(self.panel)
            )
        plans = (
            spot_rows(SpotRequest(rows=sheet.rows, processes=request.processes)).rows if sheet.rows else []
        )
        self.code = self.name or next(
            (row.sheets[0].code for row in sheet.rows if row.sheets[0].code), "the panel"
        )
        self.shared = SheetRows(code=self.code, rows=sheet.rows, plans=plans)
        self.met = met_edge(self.panel, [each.path for each in sheet.meets], [row.path for row in sheet.rows])
        self.edge = self.panel.exterior.buffer(ON_EDGE_MM)
        stiff = [LineString(line) for line in sheet.stiff]
        self.stiff = unary_union(
            [MultiLineString(stiff), self.panel.exterior] if stiff else [self.panel.exterior]
        )


class _Stack:
    """The panel in front and the sheets behind it."""

    def __init__(self, request: OptionsRequest) -> None:
        self.request = request
        self.front = _Sheet(request, request)
        self.behind = [_Sheet(sheet, request, f"behind[{i}].") for i, sheet in enumerate(request.behind)]
        self.corrected: dict[str, float] = {
            kind: logged.shrunk for kind, logged in request.logged.items() if logged.jobs
        }
        self.shared = SharedRows([sheet.shared for sheet in self.sheets])
        self._through: dict[float, list[Shapes]] = {}
        self._memos: dict[str, dict] = {}

    @property
    def sheets(self) -> list[_Sheet]:
        return [self.front, *self.behind]

    def through(self, web_mm: float) -> list[Shapes]:
        """The cuts of every sheet, patches nearer than the web joined."""
        if web_mm not in self._through:
            request = self.request
            sheets = [
                LayerSheet(
                    name=sheet.name or "the panel", panel=sheet.asked, around=sheet.around,
                    findings=[CutFinding(id=f.id, layer=0, outline=f.outline) for f in sheet.findings],
                )
                for sheet in self.sheets
            ]  # fmt: skip
            told = cuts_through(
                ThroughRequest(
                    sheets=sheets, margin_mm=request.margin_mm, corner_radius_mm=request.corner_radius_mm, web_mm=web_mm, step_mm=request.step_mm,
                    style=request.style, worth_turning_pct=request.worth_turning_pct,
                ),
                self._memos,
            )  # fmt: skip
            self._through[web_mm] = [
                [(Polygon(cut.outline), Polygon(cut.corners)) for cut in sheet.cuts] for sheet in told.sheets
            ]
        return self._through[web_mm]

    def opened(self, behind: Sequence[Shapes], step_mm: float) -> BaseGeometry:
        """What the cuts behind need of the panel in front: they, ``step_mm`` larger, as far as it reaches."""
        cuts = unary_union([shape for shapes in behind for shape, _ in shapes])
        return (
            cuts.buffer(step_mm, join_style="mitre").intersection(self.front.panel)
            if step_mm
            else cuts.intersection(self.front.panel)
        )


def _usual(stack: _Stack) -> dict[str, list[Shapes]]:
    """The four usual plans, sheet by sheet; no part panel where it would be the whole."""
    request, panel = stack.request, stack.front.panel
    merged = stack.through(request.web_mm)
    needed = unary_union([stack.front.grown, stack.opened(merged[1:], request.step_mm)])
    usual = {"patches": stack.through(0.0), "merged": merged}
    for part in part_panels(panel, needed, [LineString(seam) for seam in request.seams]):
        simple = part.simplify(SIMPLE_MM)
        try:
            shape = shaped_cut(ring(simple.exterior.coords), request.panel.outline, request.corner_radius_mm)
        except BadOutline:
            continue  # it hangs together by a neck narrower than its own corners: nobody can set that out
        if part.area < MOST_PART * panel.area and needed.difference(shape).area < 1:
            usual["part"] = [[(shape, simple)], *merged[1:]]
            break
    return usual | {"whole": [[(panel, panel)], *merged[1:]]}


def part_panels(panel: Polygon, rust: BaseGeometry, seams: Sequence[LineString]) -> list[Polygon]:
    """Parts of a panel that hold all rust with its margin, the best first: between seams, else cut straight across the panel's longer way."""
    pieces = [panel]
    for seam in seams:
        long = _extended(seam, 5.0)
        pieces = [part for piece in pieces for part in (polygons_of(split(piece, long)) or [piece])]
    part = unary_union([piece for piece in pieces if piece.intersection(rust).area > 1e-6])
    u0, v0, u1, v1 = rust.bounds
    x0, y0, x1, y1 = panel.bounds
    if x1 - x0 >= y1 - y0:
        near = (x1 - x0) * NEAR_END
        strip = box(x0 - 1 if u0 - x0 < near else u0, y0 - 1, x1 + 1 if x1 - u1 < near else u1, y1 + 1)
    else:
        near = (y1 - y0) * NEAR_END
        strip = box(x0 - 1, y0 - 1 if v0 - y0 < near else v0, x1 + 1, y1 + 1 if y1 - v1 < near else v1)
    across = polygons_of(strip.intersection(panel))
    straight = max(across, key=lambda each: each.area) if across else panel
    whole = max(polygons_of(part), key=lambda each: each.area)
    return [straight, whole] if whole.area > MOST_PART * panel.area else [whole, straight]


def _extended(line: LineString, by_mm: float) -> LineString:
    """A line a little longer at both ends, so that it surely divides what it ends on."""
    points = [(float(x), float(y)) for x, y in line.coords]

    def beyond(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
        length = Point(a).distance(Point(b)) or 1.0
        return a[0] + (a[0] - b[0]) / length * by_mm, a[1] + (a[1] - b[1]) / length * by_mm

    return LineString([beyond(points[0], points[1]), *points, beyond(points[-1], points[-2])])


def _worked_out(name: str, words: str, layers: Sequence[Shapes], stack: _Stack, why_not: str = "") -> Option:
    request, rates = stack.request, stack.request.rates
    sheets = [_SheetSums(sheet, shapes) for sheet, shapes in zip(stack.sheets, layers, strict=True)]
    front = sheets[0]
    bought = request.whole if name == "whole" else request.part if name == "part" else None
    made = sheets[1:] if bought else sheets
    butt = sum(each.butt for each in sheets)
    around = sum(each.around for each in sheets) / 1000
    let_go = stack.shared.released(
        {each.sheet.code: each.cut.buffer(REACH_MM) for each in sheets if not each.cut.is_empty}
    )
    unseen = unseen_welds([(each.cut, each.sheet.met) for each in sheets])
    not_drawn = sum(count for count, _ in unseen)
    plugs = sum(group.new for group in let_go) + not_drawn
    flange = sum(group.share * group.plan.length_mm for group in let_go) + sum(length for _, length in unseen)
    release: dict[str, int] = {}
    for group in let_go:
        release[group.release.method] = release.get(group.release.method, 0) + len(group.at)
    thumb = {
        "cut": rates.cut_m * butt / 1000
        + sum(group.release.minutes for group in let_go)
        + MINUTES["drill"] * not_drawn,
        "make": (rates.panel_prepare if bought else 0.0)
        + sum(rates.make_piece * each.pieces + rates.make_m * each.around / 1000 for each in made),
        "fit": rates.fit_m * around,
        "weld": rates.weld_m * butt / 1000 + rates.plug * plugs,
        "dress": rates.dress_m * butt / 1000,
        "protect": rates.protect_dm2 * sum(each.area for each in sheets) / 1e4,
    }
    thumb = {kind: round(value, 1) for kind, value in thumb.items()}
    minutes = {kind: round(value * stack.corrected.get(kind, 1.0), 1) for kind, value in thumb.items()}
    hours = sum(minutes.values()) / 60
    cost = {
        "panel": bought.price if bought else 0.0,
        "steel": request.prices.steel_kg
        * KG_PER_MM3
        * sum(each.area * each.sheet.thickness_mm for each in made),
        "consumables": request.prices.weld_m * butt / 1000
        + request.prices.nugget * (plugs + sum(release.values()) + not_drawn),
        "time": request.prices.hour * hours,
    }
    cost = {what: round(value, 2) for what, value in cost.items()}
    never = name == "whole" and (bought is None or bought.days is None)
    if name == "part" and request.part is not None and request.part.days is None:
        never = True
    return Option(
        name=name, words=words, outlines=[ring(part.exterior.coords) for part in front.parts], corners=[ring(each.exterior.coords) for _, each in layers[0]],
        inner=[
            InnerCuts(
                name=each.sheet.name, outlines=[ring(part.exterior.coords) for part in each.parts], corners=[ring(inner.exterior.coords) for _, inner in shapes]
            )
            for each, shapes in zip(sheets[1:], layers[1:], strict=True)
        ],
        pieces=sum(each.pieces for each in sheets), weld_mm={"butt": round(butt, 1), "plug row": round(flange, 1)},
        release=release, unseen=not_drawn, plugs=plugs, minutes=minutes, thumb=thumb, hours=round(hours, 2), cost=cost,
        money=round(sum(cost.values()), 2), kept=round(1 - sum(each.area for each in sheets) / sum(each.sheet.panel.area for each in sheets), 4),
        pull=round(min(1.0, sum(_pull(each, request.flatness) for each in sheets)), 3), rust=round(_rust_risk(butt, flange), 3),
        hold=request.hold.get(name, ""), days=(bought.days if bought else 0), possible=not never and not why_not, score=0.0,
        why_not=why_not or ("Nobody sells it." if never else ""),
    )  # fmt: skip


class _SheetSums:
    """What a plan takes of one sheet: pieces, lengths in mm, areas in mm²."""

    def __init__(self, sheet: _Sheet, shapes: Shapes) -> None:
        self.sheet = sheet
        self.parts = [part for shape, _ in shapes for part in polygons_of(shape)]
        self.cut = cut = unary_union(self.parts)
        self.area, self.pieces = cut.area, len(self.parts)
        whole = cut.area > 0.999 * sheet.panel.area
        self.welded = (
            MultiLineString()
            if whole or not self.parts
            else unary_union([part.exterior for part in self.parts]).difference(sheet.edge)
        )
        self.butt = float(self.welded.length)
        self.around = sum(part.exterior.length for part in self.parts)


def _pull(sums: _SheetSums, flatness: float) -> float:
    """Distortion risk: weld weighted by its distance from the nearest stiffening line and by flatness, over the sheet's own diagonal."""
    total = 0.0
    sheet, welded = sums.sheet, sums.welded
    for line in getattr(welded, "geoms", [welded]):
        if line.is_empty:
            continue
        steps = max(2, int(line.length / 20))
        places = line_interpolate_point(line, (np.arange(steps) + 0.5) / steps, normalized=True)
        total += (
            line.length / steps * float(np.minimum(1.0, distance(sheet.stiff, places) / PULLS_FROM_MM).sum())
        )
    u0, v0, u1, v1 = sheet.panel.bounds
    return flatness * total / max(1.0, ((u1 - u0) ** 2 + (v1 - v0) ** 2) ** 0.5)


def _rust_risk(butt: float, flange: float) -> float:
    """Length-weighted rust-trap risk of the joints."""
    whole = butt + flange
    return (RUST_TRAP["butt"] * butt + RUST_TRAP["plug row"] * flange) / whole if whole else 0.0
