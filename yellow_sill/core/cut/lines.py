"""Cut lines: the outlines to cut out of a panel so that all rust with its margin goes, in simple shapes."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

from shapely import box
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..errors import BadField, BadOutline
from ..geometry import Xy, outline_polygon, polygons_of, ring, rounded, sound
from ..remarks import Remark
from ..said import Mm, Said
from .around import AT_EDGE, Met
from .asked import (
    CutRequest,
)
from .merging import clusters, merged
from .shapes import Draft, Sheet, drafted
from .surroundings import Surroundings

#: A corner this near the panel's edge lies on it, mm.
ALONG_EDGE_MM = 0.6
#: What is thinner is no metal, mm.
SLIVER_MM = 0.05


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


def cut_lines(request: CutRequest, memo: dict | None = None) -> CutPlan:
    """Propose the cuts of one panel, layer by layer.

    Every finding grown by the margin and clipped to the panel lies inside its cut. Cuts of a layer closer than the web
    are merged, and so are two whose merged outline needs less weld than both. Corners are rounded to the radius except
    where the cut meets the panel's edge.

    Args:
        request: panel, findings, margin, radius, web (mm) and style.
        memo: kept by who asks again for the same panel, findings, margin, radius, style and surroundings with another web or other windows;
            what was worked out once is found in it.
    Returns: the cuts, by layer and from left to right, and remarks.
    Raises: BadOutline, naming the panel or finding whose outline cannot be used; BadField where there is nothing to cut for.
    Source: docs/methods.md section 3.
    """
    if not request.findings and not request.windows:
        raise BadField(
            "At least 1 are needed here; 0 given.", "findings", "Give the rust that is to be cut out."
        )
    panel = outline_polygon(request.panel.outline, "panel.outline")
    sheet = Sheet(panel, request, {} if memo is None else memo)
    layers, warnings = _by_layer(sheet)
    _open_windows(layers, sheet)
    cuts: list[Cut] = []
    surroundings = sheet.remembered(("around",), lambda: Surroundings(request.around))
    for layer, findings in _inwards_last(layers, request.layer_order):
        findings = findings + _windows(layer, cuts, request)
        if findings:
            made, remarks = _cuts_of(layer, findings, surroundings, sheet)
            cuts += made
            warnings += remarks
    place = {layer: i for i, layer in enumerate(request.layer_order)}
    cuts.sort(key=lambda cut: place.get(cut.layer, 0))  # outermost first again
    return CutPlan(cuts=cuts, warnings=warnings)


def _by_layer(sheet: Sheet) -> tuple[dict, list[Remark]]:
    """The findings by layer, each with its rust, and remarks on what reaches beyond the panel (CUT-01). Raises: BadOutline."""
    warnings: list[Remark] = []
    layers: dict = {}
    for index, finding in enumerate(sheet.request.findings):
        rust = sheet.remembered(
            ("rust", index), partial(outline_polygon, finding.outline, f"findings[{index}].outline")
        )
        inside = sheet.ended(rust)
        if not polygons_of(inside):
            raise BadOutline(
                Said("Finding {id} lies beside the panel.", id=finding.id),
                f"findings[{index}].outline",
                "Give the panel that it lies on.",
                rust.exterior.coords[0],
            )
        if rust.area - inside.area > max(1.0, 0.001 * rust.area):
            place = rust.difference(sheet.panel).representative_point()
            text = Said(
                "Finding {id} reaches beyond the panel's edge; only what lies on the panel is cut.",
                id=finding.id,
            )
            warnings.append(
                Remark(
                    code="CUT-01",
                    where=f"finding {finding.id}",
                    what=text,
                    mend="Look at the panel next to it.",
                    at=(place.x, place.y),
                )
            )
        layers.setdefault(finding.layer, []).append((finding.id, rust))
    return layers, warnings


def _cuts_of(
    layer: int | str, findings: list, surroundings: Surroundings, sheet: Sheet
) -> tuple[list[Cut], list[Remark]]:
    """The cuts of one layer from left to right, with what they meet, and remarks; CUT-02 where the edge divides one."""
    cuts: list[Cut] = []
    warnings: list[Remark] = []
    drafts = merged([drafted(ids, rust, sheet) for ids, rust in clusters(findings, sheet.request)], sheet)
    made_here: list[Polygon] = []
    for draft in sorted(drafts, key=lambda d: d.bounds):
        for part in draft.parts:
            made = _cut(layer, draft, part, sheet)
            if len(draft.parts) == 1:
                others = made_here + [other.shape for other in drafts if other is not draft]
                made = _settled(made, draft, surroundings, others, sheet)
            shape = Polygon(made.outline)
            where = Said("cut round {names}", names=_names(made.findings)) if made.findings else "window"
            at_edge = sheet.clears_edge(shape) or any(each.kind == "edge" for each in made.met.ended_on)
            ended = made.met.ended_on + ([] if at_edge else [AT_EDGE])
            met, remarks = surroundings.met(shape, ended, made.met.slanted, where)
            cuts.append(replace(made, met=met))
            made_here.append(shape)
            warnings += [*thin_strips(shape, sheet.panel, where, sheet.request.margin_mm), *remarks]
        if len(draft.parts) > 1:
            warnings.append(
                Remark(
                    code="CUT-02",
                    where=Said("cut round {names}", names=_names(draft.ids)),
                    what=Said(
                        "The panel's edge divides the cut round {names} into {parts} pieces.",
                        names=_names(draft.ids),
                        parts=len(draft.parts),
                    ),
                    mend="Each piece is a patch of its own.",
                )
            )
    return cuts, warnings


def _inwards_last(layers: Mapping, order: Sequence) -> list[tuple]:
    """The layers with their findings, the innermost first where an order is given: what it needs decides the windows of the outer ones.

    An outer layer without a finding of its own is opened too.
    """
    named = [(layer, layers.get(layer, [])) for layer in reversed(order)]
    return named + sorted(
        ((layer, found) for layer, found in layers.items() if layer not in order),
        key=lambda item: str(item[0]),
    )


def _windows(layer, cuts: Sequence[Cut], request: CutRequest) -> list[tuple]:
    """What the cuts of the next layer inwards need of this one, as findings: their outlines grown by what the step is more than the margin."""
    if layer not in request.layer_order:
        return []
    at = request.layer_order.index(layer)
    inner = request.layer_order[at + 1] if at + 1 < len(request.layer_order) else None
    return [
        (_Window(cut.layer, i), _opened(Polygon(cut.outline), request))
        for i, cut in enumerate(cuts)
        if cut.layer == inner
    ]


def _opened(cut: Polygon, request: CutRequest) -> Polygon:
    """A cut grown by what the step is more than the margin, which is added to all."""
    return cut.buffer(max(0.0, request.step_mm - request.margin_mm), join_style="mitre")


def _open_windows(layers: dict, sheet: Sheet) -> None:
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
        return Said(
            "the window to {words}",
            words=f"layer {self.layer}" if isinstance(self.layer, int) else self.layer,
        )


def _settled(
    made: Cut, draft: Draft, surroundings: Surroundings, others: Sequence[BaseGeometry], sheet: Sheet
) -> Cut:
    """A cut taken on to lines and clear of rows; as it was where that would bring it nearer than the web to another."""
    if not surroundings.moves:
        return made
    edge_mm, beyond_mm = sheet.request.margin_mm, sheet.request.corner_radius_mm + 1
    corners, ended, slanted = sheet.remembered(
        ("settled", draft.corners.wkb), lambda: surroundings.settled(draft.corners, edge_mm, beyond_mm)
    )
    if not ended and not slanted:
        return made
    shape = max(
        polygons_of(sheet.ended(rounded(corners, sheet.request.corner_radius_mm))), key=lambda part: part.area
    )
    before = Polygon(made.outline)
    if (
        shape.area - before.area < 1
        or not shape.buffer(0.01).covers(before)
        or any(shape.distance(other) < sheet.request.web_mm for other in others)
    ):
        return made
    moved = replace(draft, corners=corners, shape=shape, bounds=shape.bounds)
    return replace(_cut(made.layer, moved, shape, sheet), met=Met(ended_on=ended, slanted=slanted))


def _names(ids: Iterable) -> str:
    return ", ".join(str(number) for number in ids)


def _cut(layer, draft: Draft, part: Polygon, sheet: Sheet) -> Cut:
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
    return cut.exterior.difference(panel.exterior.buffer(SLIVER_MM)).length


def shaped_cut(
    corners: Sequence[Sequence[float]], panel_outline: Sequence[Sequence[float]], radius_mm: float
) -> Polygon:
    """The cut that a person's corners make: rounded where they lie on the panel, ended at its edge.

    A side along the panel's own edge goes past it while the corners are rounded, so that no corner of metal is left standing there.

    Args: corners, panel_outline: mm; radius_mm: corner radius, 0 or more.
    Returns: the cut, counter-clockwise.
    Raises: BadOutline: the corners cross, lie beside the panel, or are too narrow for the radius.
    """
    shape = outline_polygon(corners, "cut line")
    panel = Polygon(panel_outline)
    if shape.buffer(ALONG_EDGE_MM).covers(panel):
        return Polygon(_counter_clockwise(panel))
    kept = polygons_of(_cleaned(rounded(past_edge(shape, panel, radius_mm), radius_mm).intersection(panel)))
    if not kept:
        if shape.intersects(panel):
            raise BadOutline(
                Said(
                    "The cut is narrower than its corner radius of {radius_mm} allows.",
                    radius_mm=Mm(radius_mm),
                ),
                "cut line",
                "Make it wider or the radius smaller.",
            )
        raise BadOutline(
            "The cut lies beside the panel.",
            "cut line",
            "Move it back onto the panel.",
            (corners[0][0], corners[0][1]),
        )
    if len(kept) > 1 and kept[1].area > 1:
        place = kept[1].representative_point()
        raise BadOutline(
            "The panel's edge divides this cut into two pieces.",
            "cut line",
            "Draw them as two cuts.",
            (place.x, place.y),
        )
    return Polygon(_counter_clockwise(kept[0]))


def past_edge(shape: Polygon, panel: Polygon, radius_mm: float) -> BaseGeometry:
    """A shape taken past the panel's edge wherever its own outline runs along it, by more than its corners are rounded.

    Args: shape: on the panel, or reaching over its edge; radius_mm: of the corners.
    """
    if panel.contains_properly(shape):
        return shape
    along = panel.exterior.intersection(shape.buffer(ALONG_EDGE_MM))
    runs = [line for line in getattr(along, "geoms", [along]) if line.length > 2 * ALONG_EDGE_MM]
    if not runs:
        return shape
    beyond = unary_union(runs).buffer(radius_mm + 2 * ALONG_EDGE_MM).difference(panel.buffer(-0.01))
    grown = (
        unary_union([shape, beyond])
        .buffer(ALONG_EDGE_MM, join_style="mitre")
        .buffer(-ALONG_EDGE_MM, join_style="mitre")
    )
    return sound(grown.difference(panel.difference(shape.buffer(ALONG_EDGE_MM))))


def _cleaned(shape: BaseGeometry) -> BaseGeometry:
    """Without spikes and slivers thinner than a scriber line; a panel that itself hangs on a thread stays whole."""
    clean = shape.buffer(-SLIVER_MM, join_style="mitre").buffer(SLIVER_MM, join_style="mitre")
    return clean if len(polygons_of(clean)) == len(polygons_of(shape)) else shape


def thin_strips(cut: Polygon, panel: Polygon, where: str, least_mm: float) -> list[Remark]:
    """Strips narrower than ``least_mm`` left standing between a cut and the panel's edge: they burn away when welded."""
    if least_mm <= 0 or panel.contains_properly(box(*cut.bounds).buffer(least_mm, join_style="mitre")):
        return []
    rest = panel.intersection(box(*cut.bounds).buffer(3 * least_mm)).difference(cut)
    thick = rest.buffer(-least_mm / 2, join_style="mitre").buffer(least_mm / 2 + 0.01, join_style="mitre")
    near = cut.buffer(least_mm)
    remarks = []
    for strip in polygons_of(rest.difference(thick)):
        if (
            strip.area > least_mm * least_mm
            and strip.intersects(panel.exterior.buffer(0.1))
            and strip.distance(cut) < 0.1
            and near.covers(strip.centroid)
        ):
            width = 2 * strip.area / strip.exterior.length
            text = Said(
                "A strip only {width} wide stays between the cut and the panel's edge.", width=Mm(width, 0)
            )
            mend = "Take the cut to the edge, or keep clear of it."
            remarks.append(
                Remark(
                    code="CUT-03",
                    where=where,
                    what=text,
                    mend=mend,
                    at=(round(strip.centroid.x, 1), round(strip.centroid.y, 1)),
                )
            )
    return remarks
