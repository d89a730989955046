"""Rear-engined saloon: luggage tub before the bulkhead, engine on the rails behind the axle, louvres in lid and quarters, a tail that falls."""

from functools import cached_property

from shapely.geometry import Polygon, box

from .curves import Xy, ellipse, filleted, rect, slot, spline
from .pairs import Pair, mirrored
from .saloon_lines import SideLines
from .saloon_places import AXLE_ARCH_REAR, BOOT_REAR
from .saloon_reference import REFERENCE as R
from .saloon_top import TopLines
from .sheet import DrawingSheet

H, W, TAIL, DECK = R.half_width, R.waist, R.tail, R.deck_front


class RearEngineLines(SideLines):
    """The lines in which the rear-engined saloon differs."""

    rear_engine = True
    tail_down = 96.0

    @cached_property
    def lid(self) -> list[Xy]:
        """The engine's lid, which falls to the tail."""
        return spline(
            [
                (DECK, W + 18),
                (DECK + 160, W + 4),
                (DECK + 340, W - 24),
                (TAIL - 110, W - 58),
                (TAIL - 20, W - 79),
            ]
        )

    @cached_property
    def gutter(self) -> list[Xy]:
        h, header, roof = R.height, R.screen_header, R.roof_rear
        front = [
            (header - 34, W + 352),
            (header + 40, h - 66),
            (header + 170, h - 48),
            (header + 430, h - 38),
            (header + 720, h - 40),
        ]
        back = [
            (roof - 205, h - 58),
            (roof - 80, h - 90),
            (roof - 6, h - 150),
            (roof + 96, h - 262),
            (DECK - 158, W + 92),
        ]
        return spline(
            [*front, *back, (DECK - 96, W + 40), (DECK - 40, W + 6), (DECK + 34, W - 8), (DECK + 90, W + 30)]
        )

    @cached_property
    def louvres(self) -> tuple[list[Xy], ...]:
        """The slots in the quarter that the engine breathes through."""
        return tuple(slot(DECK - 120 + 38 * i, W - 118, DECK - 112 + 38 * i, W - 40, 16) for i in range(6))


class RearEngineTop(TopLines):
    """What differs from above: louvres in the lid."""

    rear_engine = True


def engine_bay() -> DrawingSheet:
    """The engine bay from above with its lid off: bulkhead before it, rails with their top plates, bay sides, rear crossmember."""
    sheet = DrawingSheet()
    pair, front, rear, sy = Pair(sheet, 1), AXLE_ARCH_REAR, BOOT_REAR, R.spring_y
    sheet.panel("BULKR", "Rear bulkhead", "inner", box(front - 34, -560, front, 560), 1.0, 2)
    rail = [(front, sy - 58), (rear - 40, sy - 58), (rear - 40, sy + 34), (front, sy + 34)]
    pair.panel("RAILT", "Chassis rail, rear, top plate", "inner", rail, 1.6, 3)
    side = [(front, sy + 36), (rear - 40, sy + 36), (rear - 6, 566), (front, 600)]
    pair.panel("BAYS", "Engine bay side", "inner", side, 0.9, 1)
    sheet.panel("XMR", "Rear crossmember", "inner", box(rear - 110, -sy + 58, rear - 40, sy - 58), 1.6, 3)
    sheet.panel("TAIL", "Rear panel", "outer", box(rear - 38, -566, rear + 20, 566), 0.9, 2)
    for x in (front + 120, front + 260):
        pair.hole(ellipse(x, sy - 12, 12, pieces=16))
        pair.line("rib", slot(x, 546, x + 90, 546, 22), "inner", True)
    pair.hole(ellipse(rear - 75, 180, 16, pieces=18))
    pair.weld_row([(front + 20, sy + 44), (rear - 60, sy + 44)], R.weld_pitch, "inner")
    sheet.weld_row([(front - 16, -540), (front - 16, 540)], R.weld_pitch, "inner")
    sheet.line("centre", [(front - 90, 0), (rear + 60, 0)])
    sheet.silhouette = sheet.joined()
    return sheet


def luggage_bay() -> DrawingSheet:
    """The luggage space before the bulkhead, seen from the front with its lid off: tub, inner wings, legs, bulkhead."""
    sheet = DrawingSheet()
    pair = Pair(sheet, 0)
    tub = Polygon(filleted(mirrored([(R.leg_inner - 4, 300, 40), (R.leg_inner - 4, 452)])))
    wall = Polygon(filleted(mirrored([(R.leg_outer + 6, 458), (H - 232, W - 66)])))
    sheet.panel("BULK", "Bulkhead", "inner", wall, 1.0, 0)
    sheet.panel("TUB", "Luggage tub", "inner", tub, 0.9, 1)
    wing = [
        (R.leg_outer + 8, 456),
        (R.leg_outer + 36, 640, 60),
        (H - 228, W - 90),
        (H - 150, W - 60),
        (H - 150, 456),
    ]
    pair.panel("IWING", "Inner wing", "inner", filleted(wing), 1.2, 2)
    pair.panel("LEG", "Chassis leg, front", "inner", rect(R.leg_inner, 330, R.leg_outer, 452, 8), 2.0, 3)
    for y in (-220, 0, 220):
        sheet.line("rib", slot(y, 520, y, 700, 46), "inner", True)
    sheet.line("edge", ellipse(0, 376, 210, 40, pieces=40), "inner", True)
    sheet.line("hole", ellipse(0, 320, 15, pieces=18), "inner", True)
    sheet.weld_row([(-H + 250, W - 78), (H - 250, W - 78)], R.weld_pitch * 1.3, "inner")
    pair.weld_row([(R.leg_inner + 8, 440), (R.leg_outer - 8, 440)], R.weld_pitch, "inner")
    sheet.line("centre", [(0, 240), (0, W + 40)])
    sheet.silhouette = sheet.joined()
    return sheet
