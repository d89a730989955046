"""The planes of views: a place of the shell on a drawing, and a drawing's places in the shell's own axes."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

AXES = "xyz"


@dataclass(frozen=True, slots=True)
class Plane:
    """The plane of a view: which shell axis runs along its u and its v, such as ``x`` or, against the shell, ``-y``.

    Only signs and the choice of two axes lie between the shell and a drawing of it: both are in millimetres.
    """

    u: str
    v: str

    @property
    def axes(self) -> tuple[str, str]:
        """The letters along u and v.

        >>> Plane("x", "-y").axes
        ('x', 'y')
        """
        return self.u[-1], self.v[-1]

    @property
    def signs(self) -> tuple[int, int]:
        """1 or -1 for u and v: whether the shell's axis runs with the drawing or against it."""
        return (-1 if self.u.startswith("-") else 1), (-1 if self.v.startswith("-") else 1)

    @property
    def is_plan(self) -> bool:
        """Whether it is looked at along z."""
        return set(self.axes) == {"x", "y"}

    @property
    def left_is_up(self) -> bool:
        """Whether, seen from above or below, the vehicle's left side lies at high v."""
        return self.v == "-y"

    def drawn(self, vector: Sequence[float]) -> list[float]:
        """A place or a deviation of the shell (x, y, z) on the drawing (u, v).

        >>> Plane("x", "-y").drawn([1.0, 2.0, 3.0])
        [1.0, -2.0]
        """
        return [
            sign * float(vector[AXES.index(axis)]) + 0.0
            for sign, axis in zip(self.signs, self.axes, strict=True)
        ]

    def over_the_centre(self, points: Sequence[Sequence[float]]) -> list[list[float]]:
        """Places of the drawing as they lie on the vehicle's other side, in the shell's two axes: only y changes its sign.

        >>> Plane("x", "-y").over_the_centre([[10, 20]])
        [[10.0, 20.0]]
        >>> Plane("x", "z").over_the_centre([[10, 20]])
        [[10.0, 20.0]]
        """
        across = [-1.0 if axis == "y" else 1.0 for axis in self.axes]
        return [[across[0] * u + 0.0, across[1] * v + 0.0] for u, v in self.in_shell(points)]

    def in_shell(self, points: Sequence[Sequence[float]]) -> list[list[float]]:
        """Places of the drawing in the shell's two axes, or back again: only signs change.

        >>> Plane("-x", "z").in_shell([[10, 20]])
        [[-10.0, 20.0]]
        """
        su, sv = self.signs
        return [[su * p[0] + 0.0, sv * p[1] + 0.0] for p in points]

    def bounds_in_shell(self, bounds: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
        """Bounds on the drawing (u0, v0, u1, v1) as bounds along the shell's two axes.

        >>> Plane("-x", "z").bounds_in_shell((10, 0, 30, 5))
        (-30.0, 0.0, -10.0, 5.0)
        """
        (a, b), (c, d) = self.in_shell([bounds[:2], bounds[2:]])
        return min(a, c), min(b, d), max(a, c), max(b, d)

    def covariance(self, of_place: Sequence[Sequence[float]]) -> np.ndarray:
        """The covariance of a place of the shell (3 x 3, mm2) on the drawing (2 x 2)."""
        turn = np.array([self.drawn(row) for row in np.eye(3).tolist()]).T
        return turn @ np.asarray(of_place, float) @ turn.T

    def ends(self, names: dict[str, tuple[str, str]]) -> list[str]:
        """The names of the drawing's left, right, lower and upper ends, from those of the low and high end of each shell axis."""
        told: list[str] = []
        for axis, sign in zip(self.axes, self.signs, strict=True):
            told += names[axis] if sign > 0 else names[axis][::-1]
        return told


def beside(
    plane: Plane,
    bounds: tuple[float, float, float, float],
    other: Plane,
    others: tuple[float, float, float, float],
    within_mm: float,
) -> bool:
    """Whether two boxes on drawings lie at one place along every shell axis that both drawings show.

    Args: bounds, others: u0, v0, u1, v1 on each drawing, mm; within_mm: how far apart they may lie.

    >>> beside(Plane("x", "z"), (0, 200, 50, 260), Plane("x", "-y"), (40, 500, 90, 600), 10)
    True
    >>> beside(Plane("x", "z"), (0, 200, 50, 260), Plane("x", "-y"), (340, 500, 390, 600), 10)
    False
    """
    mine, theirs = plane.bounds_in_shell(bounds), other.bounds_in_shell(others)
    for i, axis in enumerate(plane.axes):
        if axis in other.axes:
            k = other.axes.index(axis)
            if mine[i] > theirs[k + 2] + within_mm or theirs[k] > mine[i + 2] + within_mm:
                return False
    return True
