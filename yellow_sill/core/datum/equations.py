"""The observation equations of a network, what holds its frame, and the least-squares fit.

Lengths in mm in the shell's axes: x aft, y to the right, z up; angles in radians.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from .network import ALL_KINDS, KINDS, Network

#: One Newton step shorter than this ends the iteration, mm.
SETTLED_MM = 1e-4
MOST_STEPS = 60
#: What keeps the equations solvable where nothing holds a point: everything lies within this of its nominal place, mm.
LOOSE_MM = 1e5


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
