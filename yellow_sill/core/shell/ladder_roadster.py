"""Two-seat roadster on a ladder chassis: the tourer's frame and tub with wings in one piece with the side, a level waist, and a boot lid."""

from functools import cached_property

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from .curves import ellipse, filleted, spline
from .ladder import ARCH, AXLE_Z, WELD_PITCH, Places, end_chassis
from .pairs import Pair, mirrored
from .sheet import DrawingSheet
from .tourer_lines import TourerSide

#: How far the wings' crown lies below the scuttle, and the least height at which it clears the front wheel, mm.
CROWN_BELOW, LEAST_CROWN = 110.0, 700.0
#: Where the wings end towards the middle, share of half the width.
WING_IN = 0.52


def crown(p: Places) -> float:
    """How high the wings' upper edge lies, mm."""
    return max(p.waist - CROWN_BELOW, LEAST_CROWN)


class LadderRoadsterSide(TourerSide):
    """The lines in which the roadster's side differs from the tourer's."""

    @cached_property
    def tub(self) -> BaseGeometry:
        p = self.p
        bh, w, d0, d1, sb, tail = p.bulkhead, p.waist, p.door_front, p.door_rear, p.sill_bottom, p.tail
        front = [(bh, w), (d0 - 30, w + 4), (d0 + 20, w - 6), (d0 + 130, w - 36), (d0 + 300, w - 52)]
        door = [(d1 - 90, w - 50), (d1 - 6, w - 38)]
        back = [(d1 + 60, w - 24), (p.wheelbase - 60, w - 24), (p.wheelbase + 220, w - 56)]
        end = [(tail - 90, w - 140), (tail - 14, w - 250), (tail, sb + 90)]
        floor = [(tail - 20, sb + 20), (p.rear_arch_front - 10, sb), (bh, sb)]
        return Polygon([*spline([*front, *door]), *spline([*back, *end]), *floor]).buffer(0)

    @cached_property
    def door(self) -> BaseGeometry:
        p = self.p
        d0, st, w, d1 = p.door_front, p.sill_top, p.waist, p.door_rear
        upper = [(d0 - 4, w - 10, 16), (d0 + 20, w - 10), (d0 + 130, w - 38), (d0 + 300, w - 54)]
        rear = [(d1 - 90, w - 52), (d1 + 2, w - 40, 10), (d1, st + 120), (d1 - 20, st, 70)]
        return Polygon(filleted([(d0, st, 40), *upper, *rear])).buffer(0)

    @cached_property
    def wing(self) -> BaseGeometry:
        p, z = self.p, crown(self.p)
        nose, bh, sb = p.nose, p.bulkhead, p.sill_bottom
        top = [
            (nose, 470),
            (nose + 16, 0.55 * z + 212),
            (nose + 120, z - 34),
            (0, z),
            (bh - 20, z + 4),
            (bh, z + 4),
        ]
        under = [(bh, sb), (bh - 60, sb), (ARCH - 60, sb), (-ARCH + 12, AXLE_Z), (nose + 30, 420)]
        return Polygon([*spline(top), *under]).difference(self.front_arch).buffer(0)

    @cached_property
    def whole_bonnet(self) -> BaseGeometry:
        p, z = self.p, crown(self.p)
        nose, bh, w = p.nose, p.bulkhead, p.waist
        top = [(nose + 70, z - 20), (nose + 240, max(w - 56, z + 24)), (bh - 200, w - 14), (bh, w)]
        return Polygon([*spline(top), (bh, z - 40), (nose + 70, z - 60)]).difference(self.wing)


def wing_above(p: Places, wing: BaseGeometry) -> BaseGeometry:
    """The right front wing from above: it closes the space to the bonnet. Args: wing: as it is seen from below."""
    h, nose, bh = p.half, p.nose, p.bulkhead
    rear = [(bh - 22, h * 0.4), (bh - 22, h * 0.92), (bh - 280, h * 0.92)]
    return wing.union(Polygon([(nose + 80, h * 0.4), *rear, (nose + 80, h * 0.55)]))


def front(p: Places) -> DrawingSheet:
    """The nose with its mouth, the wings in one with it, the scuttle above."""
    sheet = DrawingSheet()
    pair, h, w, z = Pair(sheet, 0), p.half, p.waist, crown(p)
    inner, middle = h * WING_IN, (z + 326) / 2
    wing = Polygon(
        filleted([(inner, 420), (h - 60, 420, 40), (h, 540, 60), (h - 8, z - 60, 70), (h - 110, z, 80), (inner, z - 34)])
    )  # fmt: skip
    nose = Polygon(filleted(mirrored([(inner, 420), (inner, z - 34), (inner - 70, z - 10, 60)])))
    nose = nose.difference(wing.buffer(0.05))
    mouth = Polygon(ellipse(0, middle, h * 0.36, 82, pieces=60))
    scuttle = Polygon(filleted(mirrored([(h - 50, z - 50), (h - 90, w - 14, 40), (h - 200, w, 60)])))
    pair.panel("WING", "Front wing", "outer", wing, 1.0, 1)
    sheet.panel("NOSE", "Front panel", "outer", nose.difference(mouth), 1.0, 2)
    covered = nose.union(wing).union(Polygon([(-x, y) for x, y in wing.exterior.coords])).buffer(0.05)
    above = scuttle.difference(covered).intersection(box(-h, z - 30, h, w + 1))
    sheet.panel("SCUTTLE", "Scuttle", "outer", above, 1.0, 0)
    end_chassis(sheet, pair, p, 24)
    for x in range(-int(h * 0.3), int(h * 0.3), 44):
        sheet.line("crease2", [(x, middle - 54), (x, middle + 54)], "outer")
    pair.line("edge", ellipse(h - 150, z - 110, 76, pieces=40), "outer", True)
    sheet.line("edge", filleted(mirrored([(h - 140, w), (h - 200, p.top, 24)])), "outer", True)
    sheet.line("lip", filleted(mirrored([(h - 168, w + 20), (h - 222, p.top - 22, 16)])), "outer", True)
    sheet.weld_row([(-h + 220, w - 14), (h - 220, w - 14)], WELD_PITCH, "outer")
    sheet.silhouette = sheet.joined()
    return sheet
