"""The projective map through four points, as a camera sees one plane in another, and which way round points lie."""

import numpy as np


def homography(here: np.ndarray, there: np.ndarray) -> np.ndarray:
    """The 3 x 3 map that takes four points to four others.

    Args: here, there: 4 x 2. Returns: 3 x 3 with 1 in its last corner.
    Raises: numpy.linalg.LinAlgError: points that say nothing, such as three in one line.
    Source: Hartley and Zisserman, Multiple View Geometry, 4.1: two equations a point.
    """
    rows, right = [], []
    for (u, v), (x, y) in zip(here, there, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -u * x, -v * x], [0, 0, 0, u, v, 1, -u * y, -v * y]]
        right += [x, y]
    return np.append(np.linalg.solve(np.array(rows), np.array(right)), 1.0).reshape(3, 3)


def cross(a: np.ndarray, b: np.ndarray, c: np.ndarray) -> float:
    """How far the way from a over b to c turns: the cross product of its two legs, above 0 one way round, below 0 the other."""
    return float((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]))
