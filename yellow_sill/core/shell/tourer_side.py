"""Side view of the open tourer."""

from shapely.geometry import Polygon
from shapely.ops import unary_union

from . import ladder
from .curves import ellipse, filleted, rect, slot, spline
from .ladder import ARCH, AXLE_Z, WELD_PITCH, Places
from .sheet import DrawingSheet
from .tourer_lines import TourerSide


def mounts(p: Places) -> list[float]:
    return [p.bulkhead + 40, (p.door_front + p.door_rear) / 2 + 120, p.wheelbase + ARCH + 60]


def side(lines: TourerSide, hand: str) -> DrawingSheet:
    """The side view for ``L`` or ``R``, drawn as the left one; the right is flipped when it is placed."""
    sheet, p = DrawingSheet(), lines.p
    _outer(sheet, lines, hand)
    _middle(sheet, p, hand)
    _inner(sheet, lines, hand)
    ladder.side_chassis(sheet, p, hand, mounts(p))
    _pressed(sheet, lines)
    _holes_and_rows(sheet, lines)
    whole = unary_union([lines.wing, lines.bonnet, lines.body, lines.flange])
    sheet.silhouette = whole.buffer(2).buffer(-2).difference(lines.door)
    return sheet


def _outer(sheet: DrawingSheet, lines: TourerSide, hand: str) -> None:
    """The skin."""
    skins = {
        "WING": ("Front wing", lines.wing, 1.0, 1),
        "BONNET": ("Bonnet side", lines.bonnet, 0.9, 1),
        "SCUTTLE": ("Scuttle side", lines.scuttle, 1.0, 1),
        "APOST": ("A-post", lines.apost, 1.2, 2),
        "SILL": ("Outer sill", lines.sill, 1.2, 1),
        "BPOST": ("B-post", lines.bpost, 1.2, 2),
        "QTR": ("Rear quarter panel", lines.quarter, 1.0, 1),
        "SFL": ("Sill weld flange", lines.flange, 2.4, 3),
    }
    for code, (name, shape, thickness, tone) in skins.items():
        sheet.handed(hand, code, name, "outer", shape, thickness, tone)
    sheet.panel("TAIL", "Rear panel", "outer", lines.tail_strip, 1.0, 2)


def _middle(sheet: DrawingSheet, p: Places, hand: str) -> None:
    """What doubles the skin."""
    bh, sb, st, d0, w = p.bulkhead, p.sill_bottom, p.sill_top, p.door_front, p.waist
    d1, deck, wb = p.door_rear, p.waist - 60, p.wheelbase
    sheet.handed(
        hand,
        "SILLM",
        "Sill stiffener",
        "middle",
        filleted(
            [
                (bh + 50, sb - 14),
                (p.rear_arch_front - 40, sb - 14),
                (p.rear_arch_front - 50, st - 20, 16),
                (bh + 60, st - 20, 16),
            ]
        ),
        1.2,
    )
    sheet.handed(
        hand,
        "APOSTM",
        "Hinge post",
        "middle",
        filleted([(d0 - 92, st - 20), (d0 - 8, st - 20), (d0 - 10, w - 24, 14), (d0 - 84, w - 30, 14)]),
        1.6,
    )
    sheet.handed(
        hand,
        "BPOSTM",
        "Lock post",
        "middle",
        filleted(
            [(d1 + 4, st - 20), (d1 + 92, st - 20, 10), (d1 + 70, deck - 20, 14), (d1 + 10, deck - 20, 14)]
        ),
        1.6,
    )
    outer_ring = ellipse(wb, AXLE_Z + 20, ARCH + 62, ARCH + 30, 2, 178, 44)
    sheet.handed(
        hand,
        "ARCHO",
        "Outer rear arch",
        "middle",
        [*outer_ring, *reversed(ellipse(wb, AXLE_Z + 20, ARCH - 2, ARCH - 36, 2, 178, 44))],
        1.0,
    )
    sheet.handed(
        hand,
        "SCUTM",
        "Scuttle brace",
        "middle",
        filleted([(bh + 10, w - 120), (d0 - 100, w - 110), (d0 - 100, w - 40, 20), (bh + 10, w - 30)]),
        1.2,
    )


def _inner(sheet: DrawingSheet, lines: TourerSide, hand: str) -> None:
    """What lies behind."""
    p = lines.p
    nose, bh, sb, d0, st, w = p.nose, p.bulkhead, p.sill_bottom, p.door_front, p.sill_top, p.waist
    sheet.handed(
        hand,
        "IWING",
        "Inner wing",
        "inner",
        Polygon(
            filleted(
                [(nose + 90, 480), (nose + 84, 700, 30), (20, 770, 60), (bh - 90, 700, 60), (bh - 20, 480)]
            )
        ).difference(lines.front_arch),
        1.0,
    )
    sheet.handed(
        hand,
        "KICK",
        "Footwell side",
        "inner",
        filleted([(bh, sb + 20), (d0 - 10, st), (d0 - 14, w - 60, 20), (bh, w - 50, 20)]),
        1.0,
    )
    _inner_behind(sheet, lines, hand)


