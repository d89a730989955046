"""Where the floor of the reference saloon changes: toe boards, heelboard, seat, axle arch, boot, sills, tunnel, mm."""

from .curves import spline
from .saloon_reference import REFERENCE as R

TOE_FRONT, TOE_REAR = 470, 720
HEEL = R.door_rear + 10
SEAT_REAR = R.wheelbase - 150
AXLE_ARCH_REAR = R.wheelbase + 270
BOOT_REAR = R.tail - 84
SILL_INNER, SILL_OUTER = R.half_width - 104, R.half_width - 2


def tunnel_half(x: float) -> float:
    """Half width of the tunnel: wide at the gearbox, narrow aft."""
    return R.tunnel_half + 54 * max(0, min(1, (900 - x) / 430)) - 20 * max(0, min(1, (x - 1300) / 700))


TUNNEL_EDGE = spline(
    [(x, tunnel_half(x)) for x in (TOE_FRONT, 600, 780, 920, 1300, 1700)] + [(HEEL + 20, tunnel_half(2000))]
)
