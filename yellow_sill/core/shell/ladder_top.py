"""Bodies on a ladder chassis from above: the light truck's cab and the open tourer. x aft, y to the right."""

from dataclasses import dataclass

from shapely import affinity
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..geometry import largest
from .curves import ellipse, filleted, half_and_mirror, rect, slot, spline
from .ladder import RAIL_WIDE, WELD_PITCH, Places
from .pairs import Pair
from .sheet import DrawingSheet, joined

_FAR = 1500.0


def _right(shape: BaseGeometry) -> BaseGeometry:
    return largest(shape.intersection(box(-3000, 0, 8000, _FAR)))


def _both(shapes: list[BaseGeometry]) -> BaseGeometry:
    """Shapes and their mirror images, as one outline."""
    return joined([each for shape in shapes for each in (shape, affinity.scale(shape, 1, -1, origin=(0, 0)))])


@dataclass(frozen=True, slots=True, kw_only=True)
class _Cab:
    """The cab's sheets from above; of what exists on both sides the right one, ``screen`` the opening for the windscreen."""

    front: BaseGeometry
    bonnet: BaseGeometry
    scuttle: BaseGeometry
    roof: BaseGeometry
    rear: BaseGeometry
    wing: BaseGeometry
    apost: BaseGeometry
    door: BaseGeometry
    side: BaseGeometry
    gutter: BaseGeometry
    rail: BaseGeometry
    screen: BaseGeometry


def _cab(p: Places, body: BaseGeometry) -> _Cab:
    h, nose, back, cowl = p.half, p.nose, p.body_rear, p.door_front - 70
    head, roof_half, low = p.door_front + 250, h - 240, h - 92
    front = body.intersection(box(nose - 10, -_FAR, nose + 66, _FAR))
    side_of_bonnet = [(nose + 70, h * 0.42), (cowl - 250, h * 0.56), (cowl - 96, h * 0.6)]
    bonnet = half_and_mirror(spline([(nose + 66, 0), *side_of_bonnet, (cowl - 112, 0)])).difference(front)
    foot = spline([(cowl - 20, 0), (cowl - 6, h * 0.5), (cowl + 60, h - 130)])
    scuttle = half_and_mirror([(cowl - 112, 0), (cowl - 96, h * 0.6), (cowl - 40, h - 120), *reversed(foot)])
    scuttle = scuttle.difference(bonnet)
    header = spline([(head - 24, 0), (head - 14, roof_half * 0.6), (head + 10, roof_half - 22)])
    rear_corner = filleted([(back - 60, roof_half, 60), (back - 46, roof_half - 60)], closed=False)
    roof, screen = (
        half_and_mirror([*header, *rear_corner, (back - 46, 0)]),
        half_and_mirror([*foot, *reversed(header)]),
    )
    top, shut = roof_half + 24, p.door_rear - 40
    window = Polygon([(cowl + 90, low), (head + 20, top), (shut, top), (shut, low)])
    gutter = box(head + 10, roof_half - 22, back - 50, roof_half + 22).difference(roof)
    taken = unary_union([front, bonnet, scuttle, roof, screen, gutter, window]).buffer(0.05)
    rest = _right(body).difference(taken)
    door = largest(rest.intersection(box(p.door_front, low - 2, p.door_rear, _FAR)))
    return _Cab(
        front=front, bonnet=bonnet, scuttle=scuttle, roof=roof, screen=screen, gutter=gutter, door=door,
        rear=body.intersection(box(back - 40, -_FAR, back + 10, _FAR)),
        wing=largest(rest.intersection(box(nose, 0, cowl - 20, _FAR))),
        apost=largest(rest.intersection(box(cowl - 20, 0, p.door_rear - 60, _FAR)).difference(door)),
        side=largest(rest.intersection(box(p.door_rear, 0, back - 40, _FAR))),
        rail=box(back, p.rail_half - RAIL_WIDE, p.tail - 30, p.rail_half),
    )  # fmt: skip


