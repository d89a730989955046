"""Thin-wall sections: what a member is worth with the walls it has just now.

A section is a set of strips in its own plane. Strips whose panel is out do not count, so a closed box that loses a wall becomes an open
channel by itself, and its stiffness in twist goes with it. Lengths mm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

#: Share of the warping restraint of an open member that its joints give; source: docs/methods.md section 9.
WARPING_SHARE = 0.25
#: Strip ends nearer than this are one corner, mm.
CORNER_MM = 0.5
#: Young's modulus and shear modulus of sheet steel, N/mm² (MPa).
E_MPA, POISSON = 205_000.0, 0.3
G_MPA = E_MPA / (2 * (1 + POISSON))


@dataclass(frozen=True, slots=True)
class Strip:
    """One wall: its two ends (y, z) in the member's plane and its thickness, mm. ``slit``: there, but no longer joined at its seam."""

    y1: float
    z1: float
    y2: float
    z2: float
    t: float
    slit: bool = False


@dataclass(frozen=True, slots=True)
class Section:
    """Area (mm²), second moments about the principal axes (mm⁴), their turn (rad, y towards z), torsion constant and warping constant (mm⁶)."""

    area: float
    iy: float
    iz: float
    turn: float
    j: float
    cw: float

    def torsion(self, length_mm: float) -> float:
        """Torsion constant of a member of this length, mm⁴: an open section gets a share of its restrained warping.

        Source: Vlasov; J (1 / (1 - tanh(a) / a) - 1) for both ends held, a = L/2 sqrt(GJ / E Cw).
        """
        if self.cw <= 0 or self.j <= 0:
            return self.j
        a = length_mm / 2 * np.sqrt(G_MPA * self.j / (E_MPA * self.cw))
        return float(self.j + WARPING_SHARE * self.j * (1 / (1 - np.tanh(a) / a) - 1))


NOTHING = Section(0.0, 0.0, 0.0, 0.0, 0.0, 0.0)


def section_of(strips: Sequence[Strip]) -> Section:
    """The properties of a thin-wall section; those asked for once are kept.

    Args: strips: the walls that are there; none of them may have no length.
    Returns: the section; NOTHING where no wall is there.
    Source: Bredt 1896 for closed cells, sum of b t³ / 3 for open walls; second moments with Steiner; docs/methods.md section 9.
    """
    walls = tuple(strip for strip in strips if strip.t > 0)
    return _section(walls) if walls else NOTHING


@lru_cache(maxsize=4096)
def _section(walls: tuple[Strip, ...]) -> Section:
    ends = np.array([[s.y1, s.z1, s.y2, s.z2] for s in walls])
    t = np.array([s.t for s in walls])
    along = ends[:, 2:] - ends[:, :2]
    b = np.hypot(along[:, 0], along[:, 1])
    middle = (ends[:, :2] + ends[:, 2:]) / 2
    area = float((b * t).sum())
    centre = (middle * (b * t)[:, None]).sum(axis=0) / area
    arm, way = middle - centre, along / b[:, None]
    own = b**3 * t / 12, b * t**3 / 12
    iz = float((b * t * arm[:, 0] ** 2 + own[0] * way[:, 0] ** 2 + own[1] * way[:, 1] ** 2).sum())
    iy = float((b * t * arm[:, 1] ** 2 + own[0] * way[:, 1] ** 2 + own[1] * way[:, 0] ** 2).sum())
    iyz = float((b * t * arm[:, 0] * arm[:, 1] + (own[0] - own[1]) * way[:, 0] * way[:, 1]).sum())
    turn = 0.0
    if abs(iyz) > 1e-9 * max(iy, iz):
        turn = 0.5 * float(np.arctan2(-2 * iyz, iy - iz))
        c, s = np.cos(turn), np.sin(turn)
        iz, iy = iz * c * c + iy * s * s + 2 * iyz * s * c, iz * s * s + iy * c * c - 2 * iyz * s * c
    open_j = float((b * t**3).sum() / 3)
    joined = [i for i, wall in enumerate(walls) if not wall.slit]
    corners, graph = _graph(ends[joined])
    cells = _cells(graph, len(corners))
    if len(cells):
        signed = 0.5 * (ends[joined][:, 0] * ends[joined][:, 3] - ends[joined][:, 2] * ends[joined][:, 1])
        swept = cells @ signed
        flow = cells @ np.diag(b[joined] / t[joined]) @ cells.T
        return Section(area, iy, iz, turn, float(4 * swept @ np.linalg.solve(flow, swept)) + open_j, 0.0)
    return Section(
        area,
        iy,
        iz,
        turn,
        open_j,
        _warping(ends, t, b, corners if len(joined) == len(walls) else None, graph),
    )


