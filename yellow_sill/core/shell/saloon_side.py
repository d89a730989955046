"""Side view of the reference saloon. One outline is cut along seam lines, so neighbours share their edges."""

import math
from collections.abc import Sequence
from functools import cached_property
from typing import Any

from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry import largest
from .curves import ellipse, filleted, rect, slot, spline, strip
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet

_FAR = 9000


class SideLines:
    """The long curves and seams of the side, each made once."""

    screen_top = R.waist + 386
    estate = False

    @cached_property
    def roof_tail(self):
        """The roof from the screen header to the top of the rear screen."""
        h, header, rear = R.height, R.screen_header, R.roof_rear
        return spline(
            [
                (header - 6, self.screen_top),
                (header + 62, h - 38),
                (header + 230, h - 12),
                (header + 480, h),
                (header + 740, h - 2),
            ]
            + [(rear - 215, h - 17), (rear - 72, h - 46), (rear, h - 90)]
        )

    @cached_property
    def lid(self):
        """The boot lid from the foot of the rear screen to the tail."""
        w, deck, tail = R.waist, R.deck_front, R.tail
        return spline(
            [
                (deck, w + 18),
                (deck + 170, w + 14),
                (deck + 350, w + 14),
                (tail - 120, w + 19),
                (tail - 20, w + 17),
            ]
        )

    @cached_property
    def above_gutter(self) -> BaseGeometry:
        """Where the roof panel lies."""
        w, header = R.waist, R.screen_header
        return Polygon(
            [*self.gutter, (R.deck_front + 300, 2000), (header - 300, 2000), (header - 70, w + 352)]
        ).buffer(0)

    @cached_property
    def tail_seam(self):
        w, tail = R.waist, R.tail
        return [
            (tail - 58, w + 60),
            (tail - 62, w - 80),
            (tail - 64, 660),
            (tail - 72, 510),
            (tail - 92, 430),
            (tail - 104, 300),
        ]

    @cached_property
    def wing_top(self):
        w, nose = R.waist, R.nose
        crown = [
            (nose + 1, 752),
            (nose + 3, 776),
            (nose + 34, 801),
            (nose + 120, 817),
            (-330, 829),
            (0, 844),
            (330, 859),
            (R.screen_base - 36, w - 8),
        ]
        return [(nose + 16, 744), *spline(crown)]

    @cached_property
    def rear_screen(self):
        h, w, roof, deck = R.height, R.waist, R.roof_rear, R.deck_front
        return spline(
            [
                (roof, h - 90),
                (roof + 118, h - 218),
                (deck - 130, w + 115),
                (deck - 52, w + 44),
                (deck, w + 18),
            ]
        )

    @cached_property
    def rear_arch(self):
        return ellipse(R.wheelbase, R.axle_z + 16, R.arch_rear, R.arch_rear_rise, 0, 180, 44, 2.25)

    @cached_property
    def outline(self) -> BaseGeometry:
        """The whole skin seen from the side, apertures not yet cut."""
        w, tail, wb, base, header = R.waist, R.tail, R.wheelbase, R.screen_base, R.screen_header
        screen = spline(
            [(base, w + 6), (base + 190, w + 178), (base + 370, w + 332), (header - 6, self.screen_top)]
        )
        back = spline(
            [
                (tail - 3, w + 8),
                (tail - 4, w - 30),
                (tail - 20, w - 130),
                (tail - 27, 650),
                (tail - 36, 530),
                (tail - 50, 432),
            ]
        )
        low_rear = [
            (tail - 50, 432),
            (tail - 66, 404, 40),
            (wb + 500, 346, 300),
            (wb + R.arch_rear + 14, 312, 14),
            (wb + R.arch_rear, 326),
        ]
        front_arch = ellipse(0, R.axle_z, R.arch_front, R.arch_front - 8, -6, 177, 44)
        bottom = [
            (wb - R.arch_rear - 8, 268),
            (wb - R.arch_rear - 14, R.sill_bottom),
            (R.arch_front + 34, R.sill_bottom),
            (R.arch_front + 4, 256),
        ]
        low_front = [
            (-R.arch_front + 1, 314),
            (-R.arch_front - 22, 326, 14),
            (R.nose + 92, 388, 120),
            (R.nose + 40, 428, 40),
        ]
        low_front += [(R.nose + 24, 560, 200), (R.nose + 16, 744)]
        ring = (
            self.wing_top
            + [(base - 10, w)]
            + screen
            + self.roof_tail[1:]
            + self.rear_screen[1:]
            + self.lid[1:]
            + [(tail - 20, w + 17)]
            + back[1:]
        )
        ring += (
            filleted(low_rear, closed=False)
            + self.rear_arch
            + bottom
            + front_arch
            + filleted(low_front, closed=False)[1:-1]
        )
        return Polygon(ring).buffer(0)

    @cached_property
    def door(self) -> BaseGeometry:
        """The door aperture."""
        d0, d1, w, h, header = R.door_front, R.door_rear, R.waist, R.height, R.screen_header
        top = spline(
            [
                (header + 44, h - 96),
                (header + 150, h - 78),
                (header + 390, h - 66),
                (d1 - 60, h - 68),
                (d1 + 10, h - 74),
            ]
        )
        front = [
            (d0, R.sill_top, 58),
            (d0 - 2, 640),
            (d0 + 4, w - 18, 26),
            (d0 + 34, w + 14, 30),
            (header + 4, h - 118, 60),
        ]
        rear = [
            (d1 + 24, h - 82, 44),
            (d1 + 30, w + 110),
            (d1 + 18, w + 2),
            (d1 + 6, 660),
            (d1, 520),
            (d1 - 14, R.sill_top, 92),
        ]
        return Polygon(filleted([*front, *top, *rear])).buffer(0)

    @cached_property
    def quarter_window(self) -> BaseGeometry:
        b, w, h = R.post_rear, R.waist, R.height
        corners = [
            (b + 22, w + 22, 24),
            (b + 12, h - 80, 34),
            (R.roof_rear - 175, h - 92, 70),
            (R.roof_rear + 66, w + 120, 90),
        ]
        return Polygon(filleted([*corners, (R.deck_front - 262, w + 22, 26)])).buffer(0)

    @cached_property
    def gutter(self):
        h, w, header, roof, deck = R.height, R.waist, R.screen_header, R.roof_rear, R.deck_front
        return spline(
            [
                (header - 34, w + 352),
                (header + 40, h - 66),
                (header + 170, h - 48),
                (header + 430, h - 38),
                (header + 720, h - 40),
            ]
            + [
                (roof - 205, h - 58),
                (roof - 80, h - 90),
                (roof - 6, h - 150),
                (roof + 96, h - 262),
                (deck - 158, w + 92),
            ]
            + [(deck - 96, w + 40), (deck - 40, w + 14), (deck + 34, w + 6), (deck + 90, w + 30)]
        )

    @cached_property
    def waist_swage(self):
        return spline(
            [(R.nose + 40, 688), (R.nose + 190, 704), (0, 716), (R.screen_base, 728), (R.door_rear, 742)]
            + [(R.wheelbase + 200, 748), (R.tail - 200, 744), (R.tail - 62, 738)]
        )

    def front_arch(self, grow: float = 0, start: float = -6, end: float = 184):
        return ellipse(0, R.axle_z, R.arch_front + grow, R.arch_front - 8 + grow, start, end, 44)


