"""The shapes of the open tourer's side, which its sheets share."""

from functools import cached_property

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry import largest
from .curves import ellipse, filleted, spline
from .ladder import ARCH, AXLE_Z, Places


class TourerSide:
    """The shapes of the side, each made once: one body cut along its seams, so that neighbours share their edges."""

    def __init__(self, p: Places) -> None:
        self.p = p

    @cached_property
    def front_arch(self) -> BaseGeometry:
        """What the front wheel's arch cuts out."""
        return Polygon(ellipse(0, AXLE_Z, ARCH - 14, pieces=60))

    @cached_property
    def rear_arch(self) -> BaseGeometry:
        """What the rear wheel's arch cuts out."""
        return Polygon(ellipse(self.p.wheelbase, AXLE_Z + 20, ARCH - 6, ARCH - 40, pieces=60))

    @cached_property
    def tub(self) -> BaseGeometry:
        """The tub from the bulkhead back, the door not yet cut."""
        p = self.p
        bh, w, d0, d1, deck, wb, tail, sb = (
            p.bulkhead,
            p.waist,
            p.door_front,
            p.door_rear,
            p.waist - 60,
            p.wheelbase,
            p.tail,
            p.sill_bottom,
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
        return Polygon(
            [*spline(tub_top), *spline(back), (tail - 20, sb + 20), (p.rear_arch_front - 10, sb), (bh, sb)]
        ).buffer(0)

    @cached_property
    def door(self) -> BaseGeometry:
        """The door aperture, cut down at the elbow."""
        p = self.p
        d0, st, w, d1 = p.door_front, p.sill_top, p.waist, p.door_rear
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
        return Polygon(filleted(door_ring)).buffer(0)

    @cached_property
    def wing(self) -> BaseGeometry:
        """The flowing front wing."""
        p = self.p
        nose, bh, sb = p.nose, p.bulkhead, p.sill_bottom
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
        return (
            Polygon(
                [
                    *wing_top,
                    (bh + 40, sb),
                    (bh - 60, sb),
                    (ARCH - 60, sb),
                    (-ARCH + 12, AXLE_Z),
                    (nose + 30, 420),
                ]
            )
            .difference(self.front_arch)
            .buffer(0)
        )

    @cached_property
    def whole_bonnet(self) -> BaseGeometry:
        """The bonnet, with what the scuttle takes of it."""
        p = self.p
        nose, bh, w, sb = p.nose, p.bulkhead, p.waist, p.sill_bottom
        return Polygon(
            [
                (nose + 70, 700),
                *spline([(nose + 78, 812), (nose + 260, 846), (bh - 200, w - 22), (bh, w)]),
                (bh, sb + 90),
                (bh - 150, 600),
                (20, 760),
            ]
        ).difference(self.wing)

    @cached_property
    def bonnet(self) -> BaseGeometry:
        """The bonnet side."""
        return largest(self.whole_bonnet.difference(self.scuttle))

    @cached_property
    def body(self) -> BaseGeometry:
        """The tub without arch and wing."""
        return self.tub.difference(self.rear_arch).difference(self.wing)

    @cached_property
    def sill(self) -> BaseGeometry:
        """The outer sill."""
        p = self.p
        bh, st = p.bulkhead, p.sill_top
        return self.body.intersection(box(bh - 20, 0, p.rear_arch_front + 60, st - 10)).difference(
            self.rear_arch
        )

    @cached_property
    def scuttle(self) -> BaseGeometry:
        """The side of the scuttle."""
        p = self.p
        bh, st, d0 = p.bulkhead, p.sill_top, p.door_front
        return largest(self.body.intersection(box(bh, st - 10, d0 - 62, 2000)))

    @cached_property
    def apost(self) -> BaseGeometry:
        """The face of the A-post."""
        p = self.p
        d0, st = p.door_front, p.sill_top
        return largest(self.body.difference(self.door).intersection(box(d0 - 62, st - 10, d0 + 24, 2000)))

    @cached_property
    def bpost(self) -> BaseGeometry:
        """The face of the B-post."""
        p = self.p
        d1, st = p.door_rear, p.sill_top
        return largest(self.body.difference(self.door).intersection(box(d1 - 30, st - 10, d1 + 62, 2000)))

    @cached_property
    def tail_strip(self) -> BaseGeometry:
        """What is seen of the rear panel."""
        p = self.p
        tail = p.tail
        return self.body.intersection(box(tail - 64, 0, tail + 40, 2000))

    @cached_property
    def quarter(self) -> BaseGeometry:
        """The rear quarter panel."""
        p = self.p
        d1 = p.door_rear
        return largest(
            self.body.difference(self.door)
            .difference(self.bpost)
            .difference(self.tail_strip)
            .intersection(box(d1 + 62, 0, 9000, 2000))
            .difference(self.sill)
        )

    @cached_property
    def flange(self) -> BaseGeometry:
        """The weld flange below the sill."""
        p = self.p
        bh, sb = p.bulkhead, p.sill_bottom
        return box(bh + 30, sb - 18, p.rear_arch_front - 20, sb)
