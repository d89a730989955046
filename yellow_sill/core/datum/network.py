"""A datum network: its points and readings, and what each kind of reading says of the places of the points.

Lengths in mm in the shell's axes: x aft, y to the right, z up. Angles come in degrees and are radians inside.
"""

import re
from collections.abc import Callable, Mapping, Sequence
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
#: One Newton step shorter than this ends the iteration, mm.
SETTLED_MM = 1e-4
MOST_STEPS = 60
#: What keeps the equations solvable where nothing holds a point: everything lies within this of its nominal place, mm.
LOOSE_MM = 1e5

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
    ends = np.full((len(readings), 3), -1)
    nominal = np.array([point.nominal for point in points], float).reshape(-1, 3)
    value, sigma, names = np.empty(len(readings)), np.empty(len(readings)), set()
    for i, reading in enumerate(readings):
        where = f"readings[{i}]"
        if reading.id in names:
            raise BadField(
                Said("Two readings bear the name {id}.", id=reading.id), f"{where}.id", "Give each its own."
            )
        names.add(reading.id)
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
            ends[i, k] = index[name]
        if len(set(reading.points)) < needed:
            raise BadField(
                Said(
                    "Reading {id}: it goes from {points} to itself.", id=reading.id, points=reading.points[0]
                ),
                f"{where}.points",
                "Name two different points.",
            )
        value[i], sigma[i] = _checked(reading, where), reading.sigma_mm
        if reading.kind == "angle":
            apex, arms = nominal[ends[i, 1]], nominal[ends[i, [0, 2]]]
            shorter = float(np.linalg.norm(arms - apex, axis=1).min())
            if shorter < 1:
                raise BadField(
                    Said("Reading {id}: one arm of this angle has no length.", id=reading.id),
                    f"{where}.points",
                )
            value[i], sigma[i] = np.radians(reading.value), reading.sigma_mm / shorter
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


def predicted(
    net: Network, places: np.ndarray, plane: np.ndarray, rows: np.ndarray | None = None
) -> tuple[np.ndarray, np.ndarray]:
    """What each reading should be, and how that changes with every coordinate.

    Args:
        places: n x 3, mm; plane: height of the level plane below the datum plane (mm) and its rise along x and y (mm per m).
        rows: indices of the readings wanted, all by default.
    Returns: k values (mm or rad) and their k x (3 n + 3) derivatives, the plane's last.
    Source: docs/methods.md section 7, the observation equations.
    """
    rows = np.arange(len(net.value)) if rows is None else rows
    kind, ends = net.kind[rows], net.ends[rows]
    value, slope = np.zeros(len(rows)), np.zeros((len(rows), len(net.ids) + 1, 3))
    there = {name: np.flatnonzero(kind == k) for k, name in enumerate(ALL_KINDS)}

    at = np.concatenate([there["distance"], there["plumb"]])
    if len(at):
        a, b = ends[at, 0], ends[at, 1]
        span = places[b] - places[a]
        span[len(there["distance"]) :, 2] = 0
        length = np.maximum(np.linalg.norm(span, axis=1), 1e-9)
        value[at] = length
        unit = span / length[:, None]
        slope[at, b] += unit
        slope[at, a] -= unit
    tilt = plane[1:] / 1000
    for name, signs in (("height", ((0, 1.0),)), ("height_difference", ((1, 1.0), (0, -1.0)))):
        at = there[name]
        for end, sign in signs if len(at) else ():
            point = ends[at, end]
            value[at] += sign * places[point, 2]
            gradient = np.tile([0.0, 0.0, sign], (len(at), 1))
            if net.level_plane:
                value[at] += sign * (plane[0] + places[point, :2] @ tilt)
                gradient[:, :2] = sign * tilt
                slope[at, -1, 0] += sign
                slope[at, -1, 1:] += sign * places[point, :2] / 1000
            slope[at, point] += gradient
    at = there["offset_y"]
    if len(at):
        value[at] = places[ends[at, 0], 1]
        slope[at, ends[at, 0], 1] = 1
    at = np.flatnonzero(kind >= len(KINDS))
    if len(at):
        axis = kind[at] - len(KINDS)
        value[at] = places[ends[at, 0], axis]
        slope[at, ends[at, 0], axis] = 1
    at = there["angle"]
    if len(at):
        value[at], by_end = _angles(places, ends[at])
        for end, gradient in enumerate(by_end):
            slope[at, ends[at, end]] += gradient
    return value, slope.reshape(len(rows), 3 * len(net.ids) + 3)