def draw(side: str, lines: SideLines | None = None) -> DrawingSheet:
    """The side view for ``L`` or ``R``, drawn as the left one; the right is flipped when it is placed."""
    sheet, lines = DrawingSheet(), lines or SideLines()
    skins = _outer(sheet, lines, side)
    _middle(sheet, lines, side)
    _inner(sheet, lines, side)
    _outer_lines(sheet, lines, skins, side)
    _beyond(sheet, lines)
    _hidden_layers(sheet, side)
    sheet.silhouette = (
        lines.outline.difference(lines.door).difference(lines.quarter_window).union(skins["flange"])
    )
    return sheet


def _left_of(line):
    return Polygon([*line, (-3000, line[-1][1]), (-3000, line[0][1])])


def _right_of(line):
    return Polygon([*line, (_FAR, line[-1][1]), (_FAR, line[0][1])])


def _skins(lines: SideLines) -> dict[str, BaseGeometry]:
    """The outer skin divided at its seams."""
    w, base, d0, d1, bx, tail, wb = (
        R.waist,
        R.screen_base,
        R.door_front,
        R.door_rear,
        R.post_rear,
        R.tail,
        R.wheelbase,
    )
    skin, front, st = lines.outline, R.sill_front, R.sill_top
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
    sill_cut = Polygon([*sill_cut, (wb - R.arch_rear + 30, st - 14), (wb - R.arch_rear + 30, -200)])

    nose = skin.intersection(_left_of(nose_seam))
    wing = skin.intersection(_left_of(wing_seam)).difference(nose)
    roof = skin.intersection(lines.above_gutter)
    sill = skin.intersection(_right_of(wing_seam)).intersection(sill_cut)
    rest = skin.difference(wing).difference(nose).difference(roof).difference(sill).difference(lines.door)
    over_door = box(R.screen_header + 70, w, d1 - 70, 2000)
    apost = largest(rest.intersection(box(-900, 0, R.screen_header + 70, 2000)))
    rear = rest.difference(apost.buffer(0.2)).difference(over_door)
    bpost = largest(
        rear.intersection(Polygon([(d1 - 160, 0), (bx, 0), (bx, w + 10), (bx - 6, 2000), (d1 - 160, 2000)]))
    )
    tail_panel = largest(
        rear.intersection(_right_of(lines.tail_seam)).intersection(box(tail - 300, 0, tail + 50, 2000))
    )
    flange = Polygon(
        [
            (front + 4, R.sill_bottom),
            (R.sill_end, R.sill_bottom),
            (R.sill_end - 6, R.flange_bottom),
            (front + 2, R.flange_bottom),
        ]
    )
    return {
        "wing": wing,
        "nose": nose,
        "apost": apost,
        "sill": sill,
        "cant": largest(rest.intersection(over_door)),
        "bpost": bpost,
        "quarter": rear.difference(bpost).difference(tail_panel).difference(lines.quarter_window),
        "roof": roof,
        "tail": tail_panel,
        "flange": flange,
    }


