"""The separate ladder chassis: two box rails with a kick over the rear axle, crossmembers, outriggers, body mounts."""

from dataclasses import dataclass

from shapely.geometry import Polygon, box

from .curves import ellipse, filleted, rect
from .doors import door_views
from .inside import Rooms, inside_view
from .lids import lids_of
from .model import View
from .pairs import Pair
from .sheet import DrawingSheet
from .stations import Stretch

AXLE_Z, TYRE = 320.0, 320.0
RAIL_TOP, RAIL_DEEP = 452.0, 104.0
KICK = 118.0  #: how far the rail rises over the rear axle
ARCH = 372.0  #: half width of a wheel arch
RAIL_WIDE = 70.0
WELD_PITCH = 46.0
#: What is seen of a plan from inside, by code without side.
_FLOORS = ("TOE", "FLOOR", "TUN", "SEAT", "BOOT", "ARCHI", "SILL", "BACK", "TAIL")


@dataclass(frozen=True, slots=True)
class Places:
    """Main places of a body on a ladder chassis, mm in the shell's axes, worked out from what was taped."""

    wheelbase: float
    nose: float
    tail: float
    half: float
    door_front: float
    door_rear: float
    sill_bottom: float
    sill_top: float
    waist: float
    top: float
    rail_half: float
    body_rear: float

    @property
    def bulkhead(self) -> float:
        return self.door_front - 210

    @property
    def rear_arch_front(self) -> float:
        return self.wheelbase - ARCH

    @property
    def shackle(self) -> float:
        """The rear hanger of the rear spring."""
        return min(self.wheelbase + 560, self.tail - 60)


def views(
    left: DrawingSheet,
    right: DrawingSheet,
    plan: DrawingSheet,
    front: DrawingSheet,
    rear: DrawingSheet,
    top: DrawingSheet,
    doors: tuple[DrawingSheet, DrawingSheet],
    floor: DrawingSheet,
    frame: DrawingSheet,
    rooms: Rooms,
    rear_title: str = "Rear",
) -> list[View]:
    """The drawn views; they are drawn in the vehicle's own millimetres, so nothing is stretched."""
    plain = Stretch(lambda u: u, lambda v: v)
    sides = [
        left.view("left", "Left side", ("x", "z"), plain, (1, 1), layered=True),
        right.view("right", "Right side", ("-x", "z"), plain, (-1, 1), layered=True),
    ]
    return [
        *sides,
        plan.view("underside", "Underside", ("x", "-y"), plain, (1, -1), layered=False),
        front.view("front", "Front", ("-y", "z"), plain, (-1, 1), layered=False),
        rear.view("rear", rear_title, ("y", "z"), plain, (1, 1), layered=False),
        floor.view("floor", "Inside floor", ("x", "y"), plain, (1, 1), layered=False),
        top.view("top", "From above", ("x", "y"), plain, (1, 1), layered=False),
        *door_views(*doors, plain),
        lids_of(top).view("lids", "Bonnet and lid", ("x", "y"), plain, (1, 1), layered=True),
        *map(inside_view, sides),
        *rooms.views(plain, plain),
        frame.view("chassis", "Chassis from above", ("x", "y"), plain, (1, 1), layered=False),
    ]


def rail_line(p: Places, rise: float) -> list:
    """The rail's edge seen from the side, ``rise`` above its lower edge, with its kick over the axle."""
    wb, low = p.wheelbase, RAIL_TOP - RAIL_DEEP + rise
    down = min(wb + 520, p.tail - 230)  # a short tail has its rail come down sooner
    return [
        (p.nose + 40, low + 24), (-ARCH, low + 14, 200), (ARCH + 60, low, 200), (wb - 620, low, 160),
        (wb - 300, low + KICK, 160), (min(wb + 300, down - 220), low + KICK, 160), (down, low + 60, 160), (p.tail - 30, low + 60),
    ]  # fmt: skip


def side_chassis(sheet: DrawingSheet, p: Places, side: str, mounts: list[float]) -> None:
    """The rail, its mounts and spring hangers as the side view shows them on the inner layer."""
    upper, lower = filleted(rail_line(p, RAIL_DEEP), closed=False), filleted(rail_line(p, 0), closed=False)
    rail = Polygon([*lower, *reversed(upper)])
    sheet.handed(side, "CHRAIL", "Chassis rail", "inner", rail, 2.5, 3)
    for x, name in zip(mounts, ("F", "M", "R"), strict=False):
        sheet.handed(
            side,
            f"MOUNT{name}",
            f"Body mount {name}",
            "inner",
            rect(x - 34, RAIL_TOP - 4, x + 34, max(p.sill_bottom + 34, RAIL_TOP + 26), 8),
            2.5,
            2,
        )
        sheet.line("hole", ellipse(x, RAIL_TOP + 14, 9, pieces=14), "inner", True)
    sheet.weld_row(
        [(ARCH + 90, RAIL_TOP - 16), (p.wheelbase - 640, RAIL_TOP - 16)], WELD_PITCH * 1.5, "inner"
    )
    for x in (p.wheelbase - 560, p.shackle):
        low = RAIL_TOP - RAIL_DEEP + (0 if x < p.wheelbase else 60)
        sheet.line(
            "under",
            filleted([(x - 44, low), (x + 44, low, 6), (x + 22, low - 84, 18), (x - 22, low - 84, 18)]),
            "outer",
            True,
        )
        sheet.line("hole", ellipse(x, low - 62, 9, pieces=14), "outer", True)
    show = Polygon([*lower, (p.tail, 0), (p.nose, 0)])
    visible = rail.difference(box(p.bulkhead, p.sill_bottom - 4, p.body_rear, 2000)).difference(show)
    for part in getattr(visible, "geoms", [visible]):
        if part.area > 3000:
            sheet.line("under", part.exterior.coords, "outer", True)
    for x in (0, p.wheelbase):
        sheet.line("centre", [(x, AXLE_Z - TYRE - 40), (x, AXLE_Z + TYRE + 110)])
        sheet.line("centre", [(x - TYRE - 50, AXLE_Z), (x + TYRE + 50, AXLE_Z)])
        sheet.line("tyre", ellipse(x, AXLE_Z, TYRE, pieces=60), closed=True)


