"""Bonnet and lid as a drawing of their own: skins, hinge and lock plates, inner frames with their openings."""

from shapely.geometry import LineString, Polygon, box
from shapely.geometry.base import BaseGeometry

from ..geometry import largest
from .curves import ellipse, rect
from .pairs import Pair
from .sheet import DrawingSheet

#: The hem, the frame's width along the edge and across, hinge plates, mm.
HEM, FRAME, RIB, PLATE = 10.0, 74.0, 62.0, 96.0
#: A plate that a window leaves less of is not drawn, mm².
LEAST_MM2 = 2_000.0
WELD_PITCH = 46.0
#: The lids of a view from above: code, where the hinges are.
LIDS = (("BONNET", "rear"), ("LID", "front"))


def lids_of(top: DrawingSheet) -> DrawingSheet:
    """The lids that a view from above shows, each in its layers, where they lie on the body."""
    sheet = DrawingSheet()
    pair = Pair(sheet, 1)
    found = {record["code"]: (record, shape) for record, shape in top.panels}
    for code, hinged in LIDS:
        if code in found:
            _lid(sheet, pair, found[code][0], found[code][1], hinged)
    sheet.silhouette = sheet.joined()
    u0, _, u1, _ = sheet.silhouette.bounds
    sheet.line("centre", [(u0 - 40, 0), (u1 + 40, 0)])
    return sheet


def _lid(sheet: DrawingSheet, pair: Pair, record: dict, shape: BaseGeometry, hinged: str) -> None:
    code, name = record["code"], record["name"]
    sheet.panel(code, name, "outer", shape, record["thickness_mm"], 1)
    solid = Polygon(largest(shape).exterior)
    inside = largest(solid.buffer(-HEM))
    u0, v0, u1, v1 = inside.bounds
    frame = inside.difference(inside.buffer(-FRAME, join_style="mitre"))
    cross = (
        LineString([(u0, v0), (u1, v1)])
        .buffer(RIB / 2)
        .union(LineString([(u0, v1), (u1, v0)]).buffer(RIB / 2))
    )
    if shape.area < 0.9 * solid.area:  # a window: its frame follows it
        cross = shape.buffer(-HEM).difference(inside.buffer(-FRAME))
    frame = largest(frame.union(cross).intersection(inside).intersection(shape.buffer(0.1)))
    sheet.panel(f"{code}F", f"{name}, frame", "inner", frame, 0.9, 2)
    edge = u1 - PLATE - 12 if hinged == "rear" else u0 + 12
    width = 0.5 * (v1 - v0)
    plate = box(edge, 0.55 * width, edge + PLATE, 0.55 * width + 2 * PLATE / 1.6)
    plate = plate.intersection(inside).intersection(shape.buffer(0.1))
    if plate.area > LEAST_MM2:
        pair.panel(f"{code}H", f"{name} hinge plate", "middle", plate, 1.6, 3)
        for u in (edge + 26, edge + PLATE - 26):
            pair.line("hole", ellipse(u, 0.55 * width + PLATE / 1.6, 7, pieces=14), "middle", True)
    lock = u0 + 16 if hinged == "rear" else u1 - 16 - PLATE
    sheet.panel(
        f"{code}K",
        f"{name} lock plate",
        "middle",
        Polygon(rect(lock, -90, lock + PLATE, 90, 14)).intersection(shape),
        1.5,
        3,
    )
    sheet.line(
        "lip",
        shape.buffer(-HEM).exterior.coords if shape.geom_type == "Polygon" else inside.exterior.coords,
        "outer",
        True,
    )
    sheet.weld_row(list(inside.buffer(-14).exterior.coords), WELD_PITCH, "inner")
