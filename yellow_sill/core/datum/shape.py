"""The shape of a body in its own words: roll, pitch, twist, sag, lozenge, sway, asymmetry, squareness; each with its uncertainty."""

from dataclasses import dataclass
from functools import partial
from typing import Annotated

import numpy as np
from pydantic import Field
from scipy.special import ndtri

from ..errors import BadField
from ..records import Record
from ..said import Mm, Said
from .compare import moved, way_words
from .faces import Face, squareness
from .measures import Measure, Measured, lozenge, measured, weights_of
from .network import MOST_POINTS, NetworkRecord, Place, PointId
from .slips import mirror_of

#: Standard error of a coordinate where none is given, mm.
SIGMA_MM = 0.7
#: A pair must lie this far apart across the shell to tell roll and twist, mm.
LEAST_WIDE_MM = 100.0
LOZENGE_WORDS = (
    partial(Said, "the diagonal from front left to rear right is {by} the longer"),
    partial(Said, "the diagonal from front right to rear left is {by} the longer"),
)


#: A variance or covariance of coordinates, mm²; 1e8 is 10 m of standard error.
Variance = Annotated[float, Field(ge=-1e8, le=1e8)]


class ShapePoint(Record):
    """An adjusted point. ``covariance_mm2`` is its 3 x 3 block; without one a standard error of 0.7 mm is taken."""

    id: PointId
    nominal: Place
    place: Place
    covariance_mm2: (
        Annotated[
            list[Annotated[list[Variance], Field(min_length=3, max_length=3)]],
            Field(min_length=3, max_length=3),
        ]
        | None
    ) = None


class ShapeRequest(NetworkRecord):
    """Adjusted points; mirrored pairs are found by their nominal places unless ``pairs`` names them (left, right)."""

    points: Annotated[list[ShapePoint], Field(min_length=3, max_length=MOST_POINTS)]
    pairs: list[Annotated[list[PointId], Field(min_length=2, max_length=2)]] | None = None
    faces: Annotated[list[Face], Field(max_length=40)] = []
    confidence: Annotated[float, Field(ge=0.5, le=0.9999)] = 0.95


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    measures: list[Measure]
    asymmetry: list[Measure]
    squareness: list[Measure]
    not_told: list[str]


def shape(request: ShapeRequest) -> Shape:
    """Put a body's adjusted points into words.

    Args: request: see ShapeRequest.
    Returns: measures of the whole, of each mirrored pair and of each stated face.
    Raises: BadField, naming the point, pair or face.
    Source: least squares over the pairs; uncertainty by propagation; docs/methods.md section 7.
    """
    names = [point.id for point in request.points]
    if len(set(names)) < len(names):
        raise BadField("Two points bear the same name.", "points", "Give each its own.")
    nominal = np.array([point.nominal for point in request.points], float)
    places = np.array([point.place for point in request.points], float)
    covariance = _covariance(request)
    pairs = _pairs(request, names, nominal)
    wide = float(ndtri(0.5 + request.confidence / 2))

    def told(of: list[Measured]) -> list[Measure]:
        return [measured(each, places, covariance, wide) for each in of]

    whole, missing = _whole(nominal, pairs)
    return Shape(
        measures=told(whole),
        asymmetry=[
            _asymmetry(nominal, places, covariance, names, pair, request.confidence) for pair in pairs
        ],
        squareness=told(
            [each for i, face in enumerate(request.faces) for each in squareness(face, i, names, nominal)]
        ),
        not_told=missing,
    )


def _covariance(request: ShapeRequest) -> np.ndarray:
    blocks = np.zeros((len(request.points), 3, 3))
    for i, point in enumerate(request.points):
        given = (
            np.eye(3) * SIGMA_MM**2 if point.covariance_mm2 is None else np.array(point.covariance_mm2, float)
        )
        if (
            given.shape != (3, 3)
            or not np.isfinite(given).all()
            or np.linalg.eigvalsh((given + given.T) / 2)[0] < -1e-6
        ):
            raise BadField(
                Said("The covariance of {id} is none.", id=point.id),
                f"points[{i}].covariance_mm2",
                "It is 3 x 3, symmetric, and not negative.",
            )
        blocks[i] = (given + given.T) / 2
    return blocks


def _pairs(request: ShapeRequest, names: list[str], nominal: np.ndarray) -> np.ndarray:
    """Mirrored pairs as k x 2 indices, left (y below 0) first, from the front back."""
    if request.pairs is None:
        mirror = mirror_of(nominal)
        found = [(i, k) for i, k in enumerate(mirror) if nominal[i, 1] < -LEAST_WIDE_MM / 2 and k != i]
    else:
        found = []
        for i, pair in enumerate(request.pairs):
            if unknown := [name for name in pair if name not in names]:
                raise BadField(
                    Said("There is no point {unknown}.", unknown=unknown[0]), f"pairs[{i}]", "Check the name."
                )
            a, b = (names.index(name) for name in pair)
            if nominal[a, 1] > nominal[b, 1]:
                a, b = b, a
            if nominal[b, 1] - nominal[a, 1] < LEAST_WIDE_MM:
                raise BadField(
                    Said("{pair} and {pair2} do not lie on both sides.", pair=pair[0], pair2=pair[1]),
                    f"pairs[{i}]",
                    "A pair is a left point and a right one.",
                )
            found.append((a, b))
    return np.array(sorted(found, key=lambda pair: nominal[pair[0], 0]), int).reshape(-1, 2)


