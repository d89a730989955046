"""The long curves and seams of the reference saloon's side, which its sheets share."""

from functools import cached_property

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .curves import Xy, ellipse, filleted, spline
from .saloon_reference import REFERENCE as R


class SideLines:
    """The long curves and seams of the side, each made once."""

    screen_top = R.waist + 386
    estate = False
    #: Whether there is a roof over the doors.
    roofed = True
    #: Whether the engine hangs on the rails behind the rear axle.
    rear_engine = False
    #: How far the tail's upper corner and its lamps lie below the saloon's, mm.
    tail_down = 0.0

    @cached_property
    def side_swages(self) -> tuple[list[Xy], ...]:
        """Panels pressed into a closed side, each a ring."""
        return ()

    @cached_property
    def louvres(self) -> tuple[list[Xy], ...]:
        """Slots in the quarters that an engine breathes through."""
        return ()

    @cached_property
    def roof_tail(self):
        """The roof from the screen header to the top of the rear screen."""
        h, header, rear = R.height, R.screen_header, R.roof_rear
        return spline(
            [
                (header - 6, self.screen_top),
                (header + 62, h - 38),
                (header + 230, h - 12),
                (header + 480, h),
                (header + 740, h - 2),
            ]
            + [(rear - 215, h - 17), (rear - 72, h - 46), (rear, h - 90)]
        )

    @cached_property
    def lid(self):
        """The boot lid from the foot of the rear screen to the tail."""
        w, deck, tail = R.waist, R.deck_front, R.tail
        return spline(
            [
                (deck, w + 18),
                (deck + 170, w + 14),
                (deck + 350, w + 14),
                (tail - 120, w + 19),
                (tail - 20, w + 17),
            ]
        )

    @cached_property
    def above_gutter(self) -> BaseGeometry:
        """Where the roof panel lies."""
        w, header = R.waist, R.screen_header
        return Polygon(
            [*self.gutter, (R.deck_front + 300, 2000), (header - 300, 2000), (header - 70, w + 352)]
        ).buffer(0)

    @cached_property
    def tail_seam(self):
        w, tail = R.waist, R.tail
        return [
            (tail - 58, w + 60),
            (tail - 62, w - 80),
            (tail - 64, 660),
            (tail - 72, 510),
            (tail - 92, 430),
            (tail - 104, 300),
        ]

    @cached_property
    def wing_top(self):
        w, nose = R.waist, R.nose
        crown = [
            (nose + 1, 752),
            (nose + 3, 776),
            (nose + 34, 801),
            (nose + 120, 817),
            (-330, 829),
            (0, 844),
            (330, 859),
            (R.screen_base - 36, w - 8),
        ]
        return [(nose + 16, 744), *spline(crown)]

    @cached_property
    def rear_screen(self):
        h, w, roof, deck = R.height, R.waist, R.roof_rear, R.deck_front
        return spline(
            [
                (roof, h - 90),
                (roof + 118, h - 218),
                (deck - 130, w + 115),
                (deck - 52, w + 44),
                (deck, w + 18),
            ]
        )

    @cached_property
    def rear_arch(self):
        return ellipse(R.wheelbase, R.axle_z + 16, R.arch_rear, R.arch_rear_rise, 0, 180, 44, 2.25)

    @cached_property
    def upper_edge(self) -> list[Xy]:
        """The outline from the wing's upper end over screen, roof and boot lid to the tail."""
        w, base, header = R.waist, R.screen_base, R.screen_header
        screen = spline(
            [(base, w + 6), (base + 190, w + 178), (base + 370, w + 332), (header - 6, self.screen_top)]
        )
        return [(base - 10, w), *screen, *self.roof_tail[1:], *self.rear_screen[1:], *self.lid[1:]]

    @cached_property
    def outline(self) -> BaseGeometry:
        """The whole skin seen from the side, apertures not yet cut."""
        w, tail, wb = R.waist - self.tail_down, R.tail, R.wheelbase
        back = spline(
            [
                (tail - 3, w + 8),
                (tail - 4, w - 30),
                (tail - 20, w - 130),
                (tail - 27, 650),
                (tail - 36, 530),
                (tail - 50, 432),
            ]
        )
        low_rear = [
            (tail - 50, 432),
            (tail - 66, 404, 40),
            (wb + 500, 346, 300),
            (wb + R.arch_rear + 14, 312, 14),
            (wb + R.arch_rear, 326),
        ]
        front_arch = ellipse(0, R.axle_z, R.arch_front, R.arch_front - 8, -6, 177, 44)
        bottom = [
            (wb - R.arch_rear - 8, 268),
            (wb - R.arch_rear - 14, R.sill_bottom),
            (R.arch_front + 34, R.sill_bottom),
            (R.arch_front + 4, 256),
        ]
        low_front = [
            (-R.arch_front + 1, 314),
            (-R.arch_front - 22, 326, 14),
            (R.nose + 92, 388, 120),
            (R.nose + 40, 428, 40),
        ]
        low_front += [(R.nose + 24, 560, 200), (R.nose + 16, 744)]
        ring = self.wing_top + self.upper_edge + [(tail - 20, w + 17)] + back[1:]
        ring += (
            filleted(low_rear, closed=False)
            + self.rear_arch
            + bottom
            + front_arch
            + filleted(low_front, closed=False)[1:-1]
        )
        return Polygon(ring).buffer(0)

    @cached_property
    def door(self) -> BaseGeometry:
        """The door aperture."""
        d0, d1, w, h, header = R.door_front, R.door_rear, R.waist, R.height, R.screen_header
        top = spline(
            [
                (header + 44, h - 96),
                (header + 150, h - 78),
                (header + 390, h - 66),
                (d1 - 60, h - 68),
                (d1 + 10, h - 74),
            ]
        )
        front = [
            (d0, R.sill_top, 58),
            (d0 - 2, 640),
            (d0 + 4, w - 18, 26),
            (d0 + 34, w + 14, 30),
            (header + 4, h - 118, 60),
        ]
        rear = [
            (d1 + 24, h - 82, 44),
            (d1 + 30, w + 110),
            (d1 + 18, w + 2),
            (d1 + 6, 660),
            (d1, 520),
            (d1 - 14, R.sill_top, 92),
        ]
        return Polygon(filleted([*front, *top, *rear])).buffer(0)

    @cached_property
    def quarter_window(self) -> BaseGeometry:
        b, w, h = R.post_rear, R.waist, R.height
        corners = [
            (b + 22, w + 22, 24),
            (b + 12, h - 80, 34),
            (R.roof_rear - 175, h - 92, 70),
            (R.roof_rear + 66, w + 120, 90),
        ]
        return Polygon(filleted([*corners, (R.deck_front - 262, w + 22, 26)])).buffer(0)

    @cached_property
    def gutter(self):
        h, w, header, roof, deck = R.height, R.waist, R.screen_header, R.roof_rear, R.deck_front
        return spline(
            [
                (header - 34, w + 352),
                (header + 40, h - 66),
                (header + 170, h - 48),
                (header + 430, h - 38),
                (header + 720, h - 40),
            ]
            + [
                (roof - 205, h - 58),
                (roof - 80, h - 90),
                (roof - 6, h - 150),
                (roof + 96, h - 262),
                (deck - 158, w + 92),
            ]
            + [(deck - 96, w + 40), (deck - 40, w + 14), (deck + 34, w + 6), (deck + 90, w + 30)]
        )

    @cached_property
    def waist_swage(self):
        return spline(
            [(R.nose + 40, 688), (R.nose + 190, 704), (0, 716), (R.screen_base, 728), (R.door_rear, 742)]
            + [(R.wheelbase + 200, 748), (R.tail - 200, 744), (R.tail - 62, 738)]
        )

    @cached_property
    def rear_door(self) -> BaseGeometry:
        """The aperture of a second door on each side; empty where there is none."""
        return Polygon()

    @cached_property
    def screen_frame(self) -> BaseGeometry:
        """The windscreen's frame of an open body; empty where pillars carry a roof."""
        return Polygon()

    def rim(self, aperture: BaseGeometry, inside: float = 0.0) -> list[Xy]:
        """The line round an aperture, so far inside its edge, mm; of one that is open above, from its front end to its rear end."""
        return list(
            aperture.buffer(-inside, join_style="round").exterior.coords
            if inside
            else aperture.exterior.coords
        )

    @property
    def door_skin(self) -> BaseGeometry:
        """What a door covers."""
        return self.door

    def under_roof(self, post: BaseGeometry) -> BaseGeometry:
        """A post as far as it goes: to the roof, or to the waist of an open body."""
        return post

    @cached_property
    def seal_flange(self) -> BaseGeometry:
        """The flange that a door's seal sits on."""
        return self.door.difference(self.door.buffer(-15, join_style="round"))

    @cached_property
    def apertures(self) -> BaseGeometry:
        """Every door's aperture."""
        return self.door if self.rear_door.is_empty else self.door.union(self.rear_door)

    def front_arch(self, grow: float = 0, start: float = -6, end: float = 184):
        return ellipse(0, R.axle_z, R.arch_front + grow, R.arch_front - 8 + grow, start, end, 44)
