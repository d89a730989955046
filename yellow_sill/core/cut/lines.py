"""Cut lines: the outlines to cut out of a panel so that all rust with its margin goes, in simple shapes."""

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from heapq import heapify, heappop, heappush
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely import STRtree, area, box, contains_properly, contains_xy, distance, intersection, polygons, prepare, total_bounds
from shapely.geometry import GeometryCollection, MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from ..errors import BadField, BadOutline
from ..geometry import QUARTER_STEPS, Xy, outline_polygon, polygons_of, ring, rounded, widened
from ..records import Corners, Record
from ..remarks import Remark
from .around import AT_EDGE, STEP_MM, Around, Met, NamedOutline, Surroundings

MARGIN_MM = 12.0  #: bright full-thickness metal beyond the rust; rule of thumb, docs/methods.md section 3
CORNER_RADIUS_MM = 10.0  #: a rounded corner fits and welds better and does not start a crack
WEB_MM = 40.0  #: a strip narrower than this between two patches is joined to them
#: A cut line counts as running along the panel's edge within this distance.
ON_EDGE_MM = 0.01
#: What the screens ask: a rectangle is turned out of level only to save more than this share of metal; square to the sill fits better.
WORTH_TURNING_PCT = 2.0
#: Cuts are made larger by this share of their radius, so that arcs drawn as straight pieces never bite into the margin: a fillet
#: of up to one and a half steps is drawn as one piece, 1 - cos(0.75 step) of the radius inside the arc.
ARC_SLACK = 1.01 * (1 - math.cos(0.75 * math.pi / 2 / QUARTER_STEPS))
#: Most findings of one call.
MOST_FINDINGS, MOST_WINDOWS = 500, 100
#: Less margin than this is none.
LEAST_GROW_MM = 1e-3

#: Extents of an outline in axes turned by n angles: cos and sin (n,), low and high corners (2, n).
Extents = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]
Millimetres = Annotated[float, Field(ge=0, le=500)]
Thickness = Annotated[float, Field(gt=0, le=20)]


class CutPanel(Record):
    """The panel to be cut: outline in the view's plane, mm."""

    outline: Corners
    thickness_mm: Thickness


class CutFinding(Record):
    """One finding: where the rust is, on which layer."""

    id: Annotated[int | str, Field(union_mode="left_to_right")]
    layer: Annotated[int | str, Field(union_mode="left_to_right")]
    outline: Corners


class CutRequest(Record):
    """Input of ``cutlines``.

    ``around``: what the cuts meet; ``layer_order``: layers from the outermost inwards: the window of an outer one holds the cuts of the next,
    ``step_mm`` bigger all round; ``windows``: cuts of another sheet behind these, by its name, that the (innermost) layer is opened for likewise.
    """

    panel: CutPanel
    findings: Annotated[list[CutFinding], Field(max_length=MOST_FINDINGS)]
    margin_mm: Millimetres = MARGIN_MM
    corner_radius_mm: Millimetres = CORNER_RADIUS_MM
    web_mm: Millimetres = WEB_MM
    style: Literal["rectangle", "hull"] = "rectangle"
    around: Around = Around()
    layer_order: Annotated[list[int | str], Field(max_length=8)] = []
    step_mm: Millimetres = STEP_MM
    windows: Annotated[list[NamedOutline], Field(max_length=MOST_WINDOWS)] = []
    worth_turning_pct: Annotated[float, Field(ge=0, le=50)] = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Cut:
    """One closed cut. ``corners`` is the simple shape before rounding and before the panel's edge ends it.

    ``met``: where its sides ended and what it takes or crosses; ``window_of``: layers beneath whose cuts it opens the way to.
    """

    layer: int | str
    findings: list[int | str]
    outline: list[list[float]]
    corners: list[list[float]]
    perimeter_mm: float
    weld_length_mm: float
    area_mm2: float
    bounding_box_mm: list[float]
    met: Met = field(default_factory=Met)
    window_of: list[int | str] = field(default_factory=list)


@dataclass(frozen=True, slots=True, kw_only=True)
class CutPlan:
    cuts: list[Cut]
    warnings: list[Remark]


