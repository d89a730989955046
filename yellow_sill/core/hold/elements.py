"""Stiffness of one member, one sheet and one brace in space. N, mm, MPa; six freedoms a node: ux uy uz rx ry rz, right-handed."""

from collections.abc import Sequence

import numpy as np

from ..steel import KG_PER_MM3
from .section import E_MPA, G_MPA, POISSON, Section

#: All frame stiffness counts this much: real joints and creases are softer; source: docs/methods.md section 9, calibration.
FRAME_SHARE = 0.6
#: A sheet's membrane counts this much: it is creased, curved and full of holes.
SHEET_SHARE = 0.3
#: Share of rigid rotation that a spot-welded joint at a member's true end passes on.
JOINT_SHARE = 0.6
#: Bending of a sheet against a flat one of the same thickness (swages, flanges): thickness times this.
SHEET_BENDING = 3.0
#: Tie of the drilling rotation to the sheet's own turn, share of G t A / 3.
DRILLING = 1e-3
#: A member steeper than this (share of its length along z) takes x as its reference.
STEEP = 0.85
#: Springs at each end of a brace: welded on a seam or a spreader, on flat sheet; bolted, along the tube only. N/mm and N mm/rad.
ANCHORS = {"seam": (10e3, 2e6), "sheet": (2e3, 4e5)}
BOLT_N_MM = 5e3
_PAIR = np.array([[1.0, -1.0], [-1.0, 1.0]])
#: Where a member's stretching, twisting and bending in its two planes lie among its twelve freedoms.
_ALONG, _AROUND, _IN_XY, _IN_XZ = (np.ix_(at, at) for at in ((0, 6), (3, 9), (1, 5, 7, 11), (2, 4, 8, 10)))
_ELASTIC = E_MPA / (1 - POISSON**2) * np.array([[1, POISSON, 0], [POISSON, 1, 0], [0, 0, (1 - POISSON) / 2]])


