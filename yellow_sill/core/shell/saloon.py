"""Two-door unitary saloon: the stations that carry the reference drawing to a vehicle's own dimensions."""

from functools import cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from shapely import transform

from . import ends, rear_engine, saloon_plan, saloon_rooms, saloon_side, saloon_top
from .coupe import CoupeLines, CoupeTop
from .doors import door_sheet, door_views
from .estate import EstateLines, VanLines
from .four_door import FourDoorLines, FourDoorTop
from .inside import Rooms, inside_view
from .lids import lids_of
from .model import View
from .rear_engine import RearEngineLines, RearEngineTop
from .roadster import RoadsterLines, RoadsterTop, roadster_top, screen_frame_ahead
from .room import Room
from .saloon_lines import SideLines
from .saloon_reference import REFERENCE as R
from .saloon_top import EstateTop, TopLines, VanTop
from .sheet import DrawingSheet
from .stations import Along, Stretch, piecewise

#: A part of the shell may shrink or grow by this much between stations before the drawing stops being true.
LEAST_STRETCH, MOST_STRETCH = 0.4, 2.2
#: The tail takes more: a short shell has a stump of a boot.
LEAST_TAIL = 0.25
#: A rear door between the B-post and the rear arch takes the most.
REAR_DOOR = (1.0, 5.0)

#: Everything below this height (wheels, arches, sill) grows with the tyre alone, whatever the waist and the roof do.
WHEELS_BELOW_MM = 650.0


#: What the unitary bodies differ in: the lines of the side, and those from above.
KINDS: dict[str, tuple[SideLines, TopLines]] = {
    "saloon": (SideLines(), TopLines()),
    "four-door": (FourDoorLines(), FourDoorTop()),
    "rear-engine": (RearEngineLines(), RearEngineTop()),
    "roadster": (RoadsterLines(), RoadsterTop()),
    "coupe": (CoupeLines(), CoupeTop()),
    "estate": (EstateLines(), EstateTop()),
    "van": (VanLines(), VanTop()),
}


def estate_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """All views of an estate or hatch: the saloon's, with a long roof and a tailgate."""
    return saloon_views(sizes, steering, "estate")


def four_door_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """All views of a four-door saloon: the two-door one's, with a rear door on each side."""
    return saloon_views(sizes, steering, "four-door")


def rear_engine_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """All views of a rear-engined saloon: luggage before the bulkhead, the engine behind the axle."""
    return saloon_views(sizes, steering, "rear-engine")


def roadster_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """All views of a unitary roadster: the saloon's lower half, open over the seats."""
    return saloon_views(sizes, steering, "roadster")


def coupe_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """All views of a coupé: the saloon's, with a roof that falls early."""
    return saloon_views(sizes, steering, "coupe")


def van_views(sizes: dict[str, float], steering: str = "") -> list[View]:
    """All views of a panel van: the estate's, with closed sides."""
    return saloon_views(sizes, steering, "van")


def saloon_views(sizes: dict[str, float], steering: str = "", kind: str = "saloon") -> list[View]:
    """Every view of a saloon, or of what differs from it in some lines.

    Args: sizes: every dimension of the body type by name, mm; steering: left or right where it is known; kind: one of KINDS.
    Returns: the views.
    """
    along, plan_across, height = stretches(sizes)
    side = Stretch(along, height)
    end = Stretch(plan_across, height)
    left, right, under, front, rear, floor, top, doors = _drawn(kind)
    plan = Stretch(along, plan_across)
    sides = [
        left.view("left", "Left side", ("x", "z"), side, (1, 1), layered=True),
        right.view("right", "Right side", ("-x", "z"), side, (-1, 1), layered=True),
    ]
    return [
        *sides,
        under.view("underside", "Underside", ("x", "-y"), plan, (1, -1), layered=False),
        front.view("front", "Front", ("-y", "z"), end, (-1, 1), layered=False),
        rear.view("rear", "Rear", ("y", "z"), end, (1, 1), layered=False),
        floor.view("floor", "Inside floor", ("x", "y"), plan, (1, 1), layered=False),
        top.view("top", "From above", ("x", "y"), plan, (1, 1), layered=False),
        *door_views(*doors, side),
        *_rear_doors(kind, side),
        _lids(kind).view("lids", "Bonnet and lid", ("x", "y"), plan, (1, 1), layered=True),
        *map(inside_view, sides),
        *_rooms(kind, steering).views(end, plan),
    ]


class _Drawn(NamedTuple):
    """The reference drawing of a body, view by view; stretched to a vehicle it is a view, and it stays as it is itself."""

    left: DrawingSheet
    right: DrawingSheet
    under: DrawingSheet
    front: DrawingSheet
    rear: DrawingSheet
    floor: DrawingSheet
    top: DrawingSheet
    doors: tuple[DrawingSheet, DrawingSheet]


@cache
def _drawn(kind: str) -> _Drawn:
    """Drawn once for all vehicles of a kind: nothing in it depends on dimensions."""
    lines, above = KINDS[kind]
    frame = None if lines.roofed else screen_frame_ahead()
    hung = lines.door if lines.roofed else lines.door_skin
    return _Drawn(
        left=saloon_side.draw("L", lines),
        right=saloon_side.draw("R", lines),
        under=saloon_plan.draw(rear_engine=lines.rear_engine),
        front=ends.front(frame),
        rear=ends.rear(lines.estate, frame, engine=lines.rear_engine),
        floor=saloon_plan.draw(inside=True, rear_engine=lines.rear_engine),
        top=saloon_top.draw(above) if lines.roofed else roadster_top(),
        doors=(
            door_sheet("L", hung, R.waist, windowed=lines.roofed),
            door_sheet("R", hung, R.waist, windowed=lines.roofed),
        ),
    )


