"""How far the rust will really go: from findings that were opened, what the others are likely to become."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import OneOf, Record
from ..said import Said

#: Outlines of one finding in the order in which they are seen; the last two count as its true size.
STAGES = ("seen", "stripped", "opened", "cut")
STAGE_WORDS = {
    "seen": "As first seen",
    "stripped": "After stripping",
    "opened": "After opening",
    "cut": "As cut",
}
FINAL_STAGES = ("opened", "cut")

#: The prior: what opened findings of such shells became of what was first seen. Rule of thumb, docs/methods.md section 2.
PRIOR_RATIO = 1.8
PRIOR_SPREAD = 0.40  #: standard deviation of the logarithm of the ratio
PRIOR_CASES = 4.0  #: the prior counts as much as this many findings of the shell's own
DRAWS = 1000  #: of the simulation; fixed seed, so that the same survey gives the same forecast
SEED = 20260214

HOURS_PER_PATCH = 2.5  #: strip, open, fit up and protect one patch of any size; rule of thumb
HOURS_PER_M = 4.0  #: make, weld and dress one metre of seam; rule of thumb
MOST_FINDINGS = 5000

#: A smaller area or outline is a slip of the hand, mm² or mm.
Size = Annotated[float, Field(ge=0.01, le=1e8)]


class StagedExtent(Record):
    """One outline of a finding: the stage at which it was drawn, its area and perimeter."""

    stage: Annotated[str, OneOf(STAGES)]
    area_mm2: Size
    perimeter_mm: Size


class GrowingFinding(Record):
    """One finding with its outlines, oldest first."""

    id: Annotated[int | str, Field(union_mode="left_to_right")]
    extents: Annotated[list[StagedExtent], Field(min_length=1, max_length=50)]


class GrowthRequest(Record):
    """Input of ``growth``."""

    findings: Annotated[list[GrowingFinding], Field(max_length=MOST_FINDINGS)]
    margin_mm: Annotated[float, Field(ge=0, le=500)] = 12.0
    hours_per_patch: Annotated[float, Field(ge=0, le=200)] = HOURS_PER_PATCH
    hours_per_m: Annotated[float, Field(ge=0, le=500)] = HOURS_PER_M


@dataclass(frozen=True, slots=True, kw_only=True)
class Likely:
    """A quantity as it is now, as likely as not (P50), and exceeded once in five (P80)."""

    now: float
    p50: float
    p80: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FindingForecast:
    id: int | str
    known: bool
    area_mm2: Likely


@dataclass(frozen=True, slots=True, kw_only=True)
class GrowthForecast:
    """``cases`` findings were opened; ``ratio`` is what one still closed is multiplied by."""

    cases: int
    ratio: Likely
    area_mm2: Likely
    weld_mm: Likely
    hours: Likely
    findings: list[FindingForecast]


def growth_forecast(request: GrowthRequest) -> GrowthForecast:
    """Forecast the final area, weld length and hours of a shell.

    The logarithms of the ratios (last opened or cut outline to the first one) are taken as normal with unknown mean and
    spread; a normal-inverse-gamma prior shrinks them, so that three cases do not shout. Totals come from a simulation that
    draws mean and spread once for the shell and a ratio for each closed finding, so that their common error stays in.

    Args: request: the findings with their outlines by stage, margin and rates.
    Returns: the forecast; a finding already opened counts as it is.
    Raises: BadField for outlines out of order.
    Source: conjugate normal model, docs/methods.md section 2; weld = perimeter * sqrt(ratio) + 2 pi margin.
    """
    _require_order(request)
    first = np.array([finding.extents[0].area_mm2 for finding in request.findings])
    now = np.array([finding.extents[-1].area_mm2 for finding in request.findings])
    perimeter = np.array([finding.extents[-1].perimeter_mm for finding in request.findings])
    known = np.array([finding.extents[-1].stage in FINAL_STAGES for finding in request.findings], bool)
    measured = known & np.array(
        [
            len(finding.extents) > 1 and finding.extents[0].stage not in FINAL_STAGES
            for finding in request.findings
        ],
        bool,
    )
    logs = np.log(now[measured] / first[measured]) if measured.any() else np.zeros(0)
    mean, spread = _posterior_draws(logs)
    chance = np.random.default_rng(SEED + 1).standard_normal(
        (DRAWS, len(first)), dtype=np.float32
    )  # plenty for percentiles, and quick
    ratio = np.exp(mean[:, None].astype(np.float32) + spread[:, None].astype(np.float32) * chance)
    area = np.where(known, now, np.maximum(first * ratio, now))
    weld = (
        perimeter * np.sqrt(area / now) + 2 * np.pi * request.margin_mm
        if len(first)
        else np.zeros((DRAWS, 0))
    )
    weld_now = float((perimeter + 2 * np.pi * request.margin_mm).sum()) if len(first) else 0.0
    hours = request.hours_per_patch * len(first) + request.hours_per_m * weld.sum(1) / 1000
    single = np.exp(
        mean + spread * np.random.default_rng(SEED + 2).standard_normal(DRAWS)
    )  # one more finding of this shell
    fifty, eighty = (
        np.where(known, now, np.maximum(first * factor, now)) for factor in np.percentile(single, [50, 80])
    )
    return GrowthForecast(
        cases=int(measured.sum()),
        ratio=_likely(1.0, single, 2),
        area_mm2=_likely(float(now.sum()), area.sum(1), 0),
        weld_mm=_likely(weld_now, weld.sum(1), 0),
        hours=_likely(request.hours_per_patch * len(first) + request.hours_per_m * weld_now / 1000, hours, 1),
        findings=[
            FindingForecast(
                id=finding.id,
                known=bool(known[i]),
                area_mm2=Likely(now=float(now[i]), p50=round(float(fifty[i])), p80=round(float(eighty[i]))),
            )
            for i, finding in enumerate(request.findings)
        ],
    )


def _require_order(request: GrowthRequest) -> None:
    """Raises: BadField for outlines that are not as seen, stripped, opened, cut."""
    for i, finding in enumerate(request.findings):
        places = [STAGES.index(extent.stage) for extent in finding.extents]
        if places != sorted(places):
            raise BadField(
                Said("The outlines of finding {id} are not in order.", id=finding.id),
                f"findings[{i}].extents",
                "Give them as seen, stripped, opened, cut.",
            )


def _posterior_draws(logs: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Mean and spread of the log ratio, DRAWS of each. Source: Gelman et al., Bayesian Data Analysis, 3rd ed., section 3.3."""
    n, prior = len(logs), float(np.log(PRIOR_RATIO))
    average = float(logs.mean()) if n else 0.0
    weight, freedom = PRIOR_CASES + n, PRIOR_CASES + n
    centre = (PRIOR_CASES * prior + n * average) / weight
    scatter = float(((logs - average) ** 2).sum()) if n else 0.0
    total = PRIOR_CASES * PRIOR_SPREAD**2 + scatter + PRIOR_CASES * n / weight * (average - prior) ** 2
    rng = np.random.default_rng(SEED)
    variance = total / rng.chisquare(freedom, DRAWS)
    return centre + np.sqrt(variance / weight) * rng.standard_normal(DRAWS), np.sqrt(variance)


def _likely(now: float, draws: np.ndarray, digits: int) -> Likely:
    fifty, eighty = np.percentile(draws, [50, 80])
    return Likely(now=round(now, digits), p50=round(float(fifty), digits), p80=round(float(eighty), digits))