@dataclass(frozen=True)
class _Sheet:
    """The panel being cut, with what is asked of it again and again."""

    panel: Polygon
    request: CutRequest
    memo: dict

    def __post_init__(self) -> None:
        prepare(self.panel)

    @cached_property
    def edge_zone(self) -> Polygon:
        return self.panel.exterior.buffer(ON_EDGE_MM)

    def grown(self, rust: BaseGeometry) -> BaseGeometry:
        """Rust with its margin; a hair's margin is none, as no buffer can be made of it."""
        return rust.buffer(self.request.margin_mm if self.request.margin_mm > LEAST_GROW_MM else 0.0)

    def clears_edge(self, shape: Polygon) -> bool:
        """Whether a shape lies wholly inside the panel."""
        return self.panel.contains_properly(shape)

    def ended(self, shape: Polygon) -> BaseGeometry:
        """The shape as far as the panel reaches."""
        return shape if shape.is_empty or self.clears_edge(shape) else shape.intersection(self.panel)

    def weld_mm(self, part: Polygon) -> float:
        return part.exterior.length if self.clears_edge(part) else part.exterior.difference(self.edge_zone).length


@dataclass(frozen=True, slots=True)
class _Draft:
    """A cut in the making."""

    ids: tuple
    rust: MultiPolygon
    corners: Polygon
    parts: tuple[Polygon, ...]
    shape: BaseGeometry
    bounds: tuple[float, float, float, float]
    weld_mm: float


def cut_lines(request: CutRequest, memo: dict | None = None) -> CutPlan:
    """Propose the cuts of one panel, layer by layer.

    Every finding grown by the margin and clipped to the panel lies inside its cut. Cuts of a layer closer than the web
    are merged, and so are two whose merged outline needs less weld than both. Corners are rounded to the radius except
    where the cut meets the panel's edge.

    Args:
        request: panel, findings, margin, radius, web (mm) and style.
        memo: kept by who asks again and again for one panel with one margin, radius and style; shapes worked out once are found in it.
    Returns: the cuts, by layer and from left to right, and remarks.
    Raises: BadOutline, naming the panel or finding whose outline cannot be used; BadField where there is nothing to cut for.
    Source: docs/methods.md section 3.
    """
    if not request.findings and not request.windows:
        raise BadField("At least 1 are needed here; 0 given.", "findings", "Give the rust that is to be cut out.")
    panel = outline_polygon(request.panel.outline, "panel.outline")
    sheet = _Sheet(panel, request, {} if memo is None else memo)
    warnings: list[Remark] = []
    layers: dict = {}
    for index, finding in enumerate(request.findings):
        rust = outline_polygon(finding.outline, f"findings[{index}].outline")
        inside = sheet.ended(rust)
        if not polygons_of(inside):
            raise BadOutline(
                f"Finding {finding.id} lies beside the panel.", f"findings[{index}].outline", "Give the panel that it lies on.", rust.exterior.coords[0]
            )
        if rust.area - inside.area > max(1.0, 0.001 * rust.area):
            place = rust.difference(panel).representative_point()
            text = f"Finding {finding.id} reaches beyond the panel's edge; only what lies on the panel is cut."
            warnings.append(Remark(code="CUT-01", where=f"finding {finding.id}", what=text, mend="Look at the panel next to it.", at=(place.x, place.y)))
        layers.setdefault(finding.layer, []).append((finding.id, rust))
    _open_windows(layers, sheet)
    cuts: list[Cut] = []
    surroundings = Surroundings(request.around)
    for layer, findings in _inwards_last(layers, request.layer_order):
        findings = findings + _windows(layer, cuts, request)
        if not findings:
            continue
        drafts = _merge([_draft(ids, rust, sheet) for ids, rust in _clusters(findings, request)], sheet)
        for draft in sorted(drafts, key=lambda d: d.bounds):
            for part in draft.parts:
                made = _cut(layer, draft, part, sheet)
                if len(draft.parts) == 1:
                    others = [Polygon(cut.outline) for cut in cuts if cut.layer == layer] + [other.shape for other in drafts if other is not draft]
                    made = _settled(made, draft, surroundings, others, sheet)
                shape, where = Polygon(made.outline), f"cut round {_names(made.findings)}" if made.findings else "window"
                at_edge = sheet.clears_edge(shape) or any(each.kind == "edge" for each in made.met.ended_on)
                ended = made.met.ended_on + ([] if at_edge else [AT_EDGE])
                met, remarks = surroundings.met(shape, ended, made.met.slanted, where)
                cuts.append(replace(made, met=met))
                warnings += [*thin_strips(shape, panel, where, request.margin_mm), *remarks]
            if len(draft.parts) > 1:
                text = f"The panel's edge divides the cut round {_names(draft.ids)} into {len(draft.parts)} pieces."
                warnings.append(Remark(code="CUT-02", where=f"cut round {_names(draft.ids)}", what=text, mend="Each piece is a patch of its own."))
    place = {layer: i for i, layer in enumerate(request.layer_order)}
    cuts.sort(key=lambda cut: place.get(cut.layer, 0))  # outermost first again
    return CutPlan(cuts=cuts, warnings=warnings)