def _rear_doors(kind: str, side: Stretch) -> list[View]:
    """The second doors, drawn in the vehicle's own millimetres: what lies between B-post and arch grows too much to be stretched."""
    aperture = KINDS[kind][0].rear_door
    if aperture.is_empty:
        return []
    own = transform(aperture, lambda at: np.column_stack([side.u(at[:, 0]), side.v(at[:, 1])]))
    left, right = (door_sheet(hand, own, float(side.v(R.waist)), rear=True) for hand in "LR")
    return door_views(left, right, Stretch(lambda u: u, lambda v: v), rear=True)


@cache
def _lids(kind: str) -> DrawingSheet:
    return lids_of(_drawn(kind).top)


@cache
def _rooms(kind: str, steering: str) -> Rooms:
    lines = KINDS[kind][0]
    estate = lines.estate
    if lines.rear_engine:
        return Rooms(
            bulkhead=saloon_rooms.bulkhead(steering),
            boot=rear_engine.luggage_bay(),
            boot_title="Luggage space, front",
            engine_bay=rear_engine.engine_bay(),
            boot_ahead=True,
        )
    return Rooms(
        bulkhead=saloon_rooms.bulkhead(steering),
        boot=saloon_rooms.boot(estate),
        boot_title="Load space" if estate else "Boot",
        engine_bay=saloon_rooms.engine_bay(steering),
    )


def stretches(sizes: dict[str, float]) -> tuple[Along, Along, Along]:
    """Maps of x, y and z from the reference body to a vehicle, mm to mm, for sizes whose rooms fit."""
    half = sizes["width"] / 2
    across = piecewise((-R.half_width, 0.0, R.half_width), (-half, 0.0, half))
    stations = _stations(sizes)
    along = piecewise(tuple(station.ref for station in stations), tuple(station.own for station in stations))
    return along, across, _upwards(sizes)


def four_door_rooms(sizes: dict[str, float]) -> list[Room]:
    """The same with a rear door in the metal between the front door and the rear arch, which may be long."""
    return rooms(sizes, REAR_DOOR)


def rooms(sizes: dict[str, float], behind_door: tuple[float, float] = (0.0, 0.0)) -> list[Room]:
    """The lengths that are left between the stations, each with what can be drawn of it, mm.

    Args: sizes: every dimension of the body type by name, mm; behind_door: the least and greatest stretch of what lies between the front door and the
        rear arch, where it is not the usual one.
    """
    stations = _stations(sizes)
    least, most = behind_door
    found = [
        Room(
            name=after.name, what=after.what, length_mm=after.own - before.own,
            least_mm=(after.ref - before.ref) * (least if least and after.ref == R.sill_end else after.least),
            most_mm=(after.ref - before.ref) * (most if most and after.ref == R.sill_end else MOST_STRETCH),
            mend="Tape wheelbase, sill, door and overall length again.",
        )
        for before, after in pairwise(stations) if after.what
    ]  # fmt: skip
    upright = (
        (
            "waist_height",
            "The metal between the wheel arch and the waist",
            sizes["waist_height"] - WHEELS_BELOW_MM * wheel(sizes),
            R.waist - WHEELS_BELOW_MM,
        ),
        (
            "waist_height",
            "The windows between waist and roof",
            sizes["height"] - sizes["waist_height"],
            R.height - R.waist,
        ),
    )
    return found + [
        Room(
            name=name, what=what, length_mm=length, least_mm=usual * LEAST_STRETCH, most_mm=usual * MOST_STRETCH,
            mend="Tape the waist and the roof again, both above the same datum.",
        )
        for name, what, length, usual in upright
    ]  # fmt: skip


def wheel(sizes: dict[str, float]) -> float:
    """How large wheels and arches are beside those of the reference body."""
    return sizes["tyre_height"] / (R.axle_z + R.tyre)


class _Station(NamedTuple):
    """A place on the reference body, where it lies in this one, and what is too tight or too long before it."""

    ref: float
    own: float
    name: str = ""
    what: str = ""
    least: float = LEAST_STRETCH


def _stations(sizes: dict[str, float]) -> tuple[_Station, ...]:
    wheelbase, front, size = sizes["wheelbase"], sizes["front_overhang"], wheel(sizes)
    sill_end = wheelbase - R.arch_clear * size
    sill_front = sill_end - sizes["sill_length"]
    door_front = sill_front + (R.door_front - R.sill_front)
    door_rear = door_front + sizes["door_length"]
    return (
        _Station(R.nose, -front),
        _Station(
            -R.front_clear, -R.front_clear * size, "front_overhang", "The metal before the front wheel arch"
        ),
        _Station(R.front_clear, R.front_clear * size),
        _Station(R.sill_front, sill_front, "sill_length", "The wing between the front arch and the sill"),
        _Station(R.door_front, door_front),
        _Station(R.door_rear, door_rear, "door_length", "The door"),
        _Station(R.post_rear, door_rear + R.post_rear - R.door_rear),
        _Station(R.sill_end, sill_end, "door_length", "The quarter between the door and the rear arch"),
        _Station(R.wheelbase + R.arch_clear, wheelbase + R.arch_clear * size),
        _Station(
            R.tail,
            sizes["overall_length"] - front,
            "overall_length",
            "The tail behind the rear arch",
            LEAST_TAIL,
        ),
    )


def _upwards(sizes: dict[str, float]) -> Along:
    reference = (0.0, WHEELS_BELOW_MM, R.waist, R.height)
    return piecewise(reference, (0.0, WHEELS_BELOW_MM * wheel(sizes), sizes["waist_height"], sizes["height"]))
