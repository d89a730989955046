"""Side view of the reference saloon. One outline is cut along seam lines, so neighbours share their edges."""

from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry import largest
from .curves import ellipse, filleted, slot, strip
from .saloon_lines import SideLines
from .saloon_marks import beyond, hidden_lines, outer_lines
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet

_FAR = 9000


def draw(side: str, lines: SideLines | None = None) -> DrawingSheet:
    """The side view for ``L`` or ``R``, drawn as the left one; the right is flipped when it is placed."""
    sheet, lines = DrawingSheet(), lines or SideLines()
    skins = _outer(sheet, lines, side)
    _middle(sheet, lines, side)
    _inner(sheet, lines, side)
    outer_lines(sheet, lines, skins, side)
    beyond(sheet, lines)
    hidden_lines(sheet, lines)
    skin = lines.outline.difference(lines.apertures).difference(lines.quarter_window)
    sheet.silhouette = skin.union(skins["flange"]).union(lines.screen_frame)
    return sheet


def _left_of(line):
    return Polygon([*line, (-3000, line[-1][1]), (-3000, line[0][1])])


def _right_of(line):
    return Polygon([*line, (_FAR, line[-1][1]), (_FAR, line[0][1])])


def _seams() -> tuple[list, list, BaseGeometry]:
    """Where the wing ends, where the nose ends, and what the sill is cut by."""
    base, w, d0, d1, wb = R.screen_base, R.waist, R.door_front, R.door_rear, R.wheelbase
    front, st = R.sill_front, R.sill_top
    wing_seam = [
        (base - 24, 1000),
        (base - 22, w - 2),
        (base - 24, 640),
        (front + 14, 420),
        (front + 6, 366),
        (front, R.sill_bottom - 60),
    ]
    nose_seam = [
        (R.nose - 60, 560),
        (R.nose + 36, 548),
        (R.nose + 50, 470),
        (R.nose + 74, 400),
        (R.nose + 82, 250),
    ]
    sill_cut = [
        (-900, -200),
        (front + 6, -200),
        (front + 6, st - 14),
        (d0 - 30, st - 14),
        (d0 - 26, st),
        (d1 + 4, st),
        (d1 + 8, st - 14),
    ]
    cut = Polygon([*sill_cut, (wb - R.arch_rear + 30, st - 14), (wb - R.arch_rear + 30, -200)])
    return wing_seam, nose_seam, cut


def _skins(lines: SideLines) -> dict[str, BaseGeometry]:
    """The outer skin divided at its seams."""
    wing_seam, nose_seam, sill_cut = _seams()
    skin = lines.outline
    w, d1, bx, tail = R.waist, R.door_rear, R.post_rear, R.tail
    nose = skin.intersection(_left_of(nose_seam))
    wing = skin.intersection(_left_of(wing_seam)).difference(nose)
    roof = skin.intersection(lines.above_gutter)
    sill = skin.intersection(_right_of(wing_seam)).intersection(sill_cut)
    rest = (
        skin.difference(wing).difference(nose).difference(roof).difference(sill).difference(lines.apertures)
    )
    over_door = box(R.screen_header + 70, w, d1 - 70, 2000)
    apost = largest(rest.intersection(box(-900, 0, R.screen_header + 70, 2000)))
    rear = rest.difference(apost.buffer(0.2)).difference(over_door)
    bpost = largest(
        rear.intersection(Polygon([(d1 - 160, 0), (bx, 0), (bx, w + 10), (bx - 6, 2000), (d1 - 160, 2000)]))
    )
    tail_panel = largest(
        rear.intersection(_right_of(lines.tail_seam)).intersection(box(tail - 300, 0, tail + 50, 2000))
    )
    return {
        "wing": wing,
        "nose": nose,
        "apost": apost,
        "sill": sill,
        "cant": largest(rest.intersection(over_door)) if lines.roofed else Polygon(),
        "bpost": bpost,
        "quarter": rear.difference(bpost).difference(tail_panel).difference(lines.quarter_window),
        "roof": roof,
        "tail": tail_panel,
        "flange": _flange(),
    }


