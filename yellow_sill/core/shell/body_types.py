"""The body types on offer and the dimensions a person tapes to draw one."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..errors import BadField
from .cab import cab_views
from .model import Shell, View
from .saloon import estate_views, saloon_views
from .tourer import tourer_views


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
    views: Callable[[dict[str, float]], list[View]]


def _dimension(name: str, label: str, how: str, usual: float, least: float, most: float) -> Dimension:
    return Dimension(name=name, label=label, how=how, usual_mm=usual, least_mm=least, most_mm=most)


SALOON = BodyType(
    name="saloon-2-door-unitary",
    label="Two-door saloon, unitary",
    dimensions=(
        _dimension("wheelbase", "Wheelbase", "front axle centre to rear axle centre, along the sill", 2400, 2000, 2900),
        _dimension("overall_length", "Overall length", "shell only, bumpers off", 3980, 3200, 4800),
        _dimension("front_overhang", "Front overhang", "front panel to front axle centre", 650, 500, 850),
        _dimension("width", "Width", "across the door skins at the widest", 1564, 1300, 1850),
        _dimension("height", "Height", "top of the roof above the datum, the ground at ride height", 1345, 1150, 1650),
        _dimension("waist_height", "Waist height", "lower edge of the side window above the datum", 888, 780, 1050),
        _dimension("sill_length", "Sill length", "visible outer sill, wing to rear arch", 1392, 950, 1900),
        _dimension("door_length", "Door length", "clear aperture, A-post to B-post", 1066, 700, 1450),
    ),
    views=saloon_views,
)

ESTATE = BodyType(
    name="estate-3-door-unitary",
    label="Estate or hatch, unitary",
    dimensions=tuple(
        _dimension("height", "Height", "top of the roof above the datum, the ground at ride height", 1380, 1150, 1650) if d.name == "height" else d
        for d in SALOON.dimensions
    ),
    views=estate_views,
)

TOURER = BodyType(
    name="tourer-ladder-chassis",
    label="Open tourer on a ladder chassis",
    dimensions=(
        _dimension("wheelbase", "Wheelbase", "front axle centre to rear axle centre", 2340, 1900, 3000),
        _dimension("overall_length", "Overall length", "front wing to tail, bumpers off", 3660, 3000, 4600),
        _dimension("front_overhang", "Front overhang", "front wing to front axle centre", 500, 420, 800),
        _dimension("width", "Width", "across the tub at the doors", 1420, 1150, 1800),
        _dimension("height", "Height", "top of the screen frame above the datum", 1270, 950, 1600),
        _dimension("scuttle_height", "Scuttle height", "top of the scuttle above the datum", 920, 760, 1150),
        _dimension("sill_height", "Sill height", "tread of the door sill above the datum", 540, 470, 680),
        _dimension("door_front", "Door front", "front axle centre to the door opening", 960, 700, 1400),
        _dimension("door_length", "Door length", "clear opening at the sill", 720, 450, 1050),
        _dimension("rail_width", "Rail width", "outside to outside of the chassis rails, behind the engine", 760, 550, 1000),
    ),
    views=tourer_views,
)

CAB = BodyType(
    name="cab-ladder-chassis",
    label="Light truck cab on a chassis",
    dimensions=(
        _dimension("wheelbase", "Wheelbase", "front axle centre to rear axle centre", 2560, 2200, 3800),
        _dimension("overall_length", "Overall length", "front panel to the end of the rails", 4180, 3600, 6200),
        _dimension("front_overhang", "Front overhang", "front panel to front axle centre", 640, 480, 1000),
        _dimension("width", "Width", "across the cab at the doors", 1640, 1350, 2100),
        _dimension("height", "Height", "top of the roof above the datum", 1760, 1450, 2200),
        _dimension("waist_height", "Waist height", "lower edge of the door window above the datum", 1150, 950, 1450),
        _dimension("sill_height", "Sill height", "tread of the step above the datum", 590, 500, 780),
        _dimension("door_front", "Door front", "front axle centre to the door opening", 560, 460, 1200),
        _dimension("door_length", "Door length", "clear opening at the sill", 960, 700, 1250),
        _dimension("cab_rear", "Back of the cab", "front axle centre to the outside of the cab's back", 1840, 1400, 2800),
        _dimension("rail_width", "Rail width", "outside to outside of the chassis rails", 820, 600, 1000),
    ),
    views=cab_views,
)

BODY_TYPES: dict[str, BodyType] = {kind.name: kind for kind in (SALOON, ESTATE, TOURER, CAB)}


def build_shell(body_type: str, dimensions_mm: dict[str, float]) -> Shell:
    """Draw the shell of a vehicle from its body type and taped dimensions.

    Args:
        body_type: a key of BODY_TYPES.
        dimensions_mm: by name; one left out takes the body type's usual value.
    Returns: the shell with all its views.
    Raises: BadField, naming the dimension: unknown body type or name, out of range, or dimensions that cannot go together.
    """
    sizes = checked_sizes(body_type, dimensions_mm)
    return Shell(body_type=body_type, dimensions_mm=sizes, views=BODY_TYPES[body_type].views(sizes))


def checked_sizes(body_type: str, dimensions_mm: Mapping[str, float]) -> dict[str, float]:
    """Every dimension of a body type, mm; one left out takes its usual value.

    Raises: BadField, naming the dimension: unknown body type or name, out of range.
    """
    kind = BODY_TYPES.get(body_type)
    if kind is None:
        raise BadField("There is no such body type.", "body_type", f"Choose one of: {', '.join(BODY_TYPES)}.")
    known = {dimension.name for dimension in kind.dimensions}
    for name in dimensions_mm:
        if name not in known:
            raise BadField("This body type has no such dimension.", name)
    sizes = {dimension.name: float(dimensions_mm.get(dimension.name, dimension.usual_mm)) for dimension in kind.dimensions}
    for dimension in kind.dimensions:
        if not dimension.least_mm <= sizes[dimension.name] <= dimension.most_mm:
            raise BadField(
                f"{dimension.label} is {sizes[dimension.name]:g} mm; the drawing takes {dimension.least_mm:g} to {dimension.most_mm:g} mm.",
                dimension.name,
                f"Tape it again: {dimension.how}.",
            )
    return sizes
