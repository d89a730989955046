"""Underside of the reference saloon: x aft, y to the right, seen from below once it is flipped."""

from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from .curves import filleted, mirror_v, rect, spline
from .pairs import Pair
from .rear_engine_plan import bay_from_below, crossmember_from_below, tub_from_below
from .saloon_places import (
    AXLE_ARCH_REAR,
    BOOT_REAR,
    HEEL,
    SEAT_REAR,
    SILL_INNER,
    SILL_OUTER,
    TOE_FRONT,
    TOE_REAR,
    TUNNEL_EDGE,
    tunnel_half,
)
from .saloon_plan_marks import engine_bay, pressings
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet


def body_outline() -> BaseGeometry:
    """The body seen from below or from above, at its widest."""
    h, nose, tail = R.half_width, R.nose, R.tail
    half = spline(
        [
            (nose, 0),
            (nose + 3, h * 0.40),
            (nose + 16, h * 0.64),
            (nose + 44, h * 0.80),
            (nose + 104, h * 0.90),
            (nose + 280, h * 0.952),
        ]
        + [
            (0, h * 0.982),
            (500, h * 0.998),
            (1200, h),
            (2000, h * 0.998),
            (R.wheelbase + 150, h * 0.985),
            (tail - 330, h * 0.95),
        ]
        + [
            (tail - 130, h * 0.91),
            (tail - 52, h * 0.86),
            (tail - 16, h * 0.72),
            (tail - 3, h * 0.4),
            (tail, 0),
        ]
    )
    return Polygon([*half, *mirror_v(half[1:-1])[::-1]]).buffer(0)


#: What is seen from below only.
BENEATH = (
    "LEGB",
    "RAILB",
    "OUTR",
    "OUTRR",
    "HANGF",
    "HANGR",
    "JACK",
    "JACKR",
    "XMF",
    "NOSE",
    "WING",
    "IWING",
)


def draw(inside: bool = False, rear_engine: bool = False) -> DrawingSheet:
    """The underside; or the floor seen from inside, without what hangs beneath it. Args: rear_engine: the engine hangs behind the axle."""
    sheet = DrawingSheet()
    outline, pair = body_outline(), Pair(sheet, 1)
    _front(sheet, pair, outline)
    _behind(sheet, pair, outline, rear_engine)
    _frame(sheet, pair)
    pressings(sheet, pair, rear_engine)
    if inside:
        sheet.panels = [
            (record, shape)
            for record, shape in sheet.panels
            if record["code"].removeprefix("L-").removeprefix("R-") not in BENEATH
        ]
        sheet.silhouette = sheet.joined()
        sheet.line("centre", [(TOE_FRONT - 40, 0), (R.tail + 40, 0)])
        return sheet
    engine_bay(sheet, pair)
    if rear_engine:
        tub_from_below(sheet)
        crossmember_from_below(sheet)
        sheet.silhouette = outline.difference(bay_from_below())
        return sheet
    bay = filleted(
        [
            (R.nose + 212, -R.leg_inner + 8),
            (R.nose + 212, R.leg_inner - 8),
            (-150, R.leg_inner - 6),
            (260, R.leg_inner - 12),
            (TOE_FRONT - 6, 300),
        ]
        + [(TOE_FRONT - 6, -300), (260, -R.leg_inner + 12), (-150, -R.leg_inner + 6)]
    )
    sheet.silhouette = outline.difference(Polygon(bay))
    return sheet


def _front(sheet: DrawingSheet, pair: Pair, outline: BaseGeometry) -> None:
    """Front panel, wings, toe boards, front floor, tunnel."""
    nose, si = R.nose, SILL_INNER
    toe = [
        *TUNNEL_EDGE[:19],
        (TOE_REAR, tunnel_half(TOE_REAR)),
        (TOE_REAR, si),
        (TOE_FRONT + 40, si),
        (TOE_FRONT, 600),
    ]
    floor = [
        (TOE_REAR, tunnel_half(TOE_REAR)),
        *[p for p in TUNNEL_EDGE if p[0] > TOE_REAR + 1],
        (HEEL, tunnel_half(HEEL)),
        (HEEL, si),
        (TOE_REAR, si),
    ]
    tunnel = Polygon([*TUNNEL_EDGE, *[(x, -y) for x, y in reversed(TUNNEL_EDGE)]])
    inner_wing = [
        (nose + 84, R.leg_outer - 8),
        (-150, R.leg_outer - 2),
        (260, R.leg_outer - 4),
        (TOE_FRONT, 408),
        (TOE_FRONT + 30, 560),
        (nose + 84, 560),
    ]
    sheet.panel(
        "NOSE",
        "Front panel and valance",
        "outer",
        outline.intersection(box(nose - 20, -900, nose + 84, 900)),
        0.9,
        2,
    )
    pair.panel(
        "WING", "Front wing", "outer", outline.intersection(box(nose + 70, 560, TOE_FRONT + 10, 900)), 0.9
    )
    pair.panel("IWING", "Inner wing", "inner", filleted(inner_wing), 1.2, 2)
    pair.panel("TOE", "Toe board", "inner", toe, 1.0, 2)
    pair.panel("FLOOR", "Front floor pan", "inner", floor, 0.9, 0)
    sheet.panel("TUN", "Tunnel", "inner", tunnel, 1.0, 2)


