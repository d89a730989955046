"""A body's dimensions from a photo of its side: places traced on the picture, two lengths that are known, the nearest body that can be drawn."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Listed, Mm, Said
from .body_types import BODY_TYPES, body_type_of, ranges

#: Places that can be traced, and what each is called.
PLACES = {
    "nose": "Foremost metal", "front-axle": "Front wheel's middle", "sill-front": "Front end of the sill", "door-front": "Front edge of the door",
    "door-rear": "Rear edge of the door", "sill-rear": "Rear end of the sill, at the arch", "rear-axle": "Rear wheel's middle", "tail": "Rearmost metal",
    "ground": "Ground under the front wheel", "tyre-top": "Top of the front tyre", "waist": "Lower edge of the side window", "roof": "Top of the roof",
}  # fmt: skip
#: Dimensions told by two places: along the car, or upwards.
ALONG = {
    "wheelbase": ("front-axle", "rear-axle"), "overall_length": ("nose", "tail"), "front_overhang": ("nose", "front-axle"),
    "sill_length": ("sill-front", "sill-rear"), "door_length": ("door-front", "door-rear"), "door_front": ("front-axle", "door-front"),
}  # fmt: skip
UPWARDS = {
    "height": ("ground", "roof"), "waist_height": ("ground", "waist"), "tyre_height": ("ground", "tyre-top"), "scuttle_height": ("ground", "waist"),
}  # fmt: skip
#: Without both of these no direction along the car is known.
LEVEL = ("front-axle", "rear-axle")
#: A picture's scales along and upwards differ by less than this where it was taken square to the car.
SQUARE_SHARE = 0.06
#: One place is clicked this well, px (standard deviation).
CLICK_PX = 1.5
#: A known length that is shorter than this in the picture gives no scale, px.
LEAST_PX = 20.0

Pixel = tuple[Annotated[float, Field(ge=-1e5, le=1e5)], Annotated[float, Field(ge=-1e5, le=1e5)]]
Place = Annotated[str, Field(min_length=1, max_length=20)]


class KnownLength(Record):
    """A dimension that was taped, by its name, mm."""

    name: Place
    mm: Annotated[float, Field(gt=10, le=20_000)]


class PhotoRequest(Record):
    """Places in the picture by name (px, right and down), the lengths that are known, and a body type where the person chose one."""

    places: Annotated[dict[Place, Pixel], Field(max_length=40)]
    lengths: Annotated[list[KnownLength], Field(max_length=12)]
    body_type: Annotated[str, Field(max_length=60)] = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Traced:
    """What a photo tells.

    Attributes:
        body_type: the one chosen, or the nearest that can be drawn; told_mm: dimensions as traced, with sigma_mm (one standard deviation).
        sizes_mm: dimensions as they can be drawn; held: names of those that had to give way; missing: names that no place tells.
        scale_along, scale_up: mm a pixel; words: what to know of it.
    """

    body_type: str
    told_mm: dict[str, float]
    sigma_mm: dict[str, float]
    sizes_mm: dict[str, float]
    held: list[str]
    missing: list[str]
    scale_along: float
    scale_up: float
    words: list[str]


def from_photo(request: PhotoRequest) -> Traced:
    """Tell a body's dimensions from a side photo.

    The line through the wheels' middles is level. Two known lengths give the scales along and upwards; two that run the same way give one scale for
    both, and how well they agree. Dimensions that cannot be drawn together give way to the nearest that can, the most certain first.

    Raises: BadField: fewer than two lengths, a length between places that are not traced, wheels that are not, lengths that contradict each other.
    Source: plane similarity with two scales, docs/methods.md.
    """
    _check(request)
    along, up = _axes(request.places)
    flat = {name: (np.asarray(at) @ along, np.asarray(at) @ up) for name, at in request.places.items()}
    scale_x, scale_z, words = _scales(request.lengths, flat)
    told, sigma = _told(flat, scale_x, scale_z)
    kinds = [request.body_type] if request.body_type else list(BODY_TYPES)
    fitted = [(kind, *_drawn(kind, told, sigma)) for kind in kinds]
    kind, sizes, held, _ = min(fitted, key=lambda each: each[3])
    labels = {dimension.name: dimension.label for dimension in BODY_TYPES[kind].dimensions}
    missing = [name for name in labels if name not in told]
    for name in held:
        sizes_said = {"told": Mm(told[name], 0), "drawn": Mm(sizes[name], 0)}
        words.append(
            Said("{label}: traced {told}, drawn {drawn}, the nearest that fits with the others.", label=labels[name], **sizes_said)
        )  # fmt: skip
    mine = {name: round(value, 0) for name, value in told.items() if name in labels}
    return Traced(
        body_type=kind, told_mm=mine, sigma_mm={name: round(sigma[name], 1) for name in mine}, sizes_mm=sizes, held=held, missing=missing,
        scale_along=round(scale_x, 4), scale_up=round(scale_z, 4), words=words,
    )  # fmt: skip


def _check(request: PhotoRequest) -> None:
    if request.body_type:
        body_type_of(request.body_type)
    for name in request.places:
        if name not in PLACES:
            raise BadField(
                Said("Nobody traces a place '{name}'.", name=name[:20]), "places", Said("There are: {places}.", places=Listed(tuple(PLACES)))
            )  # fmt: skip
    if any(name not in request.places for name in LEVEL):
        raise BadField(
            "Both wheels' middles must be traced: they say what is level.", "places", "Tap the two hubs."
        )
    if len(request.lengths) < 2:
        raise BadField(
            "One length gives a scale one way only." if request.lengths else "Without a length that is known a photo has no scale.",
            "lengths", "Give two: one along the car, such as the wheelbase, and one upwards, such as the height of the roof.",
        )  # fmt: skip
    for i, length in enumerate(request.lengths):
        where = f"lengths[{i}]"
        ends = {**ALONG, **UPWARDS}.get(length.name)
        if ends is None:
            raise BadField(Said("No dimension is called '{name}'.", name=length.name), where)
        for end in ends:
            if end not in request.places:
                raise BadField(
                    Said("A length runs to '{end}', which is not traced.", end=PLACES[end]), where, "Tap that place on the photo."
                )  # fmt: skip
    if len({length.name for length in request.lengths}) < len(request.lengths):
        raise BadField("One length is given twice.", "lengths", "Give two different ones.")


def _axes(places: Mapping[str, tuple[float, float]]) -> tuple[np.ndarray, np.ndarray]:
    """Unit vectors aft and upwards in the picture, which may be tilted and shows the car facing either way."""
    along = np.asarray(places["rear-axle"], float) - np.asarray(places["front-axle"], float)
    size = float(np.hypot(*along))
    if size < 20:
        raise BadField("The wheels' middles lie on each other.", "places", "Tap one hub each.")
    along = along / size
    up = np.array([along[1], -along[0]])
    return along, up if up[1] < 0 else -up


def _scales(
    lengths: list[KnownLength], flat: Mapping[str, tuple[float, float]]
) -> tuple[float, float, list[str]]:
    """mm a pixel along and upwards, and what is to say of them."""
    found: dict[int, list[float]] = {0: [], 1: []}
    for i, length in enumerate(lengths):
        axis, table = (0, ALONG) if length.name in ALONG else (1, UPWARDS)
        start, end = table[length.name]
        size = abs(float(flat[end][axis] - flat[start][axis]))
        if size < LEAST_PX:
            raise BadField(
                "This length is too short in the picture to measure by.", f"lengths[{i}]", "Use a longer one, or tap its ends again."
            )  # fmt: skip
        found[axis].append(length.mm / size)
    for scales in found.values():
        if len(scales) > 1 and max(scales) / min(scales) - 1 > SQUARE_SHARE:
            raise BadField(
                Said("The lengths contradict each other by {percent:.0f} %.", percent=100 * (max(scales) / min(scales) - 1)), "lengths",
                "Tape them again, or tap their ends again.",
            )  # fmt: skip
    along, up = (float(np.mean(scales)) if scales else 0.0 for scales in (found[0], found[1]))
    words: list[str] = []
    if not along or not up:
        words.append(Said("Both lengths run the same way: the other way the same scale is taken."))
        along = up = along or up
    elif abs(along / up - 1) > SQUARE_SHARE:
        percent = 100 * abs(along / up - 1)
        words.append(
            Said("Along and upwards the scale differs by {percent:.0f} %: the photo was not taken square to the car.", percent=percent)
        )  # fmt: skip
    return along, up, words


def _told(
    flat: Mapping[str, tuple[float, float]], x: float, z: float
) -> tuple[dict[str, float], dict[str, float]]:
    """Dimensions by name from the places that are traced, with their standard deviations, mm."""
    told: dict[str, float] = {}
    for axis, scale, table in ((0, x, ALONG), (1, z, UPWARDS)):
        for name, (start, end) in table.items():
            if start in flat and end in flat:
                told[name] = abs(float(flat[end][axis] - flat[start][axis])) * scale
    one_px = CLICK_PX * np.sqrt(2)
    return told, {name: float(one_px * (x if name in ALONG else z)) for name in told}


def _drawn(
    kind: str, told: Mapping[str, float], sigma: Mapping[str, float]
) -> tuple[dict[str, float], list[str], float]:
    """The sizes of a body type nearest to what was traced, those that gave way, and how far off they are, share."""
    dimensions = {dimension.name: dimension for dimension in BODY_TYPES[kind].dimensions}
    sizes = {name: dimension.usual_mm for name, dimension in dimensions.items()}
    wanted = {name: value for name, value in told.items() if name in dimensions}
    order = sorted(wanted, key=lambda name: sigma[name] / wanted[name])
    for _ in range(len(order)):  # each size makes room for the others
        for name in order:
            span = ranges(kind, sizes)[name]
            if span is not None:
                sizes[name] = round(min(max(wanted[name], span[0]), span[1]), 0)
    held = [name for name in order if abs(sizes[name] - wanted[name]) > max(2.0, 2 * sigma[name])]
    off = sum(abs(sizes[name] - wanted[name]) / wanted[name] for name in order)
    return sizes, held, off + 0.02 * sum(name not in wanted for name in dimensions)
