"""Places that fit the readings as well on the other side: resolved towards nominal, told where they are close."""

from collections.abc import Iterator

import numpy as np

from .equations import SETTLED_MM, predicted
from .outliers import Search, again

#: A mirrored place this near, or up to this many times as far from nominal as the chosen one, is told.
MIRROR_CLOSE_MM, MIRROR_TIMES = 60.0, 3.0
#: A mirrored place whose readings are off by more than so many standard errors before it is fitted is no candidate.
FAR_SIGMA = 40.0


def mirrored(search: Search) -> list[tuple[int, np.ndarray, bool]]:
    """Points whose readings fit as well at a mirrored place: (point, that place, whether it is close). Ends on the side of nominal."""
    net, told, swapped = search.net, [], False
    for point in np.flatnonzero(~search.frame.held):
        rows = np.flatnonzero(search.keep & (net.ends == point).any(axis=1))
        others = np.unique(net.ends[rows])
        others = others[(others >= 0) & (others != point)]
        for turned in _reflections(search.solution.places, int(point), others):
            if not _may_fit(search, int(point), rows, turned):
                continue
            other = _fitted_alone(search, int(point), rows, turned)
            if other is None:
                continue
            here = search.solution.places[point]
            if np.linalg.norm(other - net.nominal[point]) < np.linalg.norm(here - net.nominal[point]):
                search.solution.places[point], other, swapped = other, here.copy(), True
            near, far = (
                float(np.linalg.norm(place - net.nominal[point]))
                for place in (search.solution.places[point], other)
            )
            close = (
                float(np.linalg.norm(other - search.solution.places[point])) < MIRROR_CLOSE_MM
                or far < MIRROR_TIMES * near
            )
            told.append((int(point), other, close))
            break
    if swapped:
        search.solution = again(search)
    return told


def _reflections(places: np.ndarray, point: int, others: np.ndarray) -> Iterator[np.ndarray]:
    """A point mirrored in the plane of its neighbours, and in the upright plane through the two farthest apart."""
    if len(others) < 2:
        return
    around, here = places[others], places[point]
    middle = around.mean(axis=0)
    if len(others) >= 3:
        normal = np.linalg.svd(around - middle)[2][-1]
        yield here - 2 * ((here - middle) @ normal) * normal
    gaps = np.linalg.norm(around[:, None] - around[None], axis=2)
    a, b = np.unravel_index(gaps.argmax(), gaps.shape)
    along = around[b] - around[a]
    normal = np.array([-along[1], along[0], 0.0])
    if np.hypot(*normal[:2]) > 1:
        normal /= np.linalg.norm(normal)
        yield here - 2 * ((here - around[a]) @ normal) * normal


def _may_fit(search: Search, point: int, rows: np.ndarray, turned: np.ndarray) -> bool:
    """A quick look whether a mirrored place comes near the heights and distances read."""
    net = search.net
    heights = rows[net.is_a("height", "height_difference")[rows]]
    if (
        len(heights)
        and abs(turned[2] - search.solution.places[point][2]) > FAR_SIGMA * net.sigma[heights].min()
    ):
        return False
    taped = rows[net.is_a("distance")[rows]]
    far = search.solution.places[net.ends[taped, :2].sum(axis=1) - point]
    off = (np.linalg.norm(far - turned, axis=1) - net.value[taped]) / net.sigma[taped]
    return not len(taped) or float(np.sqrt(np.mean(off**2))) <= FAR_SIGMA


def _fitted_alone(search: Search, point: int, rows: np.ndarray, start: np.ndarray) -> np.ndarray | None:
    """The place near ``start`` where one point fits its readings as well as where it is; None where there is none."""
    net, places = search.net, search.solution.places.copy()
    own = slice(3 * point, 3 * point + 3)

    def off(place: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        places[point] = place
        value, slope = predicted(net, places, search.solution.plane, rows)
        return (value - net.value[rows]) / net.sigma[rows], slope[:, own] / net.sigma[rows, None]

    here = search.solution.places[point]
    place = start.copy()
    for _ in range(20):
        residual, slope = off(place)
        move = np.linalg.lstsq(slope, -residual, rcond=None)[0]
        place = place + move * min(1.0, 100 / max(float(np.linalg.norm(move)), 1e-9))
        if np.linalg.norm(move) < SETTLED_MM:
            break
    residual, _ = off(place)
    worse = float(residual @ residual) - float(off(here)[0] @ off(here)[0])
    return place if worse < 9 and np.linalg.norm(place - here) > 3.0 else None