def _outer(sheet: DrawingSheet, lines: SideLines, side: str) -> dict[str, BaseGeometry]:
    skins = _skins(lines)
    sheet.handed(side, "WING", "Front wing", "outer", skins["wing"], 0.9)
    sheet.panel("NOSE", "Front panel", "outer", skins["nose"], 0.9, 2)
    sheet.handed(side, "APOST", "A-post and screen pillar", "outer", skins["apost"], 1.0, 2)
    sheet.handed(side, "SILL", "Outer sill", "outer", skins["sill"], 1.0)
    sheet.handed(side, "CANT", "Cant rail, outer", "outer", skins["cant"], 1.0, 2)
    sheet.handed(side, "BPOST", "B-post face", "outer", skins["bpost"], 1.0, 2)
    sheet.handed(side, "QTR", "Rear quarter panel", "outer", skins["quarter"], 0.9)
    sheet.panel("ROOF", "Roof", "outer", skins["roof"], 0.8)
    sheet.panel(
        "TAIL", "Tailgate and rear panel" if lines.estate else "Rear panel", "outer", skins["tail"], 0.9, 2
    )
    sheet.handed(
        side,
        "APFL",
        "Door seal flange",
        "outer",
        lines.door.difference(lines.door.buffer(-15, join_style="round")),
        1.8,
        3,
    )
    window = lines.quarter_window
    sheet.handed(
        side,
        "QWFL",
        "Quarter window flange",
        "outer",
        window.difference(window.buffer(-13, join_style="round")),
        1.8,
        3,
    )
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
    sheet.handed(side, "PILLM", "Screen pillar stiffener", "middle", pillar, 1.2)
    post = [
        (d1 - 30, st - 22),
        (bx + 46, st - 22, 10),
        (bx - 2, 520, 120),
        (bx - 14, w + 20),
        (bx - 22, h - 84),
    ]
    post += [(d1 + 34, h - 84), (d1 + 40, w + 20), (d1 + 16, 620, 60)]
    sheet.handed(side, "BPOSTM", "B-post stiffener", "middle", filleted(post), 1.2)
    sheet.handed(side, "CANTM", "Cant rail", "middle", strip(lines.gutter[8:60], 17), 1.0)
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
    sheet.handed(side, "QCLOSE", "Quarter closing panel", "middle", filleted(closing), 0.9)


