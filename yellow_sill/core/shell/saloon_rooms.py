"""The unitary body's rooms from within: bulkhead, boot and engine bay of the reference body."""

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from .curves import ellipse, filleted, rect, slot, spline
from .pairs import Pair, mirrored
from .saloon_places import TOE_FRONT
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet

H, W = R.half_width, R.waist
#: The driver's side: which way y goes, 0 where nobody has said.
DRIVER = {"": 0, "left": -1, "right": 1}
#: The column's hole and the pedals' plate lie so far off the centre line, mm.
COLUMN_Y, PEDALS_Y = 356.0, 300.0
_FLOOR, _SILL_TOP = 250.0, 372.0


def _tunnel() -> Polygon:
    return Polygon(filleted([(-172, 200), (-150, 470, 90), (150, 470, 90), (172, 200)]))


def bulkhead(steering: str = "") -> DrawingSheet:
    """The bulkhead as it is seen from the front with the wings off: scuttle, toe boards, hinge boxes, ends of sills and legs."""
    sheet = DrawingSheet()
    pair, tunnel = Pair(sheet, 0), _tunnel()
    wall = Polygon(filleted(mirrored([(H - 128, 430), (H - 124, W - 62)]))).difference(tunnel)
    plates = _driven(wall, steering)
    sheet.panel("BULK", "Bulkhead", "inner", wall, 1.0, 0)
    if plates is not None:
        sheet.panel("PEDALM", "Pedal box reinforcement", "middle", plates, 1.6, 3)
    scuttle = Polygon(
        filleted(mirrored([(H - 124, W - 62), (H - 62, W - 66), (H - 84, W + 2), (H - 150, W + 14)]))
    )
    sheet.panel("SCUTTLE", "Scuttle", "outer", scuttle, 0.9, 2)
    throat = tunnel.difference(Polygon(filleted([(-150, 190), (-128, 446, 80), (128, 446, 80), (150, 190)])))
    sheet.panel("TUN", "Tunnel", "inner", throat, 1.0, 3)
    pair.panel("TOE", "Toe board", "inner", box(120, _FLOOR, H - 132, 430).difference(tunnel), 1.0, 2)
    hinge = [(H - 122, _SILL_TOP), (H - 40, _SILL_TOP), (H - 14, 470, 60), (H - 20, W - 70), (H - 122, W - 70)]  # fmt: skip
    pair.panel("APOSTM", "Hinge box", "middle", filleted(hinge), 1.5, 1)
    sill = [(H - 130, 240), (H - 60, 204), (H - 52, 204), (H - 36, 224, 10), (H - 24, 330), (H - 36, _SILL_TOP), (H - 130, _SILL_TOP)]  # fmt: skip
    pair.panel("SILL", "Outer sill", "outer", filleted(sill), 1.0, 3)
    pair.panel("LEG", "Chassis leg, front", "inner", rect(R.leg_inner, 330, R.leg_outer, 428, 8), 2.0, 3)
    _bulkhead_marks(sheet, pair, wall, steering)
    return _finished(sheet, W + 60)


def _driven(wall: BaseGeometry, steering: str) -> BaseGeometry | None:
    """The plate that carries the pedals, on the driver's side."""
    way = DRIVER[steering]
    if not way:
        return None
    plate = Polygon(rect(min(way * 210, way * 480), 520, max(way * 210, way * 480), 700, 26))
    return plate.intersection(wall).difference(box(way * PEDALS_Y - 70, 560, way * PEDALS_Y + 46, 652))


