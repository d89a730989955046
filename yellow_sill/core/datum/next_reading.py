"""Which readings to take next: the ones that shrink the worst uncertainty most."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.special import chdtri

from ..records import OneOf, Record
from ..said import Listed, Mm, Said
from .equations import frame_of, predicted
from .network import (
    KIND_WORDS,
    KINDS,
    MOST_POINTS,
    MOST_READINGS,
    Network,
    NetworkPoint,
    NetworkReading,
    NetworkRecord,
    network_of,
)
from .sight import TAPE_MM, Bar, Plate, Sheet, reach

#: Standard errors of the usual tools, mm; source: docs/methods.md section 7.
TAPE_SIGMA_MM, HEIGHT_SIGMA_MM = 1.0, 0.7
#: So many readings are proposed.
WANTED = 5
MOST_CANDIDATES = 20_000
#: Before anything is read a point is taken to lie within this of its nominal place, mm: what 'not known yet' counts for here.
UNREAD_MM = 50.0
#: From a standard error to the region that holds a place in 95 of 100 cases: the root of chi-squared with 3 degrees of freedom.
REGION = float(np.sqrt(chdtri(3, 0.05)))
#: Above this share of it a point counts as not fixed.
LOOSE_SHARE = 0.9
#: A point surer than this is not worth saying that nothing reaches it, mm (one standard error).
WELL_KNOWN_MM = 1.5
#: A reading that takes less than this share off a point's variance does not help it.
LEAST_HELP = 0.02
#: The worst counts for most, but equal ones are not stuck: a mean of this power over the points.
POWER = 8


class Candidate(Record):
    kind: Annotated[str, OneOf(KINDS)]
    points: Annotated[list[str], Field(min_length=1, max_length=3)]
    sigma_mm: Annotated[float, Field(gt=0, le=100)]


class NextReadingRequest(NetworkRecord):
    """Points, what was read already, and what could be read.

    Without ``candidates`` these are all pairs in reach of the tape that no sheet, plate or bar hides, and all heights, as far as they are not read.
    """

    points: Annotated[list[NetworkPoint], Field(min_length=2, max_length=MOST_POINTS)]
    readings: Annotated[list[NetworkReading], Field(max_length=MOST_READINGS)] = []
    candidates: Annotated[list[Candidate], Field(max_length=MOST_CANDIDATES)] | None = None
    sheets: Annotated[list[Sheet], Field(max_length=60)] = []
    plates: Annotated[list[Plate], Field(max_length=400)] = []
    bars: Annotated[list[Bar], Field(max_length=400)] = []
    tape_mm: Annotated[float, Field(gt=0, le=20_000)] = TAPE_MM
    tape_sigma_mm: Annotated[float, Field(gt=0, le=100)] = TAPE_SIGMA_MM
    height_sigma_mm: Annotated[float, Field(gt=0, le=100)] = HEIGHT_SIGMA_MM
    heights_from: Literal["datum", "level"] = "datum"
    wanted: Annotated[int, Field(ge=1, le=20)] = WANTED


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """One reading to take: the worst uncertainty (longest half axis, one standard error, mm) after it, those proposed before it taken too.

    ``helps`` is the point it is proposed for: the worst one that anything left to read still reaches.
    """

    kind: str
    points: list[str]
    expected: float
    worst_after_mm: float
    worst_point: str
    helps: str
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Unreached:
    """A point that is unsure and that nothing left to read reaches, and why."""

    point: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NextReadings:
    worst_before_mm: float
    worst_point: str
    candidates: int
    readings: list[Proposal]
    unreached: list[Unreached]


def next_reading(request: NextReadingRequest) -> NextReadings:
    """Propose the readings that shrink the worst uncertainty most, each counted after those before it; the worst point comes first.

    Args: request: see NextReadingRequest.
    Returns: proposals, best first; the worst uncertainty before and after each.
    Raises: BadField naming the reading or candidate; BadOutline for a sheet.
    Source: the covariance after one more observation, rank-one update; docs/methods.md section 7.
    """
    candidates, hidden = (request.candidates, {}) if request.candidates is not None else possible(request)
    net = network_of(request.points, request.readings, request.heights_from == "level")
    asked = _as_readings(request, candidates)
    covariance = _prior(net)
    expected, slope = predicted(asked, net.nominal, np.zeros(3), np.arange(len(candidates)))
    slope = slope / asked.sigma[: len(candidates), None]
    sizes = _sizes(covariance, len(net.ids))
    told = NextReadings(
        worst_before_mm=round(float(sizes.max()), 3),
        worst_point=net.ids[int(sizes.argmax())],
        candidates=len(candidates),
        readings=[],
        unreached=[],
    )
    open_ones = np.ones(len(candidates), bool)
    given_up: set[int] = set()
    while len(told.readings) < request.wanted and len(given_up) < len(net.ids):
        sizes = _sizes(covariance, len(net.ids))
        point = max((i for i in range(len(net.ids)) if i not in given_up), key=lambda i: sizes[i])
        touching = open_ones & (asked.ends[: len(candidates)] == point).any(axis=1)
        best = _best(covariance, slope, touching, len(net.ids), point)
        if best is None:
            given_up.add(point)
            if sizes[point] > WELL_KNOWN_MM:
                told.unreached.append(
                    Unreached(
                        point=net.ids[point],
                        why=_why_unreached(net.ids[point], sizes[point], hidden.get(net.ids[point], [])),
                    )
                )
            continue
        open_ones[best] = False
        row = covariance @ slope[best]
        covariance = covariance - np.outer(row, row) / (1 + slope[best] @ row)
        sizes = _sizes(covariance, len(net.ids))
        worst = int(sizes.argmax())
        told.readings.append(
            _proposal(
                candidates[best],
                float(expected[best]),
                (net.ids[point], float(sizes[point])),
                (net.ids[worst], float(sizes[worst])),
            )
        )
    return told


def _as_readings(request: NextReadingRequest, candidates: Sequence[Candidate]) -> Network:
    """The candidates as a network of readings to be taken."""
    readings = [
        NetworkReading(
            id=str(i),
            kind=each.kind,
            points=each.points,
            value=90 if each.kind == "angle" else 1,
            sigma_mm=each.sigma_mm,
        )
        for i, each in enumerate(candidates)
    ]
    return network_of(request.points, readings, request.heights_from == "level")


def _proposal(
    chosen: Candidate, expected: float, helped: tuple[str, float], worst: tuple[str, float]
) -> Proposal:
    """Args: expected: what it will read, mm or rad; helped, worst: the point it is proposed for and the worst one, with their uncertainty after it, mm."""
    point, size = helped
    value = float(np.degrees(expected)) if chosen.kind == "angle" else expected
    then = (
        Said("{ids} still needs more", ids=point)
        if size >= LOOSE_SHARE * UNREAD_MM
        else Said("then {ids} is 95 % sure within {region}", ids=point, region=Mm(REGION * size, 1))
    )
    return Proposal(
        kind=chosen.kind,
        points=list(chosen.points),
        expected=round(value, 1),
        worst_after_mm=round(worst[1], 3),
        worst_point=worst[0],
        helps=point,
        words=Said(
            "{kind} {points}, about {value}: {then}.",
            kind=Said(KIND_WORDS[chosen.kind]),
            points=Listed(tuple(chosen.points), " to "),
            value=f"{value:.0f}" if chosen.kind == "angle" else Mm(value, 0, bare=True),
            then=then,
        ),
    )


def _why_unreached(name: str, size: float, hidden: list[str]) -> str:
    sure = (
        Said("{name} is only sure within {region} (95 %)", name=name, region=Mm(REGION * size, 1))
        if size < LOOSE_SHARE * UNREAD_MM
        else Said("{name} is not fixed", name=name)
    )
    if not hidden:
        return Said("{sure}, and nothing that is left to read makes it surer.", sure=sure)
    walls = list(dict.fromkeys(hidden))
    hides = Said(
        "{walls} {hides} it from {hidden} other points",
        walls=Listed(tuple(walls[:3])),
        hides="hides" if len(walls) == 1 else "hide",
        hidden=len(hidden),
    )
    return Said(
        "{sure}; {hides}. An offset, a plumb line or a mark between would reach it.", sure=sure, hides=hides
    )


def possible(request: NextReadingRequest) -> tuple[list[Candidate], dict[str, list[str]]]:
    """All pairs in reach that nothing hides and all heights, without what was read already; and by point what hides it from others."""
    names = [point.id for point in request.points]
    taken = {(reading.kind, frozenset(reading.points)) for reading in request.readings}
    nominal = np.array([point.nominal for point in request.points], float)
    trusted = [point.trusted for point in request.points]
    found = [Candidate(kind="height", points=[name], sigma_mm=request.height_sigma_mm) for name in names]
    seen = reach(nominal, request.sheets, request.tape_mm, plates=request.plates, bars=request.bars)
    for i, k in seen.pairs:
        if not (trusted[i] and trusted[k]):
            found.append(
                Candidate.model_construct(
                    kind="distance", points=[names[i], names[k]], sigma_mm=request.tape_sigma_mm
                )
            )
    hidden: dict[str, list[str]] = {}
    for pair, wall in seen.hidden.items():
        for i in pair:
            hidden.setdefault(names[i], []).append(wall)
    return [each for each in found if (each.kind, frozenset(each.points)) not in taken], hidden


def _prior(net: Network) -> np.ndarray:
    """Covariance before the new readings; what nothing fixes yet counts as within UNREAD_MM of nominal."""
    keep = np.ones(len(net.value), bool)
    frame = frame_of(net, keep)
    keep[net.places] = frame.held[net.ends[net.places, 0]]
    free = np.append(np.ones(3 * len(net.ids), bool), np.full(3, net.level_plane))
    slope = (predicted(net, net.nominal, np.zeros(3))[1] / net.sigma[:, None])[keep][:, free]
    fit = np.vstack([frame.fit, np.zeros((3, frame.fit.shape[1]))])[free] * 1000
    normal = slope.T @ slope + fit @ fit.T + np.eye(int(free.sum())) / UNREAD_MM**2
    covariance = np.zeros((len(free), len(free)))
    covariance[np.ix_(free, free)] = np.linalg.inv(normal)
    return covariance


def _blocks(covariance: np.ndarray, n: int) -> np.ndarray:
    own = covariance[: 3 * n, : 3 * n].reshape(n, 3, n, 3)
    return own[np.arange(n), :, np.arange(n), :]


def _longest(blocks: np.ndarray) -> np.ndarray:
    """The largest eigenvalue of many symmetric 3 x 3 blocks, in closed form (Smith 1961)."""
    mean = np.trace(blocks, axis1=-2, axis2=-1) / 3
    a, d, f = blocks[..., 0, 0] - mean, blocks[..., 1, 1] - mean, blocks[..., 2, 2] - mean
    b, c, e = blocks[..., 0, 1], blocks[..., 0, 2], blocks[..., 1, 2]
    spread = np.sqrt(np.maximum((a * a + d * d + f * f + 2 * (b * b + c * c + e * e)) / 6, 1e-30))
    determinant = a * (d * f - e * e) - b * (b * f - e * c) + c * (b * e - d * c)
    angle = np.arccos(np.clip(determinant / (2 * spread**3), -1, 1)) / 3
    return np.maximum(mean + 2 * spread * np.cos(angle), 0)


def _sizes(covariance: np.ndarray, n: int) -> np.ndarray:
    """The longest half axis of every point, one standard error, mm."""
    return np.sqrt(_longest(_blocks(covariance, n)))


def _best(covariance: np.ndarray, slope: np.ndarray, open_ones: np.ndarray, n: int, point: int) -> int | None:
    """The candidate after which the points' uncertainties are least, the worst counting most. None where none helps the point."""
    rows = np.flatnonzero(open_ones)
    if not len(rows):
        return None
    reached = slope[rows] @ covariance
    gain = 1 + (reached * slope[rows]).sum(axis=1)
    own = (reached[:, : 3 * n] / np.sqrt(gain)[:, None]).reshape(len(rows), n, 3)
    before = _blocks(covariance, n)
    after = _longest(before[None] - own[..., :, None] * own[..., None, :])
    blame = (after ** (POWER / 2)).sum(axis=1)
    blame[
        np.trace(before[point]) - (own[:, point] ** 2).sum(axis=1)
        > (1 - LEAST_HELP) * np.trace(before[point])
    ] = np.inf
    best = int(blame.argmin())
    return int(rows[best]) if np.isfinite(blame[best]) else None
