"""The load bed of a pick-up: sides, headboard, floor and tailgate, laid on the views of its cab."""

from shapely.geometry import MultiPoint, Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..geometry import largest
from .curves import ellipse, filleted, rect, slot
from .ladder import ARCH, AXLE_Z, KICK, RAIL_TOP, WELD_PITCH, Places
from .pairs import Pair
from .sheet import DrawingSheet, joined

#: The gap to the cab, how far the bed stands above the rails where they rise over the axle, its least height, and the width of its rail along the top, mm.
GAP, ABOVE_RAIL, LEAST_HIGH, TOP_RAIL = 18.0, 12.0, 360.0, 62.0
RIB_PITCH = 96.0


def ends_of(p: Places) -> tuple[float, float, float, float]:
    """Front, rear, floor and top of the bed."""
    low = RAIL_TOP + KICK + ABOVE_RAIL
    return p.body_rear + GAP, p.tail - 8, low, max(low + LEAST_HIGH, p.waist - 70)


def onto_side(sheet: DrawingSheet, p: Places, hand: str) -> DrawingSheet:
    """The bed's side: skin with its wheel arch, the arch's own sheet, the inner side."""
    front, rear, low, top = ends_of(p)
    whole = Polygon(
        filleted([(front, low - 70), (front, top, 20), (rear, top, 26), (rear - 6, low - 70, 30)])
    )
    arch = Polygon(ellipse(p.wheelbase, AXLE_Z, ARCH, ARCH, 0, 180, 44))
    skin = largest(whole.difference(arch))
    box_of_wheel = Polygon(ellipse(p.wheelbase, AXLE_Z, ARCH + 66, ARCH + 60, 0, 180, 44)).intersection(
        box(front + 8, low - 60, rear - 8, 9000)
    )
    sheet.handed(hand, "BEDS", "Bed side, outer", "outer", skin, 1.0)
    sheet.handed(hand, "BEDA", "Bed wheel arch", "middle", largest(box_of_wheel.difference(arch)), 1.2, 2)
    inner = Polygon(rect(front + 14, low, rear - 40, top - 12, 14)).difference(box_of_wheel)
    sheet.handed(hand, "BEDI", "Bed side, inner", "inner", largest(inner), 1.0)
    sheet.line(
        "lip",
        [(u, v) for u, v in ellipse(p.wheelbase, AXLE_Z, ARCH + 16, ARCH + 16, 6, 174, 44) if v > low - 66],
        "outer",
    )
    sheet.clipped("crease", [(front, top - TOP_RAIL), (rear, top - TOP_RAIL)], skin, "outer")
    sheet.clipped(
        "crease2", [(front, low + 0.42 * (top - low)), (rear, low + 0.42 * (top - low))], skin, "outer"
    )
    for u in (front + 120, rear - 120):
        sheet.line("edge", rect(u - 30, top - 24, u + 30, top - 8, 6), "outer", True)
    sheet.weld_row(
        [(front + 30, low - 40), (max(front + 60, p.wheelbase - ARCH - 60), low - 40)],
        WELD_PITCH * 1.4,
        "outer",
    )
    sheet.weld_row([(front + 40, low + 14), (rear - 60, low + 14)], WELD_PITCH * 1.4, "inner")
    sheet.silhouette = unary_union([sheet.silhouette, skin])
    return sheet


def _floor(p: Places, pair: Pair, ribs_from: float) -> BaseGeometry:
    """The floor with its ribs, in a plan. Args: ribs_from: how far from the centre line the ribs begin."""
    front, rear, _, _ = ends_of(p)
    floor = box(front + 22, -p.half + 62, rear - 40, p.half - 62)
    for k in range(int((p.half - 110 - ribs_from) / RIB_PITCH)):
        y = ribs_from + 40 + k * RIB_PITCH
        if y < p.half - 150:
            pair.line("rib", slot(front + 90, y, rear - 110, y, 34), "inner", True)
    return floor


