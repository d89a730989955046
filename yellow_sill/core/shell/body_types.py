"""The body types on offer and the dimensions a person tapes to draw one."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cache

from ..errors import BadField
from ..said import Listed, Mm, Said
from . import cab, saloon, tourer
from .model import Shell, View
from .room import Rooms, what_fits


@dataclass(frozen=True, slots=True, kw_only=True)
class Dimension:
    """One dimension to tape, in mm, with the range the drawing can take."""

    name: str
    label: str
    how: str
    usual_mm: float
    least_mm: float
    most_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BodyType:
    name: str
    label: str
    dimensions: tuple[Dimension, ...]
    views: Callable[[dict[str, float], str], list[View]]
    rooms: Rooms


def _dimension(name: str, label: str, how: str, usual: float, least: float, most: float) -> Dimension:
    return Dimension(name=name, label=label, how=how, usual_mm=usual, least_mm=least, most_mm=most)


def _but_usual(dimensions: tuple[Dimension, ...], usual: Mapping[str, float]) -> tuple[Dimension, ...]:
    """The same dimensions, some with another usual size."""
    return tuple(replace(each, usual_mm=usual.get(each.name, each.usual_mm)) for each in dimensions)


def _but_height(
    dimensions: tuple[Dimension, ...], usual: float, least: float, most: float
) -> tuple[Dimension, ...]:
    """The same dimensions, of a body of another height."""
    return tuple(
        replace(each, usual_mm=usual, least_mm=least, most_mm=most) if each.name == "height" else each
        for each in dimensions
    )


#: Where the four-door saloon's usual sizes differ: its front doors are shorter, the rear ones lie between them and the arches.
FOUR_DOOR_MM = {"wheelbase": 2620.0, "overall_length": 4260.0, "sill_length": 1612.0, "door_length": 870.0}

SALOON = BodyType(
    name="saloon-2-door-unitary",
    label="Two-door saloon, unitary",
    dimensions=(
        _dimension(
            "wheelbase",
            "Wheelbase",
            "front axle centre to rear axle centre, along the sill",
            2400,
            1700,
            3300,
        ),
        _dimension("overall_length", "Overall length", "shell only, bumpers off", 3980, 2800, 5500),
        _dimension("front_overhang", "Front overhang", "front panel to front axle centre", 650, 420, 950),
        _dimension("width", "Width", "across the door skins at the widest", 1564, 1300, 1850),
        _dimension(
            "height", "Height", "top of the roof above the datum, the ground at ride height", 1345, 1150, 1650
        ),
        _dimension(
            "waist_height", "Waist height", "lower edge of the side window above the datum", 888, 740, 1050
        ),
        _dimension("sill_length", "Sill length", "visible outer sill, wing to rear arch", 1392, 700, 1900),
        _dimension("door_length", "Door length", "clear aperture, A-post to B-post", 1066, 550, 1500),
        _dimension(
            "tyre_height", "Tyre height", "ground to the top of the tyre, at ride height", 588, 480, 700
        ),
    ),
    views=saloon.saloon_views,
    rooms=saloon.rooms,
)

FOUR_DOOR = BodyType(
    name="saloon-4-door-unitary",
    label="Four-door saloon, unitary",
    dimensions=_but_usual(SALOON.dimensions, FOUR_DOOR_MM),
    views=saloon.four_door_views,
    rooms=saloon.four_door_rooms,
)

ESTATE = BodyType(
    name="estate-3-door-unitary",
    label="Estate or hatch, unitary",
    dimensions=_but_height(SALOON.dimensions, 1380, 1150, 1650),
    views=saloon.estate_views,
    rooms=saloon.rooms,
)

COUPE = BodyType(
    name="coupe-2-door-unitary",
    label="Coupé with a fixed head, unitary",
    dimensions=_but_height(SALOON.dimensions, 1290, 1100, 1560),
    views=saloon.coupe_views,
    rooms=saloon.rooms,
)

VAN = BodyType(
    name="van-2-door-unitary",
    label="Panel van, unitary",
    dimensions=ESTATE.dimensions,
    views=saloon.van_views,
    rooms=saloon.rooms,
)

REAR_ENGINE = BodyType(
    name="saloon-2-door-rear-engine",
    label="Two-door saloon, engine behind",
    dimensions=SALOON.dimensions,
    views=saloon.rear_engine_views,
    rooms=saloon.rooms,
)

ROADSTER = BodyType(
    name="roadster-2-door-unitary",
    label="Roadster, unitary",
    dimensions=tuple(
        replace(each, how="top of the windscreen's frame above the datum, the ground at ride height")
        if each.name == "height"
        else replace(each, usual_mm=846, least_mm=700, most_mm=980)
        if each.name == "waist_height"
        else each
        for each in _but_height(SALOON.dimensions, 1190, 980, 1420)
    ),
    views=saloon.roadster_views,
    rooms=saloon.rooms,
)

TOURER = BodyType(
    name="tourer-ladder-chassis",
    label="Open tourer on a ladder chassis",
    dimensions=(
        _dimension("wheelbase", "Wheelbase", "front axle centre to rear axle centre", 2340, 1700, 3300),
        _dimension("overall_length", "Overall length", "front wing to tail, bumpers off", 3660, 2700, 5500),
        _dimension("front_overhang", "Front overhang", "front wing to front axle centre", 500, 420, 800),
        _dimension("width", "Width", "across the tub at the doors", 1420, 1150, 1800),
        _dimension("height", "Height", "top of the screen frame above the datum", 1270, 950, 1600),
        _dimension("scuttle_height", "Scuttle height", "top of the scuttle above the datum", 920, 760, 1150),
        _dimension("sill_height", "Sill height", "tread of the door sill above the datum", 540, 500, 680),
        _dimension("door_front", "Door front", "front axle centre to the door opening", 960, 700, 1400),
        _dimension("door_length", "Door length", "clear opening at the sill", 720, 450, 1050),
        _dimension(
            "rail_width",
            "Rail width",
            "outside to outside of the chassis rails, behind the engine",
            760,
            550,
            1000,
        ),
    ),
    views=tourer.tourer_views,
    rooms=tourer.rooms,
)

#: Where the roadster's usual sizes differ from the tourer's.
LADDER_ROADSTER_MM = {
    "wheelbase": 2280.0,
    "overall_length": 3780.0,
    "front_overhang": 640.0,
    "width": 1480.0,
    "height": 1190.0,
    "scuttle_height": 880.0,
}

LADDER_ROADSTER = BodyType(
    name="roadster-ladder-chassis",
    label="Roadster on a ladder chassis",
    dimensions=_but_usual(TOURER.dimensions, LADDER_ROADSTER_MM),
    views=tourer.roadster_views,
    rooms=tourer.rooms,
)

CAB = BodyType(
    name="cab-ladder-chassis",
    label="Light truck cab on a chassis",
    dimensions=(
        _dimension("wheelbase", "Wheelbase", "front axle centre to rear axle centre", 2560, 1800, 3800),
        _dimension(
            "overall_length", "Overall length", "front panel to the end of the rails", 4180, 3000, 6200
        ),
        _dimension("front_overhang", "Front overhang", "front panel to front axle centre", 640, 480, 1000),
        _dimension("width", "Width", "across the cab at the doors", 1640, 1350, 2100),
        _dimension("height", "Height", "top of the roof above the datum", 1760, 1450, 2200),
        _dimension(
            "waist_height", "Waist height", "lower edge of the door window above the datum", 1150, 950, 1450
        ),
        _dimension("sill_height", "Sill height", "tread of the step above the datum", 590, 500, 780),
        _dimension("door_front", "Door front", "front axle centre to the door opening", 560, 450, 1200),
        _dimension("door_length", "Door length", "clear opening at the sill", 960, 700, 1250),
        _dimension(
            "cab_rear",
            "Back of the cab",
            "front axle centre to the outside of the cab's back",
            1840,
            1200,
            2800,
        ),
        _dimension("rail_width", "Rail width", "outside to outside of the chassis rails", 820, 600, 1000),
    ),
    views=cab.cab_views,
    rooms=cab.rooms,
)

PICKUP = BodyType(
    name="pickup-ladder-chassis",
    label="Pick-up with a bed, on a chassis",
    dimensions=CAB.dimensions,
    views=cab.pickup_views,
    rooms=cab.rooms,
)

BODY_TYPES: dict[str, BodyType] = {
    kind.name: kind
    for kind in (
        SALOON,
        FOUR_DOOR,
        REAR_ENGINE,
        COUPE,
        ESTATE,
        VAN,
        ROADSTER,
        LADDER_ROADSTER,
        TOURER,
        CAB,
        PICKUP,
    )
}


#: Which side a vehicle is driven from; "" where nobody said.
STEERING = ("", "left", "right")


def build_shell(body_type: str, dimensions_mm: dict[str, float], steering: str = "") -> Shell:
    """Draw the shell of a vehicle from its body type and taped dimensions.

    Args:
        body_type: a key of BODY_TYPES.
        dimensions_mm: by name; one left out takes the body type's usual value.
        steering: which side it is driven from, one of STEERING; "" where nobody said: then no column or pedals are drawn.
    Returns: the shell with all its views.
    Raises: BadField, naming the dimension: unknown body type or name, out of range, or dimensions that cannot go together.
    """
    sizes = checked_sizes(body_type, dimensions_mm)
    if steering not in STEERING:
        raise BadField("A car is driven from the left or from the right.", "steering")
    return Shell(body_type=body_type, dimensions_mm=sizes, views=BODY_TYPES[body_type].views(sizes, steering))


@cache
def drawn_views(body_type: str) -> tuple[tuple[str, str], ...]:
    """Name and title of each view that a body type is drawn in; none of one that nobody draws.

    >>> drawn_views("tourer-ladder-chassis")[0]
    ('left', 'Left side')
    """
    return (
        tuple((view.name, view.title) for view in build_shell(body_type, {}).views)
        if body_type in BODY_TYPES
        else ()
    )


def checked_sizes(body_type: str, dimensions_mm: Mapping[str, float]) -> dict[str, float]:
    """Every dimension of a body type, mm; one left out takes its usual value.

    Raises: BadField, naming the dimension: unknown body type or name, out of range, or dimensions that cannot go together.
    """
    kind = body_type_of(body_type)
    known = {dimension.name for dimension in kind.dimensions}
    for name in dimensions_mm:
        if name not in known:
            raise BadField("This body type has no such dimension.", name)
    sizes = {
        dimension.name: float(dimensions_mm.get(dimension.name, dimension.usual_mm))
        for dimension in kind.dimensions
    }
    for dimension in kind.dimensions:
        if not dimension.least_mm <= sizes[dimension.name] <= dimension.most_mm:
            raise BadField(
                Said(
                    "{label} is {sizes}; the drawing takes {least_mm} to {most_mm}.",
                    label=dimension.label,
                    sizes=Mm(sizes[dimension.name]),
                    least_mm=Mm(dimension.least_mm, bare=True),
                    most_mm=Mm(dimension.most_mm),
                ),
                dimension.name,
                Said("Tape it again: {how}.", how=dimension.how),
            )
    for room in kind.rooms(sizes):
        room.check()
    return sizes


def ranges(body_type: str, dimensions_mm: Mapping[str, float]) -> dict[str, tuple[float, float] | None]:
    """What each dimension may be while all the others stay as they are, least and most in mm; None where nothing fits with the others.

    Args: body_type: a key of BODY_TYPES; dimensions_mm: by name, the usual value for one left out.
    Raises: BadField for an unknown body type.
    """
    kind = body_type_of(body_type)
    sizes = {
        dimension.name: float(dimensions_mm.get(dimension.name, dimension.usual_mm))
        for dimension in kind.dimensions
    }
    return {
        each.name: what_fits(kind.rooms, sizes, each.name, each.least_mm, each.most_mm)
        for each in kind.dimensions
    }


def body_type_of(name: str) -> BodyType:
    """Raises: BadField for an unknown one."""
    kind = BODY_TYPES.get(name)
    if kind is None:
        raise BadField(
            "There is no such body type.",
            "body_type",
            Said("Choose one of: {body_types}.", body_types=Listed(tuple(BODY_TYPES))),
        )
    return kind