def _inwards_last(layers: Mapping, order: Sequence) -> list[tuple]:
    """The layers with their findings, the innermost first where an order is given: what it needs decides the windows of the outer ones.

    An outer layer without a finding of its own is opened too.
    """
    named = [(layer, layers.get(layer, [])) for layer in reversed(order)]
    return named + sorted(((layer, found) for layer, found in layers.items() if layer not in order), key=lambda item: str(item[0]))


def _windows(layer, cuts: Sequence[Cut], request: CutRequest) -> list[tuple]:
    """What the cuts of the next layer inwards need of this one, as findings: their outlines grown by what the step is more than the margin."""
    if layer not in request.layer_order:
        return []
    at = request.layer_order.index(layer)
    inner = request.layer_order[at + 1] if at + 1 < len(request.layer_order) else None
    return [(_Window(cut.layer, i), _opened(Polygon(cut.outline), request)) for i, cut in enumerate(cuts) if cut.layer == inner]


def _opened(cut: Polygon, request: CutRequest) -> Polygon:
    """A cut grown by what the step is more than the margin, which is added to all."""
    return cut.buffer(max(0.0, request.step_mm - request.margin_mm), join_style="mitre")


def _open_windows(layers: dict, sheet: _Sheet) -> None:
    """Put the cuts of a sheet behind among the findings of the innermost layer, as far as they lie on the panel."""
    request = sheet.request
    if not request.windows:
        return
    innermost = request.layer_order[-1] if request.layer_order else max(layers, key=str, default=1)
    for i, window in enumerate(request.windows):
        cut = outline_polygon(window.outline, f"windows[{i}].outline")
        if polygons_of(sheet.ended(cut)):
            layers.setdefault(innermost, []).append((_Window(window.name, i), _opened(cut, request)))


@dataclass(frozen=True, slots=True)
class _Window:
    """A cut of a layer beneath, standing among the findings of the one above it."""

    layer: int | str
    number: int

    def __str__(self) -> str:
        return f"the window to {f'layer {self.layer}' if isinstance(self.layer, int) else self.layer}"


def _settled(made: Cut, draft: _Draft, surroundings: Surroundings, others: Sequence[BaseGeometry], sheet: _Sheet) -> Cut:
    """A cut taken on to lines and clear of rows; as it was where that would bring it nearer than the web to another."""
    if not surroundings.moves:
        return made
    corners, ended, slanted = surroundings.settled(draft.corners, sheet.request.margin_mm, sheet.request.corner_radius_mm + 1)
    if not ended and not slanted:
        return made
    shape = max(polygons_of(sheet.ended(rounded(corners, sheet.request.corner_radius_mm))), key=lambda part: part.area)
    before = Polygon(made.outline)
    if shape.area - before.area < 1 or not shape.buffer(0.01).covers(before) or any(shape.distance(other) < sheet.request.web_mm for other in others):
        return made
    moved = replace(draft, corners=corners, shape=shape, bounds=shape.bounds)
    return replace(_cut(made.layer, moved, shape, sheet), met=Met(ended_on=ended, slanted=slanted))


def _names(ids: Iterable) -> str:
    return ", ".join(str(number) for number in ids)


def _draft(ids: tuple, rust: BaseGeometry, sheet: _Sheet) -> _Draft:
    """The best simple shape round the rust of one group."""
    key = rust.wkb
    if key not in sheet.memo:
        sheet.memo[key] = _shaped(rust, sheet)
    return _Draft(ids, rust, *sheet.memo[key])


def _shaped(rust: BaseGeometry, sheet: _Sheet) -> tuple:
    """What a draft is made of beside its findings: corners, parts, shape, bounds, weld."""
    hull = rust.convex_hull
    if sheet.request.style == "hull":
        corners, parts = _fit(lambda grow_mm: hull.buffer(grow_mm, join_style="mitre", mitre_limit=20), rust, sheet)
    else:
        corners, parts = _best_rectangle(hull, rust, sheet)
    shape = parts[0] if len(parts) == 1 else MultiPolygon(parts)
    return corners, tuple(parts), shape, shape.bounds, sum(sheet.weld_mm(part) for part in parts)