def _behind(sheet: DrawingSheet, pair: Pair, outline: BaseGeometry, rear_engine: bool) -> None:
    """Rear seat, axle arch, boot, inner arches, sills, rear panel."""
    wb, tail, si, so = R.wheelbase, R.tail, SILL_INNER, SILL_OUTER
    arch = [
        (wb - R.arch_rear - 22, 900),
        (wb - R.arch_rear - 22, 640, 60),
        (wb - 260, 552, 80),
        (wb + 260, 552, 80),
    ]
    arch = outline.intersection(
        Polygon(filleted([*arch, (wb + R.arch_rear + 22, 640, 60), (wb + R.arch_rear + 22, 900)]))
    )
    arches = unary_union([arch, affinity.scale(arch, 1, -1, origin=(0, 0))])
    sill = [
        (TOE_FRONT - 60, si + 26),
        (TOE_FRONT - 10, si, 20),
        (wb - R.arch_rear - 24, si, 10),
        (wb - R.arch_rear - 24, so - 2),
        (TOE_FRONT - 60, so - 12),
    ]
    sheet.panel("SEAT", "Rear seat pan", "inner", box(HEEL, -si, SEAT_REAR, si).difference(arches), 0.9, 1)
    sheet.panel(
        "KICKUP",
        "Axle arch panel",
        "inner",
        box(SEAT_REAR, -560, AXLE_ARCH_REAR, 560).difference(arches),
        0.9,
        2,
    )
    if not rear_engine:
        sheet.panel("BOOT", "Boot floor", "inner", box(AXLE_ARCH_REAR, -560, BOOT_REAR, 560), 0.9, 0)
    pair.panel(
        "DROP",
        "Boot side drop",
        "inner",
        outline.intersection(box(wb + 255, 556, BOOT_REAR, 900)).difference(arch),
        0.9,
    )
    pair.panel("ARCHI", "Inner rear arch", "inner", arch, 0.9, 2)
    pair.panel("SILL", "Outer sill", "outer", filleted(sill), 1.0)
    sheet.panel(
        "TAIL",
        "Rear panel and valance",
        "outer",
        outline.intersection(box(BOOT_REAR, -900, tail + 20, 900)),
        0.9,
        2,
    )


def _frame(sheet: DrawingSheet, pair: Pair) -> None:
    """Legs, rails, crossmember, outriggers, hangers, jacking points."""
    _legs_and_rails(pair)
    _across(sheet, pair)


def _legs_and_rails(pair: Pair) -> None:
    li, lo, sy, wb, d0, d1 = R.leg_inner, R.leg_outer, R.spring_y, R.wheelbase, R.door_front, R.door_rear
    leg = [
        (R.nose + 84, li + 6),
        (-150, li, 100),
        (260, li - 6, 200),
        (620, 300, 160),
        (d0 + 250, 318, 30),
        (d0 + 250, 386, 30),
    ]
    pair.panel(
        "LEGB",
        "Chassis leg, front, bottom plate",
        "inner",
        filleted([*leg, (620, 396, 160), (260, lo - 2, 200), (-150, lo, 100), (R.nose + 84, lo - 6)]),
        2.0,
        3,
    )
    rail = [
        (d1 - 210, 452, 20),
        (d1 - 40, 452, 120),
        (wb - 420, sy - 46, 160),
        (wb + 120, sy - 58, 200),
        (wb + R.hanger_rear + 150, sy - 58),
    ]
    rail += [
        (wb + R.hanger_rear + 150, sy + 34),
        (wb + 120, sy + 34, 200),
        (wb - 420, sy + 46, 160),
        (d1 - 40, 542, 120),
        (d1 - 210, 530, 20),
    ]
    pair.panel("RAILB", "Chassis rail, rear, bottom plate", "inner", filleted(rail), 1.6, 3)


def _across(sheet: DrawingSheet, pair: Pair) -> None:
    """Crossmember, outriggers, hangers, jacking points."""
    li, sy, wb, d0, d1, si, so = (
        R.leg_inner,
        R.spring_y,
        R.wheelbase,
        R.door_front,
        R.door_rear,
        SILL_INNER,
        SILL_OUTER,
    )
    x = R.nose
    cross = [
        (x + 96, -li - 6),
        (x + 96, li + 6),
        (x + 190, li + 2, 30),
        (x + 210, 200, 60),
        (x + 210, -200, 60),
        (x + 190, -li - 2, 30),
    ]
    sheet.panel("XMF", "Front crossmember", "inner", filleted(cross), 1.6, 3)
    pair.panel(
        "OUTR", "Outrigger", "inner", [(d0 + 60, 392), (d0 + 50, si), (d0 + 150, si), (d0 + 140, 392)], 1.6, 3
    )
    pair.panel(
        "OUTRR",
        "Rear outrigger",
        "inner",
        [(d1 - 190, 530), (d1 - 170, si), (d1 - 80, si), (d1 - 100, 542)],
        1.6,
        3,
    )
    front, rear = wb - R.hanger_front, wb + R.hanger_rear
    pair.panel(
        "HANGF", "Spring hanger, front", "inner", rect(front - 52, sy - 62, front + 52, sy + 62, 10), 2.5, 3
    )
    pair.panel(
        "HANGR", "Spring hanger, rear", "inner", rect(rear - 34, sy - 62, rear + 34, sy + 40, 10), 2.5, 3
    )
    pair.panel("JACK", "Jacking point", "outer", rect(d0 + 136, si + 6, d0 + 206, so - 26, 8), 2.0, 3)
    pair.panel("JACKR", "Jacking point, rear", "outer", rect(d1 - 60, si + 6, d1 + 10, so - 26, 8), 2.0, 3)
