"""Rooms of bodies on a ladder chassis from within: bulkhead, engine bay, and what lies behind the seats: boot, load bed, back of the cab."""

from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.ops import unary_union

from .curves import ellipse, filleted, rect, slot
from .ladder import RAIL_DEEP, RAIL_TOP, RAIL_WIDE, WELD_PITCH, Places
from .pairs import Pair, mirrored
from .saloon_rooms import DRIVER
from .sheet import DrawingSheet

#: The boot of a low tail is drawn at least so deep, mm.
LEAST_BOOT = 120.0


def bulkhead(p: Places, steering: str = "") -> DrawingSheet:
    """The bulkhead as it is seen from the front: scuttle, toe boards, tunnel, hinge pillars, ends of sills and rails."""
    sheet = DrawingSheet()
    pair, h, w, low = Pair(sheet, 0), p.half, p.waist, p.sill_bottom + 26
    mid = low + 0.34 * (w - low)
    tunnel = Polygon(filleted([(-156, low - 30), (-130, mid + 10, 70), (130, mid + 10, 70), (156, low - 30)]))
    wall = Polygon(filleted(mirrored([(h - 116, mid), (h - 116, w - 72)]))).difference(tunnel)
    way = DRIVER[steering]
    sheet.panel("BULK", "Bulkhead", "inner", wall, 1.0, 0)
    if way:
        u0, u1 = sorted((way * 190, way * 440))
        sheet.panel("PEDALM", "Pedal box reinforcement", "middle", Polygon(rect(u0, mid + 24, u1, mid + 150, 24)).intersection(wall), 1.6, 3)  # fmt: skip
        sheet.line("hole", ellipse(way * 330, mid + 90, 30, pieces=24), "inner", True)
    scuttle = Polygon(filleted(mirrored([(h - 116, w - 72), (h - 50, w - 76), (h - 66, w - 8, 20), (h - 150, w + 10)])))  # fmt: skip
    sheet.panel("SCUTTLE", "Scuttle", "outer", scuttle, 1.0, 2)
    throat = tunnel.difference(affinity.scale(tunnel, 0.84, 0.9, origin=(0, low - 30)))
    sheet.panel("TUN", "Tunnel", "inner", throat, 1.0, 3)
    pair.panel("TOE", "Toe board", "inner", box(110, low, h - 116, mid).difference(tunnel), 1.0, 2)
    pair.panel(
        "APOSTM",
        "Hinge pillar",
        "middle",
        filleted([(h - 112, p.sill_top), (h - 34, p.sill_top), (h - 30, w - 80, 16), (h - 112, w - 80)]),
        1.6,
        1,
    )
    pair.panel("SILL", "Outer sill", "outer", rect(h - 112, p.sill_bottom, h - 22, p.sill_top - 2, 10), 1.2, 3)  # fmt: skip
    bottom = min(RAIL_TOP - RAIL_DEEP, p.sill_bottom - 8)
    pair.panel("CHRAIL", "Chassis rail", "inner", rect(p.rail_half - RAIL_WIDE, bottom, p.rail_half, min(RAIL_TOP, low - 4), 8), 2.5, 3)  # fmt: skip
    for y in (-90.0, 90.0):
        sheet.line("rib", slot(y, mid + 60, y, w - 130, 34), "inner", True)
    for y, z in ((-h + 250, w - 150), (h - 250, w - 150), (0, mid + 50)):
        sheet.line("hole", ellipse(y, z, 15, pieces=18), "inner", True)
    sheet.weld_row([(-h + 130, w - 84), (h - 130, w - 84)], WELD_PITCH * 1.3, "inner")
    pair.weld_row([(h - 128, mid + 20), (h - 128, w - 100)], WELD_PITCH, "inner")
    return _finished(sheet, [(0, bottom - 60), (0, w + 70)])


