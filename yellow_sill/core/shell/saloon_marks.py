"""Lines on the side of the reference saloon: pressings, holes, rows of spot welds, and what shows through its openings."""

import math
from collections.abc import Sequence
from typing import Any

from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from .curves import ellipse, filleted, rect, slot, spline
from .saloon_lines import SideLines
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet

_FAR = 9000


def outer_lines(sheet: DrawingSheet, lines: SideLines, skins: dict[str, BaseGeometry], side: str) -> None:
    """What is pressed into, cut through and fixed to the outer skin. Args: skins: the skin divided at its seams; side: L or R."""
    _pressed(sheet, lines, skins)
    if lines.roofed:
        _gutter(sheet, lines)
    _lamps(sheet, lines.tail_down)
    _bolted(sheet)
    if lines.roofed:
        _flanges(sheet, lines, skins)
    if side == "R":
        _filler(sheet)
    _hangers(sheet)
    _rows_and_wheels(sheet, lines)


def _pressed(sheet: DrawingSheet, lines: SideLines, skins: dict[str, BaseGeometry]) -> None:
    """Swage, creases, lips of the arches, the edge of the door."""
    wing, quarter, nose, front, wb, d0, st, d1 = (
        skins["wing"],
        skins["quarter"],
        R.nose,
        R.sill_front,
        R.wheelbase,
        R.door_front,
        R.sill_top,
        R.door_rear,
    )
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
    sheet.line("edge", lines.rim(lines.door), "outer", lines.roofed)
    if not lines.rear_door.is_empty:
        sheet.line("edge", lines.rear_door.exterior.coords, "outer", True)


def _gutter(sheet: DrawingSheet, lines: SideLines) -> None:
    """The gutter down the screen pillar and along the roof."""
    base, w, skin = R.screen_base, R.waist, lines.outline
    pillar = spline(
        [(base + 24, w + 4), (base + 200, w + 160), (base + 380, w + 315), (R.screen_header - 34, w + 352)]
    )
    drip = [*pillar[:-1], *lines.gutter]
    sheet.clipped("gutter", drip, skin.buffer(-1), "outer")
    below = (
        skin.buffer(-3) if lines.estate else skin.buffer(-3).difference(box(R.deck_front - 70, 0, _FAR, 2000))
    )
    sheet.clipped("crease2", LineString(drip).parallel_offset(13, "right").coords, below, "outer")


def _lamps(sheet: DrawingSheet, down: float) -> None:
    """Head and tail lamps. Args: down: how far the tail lamp lies below the saloon's, mm."""
    nose, tail, w = R.nose, R.tail, R.waist - down
    sheet.line("edge", ellipse(nose + 33, 654, 20, 86), "outer", True)
    sheet.line("lip", ellipse(nose + 34, 654, 13, 73), "outer", True)
    sheet.line("lip", ellipse(nose + 58, 500, 11, 30), "outer", True)
    sheet.line(
        "edge",
        filleted(
            [
                (tail - 54, w - 26, 14),
                (tail - 9, w - 18, 8),
                (tail - 30, 640 - down, 8),
                (tail - 56, 636 - down, 12),
            ]
        ),
        "outer",
        True,
    )
    sheet.line("crease2", [(tail - 57, 744 - down), (tail - 21, 744 - down)], "outer")
    sheet.line("crease2", [(tail - 58, 690 - down), (tail - 26, 690 - down)], "outer")


def _bolted(sheet: DrawingSheet) -> None:
    """Holes of hinges, check strap and striker, jacking points, drains, wing stay."""
    base, d0, d1, st, front, wb = (
        R.screen_base,
        R.door_front,
        R.door_rear,
        R.sill_top,
        R.sill_front,
        R.wheelbase,
    )
    hole = lambda points: sheet.line("hole", points, "outer", True)
    for z in (536, 752):
        hole(rect(base + 2, z - 46, d0 - 18, z + 46, 6))
        for dx, dz in ((14, -30), (14, 30), (24, 0)):
            hole(ellipse(base + dx, z + dz, 5, pieces=10))
    hole(rect(base + 10, 626, base + 22, 666, 4))
    hole(rect(d1 + 30, 622, d1 + 62, 690, 6))
    for z in (636, 656, 676):
        hole(ellipse(d1 + 46, z, 5, pieces=10))
    sheet.line("crease2", [(d1 + 36, st), (d1 + 36, 600)], "outer")
    for x in (d0 + 140, d1 - 40):
        hole(rect(x, 236, x + 48, 276, 6))
    for x in range(int(front) + 90, int(wb - R.arch_rear) - 80, 250):
        hole(slot(x, R.sill_bottom + 9, x + 26, R.sill_bottom + 9, 7, 3))
    hole(ellipse(190, 790, 13, pieces=14))