def _flange() -> BaseGeometry:
    """The weld flange below the sill."""
    front = R.sill_front
    return Polygon(
        [
            (front + 4, R.sill_bottom),
            (R.sill_end, R.sill_bottom),
            (R.sill_end - 6, R.flange_bottom),
            (front + 2, R.flange_bottom),
        ]
    )


def _outer(sheet: DrawingSheet, lines: SideLines, side: str) -> dict[str, BaseGeometry]:
    skins = _skins(lines)
    sheet.handed(side, "WING", "Front wing", "outer", skins["wing"], 0.9)
    sheet.panel("NOSE", "Front panel", "outer", skins["nose"], 0.9, 2)
    sheet.handed(side, "APOST", "A-post and screen pillar", "outer", skins["apost"], 1.0, 2)
    sheet.handed(side, "SILL", "Outer sill", "outer", skins["sill"], 1.0)
    if lines.roofed:
        sheet.handed(side, "CANT", "Cant rail, outer", "outer", skins["cant"], 1.0, 2)
        sheet.panel("ROOF", "Roof", "outer", skins["roof"], 0.8)
    else:
        sheet.handed(side, "SCRF", "Screen frame", "outer", lines.screen_frame, 1.2, 2)
    sheet.handed(side, "BPOST", "B-post face", "outer", skins["bpost"], 1.0, 2)
    sheet.handed(side, "QTR", "Rear quarter panel", "outer", skins["quarter"], 0.9)
    sheet.panel(
        "TAIL", "Tailgate and rear panel" if lines.estate else "Rear panel", "outer", skins["tail"], 0.9, 2
    )
    sheet.handed(
        side,
        "APFL",
        "Door seal flange",
        "outer",
        lines.seal_flange,
        1.8,
        3,
    )
    if not lines.rear_door.is_empty:
        rim = lines.rear_door.difference(lines.rear_door.buffer(-15, join_style="round"))
        sheet.handed(side, "RDFL", "Rear door seal flange", "outer", rim, 1.8, 3)
    window = lines.quarter_window
    if not window.is_empty:
        flange = window.difference(window.buffer(-13, join_style="round"))
        sheet.handed(side, "QWFL", "Quarter window flange", "outer", flange, 1.8, 3)
    sheet.handed(side, "SFL", "Sill weld flange", "outer", skins["flange"], 2.0, 3)
    return skins


def _middle(sheet: DrawingSheet, lines: SideLines, side: str) -> None:
    st, w, h, d0, d1, bx, base, wb, fl = (
        R.sill_top,
        R.waist,
        R.height,
        R.door_front,
        R.door_rear,
        R.post_rear,
        R.screen_base,
        R.wheelbase,
        R.flange_bottom,
    )
    a, e = R.arch_front, R.arch_rear
    membrane = [
        (a + 40, fl),
        (wb - e - 18, fl),
        (wb - e - 14, 300, 20),
        (wb - e - 60, st - 22, 20),
        (a + 110, st - 22, 24),
        (a + 40, 300, 20),
    ]
    windows = [slot(x, 286, x + 60, 286, 52) for x in range(int(a) + 150, int(wb - e) - 160, 196)]
    sheet.handed(side, "SILLM", "Sill membrane", "middle", Polygon(filleted(membrane), windows), 1.2)
    hinge_box = [
        (base - 64, st - 22),
        (d0 - 6, st - 22),
        (d0 - 8, w - 30, 20),
        (base - 20, w - 12, 14),
        (base - 70, w - 40, 20),
        (base - 74, 560, 80),
    ]
    sheet.handed(side, "APOSTM", "Hinge box", "middle", filleted(hinge_box), 1.5)
    pillar = strip([(base + 18, w + 4), (base + 196, w + 164), (R.screen_header + 2, w + 352)], 24)
    if lines.roofed:
        sheet.handed(side, "PILLM", "Screen pillar stiffener", "middle", pillar, 1.2)
    post = [
        (d1 - 30, st - 22),
        (bx + 46, st - 22, 10),
        (bx - 2, 520, 120),
        (bx - 14, w + 20),
        (bx - 22, h - 84),
    ]
    post += [(d1 + 34, h - 84), (d1 + 40, w + 20), (d1 + 16, 620, 60)]
    sheet.handed(side, "BPOSTM", "B-post stiffener", "middle", lines.under_roof(Polygon(filleted(post))), 1.2)
    if lines.roofed:
        sheet.handed(side, "CANTM", "Cant rail", "middle", strip(lines.gutter[8:60], 17), 1.0)
    _middle_rear(sheet, lines, side)