def onto_plan(sheet: DrawingSheet, p: Places) -> DrawingSheet:
    """The bed from below: its floor between the sides' lower edges."""
    pair = Pair(sheet, 1)
    front, rear, _, _ = ends_of(p)
    floor = _floor(p, pair, p.rail_half + 30)
    side = box(front, p.half - 60, rear, p.half - 6)
    sheet.panel("BEDF", "Bed floor", "inner", floor, 1.2, 0)
    pair.panel("BEDS", "Bed side, outer", "outer", side, 1.0, 2)
    shapes = [sheet.silhouette, floor, side, box(*_mirror(side.bounds))]
    sheet.silhouette = joined(shapes)
    return sheet


def onto_top(sheet: DrawingSheet, p: Places) -> DrawingSheet:
    """The bed from above; it covers the rails that run beneath it."""
    covered = {"CHRAILT", *(f"CHX{k}" for k in range(1, 6))}
    sheet.panels = [
        (record, shape)
        for record, shape in sheet.panels
        if record["code"].removeprefix("L-").removeprefix("R-") not in covered
    ]
    sheet.features = [feature for feature in sheet.features if feature[0] != "tyre"]
    pair = Pair(sheet, 1)
    front, rear, _, _ = ends_of(p)
    floor = _floor(p, pair, 0.0)
    wheel = box(p.wheelbase - ARCH - 40, p.half - 250, p.wheelbase + ARCH + 40, p.half - 62)
    sheet.panel(
        "BEDF", "Bed floor", "inner", floor.difference(wheel).difference(box(*_mirror(wheel.bounds))), 1.2, 0
    )
    pair.panel("BEDA", "Bed wheel arch", "outer", wheel, 1.2, 2)
    pair.panel("BEDS", "Bed side, outer", "outer", box(front, p.half - 60, rear - 40, p.half - 4), 1.0, 1)
    sheet.panel("BEDH", "Bed headboard", "outer", box(front, -p.half + 62, front + 20, p.half - 62), 1.0, 2)
    sheet.panel("TGATE", "Tailgate", "outer", box(rear - 38, -p.half + 4, rear, p.half - 4), 1.0, 2)
    pair.weld_row([(front + 40, p.half - 70), (rear - 70, p.half - 70)], WELD_PITCH * 1.4, "inner")
    whole = box(front, -p.half + 4, rear, p.half - 4)
    drawn: BaseGeometry = unary_union([sheet.silhouette])
    cab = drawn.intersection(box(-3000, -3000, p.body_rear + 1, 3000))
    sheet.silhouette = unary_union([cab, whole])
    return sheet


def _mirror(bounds: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    u0, v0, u1, v1 = bounds
    return u0, -v1, u1, -v0


def _hidden(points: list, behind: BaseGeometry) -> bool:
    """Whether most of a line lies behind a shape."""
    return behind.covers(MultiPoint(points).centroid)


def onto_rear(sheet: DrawingSheet, p: Places) -> DrawingSheet:
    """The tailgate and the sides' ends, before the back of the cab."""
    pair = Pair(sheet, 0)
    _, _, low, top = ends_of(p)
    gate = Polygon(rect(-p.half + 72, low, p.half - 72, top, 16))
    post = Polygon(rect(p.half - 70, low - 60, p.half - 6, top + 4, 12))
    behind = unary_union([gate, post, Polygon([(-y, z) for y, z in post.exterior.coords])])
    kept = []
    for record, shape in sheet.panels:
        left = shape.difference(behind)
        if left.area > 2000:
            kept.append((record, largest(left)))
    sheet.panels = kept
    sheet.features = [
        each for each in sheet.features if each[0] in ("centre", "tyre") or not _hidden(each[3], behind)
    ]
    sheet.panel("TGATE", "Tailgate", "outer", gate, 1.0, 0)
    pair.panel("BEDS", "Bed side, outer", "outer", post, 1.0, 2)
    for z in (low + 0.3 * (top - low), low + 0.62 * (top - low)):
        sheet.line("crease2", [(-p.half + 120, z), (p.half - 120, z)], "outer")
    sheet.line("lip", gate.buffer(-14).exterior.coords, "outer", True)
    pair.line("edge", rect(p.half - 56, low + 20, p.half - 20, low + 170, 8), "outer", True)
    sheet.weld_row([(-p.half + 110, low + 16), (p.half - 110, low + 16)], WELD_PITCH * 1.4, "outer")
    sheet.silhouette = unary_union([sheet.silhouette, behind])
    return sheet