def cross(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Cross product of two vectors in space, much quicker than the general one.

    >>> cross(np.array([1.0, 0, 0]), np.array([0, 1.0, 0])).tolist()
    [0.0, 0.0, 1.0]
    """
    (a0, a1, a2), (b0, b1, b2) = a.tolist(), b.tolist()
    return np.array([a1 * b2 - a2 * b1, a2 * b0 - a0 * b2, a0 * b1 - a1 * b0])


def freedoms(nodes: Sequence[int]) -> np.ndarray:
    """Rows of some nodes' freedoms, six each.

    >>> freedoms([0, 2]).tolist()
    [0, 1, 2, 3, 4, 5, 12, 13, 14, 15, 16, 17]
    """
    return np.concatenate([np.arange(6 * i, 6 * i + 6) for i in nodes])


def axes_of(start: np.ndarray, end: np.ndarray) -> tuple[np.ndarray, float]:
    """The local axes of a member as rows (along, y, z) and its length: z as near to upwards as the member lets it be."""
    along = end - start
    length = float(np.linalg.norm(along))
    x = along / length
    reference = np.array([1.0, 0, 0]) if abs(x[2]) > STEEP else np.array([0, 0, 1.0])
    y = cross(reference, x)
    y /= np.linalg.norm(y)
    return np.array([x, y, cross(x, y)]), length


def member(
    section: Section,
    axes: np.ndarray,
    length: float,
    whole: float,
    soft: tuple[bool, bool],
    share: float = FRAME_SHARE,
) -> np.ndarray:
    """Stiffness of a straight member in the shell's axes, 12 x 12.

    Args:
        axes, length: see axes_of; whole: length of the whole member this is a segment of, mm.
        soft: whether its start and end are true ends of the whole member, with spot-welded joints.
    Source: Euler-Bernoulli; joint springs 3 E I / L p / (1 - p) condensed out; docs/methods.md section 9.
    """
    if section.turn:
        c, s = np.cos(section.turn), np.sin(section.turn)
        axes = np.array([axes[0], c * axes[1] + s * axes[2], -s * axes[1] + c * axes[2]])
    local = np.zeros((12, 12))
    axial, torsion = E_MPA * section.area / length, G_MPA * section.torsion(whole) / length
    local[_ALONG] = axial * _PAIR
    local[_AROUND] = torsion * _PAIR
    for inertia, where, sign in ((section.iz, _IN_XY, 1), (section.iy, _IN_XZ, -1)):
        local[where] = _bending(
            E_MPA * inertia, length, sign, [_joint(inertia, whole) if each else None for each in soft]
        )
    turn = np.zeros((12, 12))
    for at in range(0, 12, 3):
        turn[at : at + 3, at : at + 3] = axes
    return share * (turn.T @ local @ turn)


def _joint(inertia: float, whole: float) -> float:
    return 3 * E_MPA * inertia / whole * JOINT_SHARE / (1 - JOINT_SHARE)


def _bending(ei: float, length: float, sign: int, springs: list[float | None]) -> np.ndarray:
    """Bending in one plane (deflection, rotation at both ends), with a rotation spring between node and member where one is given."""
    a, b, c = 12 / length**3, sign * 6 / length**2, 1 / length
    k = ei * np.array([[a, b, -a, b], [b, 4 * c, -b, 2 * c], [-a, -b, a, -b], [b, 2 * c, -b, 4 * c]])
    for place, spring in zip((1, 3), springs, strict=True):
        if spring is not None and spring > 0:
            # the member's own rotation is an inner freedom, joined to the node's by the spring
            left = k[place, place] + spring
            row = k[place].copy()
            k = k - np.outer(row, row) / left
            k[place, :] = k[:, place] = spring * row / left
            k[place, place] = spring - spring**2 / left
    return k


def sheet(corners: np.ndarray, t: float, share: float = SHEET_SHARE) -> np.ndarray:
    """Stiffness of a flat triangle of sheet in the shell's axes, 18 x 18: membrane, and ties that turn its nodes with it.

    Args: corners: 3 x 3, mm; t: thickness, mm.
    Source: constant-strain triangle, plane stress; ties to its own rotations so that rigid movement stays free; docs/methods.md section 9.
    """
    e1 = corners[1] - corners[0]
    e1 = e1 / np.linalg.norm(e1)
    normal = cross(corners[1] - corners[0], corners[2] - corners[0])
    area = float(np.linalg.norm(normal)) / 2
    normal /= 2 * area
    e2 = cross(normal, e1)
    flat = np.column_stack([(corners - corners[0]) @ e1, (corners - corners[0]) @ e2])
    x, y = flat.T
    dx = np.array([y[1] - y[2], y[2] - y[0], y[0] - y[1]]) / (2 * area)  # shape functions' slopes
    dy = np.array([x[2] - x[1], x[0] - x[2], x[1] - x[0]]) / (2 * area)
    strain, rows, axes = np.zeros((3, 3, 6)), np.zeros((3, 3, 3, 6)), np.array([e1, e2, normal])
    along, athwart = dy[:, None] * e1, dx[:, None] * e2
    strain[:, :, :3] = dx[:, None] * e1, dy[:, None] * e2, along + athwart
    rows[..., :3] = -dy[:, None] * normal, dx[:, None] * normal, 0.5 * (along - athwart)
    for k in range(3):
        rows[k, :, k, 3:] = axes
    flat_strain, flat_rows = strain.reshape(3, 18), rows.reshape(9, 18)
    tilt = 0.8 * E_MPA * (SHEET_BENDING * t) ** 3 / (12 * (1 - POISSON**2))
    drill = DRILLING * G_MPA * t * area / 3
    weights = np.array([tilt, tilt, drill] * 3)
    return (
        share * t * area * flat_strain.T @ _ELASTIC @ flat_strain
        + (flat_rows * weights[:, None]).T @ flat_rows
    )


def brace(
    start: np.ndarray, end: np.ndarray, size_mm: float, wall_mm: float, ends: str, anchor: str
) -> np.ndarray:
    """Stiffness of a square tube between two nodes with its anchors in series, 12 x 12."""
    axes, length = axes_of(start, end)
    middle, inner = size_mm - wall_mm, size_mm - 2 * wall_mm
    area = size_mm**2 - inner**2
    if ends == "bolted":
        along = np.concatenate([-axes[0], np.zeros(3), axes[0], np.zeros(3)])
        return np.outer(along, along) / (length / (E_MPA * area) + 2 / BOLT_N_MM)
    inertia = (size_mm**4 - inner**4) / 12
    k = member(
        Section(area, inertia, inertia, 0.0, middle**3 * wall_mm, 0.0),
        axes,
        length,
        length,
        (False, False),
        share=1.0,
    )
    push, turn = ANCHORS[anchor]
    springs = np.diag(np.tile([push] * 3 + [turn] * 3, 2))
    return springs - springs @ np.linalg.solve(springs + k, springs)


def brace_weight_kg(length_mm: float, size_mm: float, wall_mm: float) -> float:
    return KG_PER_MM3 * (size_mm**2 - (size_mm - 2 * wall_mm) ** 2) * length_mm
