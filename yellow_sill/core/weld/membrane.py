"""A patch as an elastic membrane in its plane, and how it goes where its tacks pull it, one after the other."""

import math
from collections.abc import Sequence

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import splu
from shapely import contains_xy
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as Place
from shapely.ops import polylabel

from ..geometry import bounds_of

E_MPA, POISSON, YIELD_MPA = 205_000.0, 0.3, 200.0  #: mild deep-drawing sheet
#: Elements along the longer side; what a patch that lies loose is held with against drifting, and what a clamp adds, N/mm.
ELEMENTS, LOOSE_N_MM, CLAMP_N_MM = 28, 50.0, 2000.0


class Membrane:
    """A patch in square elements, with what its tacks feel of each other."""

    def __init__(
        self, patch: Polygon, tacks: Sequence[tuple[float, float]], thickness_mm: float, clamps: int
    ) -> None:
        u0, v0, u1, v1 = bounds_of(list(patch.exterior.coords))
        cell = max(u1 - u0, v1 - v0) / ELEMENTS
        columns, rows = max(1, round((u1 - u0) / cell)), max(1, round((v1 - v0) / cell))
        across, up = (u1 - u0) / columns, (v1 - v0) / rows
        us, vs = u0 + across * np.arange(columns + 1), v0 + up * np.arange(rows + 1)
        mu, mv = np.meshgrid(us[:-1] + across / 2, vs[:-1] + up / 2)
        inside = contains_xy(patch, mu, mv)
        if not inside.any():
            inside = np.ones_like(inside)
        ii, jj = np.nonzero(inside)
        corner = lambda i, j: i * (columns + 1) + j  # noqa: E731
        elements = np.stack(
            [corner(ii, jj), corner(ii, jj + 1), corner(ii + 1, jj + 1), corner(ii + 1, jj)], axis=1
        )
        used = np.unique(elements)
        self.elements = np.searchsorted(used, elements)
        self.nodes = np.stack([us[used % (columns + 1)], vs[used // (columns + 1)]], axis=1)
        self.middles, self.size = self.nodes[self.elements].mean(1), (across, up)
        self.thickness = thickness_mm
        stiff = _square(across, up, thickness_mm)
        dofs = np.stack([2 * self.elements, 2 * self.elements + 1], axis=2).reshape(len(self.elements), 8)
        rows_, columns_ = np.repeat(dofs, 8, axis=1).ravel(), np.tile(dofs, (1, 8)).ravel()
        count = 2 * len(self.nodes)
        loose = (LOOSE_N_MM + CLAMP_N_MM * clamps) / len(self.nodes)  # shared by all places
        whole = coo_matrix(
            (
                np.concatenate([np.tile(stiff.ravel(), len(self.elements)), np.full(count, loose)]),
                (np.concatenate([rows_, np.arange(count)]), np.concatenate([columns_, np.arange(count)])),
            ),
            shape=(count, count),
        )
        self.solve = splu(whole.tocsc()).solve
        self.places = np.array(tacks, float)
        self.share = self._shares(max(across, up))
        both = np.zeros((2 * len(tacks), count))
        both[0::2, 0::2], both[1::2, 1::2] = self.share, self.share
        self.both = both
        #: What a force of 1 N at one tack moves at another, mm.
        self.gives = both @ self.solve(np.ascontiguousarray(both.T))

    def _shares(self, reach: float) -> np.ndarray:
        """How a tack's force is shared by the nodes round it."""
        off = np.hypot(
            self.places[:, None, 0] - self.nodes[None, :, 0], self.places[:, None, 1] - self.nodes[None, :, 1]
        )
        weight = np.maximum(0.0, 1.6 * reach - off) + np.where(
            off <= off.min(1, keepdims=True) + 1e-6, 1e-3, 0.0
        )
        return weight / weight.sum(1, keepdims=True)

    def moved(self, force: np.ndarray) -> np.ndarray:
        """Movement of all nodes under forces at the tacks, mm. Args: force: (2 tacks,), N."""
        return self.solve(self.both.T @ force).reshape(-1, 2)

    def stress(self, moved: np.ndarray) -> np.ndarray:
        """Mean of the two membrane stresses in each element's middle, MPa."""
        corners = moved[self.elements]
        across = (corners[:, 1, 0] + corners[:, 2, 0] - corners[:, 0, 0] - corners[:, 3, 0]) / (
            2 * self.size[0]
        )
        up = (corners[:, 2, 1] + corners[:, 3, 1] - corners[:, 0, 1] - corners[:, 1, 1]) / (2 * self.size[1])
        return E_MPA / (1 - POISSON) * (across + up) / 2


def _square(a: float, b: float, thickness_mm: float) -> np.ndarray:
    """Stiffness of a rectangle with four corners in plane stress, (8, 8), N/mm: 2 × 2 points of Gauss."""
    law = (
        E_MPA
        / (1 - POISSON**2)
        * np.array([[1, POISSON, 0], [POISSON, 1, 0], [0, 0, (1 - POISSON) / 2]])
        * thickness_mm
    )
    stiff = np.zeros((8, 8))
    for s in (-1 / math.sqrt(3), 1 / math.sqrt(3)):
        for r in (-1 / math.sqrt(3), 1 / math.sqrt(3)):
            du = np.array([-(1 - s), 1 - s, 1 + s, -(1 + s)]) / (2 * a)
            dv = np.array([-(1 - r), -(1 + r), 1 + r, 1 - r]) / (2 * b)
            strain = np.zeros((3, 8))
            strain[0, 0::2], strain[1, 1::2], strain[2, 0::2], strain[2, 1::2] = du, dv, dv, du
            stiff += strain.T @ law @ strain * a * b / 4
    return stiff


class Held:
    """A patch while it is tacked: what its places give way, where they are, what was put in."""

    def __init__(self, gives: np.ndarray, out: np.ndarray, gap_mm: float, spring: float) -> None:
        count = len(out)
        self.gives, self.moved = gives.copy(), np.zeros(2 * count)
        self.out, self.gap, self.spring = out, gap_mm, spring
        self.free = np.ones(count, bool)
        self.least, self.least_at, self.closed = math.inf, 1, False
        self._put: list[tuple[int, np.ndarray, np.ndarray]] = []

    @property
    def gaps(self) -> np.ndarray:
        """Of each place, mm."""
        return self.gap - np.einsum("ij,ij->i", self.moved.reshape(-1, 2), self.out)

    def tack(self, k: int, shrink: float) -> None:
        """Make a tack: it pulls its place towards the panel; edges that meet ahead of it jam."""
        if self.free[k]:
            gap = float(self.gaps[k])
            if gap < self.least:
                self.least, self.least_at = gap, k + 1
        across = self.out[k]
        axes = np.array([across, (-across[1], across[0])])
        self._spring(k, axes, axes @ self.moved[2 * k : 2 * k + 2] + np.array([shrink, 0.0]))
        self.free[k] = False
        for _ in range(len(self.free)):
            gaps = np.where(self.free, self.gaps, np.inf)
            worst = int(gaps.argmin())
            if gaps[worst] >= -1e-3:
                return
            self.closed = True
            if gaps[worst] < self.least:
                self.least, self.least_at = 0.0, worst + 1
            self._spring(worst, self.out[worst][None, :], np.array([self.gap]))
            self.free[worst] = False

    def _spring(self, k: int, axes: np.ndarray, aims: np.ndarray) -> None:
        """Springs along directions (m, 2) that hold a place at aims along them (m,)."""
        here = slice(2 * k, 2 * k + 2)
        columns = self.gives[:, here] @ axes.T
        taken = np.linalg.inv(axes @ columns[here] + np.eye(len(axes)) / self.spring)
        self.moved = self.moved + columns @ (taken @ (aims - axes @ self.moved[here]))
        self.gives -= (columns @ taken) @ columns.T
        self._put.append((k, axes, aims))

    @property
    def force(self) -> np.ndarray:
        """What the springs pull with at each place, N."""
        told = np.zeros(len(self.moved))
        for k, axes, aims in self._put:
            here = slice(2 * k, 2 * k + 2)
            told[here] += self.spring * (aims - axes @ self.moved[here]) @ axes
        return told


def outward(patch: Polygon, places: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Directions out of the patch and along its edge (counter-clockwise) at places on it, each (n, 2)."""
    ring = LineString(patch.exterior.coords if patch.exterior.is_ccw else list(patch.exterior.coords)[::-1])
    out, along = [], []
    for u, v in places:
        s = ring.project(Place(u, v))
        reach = min(4.0, ring.length / 20)
        a, b = (
            ring.interpolate((s - reach) % ring.length),
            ring.interpolate((s + reach) % ring.length),
        )
        du, dv = b.x - a.x, b.y - a.y
        long = math.hypot(du, dv) or 1.0
        along.append((du / long, dv / long))
        out.append((dv / long, -du / long))
    return np.array(out), np.array(along)


def as_a_whole(places: np.ndarray, moved: np.ndarray) -> tuple[np.ndarray, float]:
    """The rigid part of a movement: shift, mm, and turn, degrees."""
    shift = moved.mean(0)
    arms = places - places.mean(0)
    rest = moved - shift
    around = (arms**2).sum()
    turn = float((arms[:, 0] * rest[:, 1] - arms[:, 1] * rest[:, 0]).sum() / around) if around > 0 else 0.0
    return shift, math.degrees(turn)


def free_parts(patch: Polygon, folds: Sequence[Sequence[tuple[float, float]]]) -> list[tuple[Polygon, float]]:
    """The parts of a patch between its folds, each with the radius of the largest circle in it, mm."""
    free = patch
    for fold in folds:
        free = free.difference(LineString(fold).buffer(1.0))
    parts = [each for each in getattr(free, "geoms", [free]) if isinstance(each, Polygon) and each.area > 1]
    found = []
    for part in parts or [patch]:
        reach = max(part.bounds[2] - part.bounds[0], part.bounds[3] - part.bounds[1])
        middle = polylabel(part, max(reach / 100, 1e-3))
        found.append((part, max(float(middle.distance(part.boundary)), 1e-3)))
    return found