def cab_top(p: Places, body: BaseGeometry) -> DrawingSheet:
    """Bonnet, wings, scuttle, roof and doors of a cab, and the rails that run on behind it. Args: body: its outline from above."""
    sheet, h, nose, back = DrawingSheet(), p.half, p.nose, p.body_rear
    pair, cowl, cab = Pair(sheet, 1), p.door_front - 70, _cab(p, body)
    head, roof_half = p.door_front + 250, h - 240
    for code, name, shape, thickness, tone in (
        ("NOSE", "Front panel", cab.front, 1.0, 2), ("BONNET", "Bonnet", cab.bonnet, 0.9, 1), ("SCUTTLE", "Scuttle", cab.scuttle, 1.0, 2),
        ("ROOF", "Roof", cab.roof, 0.9, 0), ("BACK", "Back panel", cab.rear, 1.0, 2),
    ):  # fmt: skip
        sheet.panel(code, name, "outer", shape, thickness, tone)
    for code, name, shape, thickness, tone in (
        ("WING", "Front wing", cab.wing, 1.0, 1), ("APOST", "A-post and screen pillar", cab.apost, 1.2, 2), ("DOOR", "Door skin", cab.door, 0.9, 1),
        ("QTR", "Cab side behind the door", cab.side, 1.0, 2), ("CANT", "Cant rail, outer", cab.gutter, 1.0, 3),
        ("CHRAILT", "Chassis rail, top plate", cab.rail, 2.5, 3),
    ):  # fmt: skip
        pair.panel(code, name, "outer", shape, thickness, tone)
    members = _members(
        sheet, p, [x for x in (p.wheelbase - 560, p.wheelbase + 250, p.tail - 110) if x > back + 60]
    )
    sheet.line("lip", cab.screen.buffer(-14).exterior.coords, "outer", True)
    pair.line(
        "crease", spline([(nose + 80, h * 0.2), (cowl - 300, h * 0.24), (cowl - 130, h * 0.25)]), "outer"
    )
    for y in range(90, int(h * 0.5), 70):
        pair.line("rib", slot(cowl - 64, y, cowl - 64, y + 40, 14), "outer", True)
    for x in range(int(head) + 120, int(back) - 120, 130):
        sheet.line("crease2", [(x, -roof_half + 60), (x, roof_half - 60)], "outer")
    pair.weld_row([(head + 30, roof_half + 12), (back - 70, roof_half + 12)], WELD_PITCH, "outer")
    _wheels(sheet, p, p.wheelbase)
    sheet.line("centre", [(nose - 60, 0), (p.tail + 60, 0)])
    shown = [
        cab.front,
        cab.bonnet,
        cab.scuttle,
        cab.roof,
        cab.wing,
        cab.apost,
        cab.door,
        cab.side,
        cab.gutter,
        cab.rear,
        cab.rail,
    ]
    sheet.silhouette = _both([*shown, *members])
    return sheet


def _members(sheet: DrawingSheet, p: Places, places: list[float]) -> list[BaseGeometry]:
    """Crossmembers that nothing covers."""
    found = []
    for number, x in enumerate(
        (p.nose + 110, 560, p.wheelbase - 560, p.wheelbase + 250, p.tail - 110), start=1
    ):
        if x in places:
            inner = p.rail_half - RAIL_WIDE
            found.append(box(x - 45, -inner, x + 45, inner))
            sheet.panel(f"CHX{number}", f"Crossmember {number}", "outer", found[-1], 2.0, 3)
    return found


def _wheels(sheet: DrawingSheet, p: Places, x: float) -> None:
    """The wheels of an axle that nothing covers."""
    for y in (-p.half + 100, p.half - 100):
        sheet.line("tyre", rect(x - 320, y - 70, x + 320, y + 70, 36), closed=True)


def _boot_lid(p: Places) -> BaseGeometry:
    """The boot lid from above: over the axle back to the tail."""
    fore, half = min(p.wheelbase + 40, p.tail - 420), p.half * 0.5
    ahead = max(fore, p.door_rear + 240)
    return Polygon(rect(ahead, -half, p.tail - 64, half, 60)).buffer(0)