def _inner(sheet: DrawingSheet, lines: SideLines, side: str) -> None:
    st, w, h, d0, d1, bx, base, wb, tail = (
        R.sill_top,
        R.waist,
        R.height,
        R.door_front,
        R.door_rear,
        R.post_rear,
        R.screen_base,
        R.wheelbase,
        R.tail,
    )
    a, e, deck, nose = R.arch_front, R.arch_rear, R.deck_front, R.nose
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
    fl = R.flange_bottom
    sill = [
        (a + 160, fl),
        (wb - e - 20, fl),
        (wb - e - 24, st + 4, 30),
        (d0 - 20, st + 22),
        (a + 170, st + 22, 60),
    ]
    sheet.handed(side, "SILLI", "Inner sill", "inner", filleted(sill), 1.2)
    post = [
        (d1 - 46, st + 16),
        (bx + 58, st + 16),
        (bx + 8, 600, 160),
        (bx - 6, h - 90),
        (d1 + 44, h - 90),
        (d1 + 34, w),
        (d1 - 2, 560, 60),
    ]
    sheet.handed(side, "BPOSTI", "B-post inner", "inner", filleted(post), 0.9)
    arch = ellipse(wb, R.axle_z + 16, e + 60, R.arch_rear_rise + 118, 0, 180, 44, 2.3)
    sheet.handed(side, "ARCHI", "Inner rear arch", "inner", arch, 0.9)
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
    sheet.handed(side, "QIN", "Quarter inner", "inner", quarter, 0.8)
    cant = LineString(lines.gutter[4:62]).parallel_offset(22, "right").buffer(15, cap_style="flat")
    sheet.handed(side, "CANTI", "Cant rail, inner", "inner", cant, 0.9)