def _bulkhead_marks(sheet: DrawingSheet, pair: Pair, wall: BaseGeometry, steering: str) -> None:
    """Pressings, the column's hole, heater, wiring, spot welds."""
    way = DRIVER[steering]
    for y in (-80, 60):
        sheet.line("rib", slot(y, 560, y, 760, 40), "inner", True)
    for y, z, radius in ((-520, 700, 16), (520, 700, 16), (-20, 520, 12), (120, 520, 14)):
        sheet.line("hole", ellipse(y, z, radius, pieces=20), "inner", True)
    heater = -way or 1
    sheet.line("hole", rect(min(heater * 200, heater * 400), 640, max(heater * 200, heater * 400), 750, 24), "inner", True)  # fmt: skip
    if way:
        sheet.line("hole", ellipse(way * COLUMN_Y, 500, 34, pieces=24), "inner", True)
        sheet.line("hole", rect(way * PEDALS_Y - 66, 564, way * PEDALS_Y + 42, 648, 12), "inner", True)
    sheet.line("hole", rect(-210, W - 40, 210, W - 20, 6), "outer", True)
    sheet.weld_row([(-H + 140, W - 74), (H - 140, W - 74)], R.weld_pitch * 1.4, "inner")
    pair.weld_row([(H - 142, 450), (H - 140, W - 90)], R.weld_pitch, "inner")
    pair.weld_row([(190, 418), (H - 150, 418)], R.weld_pitch, "inner")
    pair.line("crease", [(H - 230, 440), (H - 230, W - 66)], "inner")


def boot(estate: bool = False) -> DrawingSheet:
    """The boot seen from behind with its lid off, or an estate's load space: seat back, arches, sides, floor, side drops."""
    sheet = DrawingSheet()
    pair = Pair(sheet, 0)
    floor, top = 444.0, W - 40
    arch = spline([(H - 262, floor), (H - 258, 640), (H - 240, 720), (H - 176, 752), (H - 106, 760)])
    arch_shape = Polygon([*arch, (H - 106, floor)])
    side = Polygon(
        filleted(
            [
                (H - 106, floor),
                (H - 58, floor + 40),
                (H - 46, 700, 60),
                (H - 92, top, 30),
                (H - 180, top),
                (H - 176, 752),
                (H - 106, 760),
            ]
        )
    )
    pair.panel("BSIDE", "Boot side", "inner", side, 0.9, 1)
    pair.panel("ARCHI", "Inner rear arch", "inner", arch_shape, 0.9, 2)
    if not estate:
        back = Polygon(filleted(mirrored([(H - 264, floor + 22), (H - 182, W - 44)])))
        sheet.panel("SEATB", "Seat back panel", "inner", back.difference(unary_union([arch_shape, _mirrored(arch_shape)])), 0.8, 0)  # fmt: skip
        sheet.panel("SHELF", "Rear shelf", "inner", Polygon(mirrored([(H - 180, W - 44), (H - 176, W - 8)])), 0.9, 2)  # fmt: skip
        for y in (-240, -80, 80, 240):
            sheet.line("rib", slot(y, 540, y, 760, 46), "inner", True)
        sheet.weld_row([(-H + 200, W - 60), (H - 200, W - 60)], R.weld_pitch * 1.3, "inner")
    sheet.panel("BOOT", "Load floor" if estate else "Boot floor", "inner", rect(-H + 262, floor - 26, H - 262, floor + 22), 0.9, 1)  # fmt: skip
    pair.panel(
        "DROP",
        "Boot side drop",
        "inner",
        Polygon(filleted([(H - 226, floor - 26), (H - 226, 330, 30), (H - 92, 330, 40), (H - 70, floor)])),
        0.9,
        1,
    )
    pair.panel("RAIL", "Chassis rail, rear", "inner", rect(R.spring_y - 58, 348, R.spring_y + 34, floor - 27, 6), 1.6, 3)  # fmt: skip
    sheet.line("edge", ellipse(-40, floor - 4, 190, 16, pieces=30), "inner", True)
    pair.line("hole", ellipse(H - 160, 352, 13, pieces=18), "inner", True)
    pair.weld_row([(H - 262, floor + 16), (H - 262, 640)], R.weld_pitch, "inner")
    pair.weld_row([(H - 104, floor + 60), (H - 104, 750)], R.weld_pitch, "inner")
    return _finished(sheet, W + 40)