def _best_rectangle(hull: Polygon, rust: BaseGeometry, sheet: _Sheet) -> tuple[Polygon, list[Polygon]]:
    """The rectangle that wastes least metal: level, along an edge of the hull or, where the panel ends it, along that edge.

    The smallest rectangle round a convex polygon lies along one of its edges (Freeman and Shapira 1975), with a margin all
    round too: log((w + 2 m)(h + 2 m)) is concave between two such directions. It stays level where turning
    saves no more than ``worth_turning_pct`` of the metal.
    """
    margin = sheet.request.margin_mm
    extents = _extents(hull, _turns(np.asarray(hull.exterior.coords)))
    _, _, low, high = extents
    reach = math.sqrt(2) * (float((high - low).max()) + margin)
    metal = np.prod(high - low + 2 * margin, axis=0)
    if not sheet.clears_edge(box(*widened(hull.bounds, reach))):
        extents, metal = _ended_rectangles(hull, extents, metal, sheet)
    best = 0 if metal[0] <= metal.min() * (1 + sheet.request.worth_turning_pct / 100 + 1e-9) else int(metal.argmin())
    c, s, (u0, v0), (u1, v1) = (extent[..., best].tolist() for extent in extents)

    def grown(by_mm: float) -> Polygon:
        a, b, d, e = u0 - by_mm, v0 - by_mm, u1 + by_mm, v1 + by_mm
        return Polygon([(x * c - y * s, x * s + y * c) for x, y in ((a, b), (d, b), (d, e), (a, e))]) if a < d and b < e else Polygon()

    return _fit(grown, rust, sheet)


def _ended_rectangles(hull: Polygon, extents: Extents, metal: np.ndarray, sheet: _Sheet) -> tuple[Extents, np.ndarray]:
    """Rectangles near the panel's edge and the metal each takes: only what lies on the panel, less the rounded corners there."""
    corners = _corners(extents, sheet.request.margin_mm)
    rectangles = polygons(corners)
    if contains_properly(sheet.panel, rectangles).all():
        return extents, metal
    x0, y0, x1, y1 = total_bounds(rectangles)
    edges = np.asarray(sheet.panel.exterior.coords)
    low, high = np.minimum(edges[1:], edges[:-1]), np.maximum(edges[1:], edges[:-1])
    near = (low[:, 0] < x1) & (high[:, 0] > x0) & (low[:, 1] < y1) & (high[:, 1] > y0)
    steps = np.diff(edges, axis=0)[near]
    more = _extents(hull, np.arctan2(steps[:, 1], steps[:, 0]) % (np.pi / 2))
    extents = tuple(np.concatenate(pair, axis=-1) for pair in zip(extents, more, strict=True))
    corners = _corners(extents, sheet.request.margin_mm)
    rounded_off = contains_xy(sheet.panel, corners[..., 0], corners[..., 1]).sum(1) * (1 - math.pi / 4) * sheet.request.corner_radius_mm**2
    rectangles = polygons(corners)
    metal = area(rectangles)
    ended = ~contains_properly(sheet.panel, rectangles)
    metal[ended] = area(intersection(sheet.panel, rectangles[ended]))
    return extents, metal - rounded_off


def _turns(points: np.ndarray) -> np.ndarray:
    """Level and the directions of a ring's edges, within a quarter turn."""
    steps = np.diff(points, axis=0)
    return np.append(0.0, np.arctan2(steps[:, 1], steps[:, 0]) % (np.pi / 2))


def _extents(hull: Polygon, turns: np.ndarray) -> Extents:
    """Extents of a convex outline in axes turned by n angles."""
    points = np.asarray(hull.exterior.coords)
    cos, sin = np.cos(turns), np.sin(turns)
    u, v = np.outer(points[:, 0], cos) + np.outer(points[:, 1], sin), np.outer(points[:, 1], cos) - np.outer(points[:, 0], sin)
    return cos, sin, np.stack([u.min(0), v.min(0)]), np.stack([u.max(0), v.max(0)])


def _corners(extents: Extents, by_mm: float) -> np.ndarray:
    """Corners (n, 4, 2) of the rectangles with these extents, their edges moved out."""
    cos, sin, low, high = extents
    (u0, v0), (u1, v1) = low - by_mm, high + by_mm
    u, v = np.stack([u0, u1, u1, u0], axis=1), np.stack([v0, v0, v1, v1], axis=1)
    return np.stack([u * cos[:, None] - v * sin[:, None], u * sin[:, None] + v * cos[:, None]], axis=-1)


