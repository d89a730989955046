"""Open bodies on a separate ladder chassis: the tourer with flowing front wings and cut-down doors, the two-seat roadster."""

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from . import ladder, ladder_rooms
from .curves import ellipse, filleted, rect, slot, spline
from .doors import door_sheet
from .inside import Rooms
from .ladder import ARCH, WELD_PITCH, Places
from .ladder_roadster import LadderRoadsterSide, wing_above
from .ladder_roadster import front as roadster_front
from .ladder_top import tourer_top
from .model import View
from .pairs import Pair, mirrored
from .room import Room
from .sheet import DrawingSheet
from .tourer_lines import TourerSide
from .tourer_side import mounts, side


def places(s: dict[str, float]) -> Places:
    """The main places of the body, from every dimension by name, mm."""
    nose, tail = -s["front_overhang"], s["overall_length"] - s["front_overhang"]
    return Places(
        wheelbase=s["wheelbase"], nose=nose, tail=tail, half=s["width"] / 2, door_front=s["door_front"], door_rear=s["door_front"] + s["door_length"],
        sill_bottom=s["sill_height"] - 86, sill_top=s["sill_height"], waist=s["scuttle_height"], top=s["height"], rail_half=s["rail_width"] / 2, body_rear=tail,
    )  # fmt: skip


def rooms(s: dict[str, float]) -> list[Room]:
    """The lengths that are left between what was taped, each with what can be drawn of it, mm."""
    p = places(s)
    found = (
        (
            "door_front",
            "The scuttle between the front arch and the door",
            p.bulkhead - ARCH,
            60,
            "Tape the door again from the front axle.",
        ),
        (
            "door_length",
            "The metal between the door and the rear arch",
            p.rear_arch_front - p.door_rear,
            90,
            "Tape door and wheelbase again.",
        ),
        (
            "overall_length",
            "The tail behind the rear arch",
            p.tail - (p.wheelbase + ARCH),
            160,
            "Tape the overall length again, bumpers off.",
        ),
        (
            "scuttle_height",
            "The scuttle above the sill",
            p.waist - p.sill_top,
            280,
            "Tape the scuttle again above the datum.",
        ),
        (
            "height",
            "The windscreen above the scuttle",
            p.top - p.waist,
            180,
            "Tape to the top of the screen frame, hood down.",
        ),
        (
            "rail_width",
            "The floor beside the rails",
            p.half - p.rail_half,
            200,
            "Tape outside to outside of the rails, behind the engine.",
        ),
    )
    return [
        Room(name=name, what=what, length_mm=length, least_mm=least, mend=mend)
        for name, what, length, least, mend in found
    ]


def tourer_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """Every view of an open tourer."""
    p = places(sizes)
    return _views(p, TourerSide(p), front(p), tourer_top(p, _outline(p), _wing(p)), steering)


def roadster_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """Every view of a two-seat roadster on a ladder chassis."""
    p = places(sizes)
    top = tourer_top(p, _outline(p), wing_above(p, _wing(p)), lidded=True)
    return _views(p, LadderRoadsterSide(p), roadster_front(p), top, steering)


def _views(p: Places, lines: TourerSide, front: DrawingSheet, top: DrawingSheet, steering: str) -> list[View]:
    """What both bodies share round their own side, front and top."""
    left, door = side(lines, "L"), door_sheet("L", lines.door, p.waist, windowed=False)
    rooms = Rooms(
        bulkhead=ladder_rooms.bulkhead(p, steering),
        boot=ladder_rooms.tourer_boot(p),
        boot_title="Boot",
        engine_bay=ladder_rooms.engine_bay(p, inner_wing=False, steering=steering),
    )
    floor, frame = plan(p, inside=True), ladder.chassis(p, mounts(p))
    doors = (door, door.other_hand())
    return ladder.views(left, left.other_hand(), plan(p), front, rear(p), top, doors, floor, frame, rooms)


def _outline(p: Places) -> BaseGeometry:
    """The body seen from below."""
    h, wb, nose, tail = p.half, p.wheelbase, p.nose, p.tail
    half = spline(
        [
            (nose, 0),
            (nose + 6, h * 0.36),
            (nose + 60, h * 0.5),
            (p.bulkhead - 260, h * 0.62),
            (p.bulkhead, h * 0.9),
            (p.door_front, h),
            (wb, h),
            (tail - 240, h * 0.9),
            (tail - 40, h * 0.62),
            (tail, 0),
        ]
    )
    return Polygon([*half, *[(x, -y) for x, y in reversed(half[1:-1])]]).buffer(0)


def _wing(p: Places) -> BaseGeometry:
    """The right front wing seen from below."""
    h, nose = p.half, p.nose
    return Polygon(
        filleted(
            [
                (nose + 10, h * 0.5),
                (nose + 10, h - 20, 120),
                (ARCH, h, 80),
                (p.bulkhead + 30, h, 30),
                (p.bulkhead + 30, h * 0.86),
                (p.bulkhead - 280, h * 0.62),
            ]
        )
    )