def _inner_behind(sheet: DrawingSheet, lines: TourerSide, hand: str) -> None:
    """Inner sill, arch, quarter."""
    p = lines.p
    bh, sb, st, wb, tail, deck = p.bulkhead, p.sill_bottom, p.sill_top, p.wheelbase, p.tail, p.waist - 60
    sheet.handed(
        hand,
        "SILLI",
        "Inner sill",
        "inner",
        filleted(
            [
                (bh + 40, sb - 16),
                (p.rear_arch_front - 30, sb - 16),
                (p.rear_arch_front - 36, st + 18, 20),
                (bh + 44, st + 18, 20),
            ]
        ),
        1.2,
    )
    sheet.handed(
        hand,
        "ARCHI",
        "Inner rear arch",
        "inner",
        ellipse(wb, AXLE_Z + 20, ARCH + 50, ARCH + 76, 0, 180, 44),
        1.0,
    )
    sheet.handed(
        hand,
        "QIN",
        "Quarter inner",
        "inner",
        filleted(
            [
                (wb + ARCH + 64, sb + 40),
                (tail - 90, sb + 60),
                (tail - 130, deck - 210, 40),
                (wb + ARCH - 60, deck - 90, 40),
            ]
        ),
        0.9,
    )


def _pressed(sheet: DrawingSheet, lines: TourerSide) -> None:
    """Lips, creases, louvres, the screen, and what shows through the door."""
    p = lines.p
    wb, nose, bh, w, st, d1, deck, tail, d0 = (
        p.wheelbase,
        p.nose,
        p.bulkhead,
        p.waist,
        p.sill_top,
        p.door_rear,
        p.waist - 60,
        p.tail,
        p.door_front,
    )
    sheet.line("edge", lines.door.exterior.coords, "outer", True)
    sheet.clipped("lip", ellipse(0, AXLE_Z, ARCH + 4, pieces=60), lines.wing, "outer")
    sheet.clipped("lip", ellipse(wb, AXLE_Z + 20, ARCH + 12, ARCH - 22, pieces=60), lines.quarter, "outer")
    sheet.clipped("crease", [(nose + 90, 778), (bh - 120, w - 66)], lines.bonnet, "outer")
    for x in range(int(nose) + 330, int(bh) - 150, 46):
        sheet.clipped("rib", slot(x, w - 210, x + 12, w - 120, 14), lines.bonnet, "outer")
    sheet.clipped("crease2", [(bh + 30, st - 26), (p.rear_arch_front, st - 26)], lines.sill, "outer")
    sheet.clipped(
        "crease",
        spline([(d1 + 70, deck - 60), (wb, deck - 70), (tail - 90, deck - 220)]),
        lines.quarter,
        "outer",
    )
    screen = [(bh + 70, w + 6), (bh + 150, p.top - 8, 14), (bh + 172, p.top - 8), (bh + 100, w + 6)]
    sheet.line("edge", filleted(screen), "outer", True)
    sheet.line(
        "beyond",
        filleted([(d0 + 330, st), (d0 + 300, w - 60, 40), (d0 + 210, w - 60, 40), (d0 + 190, st)], False),
    )
    sheet.line("beyond", ellipse(d0 + 60, w - 20, 150, 60, 300, 420))


def _holes_and_rows(sheet: DrawingSheet, lines: TourerSide) -> None:
    """Holes of hinges and drains; rows of spot welds."""
    p = lines.p
    st, w, d0, d1, bh, sb = p.sill_top, p.waist, p.door_front, p.door_rear, p.bulkhead, p.sill_bottom
    for z in (st + 90, w - 130):
        sheet.line("hole", rect(d0 - 50, z - 34, d0 - 22, z + 34, 5), "outer", True)
    sheet.line("hole", rect(d1 + 16, w - 210, d1 + 40, w - 150, 5), "outer", True)
    for x in range(int(bh) + 120, int(p.rear_arch_front) - 60, 240):
        sheet.line("hole", slot(x, sb + 8, x + 24, sb + 8, 7, 3), "outer", True)
    sheet.weld_row([(bh + 40, sb - 9), (p.rear_arch_front - 24, sb - 9)], WELD_PITCH, "outer")
    sheet.weld_row(lines.door.buffer(-8).exterior.coords, WELD_PITCH, "outer")
    sheet.weld_row([(bh + 60, sb - 4), (p.rear_arch_front - 50, sb - 4)], WELD_PITCH, "middle")
