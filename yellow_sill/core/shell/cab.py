"""Light truck: a closed cab on a ladder chassis that runs on behind it."""

from shapely.geometry import Polygon, box
from shapely.ops import unary_union

from ..geometry import largest
from . import ladder
from .curves import ellipse, filleted, rect, slot, spline
from .ladder import ARCH, AXLE_Z, WELD_PITCH, Places
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
            100,
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


def cab_views(sizes: dict[str, float]) -> list[View]:
    """Left, right, underside, front and rear of a cab on its chassis."""
    p = places(sizes)
    return ladder.views(
        side(p, "L"),
        side(p, "R"),
        plan(p),
        end(p, rear=False),
        end(p, rear=True),
        rear_title="Back of the cab",
    )


def mounts(p: Places) -> list[float]:
    return [p.door_front - 90, (p.door_front + p.door_rear) / 2, p.body_rear - 60]


def side(p: Places, hand: str) -> DrawingSheet:
    sheet = DrawingSheet()
    w, top, st, sb, d0, d1, nose, back = (
        p.waist,
        p.top,
        p.sill_top,
        p.sill_bottom,
        p.door_front,
        p.door_rear,
        p.nose,
        p.body_rear,
    )
    cowl = d0 - 70
    arch = Polygon(ellipse(0, AXLE_Z + 10, ARCH - 8, pieces=60))
    bonnet = spline(
        [(nose + 6, w - 190), (nose + 40, w - 118), (nose + 240, w - 70), (cowl - 60, w - 16), (cowl + 10, w)]
    )
    screen = spline([(cowl + 10, w), (cowl + 110, w + 190), (cowl + 190, top - 86), (cowl + 250, top - 40)])
    roof = spline(
        [
            (cowl + 250, top - 40),
            (cowl + 370, top - 8),
            (d1 - 120, top),
            (back - 130, top - 8),
            (back - 40, top - 50),
        ]
    )
    rear = spline([(back - 40, top - 50), (back - 8, top - 150), (back, w + 40), (back, st + 60)])
    ring = [
        *bonnet,
        *screen[1:],
        *roof[1:],
        *rear[1:],
        (back - 6, sb + 30),
        (back - 30, sb),
        (ARCH + 60, sb),
        (-ARCH + 20, sb),
        (nose + 70, sb - 70),
        (nose + 8, sb - 20),
    ]
    skin = Polygon(ring).buffer(0).difference(arch)
    door = [
        (d0, st, 50),
        (d0 - 2, w - 30, 20),
        (d0 + 40, w + 40, 20),
        (cowl + 268, top - 104, 60),
        (d1 - 20, top - 92, 60),
        (d1 + 4, w),
        (d1, st + 160),
        (d1 - 16, st, 90),
    ]
    door = Polygon(filleted(door)).buffer(0)
    window = (
        Polygon(
            filleted(
                [
                    (d1 + 56, w + 60, 20),
                    (d1 + 60, top - 120, 34),
                    (back - 60, top - 130, 34),
                    (back - 48, w + 60, 20),
                ]
            )
        )
        if back - d1 > 230
        else Polygon()
    )
    wing_seam = d0 - 96
    rest = skin.difference(door)
    wing = largest(rest.intersection(box(nose + 60, 0, wing_seam, w - 70)))
    nose_panel = largest(rest.intersection(box(nose - 20, 0, nose + 60, 2000)))
    bonnet_side = largest(rest.intersection(box(nose + 60, w - 70, wing_seam, 2000)))
    sill = largest(rest.intersection(box(wing_seam, 0, d1 + 10, st - 8)))
    roof_panel = largest(rest.intersection(box(-1500, top - 78, 9000, 2400)))
    left = rest.difference(unary_union([wing, nose_panel, bonnet_side, sill, roof_panel]).buffer(0.1))
    apost = largest(left.intersection(box(wing_seam, 0, cowl + 300, 2400)))
    corner_panel = largest(left.intersection(box(d1 - 40, 0, 9000, st + 170)))
    back_side = largest(
        left.difference(corner_panel.buffer(0.1)).intersection(box(d1 - 40, 0, 9000, 2400)).difference(window)
    )
    flange = box(wing_seam + 20, sb - 18, d1 - 10, sb)
    skins = {
        "WING": ("Front wing", wing, 1.0, 1),
        "BONNET": ("Bonnet side", bonnet_side, 1.0, 1),
        "APOST": ("A-post and screen pillar", apost, 1.2, 2),
        "SILL": ("Cab sill and step", sill, 1.2, 1),
    }
    skins |= {
        "CABCORNER": ("Cab corner", corner_panel, 1.0, 1),
        "QTR": ("Cab side behind the door", back_side, 1.0, 1),
        "SFL": ("Sill weld flange", flange, 2.4, 3),
    }
    for code, (name, shape, thickness, tone) in skins.items():
        sheet.handed(hand, code, name, "outer", shape, thickness, tone)
    sheet.panel("NOSE", "Front panel", "outer", nose_panel, 1.0, 2)
    sheet.panel("ROOF", "Roof", "outer", roof_panel, 0.9)
    sheet.handed(hand, "APFL", "Door seal flange", "outer", door.difference(door.buffer(-15)), 2.2, 3)
    # middle
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
    # inner
    sheet.handed(
        hand,
        "IWING",
        "Inner wing",
        "inner",
        Polygon(
            filleted([(nose + 90, 520), (nose + 84, w - 150, 30), (cowl - 20, w - 110), (cowl - 20, 520)])
        ).difference(arch),
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
    ladder.side_chassis(sheet, p, hand, mounts(p))
    # lines
    sheet.line("edge", door.exterior.coords, "outer", True)
    sheet.clipped("lip", ellipse(0, AXLE_Z + 10, ARCH + 12, pieces=60), wing, "outer")
    sheet.clipped("crease", spline([(nose + 70, w - 220), (0, w - 206), (wing_seam, w - 190)]), wing, "outer")
    sheet.clipped("crease", spline([(d1 + 60, w - 190), (back - 10, w - 190)]), back_side, "outer")
    sheet.clipped("gutter", [(cowl + 200, top - 84), (back - 60, top - 80)], skin, "outer")
    sheet.clipped("crease2", [(wing_seam + 20, st - 22), (d1, st - 22)], sill, "outer")
    if not window.is_empty:
        sheet.line("lip", window.buffer(-12).exterior.coords, "outer", True)
    sheet.line("edge", ellipse(nose + 34, w - 260, 18, 84), "outer", True)
    sheet.line("beyond", filleted([(d1 - 130, st), (d1 - 60, w + 60, 40), (d1 - 10, w + 60)], False))
    sheet.line("beyond", ellipse(d0 + 120, w + 20, 60, 130, 250, 470))
    for z in (st + 120, w - 90):
        sheet.line("hole", rect(d0 - 66, z - 42, d0 - 30, z + 42, 6), "outer", True)
    for x in range(int(wing_seam) + 60, int(d1) - 60, 220):
        sheet.line("hole", slot(x, sb + 8, x + 26, sb + 8, 7, 3), "outer", True)
    sheet.weld_row(door.buffer(-8).exterior.coords, WELD_PITCH, "outer")
    sheet.weld_row([(wing_seam + 30, sb - 9), (d1 - 20, sb - 9)], WELD_PITCH, "outer")
    sheet.weld_row([(wing_seam + 40, sb - 4), (d1 - 30, sb - 4)], WELD_PITCH, "middle")
    sheet.silhouette = skin.union(flange).difference(door).difference(window)
    return sheet


def plan(p: Places) -> DrawingSheet:
    sheet = DrawingSheet()
    pair, h, nose, back, cowl = Pair(sheet, 1), p.half, p.nose, p.body_rear, p.door_front - 70
    half = spline(
        [
            (nose, 0),
            (nose + 4, h * 0.6),
            (nose + 40, h * 0.86),
            (nose + 180, h * 0.96),
            (cowl, h),
            (back - 40, h),
        ]
    )
    body = Polygon(
        [*half, (back, h - 30), (back, -h + 30), *[(x, -y) for x, y in reversed(half[1:])]]
    ).buffer(0)
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
    ladder.plan_chassis(sheet, pair, p, mounts(p))
    for y in range(230, int(h) - 130, 84):
        if not p.rail_half - 110 < y < p.rail_half + 40:
            pair.line("rib", slot(cowl + 230, y, back - 100, y, 34), "inner", True)
    pair.weld_row([(cowl + 30, h - 84), (back - 60, h - 84)], WELD_PITCH * 1.3, "inner")
    bay = box(nose + 130, -p.rail_half + 130, cowl - 60, p.rail_half - 130)
    sheet.silhouette = unary_union([shape.buffer(1) for _, shape in sheet.panels]).buffer(-1).difference(bay)
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
    if rear:
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
        sheet.panel(
            "BACK", "Back panel", "outer", below.intersection(box(-h + 150, 0, h - 150, 2400)), 1.0, 0
        )
        for x in (-360, -120, 120, 360):
            sheet.line("rib", slot(x, p.sill_top + 60, x, w - 110, 46), "outer", True)
    else:
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
    ladder.end_chassis(sheet, pair, p, 60 if rear else 24)
    sheet.line("lip", glass.buffer(-14).exterior.coords, "outer", True)
    sheet.weld_row([(-h + 170, w), (h - 170, w)], WELD_PITCH, "outer")
    sheet.silhouette = unary_union([shape.buffer(1.5) for _, shape in sheet.panels]).buffer(-1.5)
    return sheet