def plan(p: Places, *, inside: bool = False) -> DrawingSheet:
    """The tub on its chassis from below; or its floor from inside."""
    sheet = DrawingSheet()
    pair, h, wb, nose, tail = Pair(sheet, 1), p.half, p.wheelbase, p.nose, p.tail
    body, wing = _outline(p), _wing(p)
    arch = box(wb - ARCH - 20, h - 230, wb + ARCH + 20, h).intersection(body)
    sheet.panel(
        "NOSE", "Front apron", "outer", body.intersection(box(nose - 10, -1500, nose + 90, 1500)), 1.0, 2
    )
    pair.panel(
        "WING",
        "Front wing",
        "outer",
        wing.difference(body.intersection(box(nose - 10, -1500, p.bulkhead - 200, 1500))),
        1.0,
    )
    bh = p.bulkhead
    toe = [(bh - 40, 150), (bh + 190, 140), (bh + 190, h - 100), (bh - 20, h - 130)]
    pair.panel("TOE", "Toe board", "inner", toe, 1.0, 2)
    pair.panel("FLOOR", "Floor pan", "inner", box(p.bulkhead + 190, 140, p.door_rear + 60, h - 100), 1.0, 0)
    sheet.panel("TUN", "Tunnel", "inner", box(p.bulkhead - 60, -150, p.door_rear + 60, 150), 1.0, 2)
    sheet.panel(
        "SEAT",
        "Rear floor",
        "inner",
        box(p.door_rear + 60, -h + 100, wb - ARCH + 60, h - 100).difference(arch),
        1.0,
        1,
    )
    sheet.panel(
        "BOOT",
        "Boot floor",
        "inner",
        box(wb - ARCH + 60, -h + 236, tail - 90, h - 236).intersection(body),
        1.0,
        0,
    )
    pair.panel("ARCHI", "Inner rear arch", "inner", arch, 1.0, 2)
    pair.panel(
        "SILL",
        "Outer sill",
        "outer",
        box(p.bulkhead + 30, h - 100, wb - ARCH - 20, h).intersection(body),
        1.2,
    )
    sheet.panel(
        "TAIL", "Rear panel", "outer", body.intersection(box(tail - 90, -1500, tail + 10, 1500)), 1.0, 2
    )
    if not inside:
        ladder.plan_chassis(sheet, pair, p, mounts(p))
    for y in range(210, int(h) - 150, 84):
        if inside or not p.rail_half - 110 < y < p.rail_half + 40:
            pair.line("rib", slot(p.bulkhead + 240, y, p.door_rear - 10, y, 34), "inner", True)
    pair.weld_row([(p.bulkhead + 60, h - 92), (wb - ARCH - 40, h - 92)], WELD_PITCH * 1.3, "inner")
    if inside:
        return ladder.inside(sheet)
    bay = box(nose + 170, -p.rail_half + 130, p.bulkhead - 70, p.rail_half - 130)
    sheet.silhouette = sheet.joined().difference(bay)
    return sheet


def front(p: Places) -> DrawingSheet:
    sheet = DrawingSheet()
    pair, h, w = Pair(sheet, 0), p.half, p.waist
    scuttle = Polygon(
        filleted(mirrored([(h - 60, p.sill_bottom + 60), (h - 40, w - 120, 60), (h - 170, w, 80)]))
    )
    grille = Polygon(filleted(mirrored([(190, 430, 30), (250, 760, 90)])))
    wing = Polygon(
        filleted(
            [
                (260, 470, 40),
                (300, 690, 90),
                (h - 220, 776, 60),
                (h - 20, 680, 90),
                (h, 470, 40),
                (h - 150, 470),
                (h - 160, 640, 60),
                (h - 300, 640, 60),
                (330, 470),
            ]
        )
    )
    sheet.panel("SCUTTLE", "Scuttle", "outer", scuttle.difference(grille), 1.0, 0)
    sheet.panel("NOSE", "Radiator shell", "outer", grille, 1.0, 2)
    pair.panel("WING", "Front wing", "outer", wing, 1.0)
    ladder.end_chassis(sheet, pair, p, 24)
    for x in range(-150, 151, 30):
        sheet.line("crease2", [(x, 470), (x, 730)], "outer")
    pair.line("edge", ellipse(h - 330, 700, 92, pieces=40), "outer", True)
    sheet.weld_row([(-h + 200, w - 16), (h - 200, w - 16)], WELD_PITCH, "outer")
    sheet.line("edge", filleted(mirrored([(h - 150, w), (h - 170, p.top, 20)])), "outer", True)
    sheet.line("lip", filleted(mirrored([(h - 176, w + 20), (h - 192, p.top - 22, 14)])), "outer", True)
    sheet.silhouette = sheet.joined()
    return sheet


def rear(p: Places) -> DrawingSheet:
    sheet = DrawingSheet()
    pair, h, deck = Pair(sheet, 0), p.half, p.waist - 60
    whole = Polygon(
        filleted(
            mirrored(
                [
                    (h - 80, p.sill_bottom + 20, 60),
                    (h, p.sill_bottom + 190, 120),
                    (h - 30, deck - 80, 120),
                    (h - 220, deck, 160),
                ]
            )
        )
    )
    lid = Polygon(filleted(mirrored([(h - 330, p.sill_bottom + 120, 50), (h - 300, deck - 70, 70)])))
    quarter = whole.intersection(box(h - 170, 0, 1500, 2000)).difference(lid)
    pair.panel("QTR", "Rear quarter panel", "outer", quarter, 1.0)
    sheet.panel(
        "TAIL",
        "Rear panel",
        "outer",
        whole.intersection(box(-h + 170, 0, h - 170, 2000)).difference(lid),
        1.0,
        2,
    )
    sheet.panel(
        "BOOT", "Boot floor", "inner", rect(-h + 240, p.sill_bottom + 60, h - 240, p.sill_bottom + 110), 1.0
    )
    ladder.end_chassis(sheet, pair, p, 60)
    sheet.line("lip", lid.buffer(-14).exterior.coords, "outer", True)
    pair.line("edge", ellipse(h - 110, p.sill_bottom + 260, 46, pieces=30), "outer", True)
    sheet.weld_row([(-h + 190, p.sill_bottom + 60), (h - 190, p.sill_bottom + 60)], WELD_PITCH, "outer")
    sheet.silhouette = sheet.joined()
    return sheet
