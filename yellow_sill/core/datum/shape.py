"""The shape of a body in its own words: roll, pitch, twist, sag, lozenge, sway, asymmetry, squareness; each with its uncertainty."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field
from scipy.special import ndtri

from ..errors import BadField
from ..records import Record
from .compare import moved, way_words
from .network import MOST_POINTS, NetworkRecord, Place, PointId
from .slips import mirror_of

#: Standard error of a coordinate where none is given, mm.
SIGMA_MM = 0.7
#: A pair must lie this far apart across the shell to tell roll and twist, mm.
LEAST_WIDE_MM = 100.0
#: Step of the numerical derivatives, mm.
STEP_MM = 1e-3
LOZENGE_WORDS = (
    "the diagonal from front left to rear right is {0} the longer",
    "the diagonal from front right to rear left is {0} the longer",
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


class Face(Record):
    """Points that should lie square to the shell: a plane of three or more, or the four corners of an opening in order round it."""

    id: PointId
    points: Annotated[list[PointId], Field(min_length=3, max_length=20)]
    opening: bool = False


class ShapeRequest(NetworkRecord):
    """Adjusted points; mirrored pairs are found by their nominal places unless ``pairs`` names them (left, right)."""

    points: Annotated[list[ShapePoint], Field(min_length=3, max_length=MOST_POINTS)]
    pairs: list[Annotated[list[PointId], Field(min_length=2, max_length=2)]] | None = None
    faces: Annotated[list[Face], Field(max_length=40)] = []
    confidence: Annotated[float, Field(ge=0.5, le=0.9999)] = 0.95


@dataclass(frozen=True, slots=True, kw_only=True)
class Measure:
    """One body word: its value and standard error in its unit; ``real`` where it is more than measurement noise."""

    name: str
    value: float
    sigma: float
    unit: str
    real: bool
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    measures: list[Measure]
    asymmetry: list[Measure]
    squareness: list[Measure]
    not_told: list[str]


#: A measure before its uncertainty: name, unit, what a value above and below zero says, and how it follows from the places.
_Measured = tuple[str, str, str, str, Callable[[np.ndarray], float]]


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

    def told(measured: list[_Measured]) -> list[Measure]:
        return [_told(each, places, covariance, wide) for each in measured]

    whole, missing = _whole(nominal, pairs)
    return Shape(
        measures=told(whole),
        asymmetry=[
            _asymmetry(nominal, places, covariance, names, pair, request.confidence) for pair in pairs
        ],
        squareness=told(
            [each for i, face in enumerate(request.faces) for each in _square(face, i, names, nominal)]
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
                f"The covariance of {point.id} is none.",
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
                raise BadField(f"There is no point {unknown[0]}.", f"pairs[{i}]", "Check the name.")
            a, b = (names.index(name) for name in pair)
            if nominal[a, 1] > nominal[b, 1]:
                a, b = b, a
            if nominal[b, 1] - nominal[a, 1] < LEAST_WIDE_MM:
                raise BadField(
                    f"{pair[0]} and {pair[1]} do not lie on both sides.",
                    f"pairs[{i}]",
                    "A pair is a left point and a right one.",
                )
            found.append((a, b))
    return np.array(sorted(found, key=lambda pair: nominal[pair[0], 0]), int).reshape(-1, 2)


def _told(measured: _Measured, places: np.ndarray, covariance: np.ndarray, wide: float) -> Measure:
    name, unit, above, below, value_of = measured
    value, variance = value_of(places), 0.0
    for i in range(len(places)):
        gradient = np.zeros(3)
        for axis in range(3):
            moved = places.copy()
            moved[i, axis] += STEP_MM
            gradient[axis] = (value_of(moved) - value) / STEP_MM
        variance += float(gradient @ covariance[i] @ gradient)
    sigma = float(np.sqrt(max(variance, 0)))
    real = bool(abs(value) > wide * sigma and abs(value) > 1e-6)
    figure = f"{abs(value):.1f} {unit}"
    words = (
        f"{(above if value > 0 else below).format(figure)}"
        if real
        else f"no {name.lower()} beyond the noise of {wide * sigma:.1f} {unit}"
    )
    return Measure(
        name=name,
        value=round(float(value), 4),
        sigma=round(sigma, 4),
        unit=unit,
        real=real,
        words=words[0].upper() + words[1:] + ".",
    )


def _weights(basis: np.ndarray, wanted: int) -> np.ndarray:
    """The linear combination of observations that gives one coefficient of a least-squares fit."""
    return np.linalg.pinv(basis)[wanted]


def _whole(nominal: np.ndarray, pairs: np.ndarray) -> tuple[list[_Measured], list[str]]:
    """Roll, pitch, twist, sag, sway and lozenge of all points; what cannot be told, and why."""
    out: list[_Measured] = []
    x, y = (nominal[:, 0] - nominal[:, 0].mean()) / 1000, nominal[:, 1] / 1000
    plane = np.column_stack([np.ones(len(x)), x, y])
    if np.linalg.matrix_rank(plane, tol=0.05) == 3:
        pitch, roll = _weights(plane, 1), _weights(plane, 2)
        rises = lambda weights: lambda places: float(weights @ (places[:, 2] - nominal[:, 2]))  # noqa: E731
        out.append(
            (
                "Roll",
                "mm per m",
                "against the frame the right side lies {0} high",
                "against the frame the left side lies {0} high",
                rises(roll),
            )
        )
        out.append(
            (
                "Pitch",
                "mm per m",
                "against the frame the tail lies {0} high",
                "against the frame the nose lies {0} high",
                rises(pitch),
            )
        )
    if len(pairs) < 3:
        return out, ["Twist, sag, sway and lozenge need three mirrored pairs along the shell."]
    left, right = pairs[:, 0], pairs[:, 1]
    along = nominal[left, 0] / 1000
    width = nominal[right, 1] - nominal[left, 1]
    centred = along - along.mean()
    length = float(np.ptp(along))
    if length < 0.5:
        return out, ["Twist, sag, sway and lozenge need pairs at least half a metre apart along the shell."]
    slope = _weights(np.column_stack([np.ones(len(centred)), centred]), 1)
    typical = float(width.mean())

    def twist(places: np.ndarray) -> float:
        across = (places[right, 2] - nominal[right, 2] - places[left, 2] + nominal[left, 2]) * typical / width
        return float(slope @ across)

    middle, reach = (along.max() + along.min()) / 2, length / 2
    bow = _weights(
        np.column_stack([np.ones(len(along)), along - middle, 1 - ((along - middle) / reach) ** 2]), 2
    )
    wide = f"over a width of {typical:.0f} mm"
    half_way = lambda axis: (  # noqa: E731
        lambda places: float(bow @ (places[pairs, axis] - nominal[pairs, axis]).mean(axis=1))
    )
    out += [
        (
            "Twist",
            "mm per m",
            f"towards the tail the right side rises by {{0}} {wide}",
            f"towards the tail the left side rises by {{0}} {wide}",
            twist,
        ),
        (
            "Sag",
            "mm",
            "it hogs: the middle stands {0} above its ends",
            "it sags: the middle hangs {0} below its ends",
            half_way(2),
        ),
        (
            "Sway",
            "mm",
            "the middle bows {0} to the right of its ends",
            "the middle bows {0} to the left of its ends",
            half_way(1),
        ),
        ("Lozenge", "mm", *LOZENGE_WORDS, _lozenge(nominal, left[0], right[0], left[-1], right[-1])),
    ]
    return out, []


def _lozenge(nominal: np.ndarray, fl: int, fr: int, rl: int, rr: int) -> Callable[[np.ndarray], float]:
    def difference(places: np.ndarray) -> float:
        return float(np.linalg.norm(places[fl] - places[rr]) - np.linalg.norm(places[fr] - places[rl]))

    usual = difference(nominal)
    return lambda places: difference(places) - usual


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
    words = f"{names[a]} and {names[b]} mirror each other within the noise."
    if real:
        words = f"{names[b]} lies {length:.1f} mm off the mirror image of {names[a]}: {way_words(off)}."
    return Measure(
        name=f"{names[a]} {names[b]}",
        value=round(length, 4),
        sigma=round(sigma, 4),
        unit="mm",
        real=real,
        words=words,
    )


def _square(face: Face, number: int, names: list[str], nominal: np.ndarray) -> list[_Measured]:
    where = f"faces[{number}]"
    if unknown := [name for name in face.points if name not in names]:
        raise BadField(
            f"Face {face.id}: there is no point {unknown[0]}.", f"{where}.points", "Check the name."
        )
    at = [names.index(name) for name in face.points]
    if len(set(at)) < len(at):
        raise BadField(
            f"Face {face.id}: {face.points[0]} is named twice.", f"{where}.points", "Name each point once."
        )
    if face.opening:
        if len(at) != 4:
            raise BadField(
                f"Face {face.id}: an opening has four corners, {len(at)} given.",
                f"{where}.points",
                "Name them in order round it.",
            )
        one, other = (
            f"the diagonal {face.points[k]} to {face.points[k + 2]} is {{0}} too long" for k in (0, 1)
        )
        return [(f"{face.id} out of square", "mm", one, other, _lozenge(nominal, at[0], at[1], at[3], at[2]))]
    axes, normal = _in_plane(nominal[at], f"Face {face.id}", where)
    out = []
    for along in axes:
        axis = int(np.abs(along).argmax())
        towards = along * np.sign(along[axis])
        words = f"{face.id} leans {{0}} over its {('length', 'width', 'height')[axis]}"
        out.append(
            (
                f"{face.id} lean over its {('length', 'width', 'height')[axis]}",
                "mm per m",
                words,
                words,
                _lean(nominal, at, towards, normal),
            )
        )
    return out


def _in_plane(points: np.ndarray, what: str, where: str) -> tuple[np.ndarray, np.ndarray]:
    """Two directions in a plane through the points, and its normal."""
    _, size, ways = np.linalg.svd(points - points.mean(axis=0))
    if size[1] < 20:
        raise BadField(
            f"{what}: its points lie in one line.", f"{where}.points", "Name three that span a plane."
        )
    normal = ways[2]
    flat = np.eye(3)[np.argsort(np.abs(normal))[:2]]
    axes = flat - np.outer(flat @ normal, normal)
    return axes / np.linalg.norm(axes, axis=1)[:, None], normal


def _lean(
    nominal: np.ndarray, at: list[int], along: np.ndarray, normal: np.ndarray
) -> Callable[[np.ndarray], float]:
    """How far the points depart along the normal, per metre along one direction in the plane."""
    arm = (nominal[at] - nominal[at].mean(axis=0)) / 1000
    across = np.cross(normal, along)
    weights = _weights(np.column_stack([np.ones(len(at)), arm @ along, arm @ across]), 1)
    return lambda places: float(weights @ ((places[at] - nominal[at]) @ normal))
