"""Underside of the reference saloon: x aft, y to the right, seen from below once it is flipped."""

from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from .curves import ellipse, filleted, mirror_v, rect, slot, spline
from .pairs import SIGN, Pair
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet

TOE_FRONT, TOE_REAR = 470, 720
HEEL = R.door_rear + 10
SEAT_REAR = R.wheelbase - 150
AXLE_ARCH_REAR = R.wheelbase + 270
BOOT_REAR = R.tail - 84
SILL_INNER, SILL_OUTER = R.half_width - 104, R.half_width - 2


def _tunnel_half(x: float) -> float:
    """Half width of the tunnel: wide at the gearbox, narrow aft."""
    return R.tunnel_half + 54 * max(0, min(1, (900 - x) / 430)) - 20 * max(0, min(1, (x - 1300) / 700))


TUNNEL_EDGE = spline(
    [(x, _tunnel_half(x)) for x in (TOE_FRONT, 600, 780, 920, 1300, 1700)] + [(HEEL + 20, _tunnel_half(2000))]
)


def _outline() -> BaseGeometry:
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
BENEATH = ("LEG", "RAIL", "OUTR", "OUTRR", "HANGF", "HANGR", "JACK", "JACKR", "XMF", "NOSE", "WING", "IWING")


def draw(inside: bool = False) -> DrawingSheet:
    """The underside; or the floor seen from inside, without what hangs beneath it."""
    sheet = DrawingSheet()
    outline, pair = _outline(), Pair(sheet, 1)
    _front(sheet, pair, outline)
    _behind(sheet, pair, outline)
    _frame(sheet, pair)
    _pressings(sheet, pair)
    if inside:
        sheet.panels = [
            (record, shape)
            for record, shape in sheet.panels
            if record["code"].removeprefix("L-").removeprefix("R-") not in BENEATH
        ]
        sheet.silhouette = unary_union([shape.buffer(1) for _, shape in sheet.panels]).buffer(-1)
        sheet.line("centre", [(TOE_FRONT - 40, 0), (R.tail + 40, 0)])
        return sheet
    _engine_bay(sheet, pair)
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
        (TOE_REAR, _tunnel_half(TOE_REAR)),
        (TOE_REAR, si),
        (TOE_FRONT + 40, si),
        (TOE_FRONT, 600),
    ]
    floor = [
        (TOE_REAR, _tunnel_half(TOE_REAR)),
        *[p for p in TUNNEL_EDGE if p[0] > TOE_REAR + 1],
        (HEEL, _tunnel_half(HEEL)),
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


def _behind(sheet: DrawingSheet, pair: Pair, outline: BaseGeometry) -> None:
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
        "LEG",
        "Chassis leg, front",
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
    pair.panel("RAIL", "Chassis rail, rear", "inner", filleted(rail), 1.6, 3)


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


def _pressings(sheet: DrawingSheet, pair: Pair) -> None:
    """Ribs, holes, creases and rows of spot welds."""
    _in_front_floor(pair)
    _in_tunnel(sheet, pair)
    _in_rear_floor(sheet)
    _by_arches_and_sills(sheet, pair)


def _in_front_floor(pair: Pair) -> None:
    d0, d1, si = R.door_front, R.door_rear, SILL_INNER
    across = [210 + i * R.rib_pitch for i in range(20) if 210 + i * R.rib_pitch < si - 50]
    for y in across:
        under_leg = 300 < y < 410
        start = d0 + 280 if under_leg else d0 + 28 + (70 if y < 260 else 0) + (150 if y > 392 else 0)
        pair.line("rib", slot(start, y, d0 + 372, y, 38), "inner", True)
        pair.line("rib", slot(d0 + 524, y, d1 - 26 if y < 430 else d1 - 240, y, 38), "inner", True)
    for x in (d0 + 392, d0 + 492):
        pair.line("hidden", [(x, _tunnel_half(x)), (x, si)], "inner")
    pair.hole(ellipse(d0 + 448, 560, 22, pieces=20))
    pair.hole(ellipse(d1 - 50, 640, 15, pieces=18))
    pair.hole(ellipse(TOE_REAR + 28, 610, 15, pieces=18))
    pair.line("crease2", [(TOE_REAR - 12, _tunnel_half(TOE_REAR) + 6), (TOE_REAR - 12, si)], "inner")
    pair.line("rib", slot(TOE_FRONT + 70, 300, TOE_FRONT + 70, 560, 34), "inner", True)
    pair.line("rib", slot(TOE_FRONT + 150, 270, TOE_FRONT + 150, 590, 34), "inner", True)


def _in_tunnel(sheet: DrawingSheet, pair: Pair) -> None:
    """Shoulder line, gear lever and handbrake."""
    d0 = R.door_front
    pair.line("crease2", [(x, y * 0.62) for x, y in TUNNEL_EDGE], "inner")
    sheet.line(
        "hole",
        filleted([(d0 + 236, -46, 30), (d0 + 236, 46, 30), (d0 + 352, 46, 30), (d0 + 352, -46, 30)]),
        "inner",
        True,
    )
    for x in (d0 + 560, d0 + 640):
        sheet.line("hole", slot(x, -22, x, 22, 12), "inner", True)


def _in_rear_floor(sheet: DrawingSheet) -> None:
    """Seat pan, axle arch, boot floor."""
    wb, si = R.wheelbase, SILL_INNER
    sheet.line("crease", [(HEEL + 26, -si), (HEEL + 26, si)], "inner")
    for y in (-340, -170, 0, 170, 340):
        sheet.line("rib", slot(HEEL + 86, y, SEAT_REAR - 50, y, 62), "inner", True)
    for x in (SEAT_REAR + 36, AXLE_ARCH_REAR - 40):
        sheet.line("crease2", [(x, -550), (x, 550)], "inner")
    sheet.line("rib", rect(wb - 70, -130, wb + 110, 130, 50), "inner", True)
    # boot floor: spare wheel well right of the centre line, ribs left, drains
    u, v, r = wb + 590, 120, 252
    for kind, radius, pieces in (
        ("edge", r, 64),
        ("lip", r - 22, 64),
        ("crease2", r * 0.52, 48),
        ("hole", 17, 20),
    ):
        sheet.line(kind, ellipse(u, v, radius, pieces=pieces), "inner", True)
    for y in (-390, -310, -230):
        sheet.line("rib", slot(AXLE_ARCH_REAR + 50, y, BOOT_REAR - 60, y, 36), "inner", True)
    for dx, dy in ((-130, -130), (-130, 130), (130, -130), (130, 130)):
        sheet.line("hole", ellipse(u + dx, v + dy, 9, pieces=12), "inner", True)


def _by_arches_and_sills(sheet: DrawingSheet, pair: Pair) -> None:
    wb, si = R.wheelbase, SILL_INNER
    e = R.arch_rear
    lip = [
        (wb - e + 2, 752),
        (wb - e + 2, 656, 50),
        (wb - 246, 576, 70),
        (wb + 246, 576, 70),
        (wb + e - 2, 656, 50),
        (wb + e - 2, 752),
    ]
    pair.line("lip", filleted(lip, False), "inner")
    pair.hole(ellipse(wb + 60, 610, 24, pieces=22))
    pair.line("edge", ellipse(wb + 60, 610, 44, pieces=30), "inner", True)
    pair.line("crease", [(wb + e + 60, 600), (BOOT_REAR - 20, 600)], "inner")
    h = R.half_width
    pair.line("crease", [(TOE_FRONT - 40, h - 44), (wb - e - 26, h - 44)], "outer")
    pair.line("crease2", [(TOE_FRONT - 40, h - 36), (wb - e - 26, h - 36)], "outer")
    for sign in SIGN.values():
        sheet.weld_row(
            [(TOE_FRONT - 30, sign * (h - 40)), (wb - e - 30, sign * (h - 40))], R.weld_pitch, "outer"
        )
        sheet.weld_row([(TOE_REAR, sign * (si - 10)), (HEEL, sign * (si - 10))], R.weld_pitch * 1.3, "inner")
    sheet.line("crease2", [(BOOT_REAR + 16, -560), (BOOT_REAR + 16, 560)], "outer")


def _engine_bay(sheet: DrawingSheet, pair: Pair) -> None:
    """Towers, leg and rail holes, front panel lip, wheels and centre lines."""
    h, a, li, lo, sy, wb, d1, nose = (
        R.half_width,
        R.arch_front,
        R.leg_inner,
        R.leg_outer,
        R.spring_y,
        R.wheelbase,
        R.door_rear,
        R.nose,
    )
    for kind, radius, pieces in (("edge", 62, 40), ("lip", 40, 32), ("hole", 14, 16)):
        pair.line(kind, ellipse(0, 494, radius, pieces=pieces), "inner", True)
    for sign in (-1, 1):
        pair.line("crease2", [(sign * 350, 560), (sign * 230, 500), (sign * 80, 470)], "inner")
    pair.line("lip", [(-a, h * 0.945), (0, h * 0.965), (a, h * 0.975)], "outer")
    pair.line("edge", filleted([(-a, 560), (-a, 720, 40), (-a + 30, h * 0.94)], False), "outer")
    pair.line("edge", filleted([(a, 560), (a, 730, 40), (a - 30, h * 0.965)], False), "outer")
    for x in (-470, -210, 210, 520, 760, 930):
        pair.hole(ellipse(x, (li + lo) / 2 - (26 if x > 500 else 0), 13, pieces=16))
    for x in (-210, 210):
        pair.hole(ellipse(x, (li + lo) / 2 - (2 if x > 0 else 0), 25, pieces=20))
    for at in (d1 - 120, wb - 300, wb + 60, wb + 420):
        pair.hole(ellipse(at, sy + (4 if at < wb - 320 else -10), 11, pieces=14))
    pair.hole(ellipse(wb - R.hanger_front, sy, 15, pieces=16))
    pair.hole(ellipse(wb + R.hanger_rear, sy - 10, 13, pieces=16))
    sheet.line("hole", ellipse(nose + 150, 0, 36, pieces=24), "inner", True)
    for y in (-210, 210):
        sheet.line("hole", slot(nose + 146, y - 50, nose + 146, y + 50, 30), "inner", True)
    sheet.line(
        "lip",
        [(nose + 30, -600), (nose + 26, -300), (nose + 24, 0), (nose + 26, 300), (nose + 30, 600)],
        "outer",
    )
    sheet.line("edge", [(TOE_FRONT, -300), (TOE_FRONT, 300)], "inner")
    for at, y0, y1 in ((0.0, 585, 735), (wb, 590, 740)):
        pair.line("tyre", rect(at - R.tyre, y0, at + R.tyre, y1, 36), closed=True)
        sheet.line("centre", [(at, -h - 36), (at, h + 36)])
    pair.line("centre", [(wb - R.hanger_front - 90, sy), (wb + R.hanger_rear + 90, sy)])
    sheet.line("centre", [(nose - 40, 0), (R.tail + 40, 0)])
