"""Light truck: a closed cab on a ladder chassis that runs on behind it."""

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from . import bed, ladder, ladder_rooms
from .cab_lines import CabSide
from .cab_side import mounts, side
from .curves import ellipse, filleted, rect, slot, spline
from .doors import door_sheet
from .inside import Rooms
from .ladder import ARCH, WELD_PITCH, Places
from .ladder_top import cab_top
from .model import View
from .pairs import Pair, mirrored
from .room import Room
from .sheet import DrawingSheet


def places(s: dict[str, float]) -> Places:
    """The main places of the body, from every dimension by name, mm."""
    nose, tail = -s["front_overhang"], s["overall_length"] - s["front_overhang"]
    door_rear = s["door_front"] + s["door_length"]
    return Places(
        wheelbase=s["wheelbase"], nose=nose, tail=tail, half=s["width"] / 2, door_front=s["door_front"], door_rear=door_rear, sill_bottom=s["sill_height"] - 96,
        sill_top=s["sill_height"], waist=s["waist_height"], top=s["height"], rail_half=s["rail_width"] / 2, body_rear=s["cab_rear"],
    )  # fmt: skip


def rooms(s: dict[str, float]) -> list[Room]:
    """The lengths that are left between what was taped, each with what can be drawn of it, mm."""
    p = places(s)
    found = (
        (
            "door_front",
            "The cowl between the front arch and the door",
            p.door_front - ARCH,
            80,
            "Tape the door again from the front axle.",
        ),
        (
            "cab_rear",
            "The cab corner behind the door",
            p.body_rear - p.door_rear,
            170,
            "Tape from the front axle to the outside of the cab's back.",
        ),
        (
            "wheelbase",
            "The chassis between the cab and the rear wheel",
            p.rear_arch_front - p.body_rear,
            30,
            "Tape the wheelbase again.",
        ),
        (
            "overall_length",
            "The chassis behind the rear axle",
            p.tail - p.wheelbase,
            420,
            "Tape to the end of the rails.",
        ),
        (
            "waist_height",
            "The door below the window",
            p.waist - p.sill_top,
            340,
            "Tape the waist again above the datum.",
        ),
        (
            "height",
            "The windows between waist and roof",
            p.top - p.waist,
            380,
            "Tape the roof again above the datum.",
        ),
        (
            "rail_width",
            "The floor beside the rails",
            p.half - p.rail_half,
            220,
            "Tape outside to outside of the rails.",
        ),
    )
    return [
        Room(name=name, what=what, length_mm=length, least_mm=least, mend=mend)
        for name, what, length, least, mend in found
    ]


def cab_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """Left, right, underside, front and rear of a cab on its chassis."""
    p = places(sizes)
    left, door = side(p, "L"), door_sheet("L", CabSide(p).door, p.waist)
    return ladder.views(
        left,
        left.other_hand(),
        plan(p),
        end(p, rear=False),
        end(p, rear=True),
        cab_top(p, outline_of(p)),
        (door, door.other_hand()),
        plan(p, inside=True),
        ladder.chassis(p, mounts(p)),
        _rooms(p, steering, ladder_rooms.cab_back(p), "Back of the cab, inside"),
        rear_title="Back of the cab",
    )


def pickup_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """A cab on its chassis with a load bed behind it."""
    p = places(sizes)
    left, door = bed.onto_side(side(p, "L"), p, "L"), door_sheet("L", CabSide(p).door, p.waist)
    return ladder.views(
        left,
        left.other_hand(),
        bed.onto_plan(plan(p), p),
        end(p, rear=False),
        bed.onto_rear(end(p, rear=True), p),
        bed.onto_top(cab_top(p, outline_of(p)), p),
        (door, door.other_hand()),
        plan(p, inside=True),
        ladder.chassis(p, mounts(p)),
        _rooms(p, steering, ladder_rooms.load_bed(p, *bed.ends_of(p)[2:]), "Load bed"),
    )


def _rooms(p: Places, steering: str, boot: DrawingSheet, title: str) -> Rooms:
    return Rooms(
        bulkhead=ladder_rooms.bulkhead(p, steering),
        boot=boot,
        boot_title=title,
        engine_bay=ladder_rooms.engine_bay(p, inner_wing=True, steering=steering),
    )


def outline_of(p: Places) -> BaseGeometry:
    """The cab seen from below or from above, at its widest."""
    h, nose, back = p.half, p.nose, p.body_rear
    half = spline(
        [
            (nose, 0),
            (nose + 4, h * 0.6),
            (nose + 40, h * 0.86),
            (nose + 180, h * 0.96),
            (p.door_front - 70, h),
            (back - 40, h),
        ]
    )
    return Polygon(
        [*half, (back, h - 30), (back, -h + 30), *[(x, -y) for x, y in reversed(half[1:])]]
    ).buffer(0)


