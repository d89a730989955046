"""Open tourer on a separate ladder chassis: tub, bonnet, flowing front wings, cut-down doors."""

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


def tourer_views(sizes: dict[str, float]) -> list[View]:
    """Left, right, underside, front and rear of an open tourer."""
    p = places(sizes)
    return ladder.views(side(p, "L"), side(p, "R"), plan(p), front(p), rear(p))


def mounts(p: Places) -> list[float]:
    return [p.bulkhead + 40, (p.door_front + p.door_rear) / 2 + 120, p.wheelbase + ARCH + 60]


def side(p: Places, hand: str) -> DrawingSheet:
    sheet = DrawingSheet()
    wb, w, st, sb, d0, d1, bh, nose, tail = (
        p.wheelbase,
        p.waist,
        p.sill_top,
        p.sill_bottom,
        p.door_front,
        p.door_rear,
        p.bulkhead,
        p.nose,
        p.tail,
    )
    deck = w - 60
    front_arch, rear_arch = (
        Polygon(ellipse(0, AXLE_Z, ARCH - 14, pieces=60)),
        Polygon(ellipse(wb, AXLE_Z + 20, ARCH - 6, ARCH - 40, pieces=60)),
    )
    tub_top = [
        (bh, w),
        (d0 - 30, w + 6),
        (d0 + 20, w - 8),
        (d0 + 130, w - 104),
        (d0 + 300, w - 150),
        (d1 - 90, w - 132),
        (d1 - 6, w - 60),
    ]
    back = [
        (d1 + 60, deck + 8),
        (wb - 60, deck + 4),
        (wb + 300, deck - 46),
        (tail - 80, deck - 176),
        (tail - 8, deck - 330),
        (tail, sb + 80),
    ]
    tub = Polygon(
        [*spline(tub_top), *spline(back), (tail - 20, sb + 20), (p.rear_arch_front - 10, sb), (bh, sb)]
    ).buffer(0)
    door_ring = [
        (d0, st, 40),
        (d0 - 4, w - 10, 16),
        (d0 + 20, w - 10),
        (d0 + 130, w - 106),
        (d0 + 300, w - 152),
        (d1 - 90, w - 134),
        (d1 + 2, w - 62, 10),
        (d1, st + 120),
        (d1 - 20, st, 70),
    ]
    door = Polygon(filleted(door_ring)).buffer(0)
    wing_top = spline(
        [
            (nose, 470),
            (nose + 20, 620),
            (nose + 150, 742),
            (20, 784),
            (300, 742),
            (bh - 150, 610),
            (bh - 10, sb + 96),
            (bh + 40, sb + 40),
        ]
    )
    wing = (
        Polygon(
            [*wing_top, (bh + 40, sb), (bh - 60, sb), (ARCH - 60, sb), (-ARCH + 12, AXLE_Z), (nose + 30, 420)]
        )
        .difference(front_arch)
        .buffer(0)
    )
    bonnet = Polygon(
        [
            (nose + 70, 700),
            *spline([(nose + 78, 812), (nose + 260, 846), (bh - 200, w - 22), (bh, w)]),
            (bh, sb + 90),
            (bh - 150, 600),
            (20, 760),
        ]
    ).difference(wing)
    body = tub.difference(rear_arch).difference(wing)
    sill = body.intersection(box(bh - 20, 0, p.rear_arch_front + 60, st - 10)).difference(rear_arch)
    scuttle = largest(body.intersection(box(bh, st - 10, d0 - 62, 2000)))
    apost = largest(body.difference(door).intersection(box(d0 - 62, st - 10, d0 + 24, 2000)))
    bpost = largest(body.difference(door).intersection(box(d1 - 30, st - 10, d1 + 62, 2000)))
    tail_strip = body.intersection(box(tail - 64, 0, tail + 40, 2000))
    quarter = largest(
        body.difference(door)
        .difference(bpost)
        .difference(tail_strip)
        .intersection(box(d1 + 62, 0, 9000, 2000))
        .difference(sill)
    )
    bonnet = largest(bonnet.difference(scuttle))
    flange = box(bh + 30, sb - 18, p.rear_arch_front - 20, sb)
    skins = {
        "WING": ("Front wing", wing, 1.0, 1),
        "BONNET": ("Bonnet side", bonnet, 0.9, 1),
        "SCUTTLE": ("Scuttle side", scuttle, 1.0, 1),
        "APOST": ("A-post", apost, 1.2, 2),
    }
    skins |= {
        "SILL": ("Outer sill", sill, 1.2, 1),
        "BPOST": ("B-post", bpost, 1.2, 2),
        "QTR": ("Rear quarter panel", quarter, 1.0, 1),
        "SFL": ("Sill weld flange", flange, 2.4, 3),
    }
    for code, (name, shape, thickness, tone) in skins.items():
        sheet.handed(hand, code, name, "outer", shape, thickness, tone)
    sheet.panel("TAIL", "Rear panel", "outer", tail_strip, 1.0, 2)
    # middle: what doubles the skin
    sheet.handed(
        hand,
        "SILLM",
        "Sill stiffener",
        "middle",
        Polygon(
            filleted(
                [
                    (bh + 50, sb - 14),
                    (p.rear_arch_front - 40, sb - 14),
                    (p.rear_arch_front - 50, st - 20, 16),
                    (bh + 60, st - 20, 16),
                ]
            )
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
    # inner
    sheet.handed(
        hand,
        "IWING",
        "Inner wing",
        "inner",
        Polygon(
            filleted(
                [(nose + 90, 480), (nose + 84, 700, 30), (20, 770, 60), (bh - 90, 700, 60), (bh - 20, 480)]
            )
        ).difference(front_arch),
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
    ladder.side_chassis(sheet, p, hand, mounts(p))
    # lines
    sheet.line("edge", door.exterior.coords, "outer", True)
    sheet.clipped("lip", ellipse(0, AXLE_Z, ARCH + 4, pieces=60), wing, "outer")
    sheet.clipped("lip", ellipse(wb, AXLE_Z + 20, ARCH + 12, ARCH - 22, pieces=60), quarter, "outer")
    sheet.clipped("crease", [(nose + 90, 778), (bh - 120, w - 66)], bonnet, "outer")
    for x in range(int(nose) + 330, int(bh) - 150, 46):
        sheet.clipped("rib", slot(x, w - 210, x + 12, w - 120, 14), bonnet, "outer")
    sheet.clipped("crease2", [(bh + 30, st - 26), (p.rear_arch_front, st - 26)], sill, "outer")
    sheet.clipped(
        "crease", spline([(d1 + 70, deck - 60), (wb, deck - 70), (tail - 90, deck - 220)]), quarter, "outer"
    )
    screen = [(bh + 70, w + 6), (bh + 150, p.top - 8, 14), (bh + 172, p.top - 8), (bh + 100, w + 6)]
    sheet.line("edge", filleted(screen), "outer", True)
    sheet.line(
        "beyond",
        filleted([(d0 + 330, st), (d0 + 300, w - 60, 40), (d0 + 210, w - 60, 40), (d0 + 190, st)], False),
    )
    sheet.line("beyond", ellipse(d0 + 60, w - 20, 150, 60, 300, 420))
    for z in (st + 90, w - 130):
        sheet.line("hole", rect(d0 - 50, z - 34, d0 - 22, z + 34, 5), "outer", True)
    sheet.line("hole", rect(d1 + 16, w - 210, d1 + 40, w - 150, 5), "outer", True)
    for x in range(int(bh) + 120, int(p.rear_arch_front) - 60, 240):
        sheet.line("hole", slot(x, sb + 8, x + 24, sb + 8, 7, 3), "outer", True)
    sheet.weld_row([(bh + 40, sb - 9), (p.rear_arch_front - 24, sb - 9)], WELD_PITCH, "outer")
    sheet.weld_row(door.buffer(-8).exterior.coords, WELD_PITCH, "outer")
    sheet.weld_row([(bh + 60, sb - 4), (p.rear_arch_front - 50, sb - 4)], WELD_PITCH, "middle")
    sheet.silhouette = unary_union([wing, bonnet, body, flange]).buffer(2).buffer(-2).difference(door)
    return sheet


def plan(p: Places) -> DrawingSheet:
    sheet = DrawingSheet()
    pair, h, wb, nose, tail = Pair(sheet, 1), p.half, p.wheelbase, p.nose, p.tail
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
    body = Polygon([*half, *[(x, -y) for x, y in reversed(half[1:-1])]]).buffer(0)
    wing = Polygon(
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
    pair.panel(
        "TOE",
        "Toe board",
        "inner",
        [
            (p.bulkhead - 40, 150),
            (p.bulkhead + 190, 140),
            (p.bulkhead + 190, h - 100),
            (p.bulkhead - 20, h - 130),
        ],
        1.0,
        2,
    )
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
    ladder.plan_chassis(sheet, pair, p, mounts(p))
    for y in range(210, int(h) - 150, 84):
        if not p.rail_half - 110 < y < p.rail_half + 40:
            pair.line("rib", slot(p.bulkhead + 240, y, p.door_rear - 10, y, 34), "inner", True)
    pair.weld_row([(p.bulkhead + 60, h - 92), (wb - ARCH - 40, h - 92)], WELD_PITCH * 1.3, "inner")
    bay = box(nose + 170, -p.rail_half + 130, p.bulkhead - 70, p.rail_half - 130)
    sheet.silhouette = unary_union([shape.buffer(1) for _, shape in sheet.panels]).buffer(-1).difference(bay)
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
    sheet.silhouette = unary_union([shape.buffer(1.5) for _, shape in sheet.panels]).buffer(-1.5)
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
    sheet.silhouette = unary_union([shape.buffer(1.5) for _, shape in sheet.panels]).buffer(-1.5)
    return sheet
