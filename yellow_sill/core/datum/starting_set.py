"""The datum points each body type brings: places that can be found again, at the made-up nominals of its reference drawing."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from ..errors import BadField
from ..shell import cab, ladder, tourer
from ..shell.body_types import (
    BODY_TYPES,
    CAB,
    COUPE,
    ESTATE,
    FOUR_DOOR,
    LADDER_ROADSTER,
    PICKUP,
    REAR_ENGINE,
    ROADSTER,
    SALOON,
    TOURER,
    VAN,
)
from ..shell.saloon import stretches, wheel
from ..shell.saloon_reference import REFERENCE as R
from .network import TOLERANCE_MM

#: What a datum is, and the words for it.
POINT_KINDS = {"hole": "Hole centre", "face": "Flat face", "edge": "Edge", "bolt": "Bolt"}
#: Where its nominal place came from.
SOURCES = {
    "body": "Body type, made up",
    "drawing": "Maker's drawing",
    "mirrored": "Good side, mirrored",
    "measured": "Measured before cutting",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class StartingPoint:
    """One datum of a starting set: nominal in the shell's axes, mm."""

    code: str
    name: str
    kind: str
    how: str
    nominal: tuple[float, float, float]
    mirror_code: str
    tolerance_mm: float = TOLERANCE_MM


#: (number, name, kind, how to find it, x, y, z): the right-hand one of each pair.
_Row = tuple[str, str, str, str, float, float, float]


def _saloon(sizes: dict[str, float]) -> list[_Row]:
    along, across, up = stretches(sizes)
    leg, wb, hinge = (R.leg_inner + R.leg_outer) / 2, R.wheelbase, R.half_width - 62
    rows = [
        ("1", "Front crossmember", "hole", "centre of the 13 mm hole, front of the leg", R.nose + 180, leg - 20, 402),
        ("2", "Mount, front", "hole", "centre of the front mount's big hole, from below", -210, leg, 342),
        ("3", "Tower centre", "hole", "middle of the three tower bolts", 0, 494, 742),
        ("4", "Mount, rear", "hole", "centre of the rear mount's big hole, from below", 210, leg - 2, 338),
        ("5", "Toe board jig hole", "hole", "centre of the jig hole where the leg meets the toe board", 760, leg - 26, 240),
        ("6", "Leg tail hole", "hole", "last hole of the front leg, under the floor", 930, leg - 26, 232),
        ("7", "Rear outrigger", "hole", "hole in the rail's front end, by the outrigger", R.door_rear - 120, R.spring_y + 4, 236),
        ("8", "Spring hanger, front", "bolt", "centre of the front spring eye's bolt", wb - R.hanger_front, R.spring_y, 190),
        ("9", "Rail over axle", "face", "flat under the rail, by the axle's centre line", wb + 60, R.spring_y - 10, 452),
        ("10", "Spring hanger, rear", "bolt", "centre of the shackle's upper bolt", wb + R.hanger_rear, R.spring_y - 10, 316),
        ("11", "Door hinge, upper", "bolt", "front bolt of the upper hinge on the A-post", R.screen_base + 26, hinge, 752),
        ("12", "Striker", "bolt", "middle bolt of the striker on the B-post", R.door_rear + 46, hinge, 656),
        ("13", "Screen corner, top", "edge", "upper corner of the windscreen flange", R.screen_header + 20, 500, R.height - 70),
        ("14", "Rear screen corner", "edge", "upper corner of the rear screen flange", R.roof_rear + 10, 500, R.height - 98),
    ]  # fmt: skip
    return [(n, name, kind, how, along(x), across(y), up(z)) for n, name, kind, how, x, y, z in rows]


def _rail_bottom(places: ladder.Places, x: float) -> float:
    """Lower edge of the chassis rail, mm above the datum."""
    line = [point[:2] for point in ladder.rail_line(places, 0)]
    for (x0, z0), (x1, z1) in zip(line, line[1:], strict=False):
        if x <= x1:
            return z0 + (z1 - z0) * max(0.0, min(1.0, (x - x0) / (x1 - x0)))
    return line[-1][1]


def _on_ladder(places: ladder.Places, mounts: list[float], tops: list[_Row]) -> list[_Row]:
    p, rail = places, places.rail_half - ladder.RAIL_WIDE / 2
    wb, low = p.wheelbase, lambda x: _rail_bottom(places, x)
    spring = p.rail_half + 36
    return [
        ("1", "Rail, front end", "hole", "first hole under the rail, behind the front crossmember", p.nose + 160, rail - 40, low(p.nose + 160)),
        ("2", "Rail at the front axle", "hole", "jig hole under the rail, before the axle", -120, rail - 40, low(-120)),
        ("3", "Rail behind the axle", "hole", "jig hole under the rail, behind the axle", 300, rail - 20, low(300)),
        ("4", "Body mount, front", "bolt", "centre of the front body mount's bolt", mounts[0], p.half - 132, ladder.RAIL_TOP + 14),
        ("5", "Body mount, middle", "bolt", "centre of the middle body mount's bolt", mounts[1], p.half - 132, ladder.RAIL_TOP + 14),
        ("6", "Spring hanger, front", "bolt", "centre of the front spring eye's bolt", wb - 560, spring, low(wb - 560) - 62),
        ("7", "Rail over axle", "face", "flat under the rail, by the axle's centre line", wb + 60, rail, low(wb + 60)),
        ("8", "Spring hanger, rear", "bolt", "centre of the shackle's upper bolt", p.shackle, spring, low(wb + 480) - 2),
        ("9", "Body mount, rear", "bolt", "centre of the rear body mount's bolt", mounts[2], p.half - 132, ladder.RAIL_TOP + 14),
        *tops,
    ]  # fmt: skip


