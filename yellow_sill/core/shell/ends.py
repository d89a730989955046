"""Front and rear of the reference saloon and estate: y across, z up; the front is turned over when it is placed."""

from shapely import affinity
from shapely.geometry import Polygon, box

from .curves import ellipse, filleted, rect, slot, spline
from .pairs import Pair, mirrored
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet

H, W, TOP = R.half_width, R.waist, R.height


def _body(low: float, skirt: float) -> Polygon:
    half = spline(
        [
            (H - 36, R.sill_bottom),
            (H - 14, 330),
            (H - 4, 470),
            (H, 610),
            (H - 8, 740),
            (H - 40, W - 26),
            (H - 84, W + 2),
        ]
    )
    half += spline(
        [
            (H - 104, W + 8),
            (H - 156, W + 150),
            (H - 212, W + 292),
            (H - 244, TOP - 92),
            (H - 296, TOP - 46),
            (H - 420, TOP - 18),
            (H - 620, TOP - 4),
            (0, TOP),
        ]
    )
    half = [p for p in half if p[1] > R.sill_bottom + skirt]
    right = Polygon([(0, low), (H - 120, low), (H - 36, R.sill_bottom + skirt), *half])
    return right.union(affinity.scale(right, -1, 1, origin=(0, 0))).buffer(1).buffer(-1)


def _sills(pair: Pair) -> None:
    section = [
        (H - 130, 240),
        (H - 60, 204),
        (H - 52, 204),
        (H - 36, 224, 10),
        (H - 24, 330),
        (H - 36, 372),
        (H - 130, 372),
    ]
    pair.panel("SILL", "Outer sill", "outer", filleted(section), 1.0, 3)


def front(open_frame: Polygon | None = None) -> DrawingSheet:
    """Screen frame, scuttle, wings, bulkhead, legs. Args: open_frame: the windscreen's frame of a body without a roof."""
    sheet = DrawingSheet()
    pair, body = Pair(sheet, 0), _body(320, 110)
    screen = Polygon(filleted(mirrored([(H - 176, W + 32, 50), (H - 280, TOP - 88, 66)])))
    tunnel = Polygon(filleted([(-172, 200), (-150, 470, 90), (150, 470, 90), (172, 200)]))
    scuttle = body.intersection(box(-900, W - 66, 900, W + 14)).intersection(box(-H + 62, 0, H - 62, 2000))
    under_wing = Polygon(
        filleted([(H - 230, 100), (H - 230, 466), (H - 80, 466, 60), (H - 34, 400, 50), (H - 34, 100)])
    )
    wing = body.intersection(box(H - 222, 0, 900, W + 14)).difference(scuttle).difference(under_wing)
    toe = box(170, 272, H - 230, 430).difference(tunnel)
    above = body.intersection(box(-900, W + 14, 900, 2000)).difference(screen)
    if open_frame is None:
        sheet.panel("ROOF", "Roof and screen frame", "outer", above, 0.8)
    else:
        sheet.panel("SCRF", "Screen frame", "outer", open_frame, 1.2, 2)
    sheet.panel("SCUTTLE", "Scuttle", "outer", scuttle, 0.9, 2)
    pair.panel("WING", "Front wing", "outer", wing, 0.9)
    sheet.panel(
        "BULK",
        "Bulkhead",
        "inner",
        Polygon(filleted(mirrored([(H - 230, 430), (H - 226, W - 66)]))).difference(tunnel),
        1.0,
        0,
    )
    pair.panel("TOE", "Toe board", "inner", toe, 1.0, 2)
    pair.panel("LEG", "Chassis leg, front", "inner", rect(R.leg_inner, 330, R.leg_outer, 452, 8), 2.0, 3)
    inner_wing = [
        (R.leg_outer, 448),
        (R.leg_outer + 30, 640, 60),
        (H - 228, 780),
        (H - 216, 780),
        (H - 216, 448),
    ]
    pair.panel("IWING", "Inner wing", "inner", filleted(inner_wing), 1.2, 2)
    _sills(pair)
    _front_lines(sheet, pair, screen)
    return _finished(sheet)