def _outer_lines(sheet: DrawingSheet, lines: SideLines, skins: dict, side: str) -> None:
    w, base, d0, d1, tail, wb, nose, st = (
        R.waist,
        R.screen_base,
        R.door_front,
        R.door_rear,
        R.tail,
        R.wheelbase,
        R.nose,
        R.sill_top,
    )
    skin, wing, quarter, front = lines.outline, skins["wing"], skins["quarter"], R.sill_front
    hole = lambda points: sheet.line("hole", points, "outer", True)
    # pressed lines
    swage = lines.waist_swage
    sheet.clipped("crease", swage, wing.union(quarter).union(skins["bpost"]), "outer")
    sheet.clipped("crease2", [(x, z - 19) for x, z in swage[8:]], wing.union(quarter), "outer")
    sheet.clipped("crease2", [(x, z - 24) for x, z in lines.wing_top[26:]], wing, "outer")
    sheet.clipped(
        "crease2", spline([(nose + 44, 752), (nose + 90, 770), (nose + 200, 786), (-250, 796)]), wing, "outer"
    )
    sheet.line("crease", [(front + 22, 300), (wb - R.arch_rear - 30, 300)], "outer")
    sheet.line("crease2", [(front + 22, 288), (wb - R.arch_rear - 30, 288)], "outer")
    sheet.line("crease2", [(d0 + 20, st - 13), (d1 - 30, st - 13)], "outer")
    sheet.clipped("lip", lines.front_arch(17), wing, "outer")
    rear_lip = ellipse(wb, R.axle_z + 16, R.arch_rear + 17, R.arch_rear_rise + 17, 0, 180, 44, 2.25)
    sheet.clipped("lip", rear_lip, quarter.union(skins["sill"]), "outer")
    sheet.line("edge", lines.door.exterior.coords, "outer", True)
    # gutter
    pillar = spline(
        [(base + 24, w + 4), (base + 200, w + 160), (base + 380, w + 315), (R.screen_header - 34, w + 352)]
    )
    drip = [*pillar[:-1], *lines.gutter]
    sheet.clipped("gutter", drip, skin.buffer(-1), "outer")
    below = (
        skin.buffer(-3) if lines.estate else skin.buffer(-3).difference(box(R.deck_front - 70, 0, _FAR, 2000))
    )
    sheet.clipped("crease2", LineString(drip).parallel_offset(13, "right").coords, below, "outer")
    # lamps
    sheet.line("edge", ellipse(nose + 33, 654, 20, 86), "outer", True)
    sheet.line("lip", ellipse(nose + 34, 654, 13, 73), "outer", True)
    sheet.line("lip", ellipse(nose + 58, 500, 11, 30), "outer", True)
    sheet.line(
        "edge",
        filleted([(tail - 54, w - 26, 14), (tail - 9, w - 18, 8), (tail - 30, 640, 8), (tail - 56, 636, 12)]),
        "outer",
        True,
    )
    sheet.line("crease2", [(tail - 57, 744), (tail - 21, 744)], "outer")
    sheet.line("crease2", [(tail - 58, 690), (tail - 26, 690)], "outer")
    # hinges, check strap, striker
    for z in (536, 752):
        hole(rect(base + 2, z - 46, d0 - 18, z + 46, 6))
        for dx, dz in ((14, -30), (14, 30), (24, 0)):
            hole(ellipse(base + dx, z + dz, 5, pieces=10))
    hole(rect(base + 10, 626, base + 22, 666, 4))
    hole(rect(d1 + 30, 622, d1 + 62, 690, 6))
    for z in (636, 656, 676):
        hole(ellipse(d1 + 46, z, 5, pieces=10))
    sheet.line("crease2", [(d1 + 36, st), (d1 + 36, 600)], "outer")
    # jacking points, drains, wing stay
    for x in (d0 + 140, d1 - 40):
        hole(rect(x, 236, x + 48, 276, 6))
    for x in range(int(front) + 90, int(wb - R.arch_rear) - 80, 250):
        hole(slot(x, R.sill_bottom + 9, x + 26, R.sill_bottom + 9, 7, 3))
    hole(ellipse(190, 790, 13, pieces=14))
    # screen and rear screen flanges, boot gutter
    sheet.line(
        "crease2",
        spline([(base + 6, w - 2), (base + 40, w + 20), (base + 200, w + 172), (base + 376, w + 324)]),
        "outer",
    )
    sheet.line("crease2", LineString(lines.rear_screen[4:-3]).parallel_offset(26, "right").coords, "outer")
    if not lines.estate:
        sheet.clipped(
            "lip",
            spline(
                [
                    (R.deck_front - 30, w - 2),
                    (R.deck_front + 120, w - 10),
                    (tail - 300, w - 12),
                    (tail - 70, w - 8),
                ]
            ),
            quarter,
            "outer",
        )
    if side == "R":  # the fuel filler is on the right only
        sheet.line("edge", ellipse(wb + 480, 800, 62, pieces=30), "outer", True)
        sheet.line("lip", ellipse(wb + 480, 800, 46, pieces=30), "outer", True)
        hole(ellipse(wb + 480, 800, 26, pieces=20))
    # spring hangers below the skin
    for x, low, high, half in ((wb - R.hanger_front, 168, 252, 46), (wb + R.hanger_rear, 298, 410, 34)):
        sheet.line(
            "under",
            filleted([(x - half, high), (x + half, high, 6), (x + 22, low, 20), (x - 22, low, 20)]),
            "outer",
            True,
        )
        sheet.line("hole", ellipse(x, low + 20, 8.5, pieces=14), "outer", True)
    # spot-weld rows
    sheet.weld_row(lines.door.buffer(-8, join_style="round").exterior.coords, R.weld_pitch, "outer")
    middle = (R.sill_bottom + R.flange_bottom) / 2
    sheet.weld_row([(front + 10, middle), (wb - R.arch_rear - 26, middle)], R.weld_pitch, "outer")
    sheet.weld_row(lines.quarter_window.buffer(-7).exterior.coords, R.weld_pitch, "outer")
    sheet.weld_row([(base - 8, 400), (base - 8, w - 24)], R.weld_pitch, "outer")
    # wheels
    for x in (0, wb):
        sheet.line("centre", [(x, R.axle_z - R.tyre - 60), (x, R.axle_z + R.tyre + 110)])
        sheet.line("centre", [(x - R.tyre - 50, R.axle_z), (x + R.tyre + 50, R.axle_z)])
        sheet.line("tyre", ellipse(x, R.axle_z, R.tyre, pieces=60), closed=True)


