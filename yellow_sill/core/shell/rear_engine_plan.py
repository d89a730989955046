"""What differs on the underside of a rear-engined saloon: the luggage tub between the front legs, the opening behind the axle."""

from shapely.geometry import Polygon, box

from .curves import ellipse, filleted, slot
from .saloon_places import AXLE_ARCH_REAR, BOOT_REAR, TOE_FRONT
from .saloon_reference import REFERENCE as R
from .sheet import DrawingSheet

NOSE = R.nose


def tub_from_below(sheet: DrawingSheet) -> None:
    """The luggage tub between the front legs, seen in a plan."""
    inside = R.leg_inner - 10
    shape = Polygon(
        filleted(
            [
                (NOSE + 214, -inside, 30),
                (NOSE + 214, inside, 30),
                (TOE_FRONT - 4, 296, 30),
                (TOE_FRONT - 4, -296, 30),
            ]
        )
    )
    sheet.panel("TUB", "Luggage tub", "inner", shape, 0.9, 1)
    for y in (-190, 190):
        sheet.line("rib", slot(NOSE + 290, y, TOE_FRONT - 90, y, 40), "inner", True)
    sheet.line("edge", ellipse(-90, 0, 150, pieces=48), "inner", True)
    sheet.line("hole", ellipse(-90, 0, 14, pieces=18), "inner", True)


def bay_from_below() -> Polygon:
    """The opening that the engine hangs through."""
    return Polygon(
        filleted(
            [
                (AXLE_ARCH_REAR + 6, -424, 30),
                (AXLE_ARCH_REAR + 6, 424, 30),
                (BOOT_REAR - 112, 424, 30),
                (BOOT_REAR - 112, -424, 30),
            ]
        )
    )


def crossmember_from_below(sheet: DrawingSheet) -> None:
    sy = R.spring_y
    sheet.panel(
        "XMR", "Rear crossmember", "inner", box(BOOT_REAR - 110, -sy + 60, BOOT_REAR - 40, sy - 60), 1.6, 3
    )