def _front_lines(sheet: DrawingSheet, pair: Pair, screen: Polygon) -> None:
    """Lamps, what is pressed into the bulkhead and cut through it, spot welds, tyres."""
    for kind, u, v, radius in (
        ("edge", H - 128, 654, 92),
        ("lip", H - 128, 654, 77),
        ("lip", H - 118, 510, 34),
    ):
        pair.line(kind, ellipse(u, v, radius, pieces=46), "outer", True)
    for x in (-360, -200):
        sheet.line("rib", slot(x, 540, x, 740, 44), "inner", True)
    sheet.line("edge", rect(70, 610, 330, 740, 30), "inner", True)
    sheet.line("lip", rect(86, 626, 314, 724, 22), "inner", True)
    for x, z, radius in (
        (420, 560, 36),
        (-440, 480, 24),
        (440, 700, 16),
        (-60, 690, 26),
        (-60, 600, 14),
        (20, 520, 12),
    ):
        sheet.line("hole", ellipse(x, z, radius, pieces=24), "inner", True)
    sheet.line("crease", [(-H + 226, W - 90), (H - 226, W - 90)], "inner")
    if not any(record["code"] == "SCRF" for record, _ in sheet.panels):
        sheet.line("lip", screen.buffer(-14).exterior.coords, "outer", True)
    sheet.line("hole", rect(-210, W - 34, 210, W - 14, 6), "outer", True)
    sheet.weld_row([(-H + 90, W - 60), (H - 90, W - 60)], R.weld_pitch * 1.4, "outer")
    pair.line("tyre", rect(H - 214, 4, H - 64, 588, 40), closed=True)


def rear(estate: bool = False, open_frame: Polygon | None = None, *, engine: bool = False) -> DrawingSheet:
    """Rear screen or tailgate, deck, quarters, rear panel, rails and hangers."""
    sheet = DrawingSheet()
    pair, body = Pair(sheet, 0), _body(360, 150)
    lid_top = TOP - 60 if estate else W - 34
    screen = Polygon(filleted(mirrored([(H - 186, W + 34, 44), (H - 286, TOP - 92, 66)])))
    lid = Polygon(
        filleted(
            mirrored(
                [
                    (H - 220, 486, 46),
                    (H - 172, W - 34, 20 if estate else 50),
                    *([(H - 268, lid_top, 60)] if estate else []),
                ]
            )
        )
    )
    above = body.intersection(box(-900, W + 14, 900, 2000)).difference(lid if estate else screen)
    lower = body.intersection(box(-900, 0, 900, W + 14 if estate else W - 40)).difference(lid)
    if open_frame is None:
        word = "Roof and tailgate frame" if estate else "Roof and rear screen surround"
        sheet.panel("ROOF", word, "outer", above, 0.8)
    else:
        sheet.panel("SCRF", "Screen frame", "outer", open_frame, 1.2, 2)
    if not estate:
        sheet.panel(
            "DECK",
            "Deck panel",
            "outer",
            body.intersection(box(-900, W - 40, 900, W + 14)).difference(lid),
            0.9,
        )
    pair.panel("QTR", "Rear quarter panel", "outer", lower.intersection(box(H - 118, 0, 900, 2000)), 0.9, 2)
    middle = lower.intersection(box(-H + 118, 0, H - 118, 2000))
    sheet.panel("TAIL", "Rear panel", "outer", middle.intersection(box(-900, 440, 900, 2000)), 0.9)
    sheet.panel("VALANCE", "Rear valance", "outer", middle.intersection(box(-900, 0, 900, 440)), 0.9, 2)
    if not engine:
        sheet.panel("BOOT", "Load floor" if estate else "Boot floor", "inner", rect(-540, 418, 540, 470), 0.9)
    pair.panel(
        "RAIL", "Chassis rail, rear", "inner", rect(R.spring_y - 58, 348, R.spring_y + 34, 430, 6), 1.6, 3
    )
    hanger = [
        (R.spring_y - 46, 350),
        (R.spring_y + 26, 350),
        (R.spring_y + 16, 292, 14),
        (R.spring_y - 34, 292, 14),
    ]
    pair.panel("HANGR", "Spring hanger, rear", "inner", filleted(hanger), 2.5, 3)
    _sills(pair)
    sheet.line("lip", lid.buffer(-16).exterior.coords, "outer", True)
    if not estate and open_frame is None:
        sheet.line("lip", screen.buffer(-14).exterior.coords, "outer", True)
    lamp = [(H - 108, 640, 14), (H - 40, 640, 14), (H - 44, 800, 20), (H - 108, 806, 14)]
    pair.line("edge", filleted(lamp), "outer", True)
    pair.line("crease2", [(H - 108, 716), (H - 42, 716)], "outer")
    pair.hole(ellipse(420, 400, 15, pieces=18), "outer")
    sheet.line("crease2", [(-H + 118, 452), (H - 118, 452)], "outer")
    pair.line("beyond", [(200, 520), (430, 520), (430, 790), (200, 790), (200, 520)])
    sheet.weld_row([(-H + 130, 446), (H - 130, 446)], R.weld_pitch * 1.4, "outer")
    return _finished(sheet)


def _finished(sheet: DrawingSheet) -> DrawingSheet:
    sheet.line("centre", [(0, 150), (0, TOP + 60)])
    sheet.silhouette = sheet.joined()
    return sheet