def _fit(shape: Callable[[float], Polygon], rust: BaseGeometry, sheet: _Sheet) -> tuple[Polygon, list[Polygon]]:
    """Move the edges of a convex shape outwards until, rounded, it holds the grown rust; then end it at the panel's edge.

    With a margin of at least the radius the rounded shape always holds it: a disc of the margin fits into each corner.
    """
    radius, margin = sheet.request.corner_radius_mm, sheet.request.margin_mm
    if sheet.request.style == "hull" or radius > 0.9 * margin:
        margin += ARC_SLACK * radius

    def rounded_at(grow_mm: float) -> BaseGeometry:
        inner = shape(grow_mm - radius)
        return sheet.ended(inner.buffer(radius, quad_segs=QUARTER_STEPS) if radius else inner)

    cut = rounded_at(margin)
    if radius > margin and not cut.covers(sheet.ended(sheet.grown(rust))):
        margin = radius * (1 + ARC_SLACK)
        cut = rounded_at(margin)
    pieces = polygons_of(cut)
    if len(pieces) > 1:
        grown = sheet.grown(rust)
        pieces = [part for part in pieces if part.intersection(grown).area > 1e-6]
    return shape(margin), pieces


def _clusters(findings: list[tuple], request: CutRequest) -> list[tuple[tuple, BaseGeometry]]:
    """Findings whose cuts can only end up nearer than the web, whatever their shape, taken together from the start."""
    shapes = [rust for _, rust in findings]
    reach = 2 * request.margin_mm + request.web_mm - 0.01
    graph = STRtree(shapes).query(shapes, predicate="dwithin", distance=reach)
    root = list(range(len(shapes)))

    def top(i: int) -> int:
        while root[i] != i:
            i = root[i]
        return i

    for i, j in graph.T.tolist():
        root[top(i)] = top(j)
    groups: dict[int, list[int]] = {}
    for i in range(len(shapes)):
        groups.setdefault(top(i), []).append(i)
    return [(tuple(findings[i][0] for i in group), MultiPolygon([shapes[i] for i in group])) for group in groups.values()]


def _merge(drafts: list[_Draft], sheet: _Sheet) -> list[_Draft]:
    """Merge cuts that stand too close, nearest first, then pairs that are cheaper to weld as one."""
    alive = dict(enumerate(drafts))
    web = sheet.request.web_mm
    queue = [(gap, i, j) for i in alive for gap, j in _near(alive[i], {k: alive[k] for k in range(i)}, web)]
    heapify(queue)
    while queue:
        gap, i, j = heappop(queue)
        if i not in alive or j not in alive:
            continue
        a, b = alive[i], alive[j]
        too_near = gap < web
        if not too_near and not _may_save(a, b, gap, sheet):
            continue
        merged = _draft(tuple(sorted(a.ids + b.ids, key=str)), MultiPolygon([*a.rust.geoms, *b.rust.geoms]), sheet)
        if not too_near and merged.weld_mm >= a.weld_mm + b.weld_mm:
            continue
        del alive[i], alive[j]
        new = max([*alive, i, j]) + 1
        for near, k in _near(merged, alive, web):
            heappush(queue, (near, new, k))
        alive[new] = merged
    return list(alive.values())


def _near(draft: _Draft, others: Mapping[int, _Draft], web_mm: float) -> list[tuple[float, int]]:
    """(gap, key) of the others that could be merged with a draft: nearer than the web, or so near that one bridge may pay."""
    u0, v0, u1, v1 = draft.bounds
    keys = []
    for key, other in others.items():
        a, b, c, d = other.bounds
        gap = math.hypot(max(0.0, a - u1, u0 - c), max(0.0, b - v1, v0 - d))
        if gap < web_mm or 2 * gap < draft.weld_mm + other.weld_mm:
            keys.append(key)
    return list(zip(distance(draft.shape, [others[key].shape for key in keys]).tolist(), keys, strict=True)) if keys else []