def _graph(ends: np.ndarray) -> tuple[list[np.ndarray], list[tuple[int, int]]]:
    """Corners where strips meet, and each strip as a pair of them."""
    corners: list[np.ndarray] = []

    def corner(at: np.ndarray) -> int:
        for i, known in enumerate(corners):
            if np.abs(known - at).max() < CORNER_MM:
                return i
        corners.append(at)
        return len(corners) - 1

    return corners, [(corner(row[:2]), corner(row[2:])) for row in ends]


def _cells(graph: list[tuple[int, int]], corners: int) -> np.ndarray:
    """One signed cycle of strips for each strip outside a spanning forest: cycles x strips."""
    chords: list[int] = []
    tree: dict[int, list[tuple[int, int, int]]] = {i: [] for i in range(corners)}
    root = list(range(corners))

    def find(i: int) -> int:
        while root[i] != i:
            root[i] = root[root[i]]
            i = root[i]
        return i

    for k, (a, b) in enumerate(graph):
        if find(a) == find(b):
            chords.append(k)
        else:
            root[find(a)] = find(b)
            tree[a].append((b, k, 1))
            tree[b].append((a, k, -1))
    cycles = np.zeros((len(chords), len(graph)))
    for row, k in enumerate(chords):
        a, b = graph[k]
        cycles[row, k] = 1
        seen: dict[int, list[tuple[int, int]]] = {b: []}
        stack = [b]
        while stack:
            here = stack.pop()
            for there, strip, sign in tree[here]:
                if there not in seen:
                    seen[there] = [*seen[here], (strip, sign)]
                    stack.append(there)
        for strip, sign in seen.get(a, []):
            cycles[row, strip] += sign
    return cycles


def _warping(
    ends: np.ndarray,
    t: np.ndarray,
    b: np.ndarray,
    corners: list[np.ndarray] | None,
    graph: list[tuple[int, int]],
) -> float:
    """Warping constant of a connected open section, mm⁶; 0 for one in pieces.

    The weighted least-squares rest of the sectorial coordinate on 1, y and z, with two Gauss points a strip.
    """
    if corners is None:
        return 0.0
    sectorial = {0: 0.0}
    waiting = list(range(len(graph)))
    while waiting:
        left = []
        for k in waiting:
            a, c = graph[k]
            step = ends[k, 0] * ends[k, 3] - ends[k, 1] * ends[k, 2]
            if a in sectorial:
                sectorial[c] = sectorial[a] + step
            elif c in sectorial:
                sectorial[a] = sectorial[c] - step
            else:
                left.append(k)
        if len(left) == len(waiting):
            return 0.0
        waiting = left
    first = np.array([sectorial[a] for a, _ in graph])
    last = np.array([sectorial[c] for _, c in graph])
    rows, weights, values = [], [], []
    for share in (0.5 - 0.5 / np.sqrt(3), 0.5 + 0.5 / np.sqrt(3)):
        at = ends[:, :2] + share * (ends[:, 2:] - ends[:, :2])
        rows.append(np.column_stack([np.ones(len(t)), at]))
        weights.append(b * t / 2)
        values.append(first + share * (last - first))
    basis, weight, value = np.vstack(rows), np.sqrt(np.concatenate(weights)), np.concatenate(values)
    fit = np.linalg.lstsq(basis * weight[:, None], value * weight, rcond=None)[0]
    return float((((value - basis @ fit) * weight) ** 2).sum())
