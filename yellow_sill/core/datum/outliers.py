"""Finding gross errors in a round of readings: the smallest set whose removal lets all others pass."""

from dataclasses import dataclass, field, replace

import numpy as np
from scipy.special import ndtri

from ..said import Listed, Said
from .equations import Frame, Solution, predicted, solve
from .network import ALL_KINDS, Network
from .slips import likely_slip, wrong_pairs

#: A reading with a smaller redundancy number is checked by nothing.
UNCHECKED = 1e-6
#: Blame is ten times rarer than the confidence asked for: at 95 %, one good round in 200 has a reading left out.
BLAME_SHARE = 0.1
#: At most this share of the readings may be set aside.
MOST_ASIDE = 0.25


@dataclass(frozen=True, slots=True, kw_only=True)
class Tests:
    """Baarda's tests of every reading: redundancy numbers, standardised residuals (nan where unchecked), and their critical value."""

    redundancy: np.ndarray
    standardised: np.ndarray
    critical: float


@dataclass(slots=True, kw_only=True)
class Search:
    """The state of the search for gross errors.

    Attributes:
        keep: which rows count; solution: the fit to them.
        aside: readings left out.
        doubtful: groups of readings of which one is silly and nobody can say which; the first of each, the likeliest, is left out.
        moved: trusted points whose place does not fit the readings; their trust is left out.
        suspects: trusted points that may have moved just as well as a reading left out is silly.
        spread: what the doubtful groups add to the covariance, mm².
    """

    net: Network
    keep: np.ndarray
    frame: Frame
    confidence: float
    solution: Solution
    aside: list[int] = field(default_factory=list)
    doubtful: list[list[int]] = field(default_factory=list)
    moved: list[int] = field(default_factory=list)
    suspects: list[int] = field(default_factory=list)
    spread: np.ndarray | None = None


def tests_of(net: Network, keep: np.ndarray, solution: Solution, confidence: float) -> Tests:
    """Redundancy number and standardised residual of every reading.

    Args: keep: the readings in the solution; confidence: of the verdicts; no good reading is blamed with ten times rarer error (BLAME_SHARE).
    Source: Baarda 1968, data snooping; the level is divided by the number of readings (Bonferroni).
    """
    share = ((solution.slope @ solution.covariance) * solution.slope).sum(axis=1)
    redundancy = np.clip(np.where(keep, 1 - share, 0.0), 0.0, 1.0)
    checked = keep & (redundancy > UNCHECKED)
    standardised = np.full(len(share), np.nan)
    standardised[checked] = solution.residual[checked] / np.sqrt(redundancy[checked])
    critical = float(ndtri(1 - BLAME_SHARE * (1 - confidence) / (2 * max(1, int(checked.sum())))))
    return Tests(redundancy=redundancy, standardised=standardised, critical=critical)


def again(search: Search) -> Solution:
    return solve(search.net, search.keep, search.frame, (search.solution.places, search.solution.plane))


def rest_says(search: Search, i: int) -> tuple[float, float]:
    """What a reading should be by all the others, and how sure that is (its own unit)."""
    keep = search.keep
    if not keep[i]:
        value, slope = predicted(search.net, search.solution.places, search.solution.plane, np.array([i]))
        return float(value[0]), float(np.sqrt(max(0.0, slope[0] @ search.solution.covariance @ slope[0])))
    share = float(search.solution.slope[i] @ search.solution.covariance @ search.solution.slope[i])
    left = max(1 - share, 1e-9)
    sigma = search.net.sigma[i]
    return float(search.net.value[i] + search.solution.residual[i] / left * sigma), float(
        sigma * np.sqrt(share / left)
    )


def slip_of(
    search: Search, i: int, should_be: float, sigma: float
) -> tuple[str, str, float | None, list[str]] | None:
    """What explains a silly reading: kind, words, the value and the points meant. None where nothing does."""
    net = search.net
    kind = ALL_KINDS[net.kind[i]]
    if kind == "angle":
        return None
    off = float(np.hypot(sigma, net.sigma[i]))
    slip = likely_slip(float(net.value[i]), should_be, off)
    if slip and slip.kind == "transposed":
        return slip.kind, slip.words, slip.value, []
    ends = tuple(int(k) for k in net.ends[i] if k >= 0)
    if kind in ("distance", "plumb", "height"):
        for pair in wrong_pairs(ends, net.nominal):
            tried = replace(
                net,
                kind=net.kind[[i]],
                ends=np.array([[*pair, -1, -1][:3]]),
                value=net.value[[i]],
                sigma=net.sigma[[i]],
            )
            value, slope = predicted(tried, search.solution.places, search.solution.plane)
            about = np.hypot(
                np.sqrt(max(0.0, slope[0] @ search.solution.covariance @ slope[0])), net.sigma[i]
            )
            if abs(value[0] - net.value[i]) <= 2 * about and not search.frame.held[list(pair)].all():
                names = [net.ids[k] for k in pair]
                return (
                    "wrong_pair",
                    Said(
                        "It fits {names}: was the wrong point measured?", names=Listed(tuple(names), " to ")
                    ),
                    None,
                    names,
                )
    return (slip.kind, slip.words, slip.value, []) if slip else None
