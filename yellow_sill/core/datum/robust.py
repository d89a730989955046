"""Starts for the search for gross errors: fits that what is far off cannot drag along.

Each start is a fit whose kernel redescends (what lies far off counts for nothing), from the nominal places, with those places as weak
readings of their own. The scale is brought down step by step (graduated non-convexity), so that a bent shell is followed before
what still does not fit is left behind.
"""

from collections.abc import Callable, Iterator
from functools import partial

import numpy as np

from .equations import Equations, Frame, predicted
from .network import Network

#: How near its nominal place a point is taken to lie while the search begins, mm; source: docs/methods.md section 7.
NOMINAL_SIGMA_MM = 30.0
#: The scales of the graduated start, in standard errors: from a shell bent by inches down to noise.
SCALES = (40.0, 20.0, 20.0, 10.0, 10.0, 5.0, 5.0, 3.0, 3.0, 3.0)
#: The plain start keeps one scale from the nominal places on (Cauchy's kernel at one standard error).
PLAIN = (1.0,) * 14
#: For a shell that lies near nominal the graduated start begins lower.
NEAR = (8.0, 8.0, 4.0, 4.0, 2.5, 2.5, 2.5)
#: Residuals beyond so many standard errors are left out of a start.
BEYOND = 5.0
#: A start is settled when a step is shorter than this, mm: what follows solves in full.
SETTLED_MM = 0.05
#: No step of a start is longer than this, mm.
LONGEST_MM = 300.0

Kernel = Callable[[np.ndarray], np.ndarray]
Place = tuple[np.ndarray, np.ndarray]


def cauchy(ratio: np.ndarray) -> np.ndarray:
    """Weight of a residual given in units of the scale; falls with its square (Cauchy)."""
    return 1 / (1 + ratio**2)


def geman_mcclure(ratio: np.ndarray) -> np.ndarray:
    """Weight of a residual given in units of the scale; falls with its fourth power (Geman and McClure 1985)."""
    return 1 / (1 + ratio**2) ** 2


def level_start(net: Network, keep: np.ndarray) -> np.ndarray:
    """The level plane from the heights read and the nominal places, by a fit that slips cannot drag along.

    Returns: height (mm), rise along x and y (mm per m).
    """
    plane = np.zeros(3)
    rows = np.flatnonzero(keep & net.is_a("height")) if net.level_plane else np.zeros(0, int)
    if not len(rows):
        return plane
    at = net.nominal[net.ends[rows, 0]]
    over = net.value[rows] - at[:, 2]
    basis = np.column_stack([np.ones(len(rows)), at[:, :2] / 1000])
    plane[0] = float(np.median(over))
    weak = np.diag([1e-9, 1 / 100**2, 1 / 100**2])
    for scale in (40.0, 40.0, 20.0, 20.0, 10.0, 10.0, 10.0):
        weight = geman_mcclure((over - basis @ plane) / scale) / scale**2
        plane = np.linalg.solve(
            (basis * weight[:, None]).T @ basis + weak,
            (basis * weight[:, None]).T @ over + weak[:, 0] * plane[0],
        )
    return plane


def redescended(
    net: Network,
    keep: np.ndarray,
    equations: Equations,
    start: Place,
    scales: tuple[float, ...],
    kernel: Kernel,
) -> tuple[Place, np.ndarray]:
    """A redescending fit by iterated weights.

    Args: equations: with the nominal places as weak readings; scales: one a step, in standard errors.
    Returns: places and plane, and the residuals there in standard errors.
    """
    (places, plane), kept = start, keep.astype(float)
    last = scales[-1]

    def weighed(scale: float, residual: np.ndarray) -> np.ndarray:
        return kept * kernel(residual / scale)

    for scale in scales:
        here = equations.stand(places, plane, partial(weighed, scale))
        places_next, plane_next, far = equations.moved(here)
        share = min(1.0, LONGEST_MM / max(far, 1e-9))
        places, plane = places + share * (places_next - places), plane + share * (plane_next - plane)
        if scale == last and far < SETTLED_MM:
            break
    return (places, plane), (predicted(net, places, plane)[0] - net.value) / net.sigma


def starts(net: Network, keep: np.ndarray, frame: Frame) -> Iterator[tuple[Place, np.ndarray]]:
    """Places to begin the search from, with the residuals there (m, in standard errors); the likeliest first."""
    equations = Equations(net, frame, NOMINAL_SIGMA_MM)
    nominal = (net.nominal.copy(), level_start(net, keep))
    for scales, kernel in ((SCALES, geman_mcclure), (PLAIN, cauchy), (NEAR, geman_mcclure)):
        place, residual = redescended(net, keep, equations, nominal, scales, kernel)
        yield place, residual
