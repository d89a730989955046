"""A curved sheet laid flat with the least strain."""

import numpy as np
from scipy.sparse import coo_matrix, csr_matrix
from scipy.sparse.linalg import splu

#: So many rounds of the flattening, or until no corner moves by more than this share of the sheet.
ROUNDS, STILL = 60, 1e-6


def triangles_of(rows: int, columns: int) -> np.ndarray:
    """Two triangles a cell of a grid, (t, 3) numbers of corners, row by row; the diagonals alternate."""
    found = []
    for i in range(rows - 1):
        for j in range(columns - 1):
            a, b, c, d = (
                i * columns + j,
                i * columns + j + 1,
                (i + 1) * columns + j + 1,
                (i + 1) * columns + j,
            )
            found += [(a, b, c), (a, c, d)] if (i + j) % 2 == 0 else [(a, b, d), (b, c, d)]
    return np.array(found)


def flattened(places: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """The sheet laid flat, as rigid as possible: each triangle is turned to its own best, the corners follow by least squares, again and again.

    Args: places: (n, 3) mm; triangles: (t, 3).
    Returns: (n, 2) mm.
    Source: Liu, Zhang, Xu, Gotsman, Gortler, A Local/Global Approach to Mesh Parameterization (2008).
    """
    own = _own_axes(places[triangles])
    flat = places[:, :2].copy()
    flat *= np.sqrt(_areas(own).sum() / max(_areas(flat[triangles]).sum(), 1e-9))
    weights = _cotangents(own)
    solve, n = _factored(triangles, weights, len(places)), len(places)
    edges = own[:, [1, 2, 0]] - own[:, [0, 1, 2]]
    gather = _gathered(triangles, n)
    size = np.ptp(places, axis=0).max()
    for _ in range(ROUNDS):
        turned = _turns(flat[triangles], own, weights)
        wanted = np.einsum("tij,tkj->tki", turned, edges) * weights[:, :, None]
        right = gather @ wanted.reshape(-1, 2)
        right[0] = 0.0
        new = solve.solve(right)
        new += flat.mean(axis=0) - new.mean(axis=0)
        moved = np.abs(new - flat).max()
        flat = new
        if moved < STILL * size:
            break
    return flat


def _own_axes(corners: np.ndarray) -> np.ndarray:
    """Each triangle in its own plane, (t, 3, 2)."""
    a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    long = np.linalg.norm(a, axis=1)
    along = (a * b).sum(axis=1) / long
    high = np.sqrt(np.maximum((b * b).sum(axis=1) - along**2, 1e-12))
    zero = np.zeros(len(corners))
    return np.stack(
        [np.column_stack([zero, zero]), np.column_stack([long, zero]), np.column_stack([along, high])], axis=1
    )


def _areas(corners: np.ndarray) -> np.ndarray:
    a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    return np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]) / 2


def _cotangents(own: np.ndarray) -> np.ndarray:
    """Of each triangle's edges (first to second, second to third, third to first) the cotangent of the angle across."""
    found = []
    for k in range(3):
        p, q, r = own[:, k], own[:, (k + 1) % 3], own[:, (k + 2) % 3]
        a, b = p - r, q - r
        found.append((a * b).sum(axis=1) / np.maximum(np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]), 1e-9))
    return np.column_stack(found)


def _factored(triangles: np.ndarray, weights: np.ndarray, n: int):
    rows, columns, values = [], [], []
    for k in range(3):
        i, j, w = triangles[:, k], triangles[:, (k + 1) % 3], weights[:, k]
        rows += [i, j, i, j]
        columns += [i, j, j, i]
        values += [w, w, -w, -w]
    matrix = coo_matrix(
        (np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), shape=(n, n)
    ).tolil()
    matrix[0] = 0
    matrix[0, 0] = 1.0  # one corner stays
    return splu(matrix.tocsc())


def _gathered(triangles: np.ndarray, n: int) -> csr_matrix:
    """What sums the edges of all triangles at their corners: each edge runs from one corner, and to the next."""
    count = 3 * len(triangles)
    ends = np.concatenate([np.roll(triangles, -1, axis=1).ravel(), triangles.ravel()])
    edge = np.concatenate([np.arange(count), np.arange(count)])
    return csr_matrix((np.concatenate([np.ones(count), -np.ones(count)]), (ends, edge)), shape=(n, count))


def _turns(flat: np.ndarray, own: np.ndarray, weights: np.ndarray) -> np.ndarray:
    """The turn of each triangle that fits it best, (t, 2, 2)."""
    u = (flat[:, [1, 2, 0]] - flat[:, [0, 1, 2]]) * weights[:, :, None]
    x = own[:, [1, 2, 0]] - own[:, [0, 1, 2]]
    s = np.einsum("tki,tkj->tij", u, x)
    angle = np.arctan2(s[:, 1, 0] - s[:, 0, 1], s[:, 0, 0] + s[:, 1, 1])
    c, d = np.cos(angle), np.sin(angle)
    return np.stack([np.stack([c, -d], axis=1), np.stack([d, c], axis=1)], axis=1)


def area_strain(places: np.ndarray, flat: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """At each corner how much more area the shape has there than the flat, a share: above 0 it is to be stretched."""
    full, laid = _areas(_own_axes(places[triangles])), _areas(flat[triangles])
    whole, plain = np.zeros(len(places)), np.zeros(len(places))
    for k in range(3):
        np.add.at(whole, triangles[:, k], full)
        np.add.at(plain, triangles[:, k], laid)
    return whole / np.maximum(plain, 1e-9) - 1


def angle_deficits(places: np.ndarray, triangles: np.ndarray, inside: np.ndarray) -> np.ndarray:
    """What the angles round each inner corner lack of a full turn, radians: the curvature that no bending takes away, summed round it."""
    angles = np.zeros(len(places))
    own = _own_axes(places[triangles])
    for k in range(3):
        a, b = own[:, (k + 1) % 3] - own[:, k], own[:, (k + 2) % 3] - own[:, k]
        turn = np.arctan2(np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]), (a * b).sum(axis=1))
        np.add.at(angles, triangles[:, k], turn)
    return np.where(inside, 2 * np.pi - angles, 0.0)