def _angles(places: np.ndarray, ends: np.ndarray) -> tuple[np.ndarray, tuple[np.ndarray, ...]]:
    """Angles at the second point, rad, and their derivatives by the first, second and third."""
    first, second = places[ends[:, 0]] - places[ends[:, 1]], places[ends[:, 2]] - places[ends[:, 1]]
    p, q = np.linalg.norm(first, axis=1)[:, None], np.linalg.norm(second, axis=1)[:, None]
    u, w = first / np.maximum(p, 1e-9), second / np.maximum(q, 1e-9)
    cosine = np.clip((u * w).sum(axis=1), -1, 1)
    sine = np.maximum(np.sqrt(1 - cosine**2), 1e-6)[:, None]
    by_first, by_second = -(w - cosine[:, None] * u) / (sine * p), -(u - cosine[:, None] * w) / (sine * q)
    return np.arccos(cosine), (by_first, -by_first - by_second, by_second)


def rigid_motions(places: np.ndarray) -> np.ndarray:
    """The six ways to move a rigid shell a little: three shifts and three turns (mm per metre) about the middle.

    Args: places: n x 3, mm. Returns: 3 n x 6.
    """
    arm = (places - places.mean(axis=0)) / 1000
    motions = np.zeros((len(places), 3, 6))
    motions[:, [0, 1, 2], [0, 1, 2]] = 1
    motions[:, 1, 3], motions[:, 2, 3] = -arm[:, 2], arm[:, 1]  # roll, about x
    motions[:, 0, 4], motions[:, 2, 4] = arm[:, 2], -arm[:, 0]  # pitch, about y
    motions[:, 0, 5], motions[:, 1, 5] = -arm[:, 1], arm[:, 0]  # yaw, about z
    return motions.reshape(-1, 6)


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """What holds the coordinates: ``held`` points stay near their nominal places; else ``fit`` are the rigid motions left free.

    Attributes:
        held: n booleans; fit: 3 n x k, motions that the best fit to all nominal places settles (k = 0 where the frame is held).
    """

    held: np.ndarray
    fit: np.ndarray


#: The least singular value (turns in mm per m) at which points, heights and offsets still hold a frame: 1 mm of error turns it 10 mm per m.
FRAME_HELD = 0.1
#: In a best fit a motion that readings hold weaker than this is fitted too, lest it swing with their noise.
MOTION_HELD = 0.5


def frame_of(net: Network, keep: np.ndarray, used: np.ndarray | None = None) -> Frame:
    """Whether the trusted points hold the frame, or a best fit must.

    Args: keep: which readings count; used: which points the best fit may use, all by default.
    """
    keep = keep & ~net.places
    n = len(net.ids)
    used = np.ones(n, bool) if used is None else used
    absolute = keep & (net.is_a("offset_y") | (net.is_a("height") & (not net.level_plane)))
    rows = np.flatnonzero(absolute)
    motions = rigid_motions(net.nominal)
    fixing = (
        predicted(net, net.nominal, np.zeros(3), rows)[1][:, : 3 * n] @ motions
        if len(rows)
        else np.zeros((0, 6))
    )
    trusted = motions.reshape(n, 3, 6)[net.trusted].reshape(-1, 6)
    both = np.vstack([fixing, trusted])
    if len(both) >= 6 and np.linalg.svd(both, compute_uv=False)[5] > FRAME_HELD:
        return Frame(held=net.trusted, fit=np.zeros((3 * n, 0)))
    if len(fixing):
        _, strength, ways = np.linalg.svd(fixing)
        free = ways[np.concatenate([strength, np.zeros(6 - len(strength))])[:6] <= MOTION_HELD]
    else:
        free = np.eye(6)
    fit = (motions @ free.T).reshape(n, 3, -1) * used[:, None, None]
    return Frame(held=np.zeros(n, bool), fit=fit.reshape(3 * n, -1))


@dataclass(frozen=True, slots=True, kw_only=True)
class Solution:
    """Places that fit the readings best.

    Attributes:
        places: n x 3, mm; plane: 3; covariance: (3 n + 3) square, mm², zero for what is held.
        residual: m, adjusted minus observed, in units of each reading's sigma; slope: m x (3 n + 3), in the same units.
        cost: the sum of squared residuals of the readings kept.
    """

    places: np.ndarray
    plane: np.ndarray
    covariance: np.ndarray
    residual: np.ndarray
    slope: np.ndarray
    cost: float


@dataclass(frozen=True, slots=True)
class _Stand:
    """One try at the unknowns: what it costs, and the normal equations there."""

    places: np.ndarray
    plane: np.ndarray
    cost: float
    residual: np.ndarray
    slope: np.ndarray
    normal: np.ndarray
    gradient: np.ndarray