def tourer_top(p: Places, body: BaseGeometry, wing: BaseGeometry, *, lidded: bool = False) -> DrawingSheet:
    """Bonnet, wings, scuttle, tub and tail of an open tourer; the seats' space is open.

    Args: body: its outline without the front wings; wing: the right front wing; both from above; lidded: whether a boot lid lies in its tail.
    """
    sheet, h, nose, tail = DrawingSheet(), p.half, p.nose, p.tail
    pair, cowl = Pair(sheet, 1), p.bulkhead
    scuttle_rear = p.door_front - 10
    bonnet = body.intersection(box(nose + 60, -h * 0.62, cowl - 20, h * 0.62))
    grille = body.intersection(box(nose - 10, -h, nose + 60, h)).difference(wing)
    scuttle = body.intersection(box(cowl - 20, -_FAR, scuttle_rear, _FAR))
    back_of_seat = p.door_rear + 210
    opening = [(scuttle_rear + 4, h - 96, 60), (back_of_seat, h - 120, 160)]
    seat = Polygon(filleted([*opening, *[(x, -y, radius) for x, y, radius in reversed(opening)]]))
    tub = body.intersection(box(scuttle_rear, -_FAR, tail + 20, _FAR)).difference(seat)
    deck = tub.intersection(box(p.door_rear + 190, -h + 150, tail + 20, h - 150))
    rest = _right(tub.difference(deck))
    door = largest(rest.intersection(box(p.door_front, 0, p.door_rear, _FAR)))
    front = (
        largest(rest.intersection(box(scuttle_rear, 0, p.door_front, _FAR)))
        if p.door_front - scuttle_rear > 20
        else None
    )
    side = largest(rest.intersection(box(p.door_rear, 0, tail + 20, _FAR)))
    right_wing = largest(_right(wing).difference(unary_union([bonnet, scuttle])))
    lid = _boot_lid(p) if lidded else Polygon()
    for code, name, shape, thickness, tone in (
        ("NOSE", "Front panel" if lidded else "Radiator surround", grille, 1.0, 2), ("BONNET", "Bonnet", bonnet, 0.9, 1),
        ("SCUTTLE", "Scuttle", scuttle, 1.0, 2), ("TAIL", "Tail", deck.difference(lid), 0.9, 0), *([("LID", "Boot lid", lid, 0.9, 1)] if lidded else []),
    ):  # fmt: skip
        sheet.panel(code, name, "outer", shape, thickness, tone)
    for code, name, shape, thickness, tone in (
        ("WING", "Front wing", right_wing, 1.0, 1), ("DOOR", "Door skin", door, 0.9, 1), ("QTR", "Rear quarter", side, 0.9, 2),
    ):  # fmt: skip
        pair.panel(code, name, "outer", shape, thickness, tone)
    for x in range(int(nose) + 130, int(cowl) - 60, 58):
        pair.line("rib", slot(x, h * 0.3, x + 6, h * 0.42, 12), "outer", True)
    sheet.line("crease", [(nose + 60, 0), (cowl - 20, 0)], "outer")
    sheet.line("edge", rect(cowl + 70, -h + 190, cowl + 96, h - 190, 10), "outer", True)
    sheet.line("lip", seat.buffer(14).exterior.coords, "outer", True)
    sheet.line("gutter", deck.buffer(-26).exterior.coords, "outer", True)
    pair.hole(ellipse(cowl + 40, h * 0.34, 10, pieces=14), "outer")
    sheet.weld_row([(cowl - 8, -h * 0.56), (cowl - 8, h * 0.56)], WELD_PITCH * 1.2, "outer")
    pair.weld_row([(p.door_rear + 60, h - 60), (p.wheelbase - 60, h - 62)], WELD_PITCH * 1.2, "outer")
    sheet.line("centre", [(nose - 60, 0), (tail + 60, 0)])
    sheet.silhouette = _both(
        [grille, bonnet, scuttle, deck, door, side, right_wing, *([front] if front is not None else [])]
    )
    return sheet