def _may_save(a: _Draft, b: _Draft, gap_mm: float, sheet: _Sheet) -> bool:
    """Whether one cut round both could need less weld than two: a bridge is welded on both sides, a hull is the least outline."""
    if 2 * gap_mm >= a.weld_mm + b.weld_mm:
        return False
    low, high = np.minimum(a.bounds, b.bounds), np.maximum(a.bounds, b.bounds)
    if 2 * max(high[2] - low[0], high[3] - low[1]) >= a.weld_mm + b.weld_mm and sheet.clears_edge(box(low[0], low[1], high[2], high[3])):
        return False
    hull = GeometryCollection([a.shape, b.shape]).convex_hull
    if not sheet.clears_edge(hull):
        return True
    if hull.exterior.length >= a.weld_mm + b.weld_mm:
        return False
    if sheet.request.style == "hull" or sheet.request.corner_radius_mm > sheet.request.margin_mm:
        return True
    # any rectangle round both rusts, with its margin, less what the rounded corners save
    hull = MultiPolygon([*a.rust.geoms, *b.rust.geoms]).convex_hull
    _, _, low, high = _extents(hull, _turns(np.asarray(hull.exterior.coords)))
    least = 2 * float((high - low).sum(0).min()) + 8 * sheet.request.margin_mm - (8 - 2 * math.pi) * sheet.request.corner_radius_mm
    return least < a.weld_mm + b.weld_mm


def _cut(layer, draft: _Draft, part: Polygon, sheet: _Sheet) -> Cut:
    return Cut(
        layer=layer,
        findings=sorted((name for name in draft.ids if not isinstance(name, _Window)), key=str),
        outline=ring(_counter_clockwise(part)),
        corners=ring(_counter_clockwise(draft.corners)),
        perimeter_mm=round(part.exterior.length, 2),
        weld_length_mm=round(sheet.weld_mm(part), 2),
        area_mm2=round(part.area, 2),
        bounding_box_mm=[round(bound, 3) for bound in part.bounds],
        window_of=sorted({name.layer for name in draft.ids if isinstance(name, _Window)}, key=str),
    )


def _counter_clockwise(polygon: Polygon) -> list[Xy]:
    points = list(polygon.exterior.coords)
    return points if polygon.exterior.is_ccw else points[::-1]


def weld_length_mm(cut: Polygon, panel: Polygon) -> float:
    """Length of a cut's outline that is welded: what runs along the panel's own edge is left out, mm."""
    return cut.exterior.difference(panel.exterior.buffer(ON_EDGE_MM)).length


def shaped_cut(corners: Sequence[Sequence[float]], panel_outline: Sequence[Sequence[float]], radius_mm: float) -> Polygon:
    """The cut that a person's corners make: rounded, then ended at the panel's edge.

    Args: corners, panel_outline: mm; radius_mm: corner radius, 0 or more.
    Returns: the cut, counter-clockwise.
    Raises: BadOutline: the corners cross, lie beside the panel, or are too narrow for the radius.
    """
    shape = outline_polygon(corners, "cut line")
    panel = Polygon(panel_outline)
    kept = polygons_of(rounded(shape, radius_mm).intersection(panel))
    if not kept:
        if shape.intersects(panel):
            raise BadOutline(f"The cut is narrower than its corner radius of {radius_mm:g} mm allows.", "cut line", "Make it wider or the radius smaller.")
        raise BadOutline("The cut lies beside the panel.", "cut line", "Move it back onto the panel.", tuple(corners[0]))
    if len(kept) > 1 and kept[1].area > 1:
        place = kept[1].representative_point()
        raise BadOutline("The panel's edge divides this cut into two pieces.", "cut line", "Draw them as two cuts.", (place.x, place.y))
    return Polygon(_counter_clockwise(kept[0]))


def thin_strips(cut: Polygon, panel: Polygon, where: str, least_mm: float) -> list[Remark]:
    """Strips narrower than ``least_mm`` left standing between a cut and the panel's edge: they burn away when welded."""
    if least_mm <= 0 or panel.contains_properly(box(*cut.bounds).buffer(least_mm, join_style="mitre")):
        return []
    rest = panel.intersection(box(*cut.bounds).buffer(3 * least_mm)).difference(cut)
    thick = rest.buffer(-least_mm / 2, join_style="mitre").buffer(least_mm / 2 + 0.01, join_style="mitre")
    near = cut.buffer(least_mm)
    remarks = []
    for strip in polygons_of(rest.difference(thick)):
        if strip.area > least_mm * least_mm and strip.intersects(panel.exterior.buffer(0.1)) and strip.distance(cut) < 0.1 and near.covers(strip.centroid):
            width = 2 * strip.area / strip.exterior.length
            text = f"A strip only {width:.0f} mm wide stays between the cut and the panel's edge."
            mend = "Take the cut to the edge, or keep clear of it."
            remarks.append(Remark(code="CUT-03", where=where, what=text, mend=mend, at=(round(strip.centroid.x, 1), round(strip.centroid.y, 1))))
    return remarks
