"""Estate or hatch: the saloon's side with a long roof, a load window and a tailgate; and the van, whose sides are closed."""

from functools import cached_property

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .curves import Xy, filleted, spline
from .saloon_lines import SideLines
from .saloon_reference import REFERENCE as R

W, H, TAIL = R.waist, R.height, R.tail


class EstateLines(SideLines):
    """The lines in which the estate differs from the saloon."""

    estate = True

    @cached_property
    def roof_tail(self):
        """The roof from the screen header to the top of the tailgate."""
        header = R.screen_header
        return spline(
            [
                (header - 6, self.screen_top),
                (header + 62, H - 38),
                (header + 230, H - 12),
                (header + 480, H),
                (header + 1000, H - 2),
            ]
            + [(TAIL - 480, H - 12), (TAIL - 300, H - 30), (TAIL - 226, H - 62)]
        )

    @cached_property
    def rear_screen(self):
        """The tailgate seen from the side."""
        return spline(
            [
                (TAIL - 226, H - 62),
                (TAIL - 176, H - 170),
                (TAIL - 118, W + 190),
                (TAIL - 62, W + 80),
                (TAIL - 20, W + 17),
            ]
        )

    @cached_property
    def lid(self):
        return [(TAIL - 20, W + 17)]

    @cached_property
    def quarter_window(self) -> BaseGeometry:
        b = R.post_rear
        corners = [
            (b + 22, W + 22, 24),
            (b + 12, H - 80, 34),
            (TAIL - 318, H - 92, 60),
            (TAIL - 226, W + 190, 50),
            (TAIL - 190, W + 22, 30),
        ]
        return Polygon(filleted(corners)).buffer(0)

    @cached_property
    def gutter(self):
        header = R.screen_header
        return spline(
            [
                (header - 34, W + 352),
                (header + 40, H - 66),
                (header + 170, H - 48),
                (header + 430, H - 38),
                (header + 900, H - 38),
                (header + 1300, H - 42),
            ]
            + [(TAIL - 500, H - 50), (TAIL - 340, H - 66), (TAIL - 280, H - 100)]
        )

    @cached_property
    def above_gutter(self) -> BaseGeometry:
        header = R.screen_header
        return Polygon(
            [
                *self.gutter,
                (TAIL - 226, H - 64),
                (TAIL + 100, H - 60),
                (TAIL + 100, 2000),
                (header - 300, 2000),
                (header - 70, W + 352),
            ]
        ).buffer(0)

    @cached_property
    def tail_seam(self):
        return [(TAIL - 236, H + 60), (TAIL - 244, H - 70), (TAIL - 196, H - 170), (TAIL - 140, W + 190), (TAIL - 86, W + 70), (TAIL - 60, W - 20)] + [
            (TAIL - 64, 660), (TAIL - 72, 510), (TAIL - 92, 430), (TAIL - 104, 300)
        ]  # fmt: skip


class VanLines(EstateLines):
    """The estate with its sides closed behind the doors."""

    @cached_property
    def quarter_window(self) -> BaseGeometry:
        return Polygon()

    @cached_property
    def side_swages(self) -> tuple[list[Xy], ...]:
        """Two panels pressed into the closed side, which keep it from drumming."""
        front, rear, middle = R.post_rear + 40, TAIL - 300, (R.post_rear + TAIL - 260) / 2
        return tuple(
            filleted([(start, W + 24, 30), (start, H - 92, 40), (end, H - 96, 40), (end, W + 24, 30)])
            for start, end in ((front, middle - 30), (middle + 30, rear))
        )
