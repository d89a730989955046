"""The shapes of the light truck's cab from the side, which its sheets share."""

from functools import cached_property

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..geometry import largest
from .curves import ellipse, filleted, spline
from .ladder import ARCH, AXLE_Z, Places


class CabSide:
    """The shapes of the side, each made once: one skin cut along its seams, so that neighbours share their edges."""

    def __init__(self, p: Places) -> None:
        self.p = p

    @cached_property
    def arch(self) -> BaseGeometry:
        """What the front wheel's arch cuts out."""
        return Polygon(ellipse(0, AXLE_Z + 10, ARCH - 8, pieces=60))

    @cached_property
    def skin(self) -> BaseGeometry:
        """The whole skin seen from the side, apertures not yet cut."""
        p = self.p
        nose, w, cowl, top, d1, back, st, sb = (
            p.nose,
            p.waist,
            p.door_front - 70,
            p.top,
            p.door_rear,
            p.body_rear,
            p.sill_top,
            p.sill_bottom,
        )
        bonnet = spline(
            [
                (nose + 6, w - 190),
                (nose + 40, w - 118),
                (nose + 240, w - 70),
                (cowl - 60, w - 16),
                (cowl + 10, w),
            ]
        )
        screen = spline(
            [(cowl + 10, w), (cowl + 110, w + 190), (cowl + 190, top - 86), (cowl + 250, top - 40)]
        )
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
        return Polygon(ring).buffer(0).difference(self.arch)

    @cached_property
    def door(self) -> BaseGeometry:
        """The door aperture."""
        p = self.p
        d0, st, w, cowl, top, d1 = p.door_front, p.sill_top, p.waist, p.door_front - 70, p.top, p.door_rear
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
        return Polygon(filleted(door)).buffer(0)

    @cached_property
    def window(self) -> BaseGeometry:
        """The window in the corner behind the door; nothing where there is no room for one."""
        p = self.p
        d1, w, top, back = p.door_rear, p.waist, p.top, p.body_rear
        return (
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

    @cached_property
    def rest(self) -> BaseGeometry:
        """The skin round the door."""
        return self.skin.difference(self.door)

    @cached_property
    def wing(self) -> BaseGeometry:
        """The front wing."""
        p = self.p
        nose, wing_seam, w = p.nose, p.door_front - 96, p.waist
        return largest(self.rest.intersection(box(nose + 60, 0, wing_seam, w - 70)))

    @cached_property
    def nose_panel(self) -> BaseGeometry:
        """The front panel."""
        p = self.p
        nose = p.nose
        return largest(self.rest.intersection(box(nose - 20, 0, nose + 60, 2000)))

    @cached_property
    def bonnet_side(self) -> BaseGeometry:
        """The bonnet side."""
        p = self.p
        nose, w, wing_seam = p.nose, p.waist, p.door_front - 96
        return largest(self.rest.intersection(box(nose + 60, w - 70, wing_seam, 2000)))

    @cached_property
    def sill(self) -> BaseGeometry:
        """The sill and step."""
        p = self.p
        wing_seam, d1, st = p.door_front - 96, p.door_rear, p.sill_top
        return largest(self.rest.intersection(box(wing_seam, 0, d1 + 10, st - 8)))

    @cached_property
    def roof_panel(self) -> BaseGeometry:
        """The roof."""
        p = self.p
        top = p.top
        return largest(self.rest.intersection(box(-1500, top - 78, 9000, 2400)))

    @cached_property
    def left(self) -> BaseGeometry:
        """What is left once these are cut off."""
        return self.rest.difference(
            unary_union([self.wing, self.nose_panel, self.bonnet_side, self.sill, self.roof_panel]).buffer(
                0.1
            )
        )

    @cached_property
    def apost(self) -> BaseGeometry:
        """A-post and screen pillar."""
        p = self.p
        wing_seam, cowl = p.door_front - 96, p.door_front - 70
        return largest(self.left.intersection(box(wing_seam, 0, cowl + 300, 2400)))

    @cached_property
    def corner_panel(self) -> BaseGeometry:
        """The cab corner."""
        p = self.p
        d1, st = p.door_rear, p.sill_top
        return largest(self.left.intersection(box(d1 - 40, 0, 9000, st + 170)))

    @cached_property
    def back_side(self) -> BaseGeometry:
        """The side behind the door."""
        p = self.p
        d1 = p.door_rear
        return largest(
            self.left.difference(self.corner_panel.buffer(0.1))
            .intersection(box(d1 - 40, 0, 9000, 2400))
            .difference(self.window)
        )

    @cached_property
    def flange(self) -> BaseGeometry:
        """The weld flange below the sill."""
        p = self.p
        wing_seam, sb, d1 = p.door_front - 96, p.sill_bottom, p.door_rear
        return box(wing_seam + 20, sb - 18, d1 - 10, sb)