def engine_bay(steering: str = "") -> DrawingSheet:
    """The engine bay from above with the bonnet off: landing panel, inner wings with their towers, legs, crossmember, bulkhead's edge."""
    sheet = DrawingSheet()
    pair, nose = Pair(sheet, 1), R.nose
    edge = TOE_FRONT - 10
    slam = Polygon([(nose + 66, -560), (nose + 66, 560), (nose + 120, 552), (nose + 120, -552)])
    sheet.panel("SLAM", "Bonnet landing panel", "outer", slam, 1.0, 2)  # fmt: skip
    gutter = [(nose + 118, 545), (-240, 566), (200, 598), (edge, 640), (edge, 676), (200, 634), (-240, 602), (nose + 118, 581)]  # fmt: skip
    pair.panel("WFL", "Wing top rail", "outer", gutter, 1.2, 3)
    tower = Polygon(ellipse(-6, 520, 104, 74, pieces=40, power=2.4))
    inner = Polygon(
        [
            (nose + 122, R.leg_outer),
            (-150, R.leg_outer + 2),
            (260, R.leg_outer),
            (edge, 418),
            (edge, 640),
            (200, 598),
            (-240, 566),
            (nose + 122, 545),
        ]
    )
    pair.panel("IWING", "Inner wing", "inner", inner.difference(tower.buffer(0.1)), 1.2, 1)
    pair.panel("TOWER", "Suspension tower", "inner", tower.difference(Polygon(ellipse(-6, 520, 34, pieces=24))), 2.0, 3)  # fmt: skip
    leg = [
        (nose + 124, R.leg_inner + 6),
        (-150, R.leg_inner, 100),
        (260, R.leg_inner - 6, 200),
        (edge, 312),
        (edge, 404),
        (260, R.leg_outer - 2, 200),
        (-150, R.leg_outer, 100),
        (nose + 124, R.leg_outer - 6),
    ]
    pair.panel("LEGT", "Chassis leg, front, top plate", "inner", filleted(leg), 2.0, 3)
    cross = [
        (nose + 124, -R.leg_inner - 4),
        (nose + 124, R.leg_inner + 4),
        (nose + 190, R.leg_inner, 30),
        (nose + 206, 200, 60),
        (nose + 206, -200, 60),
        (nose + 190, -R.leg_inner, 30),
    ]
    sheet.panel("XMF", "Front crossmember", "inner", filleted(cross), 1.6, 3)
    sheet.panel("BULK", "Bulkhead", "inner", box(edge, -676, edge + 34, 676), 1.0, 2)
    way = DRIVER[steering] or 1
    tray = Polygon(rect(edge - 250, min(-way * 440, -way * 590), edge - 60, max(-way * 440, -way * 590), 16))
    sheet.panel("BATT", "Battery tray", "outer", tray, 1.2, 2)
    for x in range(int(nose) + 190, int(edge) - 60, 120):
        if abs(x + 6) > 130:
            pair.line("crease", [(x, R.leg_outer + 26), (x, 548)], "inner")
    for dx, dy in ((-62, 0), (44, 44), (44, -44)):
        pair.hole(ellipse(-6 + dx, 520 + dy, 7, pieces=14))
    pair.weld_row([(nose + 140, 563), (-240, 584), (200, 616), (edge - 20, 655)], R.weld_pitch, "outer")
    pair.weld_row([(nose + 150, R.leg_outer + 9), (edge - 30, R.leg_outer + 7)], R.weld_pitch, "inner")
    sheet.weld_row([(edge + 14, -640), (edge + 14, 640)], R.weld_pitch * 1.3, "inner")
    sheet.line("centre", [(0, -H - 40), (0, H + 40)])
    sheet.line("centre", [(nose - 40, 0), (edge + 90, 0)])
    sheet.silhouette = sheet.joined()
    return sheet


def _mirrored(shape: Polygon) -> Polygon:
    return Polygon([(-y, z) for y, z in shape.exterior.coords])


def _finished(sheet: DrawingSheet, top: float) -> DrawingSheet:
    sheet.line("centre", [(0, 170), (0, top)])
    sheet.silhouette = sheet.joined()
    return sheet
