"""A hung door as a drawing of its own: skin, stiffeners and inner frame, where it hangs in the side of the body."""

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry import largest
from .curves import ellipse, rect, slot
from .model import View
from .sheet import DrawingSheet
from .stations import Stretch

#: The skin laps over the aperture's edge; the window's frame is so wide; a door's hem, mm.
LAP, FRAME, HEM = 7.0, 42.0, 9.0
#: Plates that carry hinges and lock, and the stiffener along the bottom: width, mm.
PLATE, BOTTOM = 104.0, 62.0
DRAIN_PITCH, WELD_PITCH = 230.0, 44.0


def door_sheet(
    side: str, aperture: BaseGeometry, waist: float, *, windowed: bool = True, rear: bool = False
) -> DrawingSheet:
    """The door of one side, drawn as the left one; the right is flipped when it is placed.

    Args: side: ``L`` or ``R``; aperture: the opening it closes, u aft and v up, mm; waist: where its window begins;
        windowed: whether it has a frame round a window; rear: whether it is the second one of its side.
    """
    code, word = ("DOORR", "Rear door") if rear else ("DOOR", "Door")
    sheet, whole = DrawingSheet(), largest(aperture.buffer(LAP))
    u0, v0, u1, _ = whole.bounds
    below = largest(whole.intersection(box(u0 - 9, v0 - 9, u1 + 9, waist + 12)))
    above = whole.difference(below)
    glass = above.buffer(-FRAME).buffer(12) if windowed else Polygon()
    sheet.handed(side, f"{code}", f"{word} skin", "outer", below, 0.9)
    if windowed:
        sheet.handed(side, f"{code}W", f"{word} window frame", "outer", above.difference(glass), 1.2, 2)
    inside = below.buffer(-HEM)
    left, low, right, top = inside.bounds
    sheet.handed(
        side,
        f"{code}H",
        f"{word} hinge plate",
        "middle",
        inside.intersection(box(left, low, left + PLATE, top)),
        2.0,
        2,
    )
    sheet.handed(
        side,
        f"{code}K",
        f"{word} lock plate",
        "middle",
        inside.intersection(box(right - PLATE, low, right, top)),
        1.5,
        2,
    )
    bottom = inside.intersection(box(left + PLATE + 6, low, right - PLATE - 6, low + BOTTOM))
    sheet.handed(side, f"{code}B", f"{word} bottom stiffener", "middle", bottom, 1.2, 3)
    sheet.handed(side, f"{code}I", f"{word} frame, inner", "inner", _frame(inside), 0.9)
    _marks(sheet, whole, below, glass, inside)
    sheet.silhouette = whole.difference(glass)
    return sheet


def door_views(
    left: DrawingSheet, right: DrawingSheet, stretch: Stretch, *, rear: bool = False
) -> list[View]:
    """The doors of both sides as views, in the axes of the side that each hangs in. Args: rear: whether they are the second ones."""
    name, title = ("rear-door", "Rear door") if rear else ("door", "Door")
    return [
        left.view(f"{name}-left", f"{title}, left", ("x", "z"), stretch, (1, 1), layered=True),
        right.view(f"{name}-right", f"{title}, right", ("-x", "z"), stretch, (-1, 1), layered=True),
    ]


def _brow(shape: BaseGeometry) -> float:
    """How high a door reaches halfway along: at the elbow, where it is cut down."""
    u0, v0, u1, v1 = shape.bounds
    return float(shape.intersection(box((u0 + u1) / 2 - 1, v0, (u0 + u1) / 2 + 1, v1)).bounds[3])


def _frame(inside: BaseGeometry) -> BaseGeometry:
    """The inner frame with the openings that a hand goes through."""
    u0, v0, u1, _ = inside.bounds
    width, brow = u1 - u0, _brow(inside)
    tall = brow - v0
    for start, end in ((0.17, 0.45), (0.53, 0.84)):
        inside = inside.difference(
            Polygon(rect(u0 + start * width, v0 + 0.3 * tall, u0 + end * width, brow - 0.26 * tall, 34))
        )
    return largest(inside)


def _marks(
    sheet: DrawingSheet, whole: BaseGeometry, below: BaseGeometry, glass: BaseGeometry, inside: BaseGeometry
) -> None:
    """Hem, crease, handle, hinges, lock, drains, spot welds."""
    u0, v0, u1, _ = below.bounds
    left, low, right, _ = inside.bounds
    top = v1 = _brow(inside)
    sheet.line("lip", below.buffer(-HEM).exterior.coords, "outer", True)
    if not glass.is_empty:
        sheet.line("lip", largest(glass).buffer(-10).exterior.coords, "outer", True)
    sheet.clipped("crease", [(u0, v1 - 0.3 * (v1 - v0)), (u1, v1 - 0.28 * (v1 - v0))], below, "outer")
    sheet.line("edge", rect(u1 - 190, v1 - 120, u1 - 66, v1 - 94, 11), "outer", True)
    for at in (0.16, 0.72):
        z = low + at * (top - low)
        sheet.line("edge", rect(left + 14, z, left + 78, z + 84, 10), "middle", True)
        for dz in (20, 64):
            sheet.line("hole", ellipse(left + 46, z + dz, 6, pieces=14), "middle", True)
    lock, half = low + 0.66 * (top - low), min(47.0, 0.16 * (top - low))
    sheet.line("edge", rect(right - 70, lock - half, right - 20, lock + half, 8), "middle", True)
    count = max(2, round((right - left - 2 * PLATE) / DRAIN_PITCH))
    for i in range(count):
        u = left + PLATE + (i + 0.5) * (right - left - 2 * PLATE) / count
        drain = slot(u - 14, low + 13, u + 14, low + 13, 9)
        if inside.covers(Polygon(drain)):
            sheet.line("hole", drain, "middle", True)
            sheet.line("hole", drain, "inner", True)
    sheet.weld_row(list(largest(inside.buffer(-6)).exterior.coords), WELD_PITCH, "inner")
    sheet.weld_row([(left + 52, low + 20), (left + 52, top - 20)], WELD_PITCH, "middle")
