"""Finding gross errors in a round of readings: one at a time, largest first."""

from dataclasses import dataclass, field, replace

import numpy as np
from scipy.special import ndtri

from .network import KINDS, Frame, Network, Solution, predicted, solve, without
from .slips import likely_slip, wrong_pairs

#: A reading with a smaller redundancy number is checked by nothing.
UNCHECKED = 1e-6
#: Two readings whose tests run together like this cannot be told apart.
TOGETHER = 0.99
#: At most this share of the readings may be set aside.
MOST_ASIDE = 0.25


@dataclass(frozen=True, slots=True, kw_only=True)
class Tests:
    """Baarda's tests of every reading: redundancy numbers, standardised residuals (nan where unchecked), and their critical value."""

    redundancy: np.ndarray
    standardised: np.ndarray
    critical: float


@dataclass(slots=True)
class Search:
    """The state of the outlier search."""

    net: Network
    keep: np.ndarray
    frame: Frame
    confidence: float
    solution: Solution
    aside: list[int] = field(default_factory=list)
    doubtful: list[list[int]] = field(default_factory=list)


def tests_of(net: Network, keep: np.ndarray, solution: Solution, confidence: float) -> Tests:
    """Redundancy number and standardised residual of every reading.

    Args: keep: the readings in the solution; confidence: that no good reading of the whole round is blamed.
    Source: Baarda 1968, data snooping; the level is divided by the number of readings (Bonferroni).
    """
    share = ((solution.slope @ solution.covariance) * solution.slope).sum(axis=1)
    redundancy = np.clip(np.where(keep, 1 - share, 0.0), 0.0, 1.0)
    checked = keep & (redundancy > UNCHECKED)
    standardised = np.full(len(share), np.nan)
    standardised[checked] = solution.residual[checked] / np.sqrt(redundancy[checked])
    critical = float(ndtri(1 - (1 - confidence) / (2 * max(1, int(checked.sum())))))
    return Tests(redundancy=redundancy, standardised=standardised, critical=critical)


def find_gross_errors(search: Search) -> None:
    """Find gross errors one at a time, largest first; at the end take back what turns out good after all."""
    net = search.net
    most = max(1, int(MOST_ASIDE * search.keep.sum()))
    before = -1
    while before != len(search.aside) + len(search.doubtful):
        before = len(search.aside) + len(search.doubtful)
        while len(search.aside) < most and (worst := _worst(search)) is not None:
            search.keep[worst] = False
            search.aside.append(worst)
            search.solution = without(search.solution, search.keep, worst)
        if len(search.aside) + len(search.doubtful) > before:
            search.solution = again(search)
    for i in list(search.aside):
        should_be, sigma = rest_says(search, i)
        critical = tests_of(net, search.keep, search.solution, search.confidence).critical
        if abs(net.value[i] - should_be) < 0.8 * critical * np.hypot(sigma, net.sigma[i]):
            search.aside.remove(i)
            search.keep[i] = True
            search.solution = again(search)


def _worst(search: Search) -> int | None:
    """The next reading to set aside; those that cannot be told apart are noted as doubtful instead. None where all is well."""
    tests = tests_of(search.net, search.keep, search.solution, search.confidence)
    size = np.abs(np.nan_to_num(tests.standardised))
    while True:
        size[[i for group in search.doubtful for i in group]] = 0
        worst = int(size.argmax())
        if size[worst] <= tests.critical:
            return None
        twins = _twins(search.solution, search.keep, tests, worst)
        if len(twins) == 1:
            return worst
        blamed = [i for i in twins if (slip_of(search, i, *rest_says(search, i)) or [""])[0] == "transposed"]
        if len(blamed) == 1:
            return blamed[0]
        search.doubtful.append(twins)


def again(search: Search) -> Solution:
    return solve(search.net, search.keep, search.frame, (search.solution.places, search.solution.plane))


def _twins(solution: Solution, keep: np.ndarray, tests: Tests, worst: int) -> list[int]:
    """The readings whose tests cannot be told from the worst one's."""
    mixed = -(solution.slope @ solution.covariance @ solution.slope[worst])
    mixed[worst] += 1
    scale = np.sqrt(np.maximum(tests.redundancy * tests.redundancy[worst], 1e-30))
    checked = keep & (tests.redundancy > UNCHECKED)
    return [int(i) for i in np.flatnonzero(checked & (np.abs(mixed) / scale > TOGETHER))]


def rest_says(search: Search, i: int) -> tuple[float, float]:
    """What a reading should be by all the others, and how sure that is (its own unit)."""
    keep = search.keep
    if not keep[i]:
        value, slope = predicted(search.net, search.solution.places, search.solution.plane, np.array([i]))
        return float(value[0]), float(np.sqrt(max(0.0, slope[0] @ search.solution.covariance @ slope[0])))
    share = float(search.solution.slope[i] @ search.solution.covariance @ search.solution.slope[i])
    left = max(1 - share, 1e-9)
    sigma = search.net.sigma[i]
    return float(search.net.value[i] + search.solution.residual[i] / left * sigma), float(sigma * np.sqrt(share / left))


def slip_of(search: Search, i: int, should_be: float, sigma: float) -> tuple[str, str, float | None, list[str]] | None:
    """What explains a silly reading: kind, words, the value and the points meant. None where nothing does."""
    net = search.net
    kind = KINDS[net.kind[i]]
    if kind == "angle":
        return None
    off = float(np.hypot(sigma, net.sigma[i]))
    slip = likely_slip(float(net.value[i]), should_be, off)
    if slip and slip.kind == "transposed":
        return slip.kind, slip.words, slip.value, []
    ends = tuple(int(k) for k in net.ends[i] if k >= 0)
    if kind in ("distance", "plumb", "height"):
        for pair in wrong_pairs(ends, net.nominal):
            tried = replace(net, kind=net.kind[[i]], ends=np.array([[*pair, -1, -1][:3]]), value=net.value[[i]], sigma=net.sigma[[i]])
            value, slope = predicted(tried, search.solution.places, search.solution.plane)
            about = np.hypot(np.sqrt(max(0.0, slope[0] @ search.solution.covariance @ slope[0])), net.sigma[i])
            if abs(value[0] - net.value[i]) <= 2 * about and not search.frame.held[list(pair)].all():
                names = [net.ids[k] for k in pair]
                return "wrong_pair", f"It fits {' to '.join(names)}: was the wrong point measured?", None, names
    return (slip.kind, slip.words, slip.value, []) if slip else None
