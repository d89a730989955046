"""Side view of the light truck's cab."""

from shapely.geometry import Polygon

from . import ladder
from .cab_lines import CabSide
from .curves import ellipse, filleted, rect, slot, spline
from .ladder import ARCH, AXLE_Z, WELD_PITCH, Places
from .sheet import DrawingSheet


def mounts(p: Places) -> list[float]:
    return [p.door_front - 90, (p.door_front + p.door_rear) / 2, p.body_rear - 60]


def side(p: Places, hand: str) -> DrawingSheet:
    """The side view for ``L`` or ``R``, drawn as the left one; the right is flipped when it is placed."""
    sheet, lines = DrawingSheet(), CabSide(p)
    _outer(sheet, lines, hand)
    _middle(sheet, p, hand)
    _inner(sheet, lines, hand)
    ladder.side_chassis(sheet, p, hand, mounts(p))
    _pressed(sheet, lines)
    _holes_and_rows(sheet, lines)
    sheet.silhouette = lines.skin.union(lines.flange).difference(lines.door).difference(lines.window)
    return sheet


def _outer(sheet: DrawingSheet, lines: CabSide, hand: str) -> None:
    """The skin."""
    skins = {
        "WING": ("Front wing", lines.wing, 1.0, 1),
        "BONNET": ("Bonnet side", lines.bonnet_side, 1.0, 1),
        "APOST": ("A-post and screen pillar", lines.apost, 1.2, 2),
        "SILL": ("Cab sill and step", lines.sill, 1.2, 1),
        "CABCORNER": ("Cab corner", lines.corner_panel, 1.0, 1),
        "QTR": ("Cab side behind the door", lines.back_side, 1.0, 1),
        "SFL": ("Sill weld flange", lines.flange, 2.4, 3),
    }
    for code, (name, shape, thickness, tone) in skins.items():
        sheet.handed(hand, code, name, "outer", shape, thickness, tone)
    sheet.panel("NOSE", "Front panel", "outer", lines.nose_panel, 1.0, 2)
    sheet.panel("ROOF", "Roof", "outer", lines.roof_panel, 0.9)
    sheet.handed(
        hand, "APFL", "Door seal flange", "outer", lines.door.difference(lines.door.buffer(-15)), 2.2, 3
    )


def _middle(sheet: DrawingSheet, p: Places, hand: str) -> None:
    """What doubles the skin."""
    wing_seam, sb, d1, st, d0, w, top, cowl, back = (
        p.door_front - 96,
        p.sill_bottom,
        p.door_rear,
        p.sill_top,
        p.door_front,
        p.waist,
        p.top,
        p.door_front - 70,
        p.body_rear,
    )
    sheet.handed(
        hand,
        "SILLM",
        "Step stiffener",
        "middle",
        filleted(
            [
                (wing_seam + 30, sb - 14),
                (d1 - 20, sb - 14),
                (d1 - 24, st - 18, 16),
                (wing_seam + 34, st - 18, 16),
            ]
        ),
        1.5,
    )
    sheet.handed(
        hand,
        "APOSTM",
        "Hinge pillar",
        "middle",
        filleted([(d0 - 88, st - 16), (d0 - 8, st - 16), (d0 - 8, w - 30, 14), (d0 - 80, w - 40, 14)]),
        1.6,
    )
    sheet.handed(
        hand,
        "BPOSTM",
        "Lock pillar",
        "middle",
        filleted(
            [(d1 + 6, st - 10), (d1 + 84, st - 10, 10), (d1 + 60, top - 120, 20), (d1 + 12, top - 120, 20)]
        ),
        1.5,
    )
    sheet.handed(
        hand, "CANTM", "Cant rail", "middle", rect(cowl + 290, top - 96, back - 90, top - 62, 10), 1.2
    )
    sheet.handed(
        hand,
        "CORNERM",
        "Corner gusset",
        "middle",
        filleted(
            [(d1 + 60, sb + 16), (back - 20, sb + 20), (back - 16, st + 120, 30), (d1 + 70, st + 120, 30)]
        ),
        1.2,
    )


