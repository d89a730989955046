"""Lines on the underside of the reference saloon: pressings, holes, rows of spot welds, wheels."""

from .curves import ellipse, filleted, rect, slot
from .pairs import SIGN, Pair
from .saloon_places import (
    AXLE_ARCH_REAR,
    BOOT_REAR,
    HEEL,
    SEAT_REAR,
    SILL_INNER,
    TOE_FRONT,
    TOE_REAR,
    TUNNEL_EDGE,
    tunnel_half,
)
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet


def pressings(sheet: DrawingSheet, pair: Pair, rear_engine: bool = False) -> None:
    """Ribs, holes, creases and rows of spot welds."""
    _in_front_floor(pair)
    _in_tunnel(sheet, pair)
    _in_rear_floor(sheet)
    if not rear_engine:
        _in_boot_floor(sheet)
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
        pair.line("hidden", [(x, tunnel_half(x)), (x, si)], "inner")
    pair.hole(ellipse(d0 + 448, 560, 22, pieces=20))
    pair.hole(ellipse(d1 - 50, 640, 15, pieces=18))
    pair.hole(ellipse(TOE_REAR + 28, 610, 15, pieces=18))
    pair.line("crease2", [(TOE_REAR - 12, tunnel_half(TOE_REAR) + 6), (TOE_REAR - 12, si)], "inner")
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


def _in_boot_floor(sheet: DrawingSheet) -> None:
    """Spare wheel well right of the centre line, ribs left, drains."""
    wb = R.wheelbase
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


def engine_bay(sheet: DrawingSheet, pair: Pair) -> None:
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