class Equations:
    """The normal equations of a network in a frame: what every fit of it needs."""

    def __init__(self, net: Network, frame: Frame, loose_mm: float | np.ndarray = LOOSE_MM) -> None:
        """Args: loose_mm: each point is taken to lie within this of its nominal place, as a weak reading of it; one for all, or n."""
        self.net = net
        n = len(net.ids)
        self.free = np.append(np.ones(3 * n, bool), np.full(3, net.level_plane))
        # the best fit holds its motions to a thousandth of a millimetre
        self.fit = np.vstack([frame.fit, np.zeros((3, frame.fit.shape[1]))]) * (1000 / np.sqrt(max(1, n)))
        self._held = self.fit[self.free] @ self.fit[self.free].T
        self._loose = np.append(
            np.repeat(np.broadcast_to(loose_mm, n), 3) ** -2.0, np.full(3, 1 / LOOSE_MM**2)
        )

    def stand(
        self, places: np.ndarray, plane: np.ndarray, weight_of: Callable[[np.ndarray], np.ndarray]
    ) -> _Stand:
        """The equations at a place, each row weighed by what ``weight_of`` makes of the residuals (in standard errors)."""
        net, free = self.net, self.free
        value, slope = predicted(net, places, plane)
        residual = (value - net.value) / net.sigma
        slope /= net.sigma[:, None]
        weight = weight_of(residual)
        off = np.append((places - net.nominal).ravel(), plane)
        fitted = self.fit.T @ off
        loose = slope[:, : len(self._held)]  # only a plane that is not there is not free, and it comes last
        weighted = (loose * weight[:, None]).T
        normal = weighted @ loose
        normal += self._held
        normal.flat[:: len(normal) + 1] += self._loose[free]
        return _Stand(
            places,
            plane,
            float(weight @ residual**2 + fitted @ fitted + (off[free] ** 2 * self._loose[free]).sum()),
            residual,
            slope,
            normal,
            weighted @ residual + off[free] * self._loose[free] + self.fit[free] @ fitted,
        )

    def moved(self, here: _Stand, damping: float = 0.0) -> tuple[np.ndarray, np.ndarray, float]:
        """One Newton step from here: places, plane, and the longest move, mm."""
        move = np.zeros(len(self.free))
        normal = here.normal + damping * np.diag(np.diag(here.normal)) if damping else here.normal
        move[self.free] = -np.linalg.solve(normal, here.gradient)
        return here.places + move[:-3].reshape(-1, 3), here.plane + move[-3:], float(np.abs(move).max())


def solve(
    net: Network,
    keep: np.ndarray,
    frame: Frame,
    start: tuple[np.ndarray, np.ndarray] | None = None,
    *,
    steps: int = MOST_STEPS,
    loose_mm: float | np.ndarray = LOOSE_MM,
) -> Solution:
    """Nonlinear least squares by damped Gauss-Newton steps.

    Args:
        keep: which readings count; frame: what holds the coordinates; start: places and plane, nominal by default.
        steps: the most to take; 0 gives the covariance at the start itself; loose_mm: see Equations.
    Returns: the solution.
    Source: docs/methods.md section 7 (Levenberg 1944).
    """
    equations, weight = Equations(net, frame, loose_mm), keep.astype(float)
    at, level = start or (net.nominal.copy(), np.zeros(3))
    here = equations.stand(at, level, lambda _: weight)
    damping = 0.0
    for _ in range(steps if equations.free.any() else 0):
        places, plane, far = equations.moved(here, damping)
        tried = equations.stand(places, plane, lambda _: weight)
        if tried.cost > here.cost * (1 + 1e-10) + 1e-9:
            damping = max(1e-3, 10 * damping)
            continue
        here, damping = tried, damping / 10 if damping > 1e-6 else 0.0
        if far < SETTLED_MM:
            break
    free = equations.free
    covariance = np.zeros((len(free), len(free)))
    covariance[np.ix_(free, free)] = np.linalg.inv(here.normal)
    return Solution(
        places=here.places,
        plane=here.plane,
        covariance=covariance,
        residual=here.residual,
        slope=here.slope,
        cost=float((here.residual[keep] ** 2).sum()),
    )


def without(solution: Solution, keep: np.ndarray, i: int) -> Solution:
    """The solution with one more reading left out, to first order: a rank-one update, exact for a linear network.

    Args: keep: the readings left, ``i`` no longer among them.
    """
    row = solution.covariance @ solution.slope[i]
    left = 1 - float(solution.slope[i] @ row)
    move = row * (solution.residual[i] / left)
    residual = solution.residual + solution.slope @ move
    return Solution(
        places=solution.places + move[:-3].reshape(-1, 3),
        plane=solution.plane + move[-3:],
        covariance=solution.covariance + np.outer(row, row) / left,
        residual=residual,
        slope=solution.slope,
        cost=float((residual[keep] ** 2).sum()),
    )
