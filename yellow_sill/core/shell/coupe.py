"""Coupé with a fixed head: the saloon's side with a roof that falls early and a long rear screen to a short deck."""

from functools import cached_property

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .curves import filleted, spline
from .saloon_lines import SideLines
from .saloon_reference import REFERENCE as R
from .saloon_top import TopLines

W, H, TAIL, HEADER, ROOF, DECK = R.waist, R.height, R.tail, R.screen_header, R.roof_rear, R.deck_front


class CoupeLines(SideLines):
    """The lines in which the coupé differs from the saloon."""

    @cached_property
    def roof_tail(self):
        """The roof from the screen header to the top of the rear screen."""
        front = [
            (HEADER - 6, self.screen_top),
            (HEADER + 62, H - 38),
            (HEADER + 230, H - 12),
            (HEADER + 430, H),
        ]
        return spline(
            [*front, (ROOF - 430, H - 10), (ROOF - 230, H - 42), (ROOF - 90, H - 82), (ROOF, H - 118)]
        )

    @cached_property
    def rear_screen(self):
        return spline(
            [
                (ROOF, H - 118),
                (ROOF + 190, H - 216),
                (DECK - 10, W + 142),
                (DECK + 104, W + 62),
                (DECK + 180, W + 26),
            ]
        )

    @cached_property
    def lid(self):
        return spline([(DECK + 180, W + 26), (DECK + 300, W + 16), (TAIL - 120, W + 18), (TAIL - 20, W + 17)])

    @cached_property
    def quarter_window(self) -> BaseGeometry:
        b = R.post_rear
        corners = [
            (b + 22, W + 22, 24),
            (b + 12, H - 102, 34),
            (ROOF - 250, H - 122, 60),
            (ROOF + 40, W + 110, 110),
        ]
        return Polygon(filleted([*corners, (DECK - 230, W + 22, 30)])).buffer(0)

    @cached_property
    def gutter(self):
        front = [
            (HEADER - 34, W + 352),
            (HEADER + 40, H - 66),
            (HEADER + 170, H - 48),
            (HEADER + 430, H - 38),
        ]
        fall = [
            (ROOF - 430, H - 50),
            (ROOF - 215, H - 90),
            (ROOF - 90, H - 126),
            (ROOF - 6, H - 162),
            (ROOF + 160, H - 250),
        ]
        return spline(
            [
                *front,
                *fall,
                (DECK - 40, W + 118),
                (DECK + 60, W + 52),
                (DECK + 140, W + 18),
                (DECK + 210, W + 4),
                (DECK + 260, W + 30),
            ]
        )

    @cached_property
    def above_gutter(self) -> BaseGeometry:
        return Polygon(
            [*self.gutter, (DECK + 480, 2000), (HEADER - 300, 2000), (HEADER - 70, W + 352)]
        ).buffer(0)


class CoupeTop(TopLines):
    """What differs from above: the rear screen reaches far aft."""

    screen_rear = spline([(DECK + 192, 0), (DECK + 184, 300), (DECK + 132, 600)])
    window_rear = ROOF - 170
