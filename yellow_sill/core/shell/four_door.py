"""Four-door saloon: the saloon's side with a second door between the B-post and the rear arch, and the C-post behind it."""

from functools import cached_property

from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .curves import ellipse, filleted
from .saloon_lines import SideLines
from .saloon_reference import REFERENCE as R
from .saloon_top import TopLines

W, H = R.waist, R.height
#: The rear door keeps this far off the arch, and its upper rear corner lies so far aft of the arch's front, mm.
OFF_ARCH, UPPER_REAR = 30.0, R.wheelbase - 92.0


class FourDoorLines(SideLines):
    """The lines in which the four-door saloon differs."""

    @cached_property
    def quarter_window(self) -> BaseGeometry:
        """None: the window is the rear door's."""
        return Polygon()

    @cached_property
    def rear_door(self) -> BaseGeometry:
        """The rear door's aperture: its lower rear corner is cut out round the arch."""
        bx = R.post_rear
        corners = [
            (bx + 6, R.sill_top, 40),
            (bx, 560),
            (bx + 4, W + 4),
            (bx - 6, H - 76, 40),
            (R.roof_rear - 230, H - 84, 60),
            (UPPER_REAR - 26, H - 170, 90),
            (UPPER_REAR + 14, W + 60, 60),
            (UPPER_REAR, W - 20),
            (UPPER_REAR - 10, 640, 40),
            (R.wheelbase - R.arch_rear - 4, R.sill_top, 40),
        ]
        reach = ellipse(
            R.wheelbase, R.axle_z + 16, R.arch_rear + OFF_ARCH, R.arch_rear_rise + OFF_ARCH, 0, 180, 44, 2.25
        )
        arch = Polygon(
            [*reach, (R.wheelbase - R.arch_rear - OFF_ARCH, 0), (R.wheelbase + R.arch_rear + OFF_ARCH, 0)]
        )
        return Polygon(filleted(corners)).buffer(0).difference(arch.buffer(0)).buffer(-8).buffer(8)


class FourDoorTop(TopLines):
    """What differs from above: a second door on each side."""

    rear_door_end = UPPER_REAR
    window_rear = UPPER_REAR - 20