def engine_bay(p: Places, inner_wing: bool, steering: str = "") -> DrawingSheet:
    """The engine bay from above with the bonnet off: rails, front crossmembers, front panel, inner wings where there are any."""
    sheet = DrawingSheet()
    pair, h, nose, r, w = Pair(sheet, 1), p.half, p.nose, p.rail_half, RAIL_WIDE
    edge = p.bulkhead if not inner_wing else p.door_front - 80
    front = [(nose + 10, -h * 0.5), (nose + 10, h * 0.5), (nose + 66, h * 0.5), (nose + 66, -h * 0.5)]
    sheet.panel("NOSE", "Front panel" if inner_wing else "Radiator shell", "outer", Polygon(front), 1.0, 2)
    rail = [
        (nose + 68, r - w - 40),
        (-180, r - w - 40, 200),
        (min(520, edge - 60), r - w),
        (edge, r - w),
        (edge, r),
        (min(520, edge - 60), r),
        (-180, r - 40, 200),
        (nose + 68, r - 40),
    ]
    pair.panel("CHRAILT", "Chassis rail, top plate", "inner", filleted(rail), 2.5, 3)
    for number, x in ((1, nose + 116), (2, 560)):
        if x + 45 < edge:
            inner = r - w - (41 if x < 0 else 1)
            sheet.panel(f"CHX{number}", f"Crossmember {number}", "inner", box(x - 45, -inner, x + 45, inner), 2.0, 3)  # fmt: skip
    if inner_wing:
        wing = [(nose + 68, r - 38), (-180, r - 38), (min(520, edge - 60), r + 2), (edge, r + 2), (edge, h - 150), (nose + 110, h - 190)]  # fmt: skip
        pair.panel("IWING", "Inner wing", "inner", wing, 1.0, 1)
        pair.panel("WFL", "Wing top rail", "outer", [(nose + 110, h - 188), (edge, h - 148), (edge, h - 112), (nose + 110, h - 150)], 1.2, 3)  # fmt: skip
        pair.weld_row([(nose + 130, h - 168), (edge - 20, h - 130)], WELD_PITCH, "outer")
    else:
        valance = [(nose + 68, r - 38), (-180, r - 38), (min(520, edge - 60), r + 2), (edge, r + 2), (edge, h * 0.62), (nose + 68, h * 0.48)]  # fmt: skip
        pair.panel("IWING", "Engine side valance", "inner", valance, 1.0, 1)
    sheet.panel("BULK", "Bulkhead", "inner", box(edge, -h + 116, edge + 34, h - 116), 1.0, 2)
    way = DRIVER[steering] or 1
    y0, y1 = sorted((-way * (r + 30), -way * (r + 180)))
    if inner_wing:
        sheet.panel("BATT", "Battery tray", "outer", Polygon(rect(edge - 230, y0, edge - 50, y1, 14)), 1.2, 2)
    for x in (-120, 300):
        if x < edge - 40:
            pair.hole(ellipse(x, r - w / 2 - (40 if x < 0 else 20), 13, pieces=16))
    sheet.weld_row([(edge + 14, -h + 140), (edge + 14, h - 140)], WELD_PITCH * 1.3, "inner")
    return _finished(sheet, [(nose - 40, 0), (edge + 90, 0)])


def tourer_boot(p: Places) -> DrawingSheet:
    """The tail from behind with its lid off: floor, arches, quarters' inner sheets, the panel behind the seats."""
    sheet = DrawingSheet()
    pair, h, floor = Pair(sheet, 0), p.half, p.sill_bottom + 84
    deck = max(p.waist - 60, floor + LEAST_BOOT)
    shoulder = floor + 0.7 * (deck - floor)
    arch = Polygon(
        [
            (h - 236, floor),
            (h - 232, floor + 0.5 * (deck - floor)),
            (h - 190, floor + 0.68 * (deck - floor)),
            (h - 92, shoulder),
            (h - 92, floor),
        ]
    )
    pair.panel("ARCHI", "Inner rear arch", "inner", arch, 1.0, 2)
    side = Polygon(
        filleted(
            [
                (h - 92, floor),
                (h - 20, floor + 60),
                (h - 30, max(deck - 90, shoulder), 80),
                (h - 240, deck - 12),
                (h - 240, shoulder),
                (h - 92, shoulder),
            ]
        )
    )
    pair.panel("QIN", "Quarter inner", "inner", side.difference(arch), 0.9, 1)
    back = Polygon(filleted(mirrored([(h - 238, floor + 26), (h - 242, shoulder), (h - 244, deck - 20, 60)])))  # fmt: skip
    sheet.panel("SEATB", "Panel behind the seats", "inner", back, 0.9, 0)
    sheet.panel("BOOT", "Boot floor", "inner", rect(-h + 238, floor - 24, h - 238, floor + 26), 1.0, 1)
    for y in (-160, 0, 160):
        sheet.line("rib", slot(y, floor + 90, y, deck - 120, 40), "inner", True)
    _rails(pair, p, floor - 28)
    pair.weld_row([(h - 236, floor + 20), (h - 234, floor + 0.5 * (deck - floor))], WELD_PITCH, "inner")
    return _finished(sheet, [(0, RAIL_TOP - RAIL_DEEP - 40), (0, deck + 40)])