def _inner(sheet: DrawingSheet, lines: CabSide, hand: str) -> None:
    """What lies behind."""
    p = lines.p
    nose, w, cowl, sb, d0, back, st, d1, top = (
        p.nose,
        p.waist,
        p.door_front - 70,
        p.sill_bottom,
        p.door_front,
        p.body_rear,
        p.sill_top,
        p.door_rear,
        p.top,
    )
    sheet.handed(
        hand,
        "IWING",
        "Inner wing",
        "inner",
        Polygon(
            filleted([(nose + 90, 520), (nose + 84, w - 150, 30), (cowl - 20, w - 110), (cowl - 20, 520)])
        ).difference(lines.arch),
        1.0,
    )
    sheet.handed(
        hand,
        "KICK",
        "Footwell side",
        "inner",
        filleted([(cowl, sb + 20), (d0 + 70, sb + 20), (d0 + 60, w - 80, 20), (cowl, w - 60, 20)]),
        1.0,
    )
    sheet.handed(
        hand,
        "SILLI",
        "Inner sill",
        "inner",
        filleted(
            [(d0 - 60, sb - 16), (back - 60, sb - 16), (back - 60, st + 14, 20), (d0 - 60, st + 14, 20)]
        ),
        1.2,
    )
    sheet.handed(
        hand,
        "BPOSTI",
        "B-post inner",
        "inner",
        filleted([(d1 - 10, st), (d1 + 96, st), (d1 + 72, top - 130, 20), (d1 + 4, top - 130, 20)]),
        1.0,
    )
    sheet.handed(
        hand,
        "QIN",
        "Cab side inner",
        "inner",
        filleted([(d1 + 96, st + 20), (back - 30, st + 20), (back - 30, w + 30, 20), (d1 + 92, w + 30, 20)]),
        0.9,
    )


def _pressed(sheet: DrawingSheet, lines: CabSide) -> None:
    """Lips, creases, gutter, lamp, and what shows through the door."""
    p = lines.p
    nose, w, wing_seam, d1, back, cowl, top, st, d0 = (
        p.nose,
        p.waist,
        p.door_front - 96,
        p.door_rear,
        p.body_rear,
        p.door_front - 70,
        p.top,
        p.sill_top,
        p.door_front,
    )
    sheet.line("edge", lines.door.exterior.coords, "outer", True)
    sheet.clipped("lip", ellipse(0, AXLE_Z + 10, ARCH + 12, pieces=60), lines.wing, "outer")
    sheet.clipped(
        "crease", spline([(nose + 70, w - 220), (0, w - 206), (wing_seam, w - 190)]), lines.wing, "outer"
    )
    sheet.clipped("crease", spline([(d1 + 60, w - 190), (back - 10, w - 190)]), lines.back_side, "outer")
    sheet.clipped("gutter", [(cowl + 200, top - 84), (back - 60, top - 80)], lines.skin, "outer")
    sheet.clipped("crease2", [(wing_seam + 20, st - 22), (d1, st - 22)], lines.sill, "outer")
    if not lines.window.is_empty:
        sheet.line("lip", lines.window.buffer(-12).exterior.coords, "outer", True)
    sheet.line("edge", ellipse(nose + 34, w - 260, 18, 84), "outer", True)
    sheet.line("beyond", filleted([(d1 - 130, st), (d1 - 60, w + 60, 40), (d1 - 10, w + 60)], False))
    sheet.line("beyond", ellipse(d0 + 120, w + 20, 60, 130, 250, 470))


def _holes_and_rows(sheet: DrawingSheet, lines: CabSide) -> None:
    """Holes of hinges and drains; rows of spot welds."""
    p = lines.p
    st, w, d0, wing_seam, d1, sb = (
        p.sill_top,
        p.waist,
        p.door_front,
        p.door_front - 96,
        p.door_rear,
        p.sill_bottom,
    )
    for z in (st + 120, w - 90):
        sheet.line("hole", rect(d0 - 66, z - 42, d0 - 30, z + 42, 6), "outer", True)
    for x in range(int(wing_seam) + 60, int(d1) - 60, 220):
        sheet.line("hole", slot(x, sb + 8, x + 26, sb + 8, 7, 3), "outer", True)
    sheet.weld_row(lines.door.buffer(-8).exterior.coords, WELD_PITCH, "outer")
    sheet.weld_row([(wing_seam + 30, sb - 9), (d1 - 20, sb - 9)], WELD_PITCH, "outer")
    sheet.weld_row([(wing_seam + 40, sb - 4), (d1 - 30, sb - 4)], WELD_PITCH, "middle")