def _middle_rear(sheet: DrawingSheet, lines: SideLines, side: str) -> None:
    """Arch, splash panel, closing panel, scuttle brace, C-post."""
    wb, e, a, base, w = R.wheelbase, R.arch_rear, R.arch_front, R.screen_base, R.waist
    outer_arc = ellipse(wb, R.axle_z + 16, e + 78, R.arch_rear_rise + 74, 2, 178, 44, 2.2)
    inner_arc = ellipse(wb, R.axle_z + 16, e + 4, R.arch_rear_rise + 4, 2, 178, 44, 2.25)
    sheet.handed(side, "ARCHO", "Outer rear arch", "middle", [*outer_arc, *reversed(inner_arc)], 0.9)
    splash = [
        (a + 8, 250),
        (a + 44, 232),
        (a + 56, 600, 60),
        (a - 40, 806, 60),
        (a - 76, 806),
        (a + 14, 560, 80),
    ]
    sheet.handed(side, "SPLASH", "Splash panel", "middle", filleted(splash), 0.9)
    closing = [(wb + e + 70, 330), (R.tail - 140, 400, 30), (R.tail - 116, 560, 40), (wb + e + 96, 520, 60)]
    brace = [(base - 196, w - 96), (base - 84, w - 82), (base - 84, w - 20, 12), (base - 196, w - 34, 12)]
    sheet.handed(side, "SCUTM", "Scuttle brace", "middle", filleted(brace), 1.2)
    if not lines.rear_door.is_empty:
        sheet.handed(side, "CPOSTM", "C-post stiffener", "middle", _behind_rear_door(lines, 10, 66), 1.2)
    sheet.handed(side, "QCLOSE", "Quarter closing panel", "middle", filleted(closing), 0.9)


def _behind_rear_door(lines: SideLines, start: float, end: float) -> BaseGeometry:
    """A strip along the rear door's rear edge, from the arch to the roof. Args: how far off the aperture it begins and ends, mm."""
    strip_ = lines.rear_door.buffer(end).difference(lines.rear_door.buffer(start))
    x = R.wheelbase - 190
    return largest(strip_.intersection(box(x, 660, x + 500, R.height - 120)).intersection(lines.outline))


def _inner(sheet: DrawingSheet, lines: SideLines, side: str) -> None:
    _inner_front(sheet, side)
    _inner_middle(sheet, lines, side)
    _inner_rear(sheet, side)
    _inner_upper(sheet, lines, side)


def _inner_front(sheet: DrawingSheet, side: str) -> None:
    """Inner wing, leg, footwell, inner sill."""
    nose, base, d0, w, a, fl, wb, e, st = (
        R.nose,
        R.screen_base,
        R.door_front,
        R.waist,
        R.arch_front,
        R.flange_bottom,
        R.wheelbase,
        R.arch_rear,
        R.sill_top,
    )
    inner_wing = [
        (nose + 96, 440),
        (nose + 80, 760, 30),
        (-200, 806),
        (base - 60, 840),
        (base - 62, 470),
        (420, 440, 60),
        (300, 396),
        (-300, 396),
    ]
    sheet.handed(side, "IWING", "Inner wing", "inner", filleted(inner_wing), 1.2)
    leg = [
        (nose + 60, 352),
        (nose + 60, 462, 14),
        (260, 444, 160),
        (560, 330, 160),
        (d0 + 250, 292),
        (d0 + 250, 232, 20),
        (540, 232, 120),
        (240, 340, 180),
    ]
    sheet.handed(side, "LEG", "Chassis leg, front", "inner", filleted(leg), 2.0, 2)
    kick = [(base - 70, 260), (d0 - 4, 330), (d0 - 8, w - 24, 20), (base - 60, w - 30), (base - 84, 600, 80)]
    sheet.handed(side, "KICK", "Footwell side", "inner", filleted(kick), 1.0)
    sill = [
        (a + 160, fl),
        (wb - e - 20, fl),
        (wb - e - 24, st + 4, 30),
        (d0 - 20, st + 22),
        (a + 170, st + 22, 60),
    ]
    sheet.handed(side, "SILLI", "Inner sill", "inner", filleted(sill), 1.2)


