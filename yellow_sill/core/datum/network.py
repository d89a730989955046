"""A datum network: its points and readings, checked and laid out.

Lengths in mm in the shell's axes: x aft, y to the right, z up. Angles come in degrees and are radians inside.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Self

import numpy as np
from pydantic import Field

from ..errors import BadField, CoreError
from ..records import FARTHEST_MM, OneOf, Record
from ..said import Mm, Said, first_low

MOST_POINTS, MOST_READINGS = 200, 2000
#: How far an adjusted point may lie off its nominal place: common factory tolerance; source: docs/methods.md section 7.
TOLERANCE_MM = 3.0
#: How many points each kind of reading joins, and the words for it.
POINTS_OF = {"distance": 2, "height": 1, "height_difference": 2, "offset_y": 1, "plumb": 2, "angle": 3}
KIND_WORDS = {
    "distance": "Distance", "height": "Height", "height_difference": "Height difference", "offset_y": "Offset from the centre line", "plumb": "Plumb distance",
    "angle": "Angle",
}  # fmt: skip
KINDS = tuple(POINTS_OF)
#: That a trusted point lies where it belongs counts as three readings of its place, each with the point's own standard error.
PLACE_KINDS = ("place_x", "place_y", "place_z")
ALL_KINDS = KINDS + PLACE_KINDS
#: How well even an untouched point agrees with the maker's drawing, mm: what a trusted point's place is taken to be sure to; source: docs/methods.md section 7.
TRUST_SIGMA_MM = 0.5
#: No reading and no trust is better than this, mm: finer figures only upset the sums.
LEAST_SIGMA_MM = 0.01

_LISTED = re.compile(r"^(points|readings|flats|stands)\[(\d+)\]")

PointId = Annotated[str, Field(min_length=1, max_length=40, coerce_numbers_to_str=True)]
Place = Annotated[
    list[Annotated[float, Field(ge=-FARTHEST_MM, le=FARTHEST_MM)]], Field(min_length=3, max_length=3)
]


class Undetermined(CoreError):
    """A point, or the whole, that the readings do not fix."""

    code = "DATUM-UNDETERMINED"


class NetworkPoint(Record):
    """A datum: where it belongs, whether it holds the frame (and how sure its place is, one standard error), and how far it may be off."""

    id: PointId
    nominal: Place
    trusted: bool = False
    trust_sigma_mm: Annotated[float, Field(ge=LEAST_SIGMA_MM, le=20)] = TRUST_SIGMA_MM
    tolerance_mm: Annotated[float, Field(gt=0, le=100)] = TOLERANCE_MM


class NetworkReading(Record):
    """One reading. ``value`` is mm, for an angle degrees at the second of its three points; ``sigma_mm`` is its standard error.

    For an angle ``sigma_mm`` is how far the end of the shorter arm may be off.
    """

    id: PointId
    kind: Annotated[str, OneOf(KINDS)]
    points: Annotated[list[PointId], Field(min_length=1, max_length=3)]
    value: Annotated[float, Field(ge=-FARTHEST_MM, le=FARTHEST_MM)]
    sigma_mm: Annotated[float, Field(ge=LEAST_SIGMA_MM, le=100)]


class NetworkRecord(Record):
    """A record with readings in it: what it refuses names the reading, not only its place in the list."""

    @classmethod
    def read(cls, values: Mapping[str, Any]) -> Self:
        """Check and convert plain values.

        Raises: BadField with the path of the fault, and the id of the point, reading or candidate it lies in.
        """
        try:
            return super().read(values)
        except BadField as error:
            part = _LISTED.match(error.where)
            try:
                name = values[part[1]][int(part[2])]["id"] if part else None
            except (KeyError, IndexError, TypeError):
                name = None
            if part is None or name is None:
                raise
            raise BadField(
                Said(
                    "{kind} {name}: {what}",
                    kind=Said(part[1].removesuffix("s").capitalize()),
                    name=str(name)[:40],
                    what=error.what,
                ),
                error.where,
                error.mend,
            ) from None


@dataclass(frozen=True, slots=True, kw_only=True)
class Network:
    """The arrays behind a list of points and readings.

    Attributes:
        ids: n names; nominal: n x 3, mm; trusted: n booleans.
        taken: how many of the m rows were read; behind them lie three rows for the place of each trusted point.
        kind: m places in ALL_KINDS; ends: m x 3 indices of points (-1 where a kind has fewer).
        value, sigma: m values, mm or rad.
        level_plane: heights are above a level plane of unknown height and tilt, not above the datum plane.
    """

    ids: tuple[str, ...]
    nominal: np.ndarray
    trusted: np.ndarray
    taken: int
    kind: np.ndarray
    ends: np.ndarray
    value: np.ndarray
    sigma: np.ndarray
    level_plane: bool

    def is_a(self, *kinds: str) -> np.ndarray:
        """Which readings are of these kinds: m booleans."""
        asked = np.zeros(len(ALL_KINDS), bool)
        asked[[ALL_KINDS.index(kind) for kind in kinds]] = True
        return asked[self.kind]

    @property
    def places(self) -> np.ndarray:
        """Which rows are places of trusted points: m booleans."""
        return self.kind >= len(KINDS)


def network_of(
    points: Sequence[NetworkPoint], readings: Sequence[NetworkReading], level_plane: bool = False
) -> Network:
    """Check and lay out a network.

    Args: points, readings: as typed; level_plane: see Network.
    Returns: the arrays.
    Raises: BadField, naming the reading: an id twice, an unknown point, the wrong number of points, a value that cannot be.
    """
    index = _named(points)
    nominal = np.array([point.nominal for point in points], float).reshape(-1, 3)
    ends = np.full((len(readings), 3), -1)
    value, sigma, names = np.empty(len(readings)), np.empty(len(readings)), set()
    for i, reading in enumerate(readings):
        where = f"readings[{i}]"
        if reading.id in names:
            raise BadField(
                Said("Two readings bear the name {id}.", id=reading.id), f"{where}.id", "Give each its own."
            )
        names.add(reading.id)
        ends[i, : len(reading.points)] = _ends(reading, where, index)
        value[i], sigma[i] = _checked(reading, where), reading.sigma_mm
        if reading.kind == "angle":
            value[i], sigma[i] = (
                np.radians(reading.value),
                reading.sigma_mm / _shorter_arm(reading, where, nominal[ends[i]]),
            )
    trusted = np.array([point.trusted for point in points], bool)
    sure = np.flatnonzero(trusted)
    own = np.array([points[i].trust_sigma_mm for i in sure.tolist()])
    kind = np.array([KINDS.index(reading.kind) for reading in readings], int)
    at = np.column_stack([np.repeat(sure, 3), np.full((3 * len(sure), 2), -1)]).astype(int)
    return Network(
        ids=tuple(index),
        nominal=nominal,
        trusted=trusted,
        taken=len(readings),
        kind=np.append(kind, np.tile(len(KINDS) + np.arange(3), len(sure))),
        ends=np.vstack([ends, at]),
        value=np.append(value, nominal[sure].ravel()),
        sigma=np.append(sigma, np.repeat(own, 3)),
        level_plane=level_plane,
    )


def _named(points: Sequence[NetworkPoint]) -> dict[str, int]:
    """Where each point stands. Raises: BadField for names that nobody tells apart."""
    index: dict[str, int] = {}
    alike: dict[str, str] = {}
    for i, point in enumerate(points):
        other = alike.setdefault(point.id.strip().casefold(), point.id)
        if index.setdefault(point.id, i) != i or other != point.id:
            both = (
                point.id
                if other == point.id
                else Said("{other} and {id}, which nobody tells apart", other=other, id=point.id.strip())
            )
            raise BadField(
                Said("Two points bear the name {both}.", both=both), f"points[{i}].id", "Give each its own."
            )
    return index


def _ends(reading: NetworkReading, where: str, index: Mapping[str, int]) -> list[int]:
    """The points of a reading. Raises: BadField for too many, unknown ones, or one twice."""
    needed = POINTS_OF[reading.kind]
    if len(reading.points) != needed:
        raise BadField(
            Said(
                "Reading {id}: a {kind_words} joins {needed} point{s}, {points} given.",
                id=reading.id,
                kind_words=first_low(KIND_WORDS[reading.kind]),
                needed=needed,
                s="s" * (needed > 1),
                points=len(reading.points),
            ),
            f"{where}.points",
        )
    for k, name in enumerate(reading.points):
        if name not in index:
            raise BadField(
                Said("Reading {id}: there is no point {name}.", id=reading.id, name=name),
                f"{where}.points[{k}]",
                "Check the name, or add the point.",
            )
    if len(set(reading.points)) < needed:
        raise BadField(
            Said("Reading {id}: it goes from {points} to itself.", id=reading.id, points=reading.points[0]),
            f"{where}.points",
            "Name two different points.",
        )
    return [index[name] for name in reading.points]


def _shorter_arm(reading: NetworkReading, where: str, places: np.ndarray) -> float:
    """The shorter arm of an angle, mm. Args: places: 3 x 3, nominal. Raises: BadField."""
    shorter = float(np.linalg.norm(places[[0, 2]] - places[1], axis=1).min())
    if shorter < 1:
        raise BadField(
            Said("Reading {id}: one arm of this angle has no length.", id=reading.id),
            f"{where}.points",
        )
    return shorter


def _checked(reading: NetworkReading, where: str) -> float:
    if reading.kind in ("distance", "plumb") and reading.value <= 0:
        raise BadField(
            Said(
                "Reading {id}: {value} is no {kind_words}.",
                id=reading.id,
                value=Mm(reading.value),
                kind_words=first_low(KIND_WORDS[reading.kind]),
            ),
            f"{where}.value",
            "It must be above 0.",
        )
    if reading.kind == "angle" and not 0 < reading.value < 180:
        raise BadField(
            Said(
                "Reading {id}: {value:g}° is no angle between two arms.", id=reading.id, value=reading.value
            ),
            f"{where}.value",
            "It lies between 0 and 180.",
        )
    return reading.value