def _flanges(sheet: DrawingSheet, lines: SideLines, skins: dict[str, BaseGeometry]) -> None:
    """Flanges of both screens, the boot gutter."""
    base, w, tail, quarter = R.screen_base, R.waist, R.tail, skins["quarter"]
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


def _filler(sheet: DrawingSheet) -> None:
    """The fuel filler, which is on the right only."""
    wb = R.wheelbase
    sheet.line("edge", ellipse(wb + 480, 800, 62, pieces=30), "outer", True)
    sheet.line("lip", ellipse(wb + 480, 800, 46, pieces=30), "outer", True)
    sheet.line("hole", ellipse(wb + 480, 800, 26, pieces=20), "outer", True)


def _hangers(sheet: DrawingSheet) -> None:
    """Spring hangers below the skin."""
    wb = R.wheelbase
    for x, low, high, half in ((wb - R.hanger_front, 168, 252, 46), (wb + R.hanger_rear, 298, 410, 34)):
        sheet.line(
            "under",
            filleted([(x - half, high), (x + half, high, 6), (x + 22, low, 20), (x - 22, low, 20)]),
            "outer",
            True,
        )
        sheet.line("hole", ellipse(x, low + 20, 8.5, pieces=14), "outer", True)


def _rows_and_wheels(sheet: DrawingSheet, lines: SideLines) -> None:
    """Rows of spot welds; tyres with their centre lines."""
    front, wb, base, w = R.sill_front, R.wheelbase, R.screen_base, R.waist
    sheet.weld_row(lines.rim(lines.door, 8), R.weld_pitch, "outer")
    if not lines.rear_door.is_empty:
        rim = lines.rear_door.buffer(-8, join_style="round")
        sheet.weld_row(rim.exterior.coords, R.weld_pitch, "outer")
    middle = (R.sill_bottom + R.flange_bottom) / 2
    sheet.weld_row([(front + 10, middle), (wb - R.arch_rear - 26, middle)], R.weld_pitch, "outer")
    if not lines.quarter_window.is_empty:
        sheet.weld_row(lines.quarter_window.buffer(-7).exterior.coords, R.weld_pitch, "outer")
    for swage in lines.side_swages:
        sheet.line("crease", swage, "outer", True)
    for louvre in lines.louvres:
        sheet.line("rib", louvre, "outer", True)
    sheet.weld_row([(base - 8, 400), (base - 8, w - 24)], R.weld_pitch, "outer")
    for x in (0, wb):
        sheet.line("centre", [(x, R.axle_z - R.tyre - 60), (x, R.axle_z + R.tyre + 110)])
        sheet.line("centre", [(x - R.tyre - 50, R.axle_z), (x + R.tyre + 50, R.axle_z)])
        sheet.line("tyre", ellipse(x, R.axle_z, R.tyre, pieces=60), closed=True)


def beyond(sheet: DrawingSheet, lines: SideLines) -> None:
    """What shows through the apertures: tunnel, seats, dash, towers."""
    seen = [
        (lines.door, _through_door()),
        (lines.quarter_window.union(lines.rear_door), _through_window()),
        (Polygon(lines.front_arch(0, -40, 220)), _in_front_arch()),
        (Polygon(lines.rear_arch), _in_rear_arch()),
    ]
    for opening, drawn in seen:
        for line in drawn:
            sheet.clipped("beyond", line, opening)


def _through_door() -> list[Sequence[Any]]:
    """Tunnel, seat, dash, steering wheel, the other door."""
    d0, d1, w, header, h = R.door_front, R.door_rear, R.waist, R.screen_header, R.height
    return [
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


def _through_window() -> list[Sequence[Any]]:
    """The parcel shelf and the other pillar."""
    w, deck = R.waist, R.deck_front
    roof = R.roof_rear
    window: list[Sequence[Any]] = [[(R.post_rear - 40, w + 26), (deck - 200, w + 26)]]
    window.append([(roof + 40, w + 10), (roof - 40, w + 150), (roof - 58, w + 154)])
    return window


def _in_front_arch() -> list[Sequence[Any]]:
    """Inner wing, leg, tower."""
    front_lines: list[Sequence[Any]] = [
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
    return front_lines


def _in_rear_arch() -> list[Sequence[Any]]:
    """The rail over the axle, the axle."""
    wb = R.wheelbase
    rear_lines: list[Sequence[Any]] = [
        spline([(wb - 400, 432 - k), (wb - 200, 470 - k), (wb + 200, 480 - k), (wb + 420, 430 - k)])
        for k in (0, 54)
    ]
    rear_lines += [
        ellipse(wb, R.axle_z + 16, R.arch_rear - 30, R.arch_rear_rise - 28, 4, 176, 44, 2.3),
        rect(wb - 34, 380, wb + 34, 418, 6),
    ]
    return rear_lines


def hidden_lines(sheet: DrawingSheet, lines: SideLines) -> None:
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
    if lines.rear_door.is_empty:
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