def plan(p: Places, *, inside: bool = False) -> DrawingSheet:
    """The cab on its chassis from below; or its floor from inside."""
    sheet = DrawingSheet()
    pair, h, nose, back, cowl = Pair(sheet, 1), p.half, p.nose, p.body_rear, p.door_front - 70
    body = outline_of(p)
    sheet.panel(
        "NOSE", "Front panel", "outer", body.intersection(box(nose - 10, -1500, nose + 70, 1500)), 1.0, 2
    )
    pair.panel(
        "WING", "Front wing", "outer", body.intersection(box(nose + 70, h - 250, cowl - 20, 1500)), 1.0
    )
    pair.panel("TOE", "Toe board", "inner", box(cowl - 10, 150, cowl + 170, h - 90), 1.0, 2)
    pair.panel("FLOOR", "Cab floor", "inner", box(cowl + 170, 150, back - 40, h - 90), 1.0, 0)
    sheet.panel("TUN", "Tunnel", "inner", box(cowl - 10, -150, back - 40, 150), 1.0, 2)
    pair.panel(
        "SILL", "Cab sill and step", "outer", box(cowl, h - 90, p.door_rear, h).intersection(body), 1.2
    )
    pair.panel("CABCORNER", "Cab corner", "outer", box(p.door_rear, h - 90, back, h).intersection(body), 1.0)
    sheet.panel("BACK", "Back panel", "outer", box(back - 40, -h + 90, back, h - 90), 1.0, 2)
    if not inside:
        ladder.plan_chassis(sheet, pair, p, mounts(p))
    for y in range(230, int(h) - 130, 84):
        if inside or not p.rail_half - 110 < y < p.rail_half + 40:
            pair.line("rib", slot(cowl + 230, y, back - 100, y, 34), "inner", True)
    pair.weld_row([(cowl + 30, h - 84), (back - 60, h - 84)], WELD_PITCH * 1.3, "inner")
    if inside:
        return ladder.inside(sheet)
    bay = box(nose + 130, -p.rail_half + 130, cowl - 60, p.rail_half - 130)
    sheet.silhouette = sheet.joined().difference(bay)
    return sheet


def end(p: Places, rear: bool) -> DrawingSheet:
    sheet = DrawingSheet()
    pair, h, w, top = Pair(sheet, 0), p.half, p.waist, p.top
    half = [
        (h - 60, p.sill_bottom, 20),
        (h - 6, p.sill_bottom + 120),
        (h, w - 60),
        (h - 40, w + 30, 60),
        (h - 150, top - 110, 60),
        (h - 260, top - 20, 120),
        (0, top),
    ]
    whole = Polygon(filleted([*half[:-1], *[(-u, *rest) for u, *rest in reversed(half[:-1])]]))
    glass = Polygon(filleted(mirrored([(h - 190, w + 60, 40), (h - 250, top - 120, 50)])))
    above = whole.intersection(box(-1500, w + 20, 1500, 2400)).difference(glass)
    below = whole.intersection(box(-1500, 0, 1500, w + 20))
    sheet.panel("ROOF", "Roof and screen frame", "outer", above, 0.9)
    (_from_behind if rear else _from_the_front)(sheet, pair, p, below)
    ladder.end_chassis(sheet, pair, p, 60 if rear else 24)
    sheet.line("lip", glass.buffer(-14).exterior.coords, "outer", True)
    sheet.weld_row([(-h + 170, w), (h - 170, w)], WELD_PITCH, "outer")
    sheet.silhouette = sheet.joined()
    return sheet


def _from_behind(sheet: DrawingSheet, pair: Pair, p: Places, below: BaseGeometry) -> None:
    """Corners and back panel. Args: below: the cab below its waist."""
    h, w = p.half, p.waist
    pair.panel(
        "CABCORNER",
        "Cab corner",
        "outer",
        below.intersection(box(h - 150, 0, 1500, p.sill_top + 170)),
        1.0,
        2,
    )
    pair.panel(
        "QTR",
        "Cab side behind the door",
        "outer",
        below.intersection(box(h - 150, p.sill_top + 170, 1500, 2400)),
        1.0,
    )
    sheet.panel("BACK", "Back panel", "outer", below.intersection(box(-h + 150, 0, h - 150, 2400)), 1.0, 0)
    for x in (-360, -120, 120, 360):
        sheet.line("rib", slot(x, p.sill_top + 60, x, w - 110, 46), "outer", True)


def _from_the_front(sheet: DrawingSheet, pair: Pair, p: Places, below: BaseGeometry) -> None:
    """Wings, front panel, grille, lamps. Args: below: the cab below its waist."""
    h, w = p.half, p.waist
    grille = Polygon(filleted(mirrored([(h - 300, 500, 40), (h - 280, w - 130, 60)])))
    pair.panel(
        "WING",
        "Front wing",
        "outer",
        below.intersection(box(h - 250, 0, 1500, w - 70))
        .difference(grille)
        .difference(Polygon(rect(h - 200, 0, h - 20, 640, 60))),
        1.0,
    )
    sheet.panel(
        "NOSE",
        "Front panel",
        "outer",
        below.intersection(box(-h + 250, 420, h - 250, w - 70)).difference(grille),
        1.0,
        2,
    )
    sheet.panel("SCUTTLE", "Scuttle", "outer", below.intersection(box(-1500, w - 70, 1500, 2400)), 1.0, 2)
    sheet.panel("BULK", "Bulkhead", "inner", rect(-h + 250, 420, h - 250, w - 70), 1.0, 0)
    for z in range(540, int(w) - 160, 46):
        sheet.line("crease2", [(-h + 330, z), (h - 330, z)], "outer")
    sheet.line("edge", grille.exterior.coords, "outer", True)
    pair.line("edge", ellipse(h - 150, w - 260, 92, pieces=40), "outer", True)