def _whole(nominal: np.ndarray, pairs: np.ndarray) -> tuple[list[Measured], list[str]]:
    """Roll, pitch, twist, sag, sway and lozenge of all points; what cannot be told, and why."""
    out = _tilts(nominal)
    if len(pairs) < 3:
        return out, ["Twist, sag, sway and lozenge need three mirrored pairs along the shell."]
    left, right = pairs[:, 0], pairs[:, 1]
    along = nominal[left, 0] / 1000
    width = nominal[right, 1] - nominal[left, 1]
    if np.ptp(along) < 0.5:
        return out, ["Twist, sag, sway and lozenge need pairs at least half a metre apart along the shell."]
    return out + _bends(nominal, left, right, along, width), []


def _tilts(nominal: np.ndarray) -> list[Measured]:
    """Roll and pitch of the plane through all points; none where they do not make one."""
    x, y = (nominal[:, 0] - nominal[:, 0].mean()) / 1000, nominal[:, 1] / 1000
    plane = np.column_stack([np.ones(len(x)), x, y])
    if np.linalg.matrix_rank(plane, tol=0.05) < 3:
        return []
    pitch, roll = weights_of(plane, 1), weights_of(plane, 2)
    rises = lambda weights: lambda places: float(weights @ (places[:, 2] - nominal[:, 2]))  # noqa: E731
    return [
        (
            "Roll",
            "mm per m",
            partial(Said, "against the frame the right side lies {by} high"),
            partial(Said, "against the frame the left side lies {by} high"),
            rises(roll),
        ),
        (
            "Pitch",
            "mm per m",
            partial(Said, "against the frame the tail lies {by} high"),
            partial(Said, "against the frame the nose lies {by} high"),
            rises(pitch),
        ),
    ]


def _bends(
    nominal: np.ndarray, left: np.ndarray, right: np.ndarray, along: np.ndarray, width: np.ndarray
) -> list[Measured]:
    """Twist, sag, sway and lozenge over mirrored pairs. Args: left, right: indices from the front back; along: m; width: mm."""
    centred = along - along.mean()
    slope = weights_of(np.column_stack([np.ones(len(centred)), centred]), 1)
    typical = float(width.mean())
    pairs = np.column_stack([left, right])

    def twist(places: np.ndarray) -> float:
        across = (places[right, 2] - nominal[right, 2] - places[left, 2] + nominal[left, 2]) * typical / width
        return float(slope @ across)

    middle, reach = (along.max() + along.min()) / 2, float(np.ptp(along)) / 2
    bow = weights_of(
        np.column_stack([np.ones(len(along)), along - middle, 1 - ((along - middle) / reach) ** 2]), 2
    )
    wide = Said("over a width of {typical}", typical=Mm(typical, 0))
    half_way = lambda axis: (  # noqa: E731
        lambda places: float(bow @ (places[pairs, axis] - nominal[pairs, axis]).mean(axis=1))
    )
    return [
        (
            "Twist",
            "mm per m",
            partial(Said, "towards the tail the right side rises by {by} {wide}", wide=wide),
            partial(Said, "towards the tail the left side rises by {by} {wide}", wide=wide),
            twist,
        ),
        (
            "Sag",
            "mm",
            partial(Said, "it hogs: the middle stands {by} above its ends"),
            partial(Said, "it sags: the middle hangs {by} below its ends"),
            half_way(2),
        ),
        (
            "Sway",
            "mm",
            partial(Said, "the middle bows {by} to the right of its ends"),
            partial(Said, "the middle bows {by} to the left of its ends"),
            half_way(1),
        ),
        ("Lozenge", "mm", *LOZENGE_WORDS, lozenge(nominal, left[0], right[0], left[-1], right[-1])),
    ]


def _asymmetry(
    nominal: np.ndarray,
    places: np.ndarray,
    covariance: np.ndarray,
    names: list[str],
    pair: np.ndarray,
    confidence: float,
) -> Measure:
    """How far the right point lies from the mirror image of the left one, as a length; real by chi-squared on its three parts."""
    a, b = int(pair[0]), int(pair[1])
    turn = np.array([1.0, -1.0, 1.0])
    off = (places[b] - nominal[b]) - turn * (places[a] - nominal[a])
    length, sigma, real = moved(off, covariance[b] + np.outer(turn, turn) * covariance[a], confidence)
    words = Said("{names} and {names2} mirror each other within the noise.", names=names[a], names2=names[b])
    if real:
        words = Said(
            "{names} lies {length} off the mirror image of {names2}: {way_words}.",
            names=names[b],
            length=Mm(length, 1),
            names2=names[a],
            way_words=way_words(off),
        )
    return Measure(
        name=f"{names[a]} {names[b]}",
        value=round(length, 4),
        sigma=round(sigma, 4),
        unit="mm",
        real=real,
        words=words,
    )