def cab_back(p: Places) -> DrawingSheet:
    """The back of the cab as somebody in it sees it: back panel with its stiffeners, corners' gussets, floor's edge."""
    sheet = DrawingSheet()
    pair, h, w, top = Pair(sheet, 0), p.half, p.waist, p.top
    low = p.sill_bottom + 30
    whole = Polygon(filleted(mirrored([(h - 62, low, 10), (h - 20, w - 40), (h - 60, w + 40, 50), (h - 176, top - 70, 60)])))  # fmt: skip
    glass = Polygon(filleted(mirrored([(h - 200, w + 70, 40), (h - 260, top - 140, 50)])))
    corner = Polygon(filleted([(h - 210, low + 40), (h - 66, low + 40), (h - 40, p.sill_top + 150, 30), (h - 110, p.sill_top + 150, 30)]))  # fmt: skip
    corners = unary_union([corner, affinity.scale(corner, -1, 1, origin=(0, 0))])
    stiff = Polygon(rect(-h + 150, w - 56, h - 150, w + 24, 12)).intersection(whole)
    sheet.panel("BACK", "Back panel", "inner", whole.difference(unary_union([glass, corners, stiff])), 1.0, 0)
    sheet.panel("BACKM", "Back panel stiffener", "middle", stiff, 1.2, 3)
    pair.panel("CORNERM", "Corner gusset", "middle", corner, 1.2, 2)
    pair.panel("FLOOR", "Cab floor", "inner", box(156, low - 26, h - 70, low - 2), 1.0, 1)
    for y in range(-int(h) + 260, int(h) - 250, 120):
        sheet.line("rib", slot(y, low + 120, y, w - 110, 40), "inner", True)
    sheet.line("lip", glass.buffer(-14).exterior.coords, "inner", True)
    sheet.weld_row([(-h + 110, low + 14), (h - 110, low + 14)], WELD_PITCH, "inner")
    _rails(pair, p, low - 30)
    return _finished(sheet, [(0, RAIL_TOP - RAIL_DEEP - 40), (0, top + 50)])


def load_bed(p: Places, floor: float, rim: float) -> DrawingSheet:
    """The load bed from behind with its tailgate down: headboard, sides' inner sheets, arches, floor with its ribs.

    Args: floor, rim: how high the floor and the sides' upper edge lie, mm.
    """
    sheet = DrawingSheet()
    pair, h = Pair(sheet, 0), p.half
    pair.panel(
        "BEDI",
        "Bed side, inner",
        "inner",
        Polygon(filleted([(h - 86, floor), (h - 60, floor), (h - 60, rim, 8), (h - 86, rim, 8)])),
        1.0,
        1,
    )
    pair.panel(
        "BEDS",
        "Bed side",
        "outer",
        Polygon(
            filleted(
                [(h - 58, floor - 70), (h - 4, floor - 60, 20), (h - 4, rim + 6, 30), (h - 58, rim + 6, 12)]
            )
        ),
        1.0,
        2,
    )
    arch = Polygon(filleted([(h - 300, floor + 12), (h - 290, floor + 200, 50), (h - 88, floor + 210), (h - 88, floor + 12)]))  # fmt: skip
    pair.panel("BEDA", "Bed arch", "inner", arch, 1.2, 2)
    arches = unary_union([arch, affinity.scale(arch, -1, 1, origin=(0, 0))])
    sheet.panel("BEDH", "Headboard", "inner", box(-h + 88, floor + 14, h - 88, rim).difference(arches), 1.0, 0)  # fmt: skip
    sheet.panel("BEDF", "Bed floor", "inner", rect(-h + 88, floor - 26, h - 88, floor + 12), 1.2, 1)
    for y in range(-int(h) + 380, int(h) - 370, 110):
        sheet.line("rib", slot(y, floor + 60, y, rim - 60, 40), "inner", True)
    sheet.weld_row([(-h + 110, floor - 8), (h - 110, floor - 8)], WELD_PITCH * 1.3, "inner")
    _rails(pair, p, floor - 30)
    return _finished(sheet, [(0, RAIL_TOP - RAIL_DEEP), (0, rim + 60)])


def _rails(pair: Pair, p: Places, below: float) -> None:
    """The chassis rails' sections under a floor."""
    low = RAIL_TOP - RAIL_DEEP
    pair.panel("CHRAIL", "Chassis rail", "inner", rect(p.rail_half - RAIL_WIDE, low, p.rail_half, min(RAIL_TOP, below), 8), 2.5, 3)  # fmt: skip


def _finished(sheet: DrawingSheet, centre: list[tuple[float, float]]) -> DrawingSheet:
    sheet.line("centre", centre)
    sheet.silhouette = sheet.joined()
    return sheet