def _inner_middle(sheet: DrawingSheet, lines: SideLines, side: str) -> None:
    """B-post and rear arch."""
    d1, st, bx, h, w, wb, e = (
        R.door_rear,
        R.sill_top,
        R.post_rear,
        R.height,
        R.waist,
        R.wheelbase,
        R.arch_rear,
    )
    post = [
        (d1 - 46, st + 16),
        (bx + 58, st + 16),
        (bx + 8, 600, 160),
        (bx - 6, h - 90),
        (d1 + 44, h - 90),
        (d1 + 34, w),
        (d1 - 2, 560, 60),
    ]
    sheet.handed(side, "BPOSTI", "B-post inner", "inner", lines.under_roof(Polygon(filleted(post))), 0.9)
    arch = ellipse(wb, R.axle_z + 16, e + 60, R.arch_rear_rise + 118, 0, 180, 44, 2.3)
    sheet.handed(side, "ARCHI", "Inner rear arch", "inner", arch, 0.9)


def _inner_rear(sheet: DrawingSheet, side: str) -> None:
    """Rail and boot."""
    d1, wb, e, tail, w, deck = R.door_rear, R.wheelbase, R.arch_rear, R.tail, R.waist, R.deck_front
    rail = [
        (d1 - 200, 232),
        (d1 - 200, 318, 20),
        (d1 + 60, 330, 120),
        (wb - 330, 512, 160),
        (wb + 200, 530, 180),
        (wb + R.hanger_rear + 130, 448, 60),
    ]
    rail += [
        (wb + R.hanger_rear + 130, 372),
        (wb + 500, 396, 160),
        (wb + 180, 452, 160),
        (wb - 260, 436, 160),
        (d1 + 120, 236, 140),
    ]
    sheet.handed(side, "RAIL", "Chassis rail, rear", "inner", filleted(rail), 1.6, 2)
    boot = [
        (wb + e + 62, 404),
        (tail - 132, 424, 20),
        (tail - 100, 640),
        (tail - 118, w - 60, 20),
        (deck - 190, w - 20),
    ]
    boot += [(deck - 240, 790, 60), (wb + e - 20, 700, 120), (wb + e + 62, 540, 60)]
    sheet.handed(side, "BSIDE", "Boot side", "inner", filleted(boot), 0.9)


def _inner_upper(sheet: DrawingSheet, lines: SideLines, side: str) -> None:
    """Quarter, end of the scuttle, cant rail."""
    bx, st, deck, w, wb, e, base = (
        R.post_rear,
        R.sill_top,
        R.deck_front,
        R.waist,
        R.wheelbase,
        R.arch_rear,
        R.screen_base,
    )
    quarter = Polygon(
        filleted([(bx + 26, st + 30), (deck - 300, st + 30), (deck - 230, w - 20, 30), (bx + 10, w - 20, 10)])
    )
    over_arch = ellipse(wb, R.axle_z + 16, e + 64, R.arch_rear_rise + 122, 0, 180, 44, 2.3)
    quarter = quarter.difference(Polygon([*over_arch, (wb - e - 64, 0), (wb + e + 64, 0)]))
    sheet.handed(
        side,
        "SCUTI",
        "Scuttle end, inner",
        "inner",
        filleted([(base - 190, 848), (base - 92, 850), (base - 92, w - 14, 8), (base - 190, w - 24, 8)]),
        1.0,
    )
    if not lines.rear_door.is_empty:
        quarter = quarter.difference(lines.rear_door.buffer(70))
        sheet.handed(side, "CPOSTI", "C-post inner", "inner", _behind_rear_door(lines, 4, 84), 0.9)
    sheet.handed(side, "QIN", "Quarter inner", "inner", quarter, 0.8)
    if not lines.roofed:
        return
    cant = LineString(lines.gutter[4:62]).parallel_offset(22, "right").buffer(15, cap_style="flat")
    sheet.handed(side, "CANTI", "Cant rail, inner", "inner", cant, 0.9)