def _tourer(sizes: dict[str, float]) -> list[_Row]:
    p = tourer.places(sizes)
    tops: list[_Row] = [
        (
            "10",
            "Scuttle corner",
            "edge",
            "outer corner of the scuttle's top",
            p.bulkhead + 40,
            p.half - 90,
            p.waist - 6,
        ),
        (
            "11",
            "Door hinge, upper",
            "bolt",
            "front bolt of the upper hinge on the A-post",
            p.door_front - 24,
            p.half - 60,
            p.waist - 130,
        ),
        (
            "12",
            "Striker",
            "bolt",
            "middle bolt of the striker on the B-post",
            p.door_rear + 26,
            p.half - 60,
            p.waist - 190,
        ),
        (
            "13",
            "Tub, rear corner",
            "edge",
            "upper rear corner of the tub's side",
            p.tail - 90,
            p.half - 120,
            p.waist - 240,
        ),
    ]
    return _on_ladder(p, tourer.mounts(p), tops)


def _cab(sizes: dict[str, float]) -> list[_Row]:
    p = cab.places(sizes)
    tops: list[_Row] = [
        (
            "10",
            "Door hinge, upper",
            "bolt",
            "front bolt of the upper hinge on the A-post",
            p.door_front - 26,
            p.half - 60,
            p.waist - 140,
        ),
        (
            "11",
            "Striker",
            "bolt",
            "middle bolt of the striker on the B-post",
            p.door_rear + 26,
            p.half - 60,
            p.waist - 200,
        ),
        (
            "12",
            "Screen corner, top",
            "edge",
            "upper corner of the windscreen flange",
            p.door_front + 190,
            p.half - 190,
            p.top - 70,
        ),
        (
            "13",
            "Cab, rear corner",
            "edge",
            "upper corner of the back panel",
            p.body_rear - 20,
            p.half - 170,
            p.top - 150,
        ),
    ]
    return _on_ladder(p, cab.mounts(p), tops)


_SETS: dict[str, Callable[[dict[str, float]], list[_Row]]] = {
    SALOON.name: _saloon,
    FOUR_DOOR.name: _saloon,
    ROADSTER.name: _saloon,
    REAR_ENGINE.name: _saloon,
    COUPE.name: _saloon,
    ESTATE.name: _saloon,
    VAN.name: _saloon,
    TOURER.name: _tourer,
    LADDER_ROADSTER.name: _tourer,
    CAB.name: _cab,
    PICKUP.name: _cab,
}


def starting_points(body_type: str, dimensions_mm: dict[str, float]) -> list[StartingPoint]:
    """The datum points a body type brings, left and right of each pair, from the front back.

    Args: body_type: a key of BODY_TYPES; dimensions_mm: by name, the usual value for one left out.
    Returns: the points; all symmetric, none trusted.
    Raises: BadField for an unknown body type or dimensions that cannot be drawn.
    """
    if body_type not in _SETS:
        raise BadField(
            "No datum points are known for this body type.", "body_type", "Add your own, or bring in a table."
        )
    sizes = {d.name: float(dimensions_mm.get(d.name, d.usual_mm)) for d in BODY_TYPES[body_type].dimensions}
    return [point for row in _SETS[body_type](sizes) for point in _both_hands(row)]


def _both_hands(row: _Row) -> Iterable[StartingPoint]:
    number, name, kind, how, x, y, z = row
    for side, other, sign in (("L", "R", -1), ("R", "L", 1)):
        yield StartingPoint(
            code=f"{number}{side}",
            name=name,
            kind=kind,
            how=how,
            nominal=(round(x, 1), round(sign * y, 1), round(z, 1)),
            mirror_code=f"{number}{other}",
        )


#: Height of the floor that hides what is above it from what is below it, above the sill's lower edge, mm.
FLOOR_ABOVE_SILL_MM = 108.0


def floor_height_mm(dimensions_mm: dict[str, float]) -> float:
    """Where the floor lies, for lines of sight; 330 mm where the body type is unknown."""
    sill = dimensions_mm.get("sill_height")
    if sill:
        return float(sill)
    tyre = dimensions_mm.get("tyre_height")
    return (wheel({"tyre_height": tyre}) if tyre else 1) * R.sill_bottom + FLOOR_ABOVE_SILL_MM