def plan_chassis(
    sheet: DrawingSheet, pair: Pair, p: Places, mounts: list[float], *, above: bool = False
) -> None:
    """Rails, crossmembers, outriggers and mounts seen from below, or from above with the body off."""
    r, w, wb = p.rail_half, RAIL_WIDE, p.wheelbase
    rail = [
        (p.nose + 40, r - w - 40),
        (-180, r - w - 40, 200),
        (520, r - w, 200),
        (p.tail - 30, r - w),
        (p.tail - 30, r),
        (520, r, 200),
        (-180, r - 40, 200),
        (p.nose + 40, r - 40),
    ]
    code, plate = ("CHRAILT", "top plate") if above else ("CHRAILB", "bottom plate")
    pair.panel(code, f"Chassis rail, {plate}", "inner", filleted(rail), 2.5, 3)
    for number, x in enumerate((p.nose + 110, 560, wb - 560, wb + 250, p.tail - 110), start=1):
        inner = r - w - (40 if x < 0 else 0)
        sheet.panel(
            f"CHX{number}", f"Crossmember {number}", "inner", box(x - 45, -inner, x + 45, inner), 2.0, 3
        )
        pair.weld_row([(x - 38, inner + 9), (x + 38, inner + 9)], WELD_PITCH / 2, "inner")
    for x, name in zip(mounts, ("F", "M", "R"), strict=False):
        pair.panel(
            f"OUT{name}",
            f"Outrigger {name}",
            "inner",
            [(x - 46, r), (x + 46, r), (x + 34, p.half - 96), (x - 34, p.half - 96)],
            2.0,
            3,
        )
        pair.panel(
            f"MOUNT{name}",
            f"Body mount {name}",
            "inner",
            rect(x - 34, p.half - 166, x + 34, p.half - 98, 8),
            2.5,
            3,
        )
        pair.hole(ellipse(x, p.half - 132, 9, pieces=14))
    for x in () if above else (wb - 560, p.shackle):
        pair.line("edge", rect(x - 44, r + 2, x + 44, r + 72, 8), "inner", True)
        pair.hole(ellipse(x, r + 36, 10, pieces=14))
    for x in (-120, 300, 900, wb - 380, wb + 60, wb + 420):
        if x < p.tail - 120:
            pair.hole(ellipse(x, r - w / 2 - (40 if x < 0 else 20 if x < 400 else 0), 13, pieces=16))
    for x in (0, wb):
        pair.line("tyre", rect(x - TYRE, p.half - 170, x + TYRE, p.half - 30, 36), closed=True)
        sheet.line("centre", [(x, -p.half - 40), (x, p.half + 40)])
    sheet.line("centre", [(p.nose - 40, 0), (p.tail + 40, 0)])


def chassis(p: Places, mounts: list[float]) -> DrawingSheet:
    """The chassis from above with the body off."""
    sheet = DrawingSheet()
    plan_chassis(sheet, Pair(sheet, 1), p, mounts, above=True)
    sheet.silhouette = sheet.joined()
    return sheet


def inside(sheet: DrawingSheet) -> DrawingSheet:
    """A plan's floor as it is seen from inside: without what lies outside or beneath it."""
    sheet.panels = [
        (record, shape)
        for record, shape in sheet.panels
        if record["code"].removeprefix("L-").removeprefix("R-") in _FLOORS
    ]
    sheet.silhouette = sheet.joined()
    u0, _, u1, _ = sheet.silhouette.bounds
    sheet.line("centre", [(u0 - 40, 0), (u1 + 40, 0)])
    return sheet


def end_chassis(sheet: DrawingSheet, pair: Pair, p: Places, rise: float) -> None:
    """The rails' ends and tyres in an end view."""
    low = RAIL_TOP - RAIL_DEEP + rise
    pair.panel(
        "CHRAIL",
        "Chassis rail",
        "inner",
        rect(p.rail_half - RAIL_WIDE, low, p.rail_half, low + RAIL_DEEP, 8),
        2.5,
        3,
    )
    pair.line("tyre", rect(p.half - 170, 4, p.half - 30, 2 * TYRE, 40), closed=True)
    sheet.line("centre", [(0, 150), (0, p.top + 60)])