def _beyond(sheet: DrawingSheet, lines: SideLines) -> None:
    """What shows through the apertures: tunnel, seats, dash, towers."""
    d0, d1, w, header, wb, deck, h = (
        R.door_front,
        R.door_rear,
        R.waist,
        R.screen_header,
        R.wheelbase,
        R.deck_front,
        R.height,
    )
    through_door = [
        spline(
            [
                (d0 - 40, 600),
                (d0 + 70, 520),
                (d0 + 190, 462),
                (d0 + 420, 440),
                (d0 + 760, 432),
                (d1 + 60, 428),
            ]
        ),
        spline(
            [
                (d0 - 40, 566),
                (d0 + 70, 490),
                (d0 + 200, 440),
                (d0 + 420, 420),
                (d0 + 760, 412),
                (d1 + 60, 408),
            ]
        ),
        filleted([(d0 + 392, 300), (d0 + 392, 446, 10), (d0 + 492, 446, 10), (d0 + 492, 300)], False),
        [(d0 + 408, 446), (d0 + 408, 464), (d0 + 476, 464), (d0 + 476, 446)],
        filleted([(d1 - 84, 300), (d1 - 62, 486, 14), (d1 + 20, 508)], False),
        filleted(
            [(d0 - 40, w - 8), (d0 + 78, w - 10, 16), (d0 + 96, 812, 20), (d0 + 70, 770, 14), (d0 - 40, 782)],
            False,
        ),
        [(d0 + 20, 770), (d0 + 58, 640), (d0 + 72, 644), (d0 + 36, 770)],
        filleted([(d0 + 262, 440), (d0 + 270, 470, 8), (d0 + 338, 466, 8), (d0 + 346, 438)], False),
        spline([(header + 20, h - 130), (header + 160, h - 100), (header + 400, h - 88), (d1 + 40, h - 92)]),
    ]
    roof, window = R.roof_rear, [[(R.post_rear - 40, w + 26), (deck - 200, w + 26)]]
    window.append([(roof + 40, w + 10), (roof - 40, w + 150), (roof - 58, w + 154)])
    front = Polygon(lines.front_arch(0, -40, 220))
    front_lines: list[list[tuple[float, float]]] = [
        [(-400, 412), (400, 404)],
        [(-400, 330), (80, 330), (400, 292)],
        [(-86, 640), (-72, 412)],
        [(86, 640), (72, 412)],
    ]
    front_lines += [
        ellipse(0, 566, 58, 16),
        ellipse(0, 566, 30, 8),
        ellipse(0, R.axle_z, R.arch_front - 34, R.arch_front - 44, 8, 172),
    ]
    rear_lines = [
        spline([(wb - 400, 432 - k), (wb - 200, 470 - k), (wb + 200, 480 - k), (wb + 420, 430 - k)])
        for k in (0, 54)
    ]
    rear_lines += [
        ellipse(wb, R.axle_z + 16, R.arch_rear - 30, R.arch_rear_rise - 28, 4, 176, 44, 2.3),
        rect(wb - 34, 380, wb + 34, 418, 6),
    ]
    beyond: list[Sequence[Any]] = [through_door, window, front_lines, rear_lines]
    openings = (lines.door, lines.quarter_window, front, Polygon(lines.rear_arch))
    for opening, drawn in zip(openings, beyond, strict=True):
        for line in drawn:
            sheet.clipped("beyond", line, opening)


def _hidden_layers(sheet: DrawingSheet, side: str) -> None:
    """Lines on the middle and inner sheets."""
    d0, d1, bx, base, wb, tail, a = (
        R.door_front,
        R.door_rear,
        R.post_rear,
        R.screen_base,
        R.wheelbase,
        R.tail,
        R.arch_front,
    )
    inner = lambda kind, points, closed=True: sheet.line(kind, points, "inner", closed)
    for x in (-430, 250):
        inner("hole", ellipse(x, 700, 34, pieces=24))
    inner("edge", filleted([(-120, 420), (-96, 770, 30), (96, 770, 30), (120, 420)], False), False)
    inner("rib", ellipse(0, 742, 70, 14))
    inner("rib", slot(-470, 560, -190, 575, 30))
    inner("rib", slot(200, 580, 520, 600, 30))
    inner("crease", [(a + 180, 300), (wb - R.arch_rear - 40, 300)], False)
    for at in (d0 + 110, d0 + 700):
        inner("hole", slot(at, 340, at + 50, 340, 26))
    inner("rib", slot(bx + 70, 560, bx + 70, 800, 34))
    inner("rib", slot(tail - 330, 560, tail - 180, 570, 40))
    for z in (536, 752):
        for dx, dz in ((14, -30), (14, 30), (24, 0)):
            sheet.line("hole", ellipse(base + dx, z + dz, 7, pieces=10), "middle", True)
    sheet.line("hole", slot(base - 20, 560, base - 20, 640, 36), "middle", True)
    for z in (520, 640, 760):
        sheet.line("hole", ellipse((d1 + bx) / 2 + 4, z, 16, pieces=18), "middle", True)
    row = math.floor(R.sill_bottom - R.flange_drop / 2)
    sheet.weld_row([(a + 60, row), (wb - R.arch_rear - 26, row)], R.weld_pitch, "middle")
