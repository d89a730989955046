"""What an adjusted network says: points, readings, gross errors, the overall test, in records and words."""

import numpy as np
from scipy.special import chdtri, ndtri

from ..remarks import Remark
from ..said import Deg, Listed, Mm, Said, joined
from .asked import AdjustRequest
from .body import body_words
from .compare import way_words
from .equations import Solution
from .network import KIND_WORDS, Network, NetworkPoint, NetworkReading
from .outliers import MOST_ASIDE, UNCHECKED, Search, Tests, rest_says, slip_of, tests_of
from .results import (
    AXES,
    Adjusted,
    AxisResult,
    Ellipsoid,
    GrossError,
    LeftOut,
    LevelPlane,
    PointResult,
    ReadingResult,
    SigmaZero,
)
from .verdicts import point_verdict, verdict

#: The chance to notice an error of the stated size; usual in surveying (Baarda 1968).
POWER = 0.80


def answer(request: AdjustRequest, search: Search, left_out: list[LeftOut], mirrors: list) -> Adjusted:
    """What the fit says, in records. Args: left_out: points that nothing fixes; mirrors: see ``mirrored``."""
    net, solution = search.net, search.solution
    tests = tests_of(net, search.keep, solution, request.confidence)
    overall = _sigma_zero(search, tests, request.confidence)
    scale = overall.value**2 if not overall.passed and overall.value > 1 else 1.0
    covariance = solution.covariance * scale + (0 if search.spread is None else search.spread)
    held = search.frame.held.copy()
    held[search.moved] = False
    there = ~np.isin(np.array(net.ids), [each.id for each in left_out])
    errors = _errors(request, search)
    stands = not search.frame.fit.shape[1]
    return Adjusted(
        points=_points(request, search, tests, covariance, held, there),
        readings=_readings(request, search, tests),
        gross_errors=errors,
        sigma_zero=overall,
        frame="trusted points" if stands else "best fit",
        frame_words=_frame_words(net, search, stands),
        body=body_words(
            net.nominal[there],
            solution.places[there],
            covariance[:-3, :-3][np.ix_(np.repeat(there, 3), np.repeat(there, 3))],
            float(ndtri(0.5 + request.confidence / 2)),
            held[there],
        ),
        level=_level(solution, covariance) if net.level_plane else None,
        undetermined=left_out,
        remarks=_remarks(search, mirrors, tests),
    )


def _points(
    request: AdjustRequest,
    search: Search,
    tests: Tests,
    covariance: np.ndarray,
    held: np.ndarray,
    there: np.ndarray,
) -> list[PointResult]:
    """Every point that is there, with its share of the redundancy. Args: covariance: 3 n + 3 square, mm²; held, there: n booleans."""
    net = search.net
    share = np.zeros(len(net.ids))
    for i, ends in enumerate(net.ends[: net.taken]):
        for k in ends[ends >= 0]:
            share[k] += tests.redundancy[i] / int((ends >= 0).sum())
    return [
        _point(
            request.points[i],
            net,
            search.solution,
            covariance[3 * i : 3 * i + 3, 3 * i : 3 * i + 3],
            float(share[i]),
            request.confidence,
            bool(held[i]),
        )
        for i in np.flatnonzero(there).tolist()
    ]


def _readings(request: AdjustRequest, search: Search, tests: Tests) -> list[ReadingResult]:
    """Every reading but those to points that no reading reaches any more."""
    net = search.net
    used = search.keep | np.isin(np.arange(len(net.value)), search.aside)
    unread = np.setdiff1d(np.arange(len(net.ids)), net.ends[used])
    standing = np.flatnonzero(~np.isin(net.ends[: net.taken], unread).any(axis=1))
    notice = tests.critical + float(ndtri(POWER))
    doubtful = {i for group in search.doubtful for i in group}
    return [_reading(request.readings[i], search, tests, i, notice, doubtful) for i in standing.tolist()]


def _errors(request: AdjustRequest, search: Search) -> list[GrossError]:
    among = {group[0]: group for group in search.doubtful}
    return [_gross_error(request, search, i, among.get(i, [])) for i in search.aside]


def _point(
    point: NetworkPoint,
    net: Network,
    solution: Solution,
    covariance: np.ndarray,
    redundancy: float,
    confidence: float,
    held: bool,
) -> PointResult:
    i = net.ids.index(point.id)
    off = solution.places[i] - net.nominal[i]
    length = float(np.linalg.norm(off))
    covariance = (covariance + covariance.T) / 2
    axes, ways = np.linalg.eigh(covariance)
    half = np.sqrt(np.maximum(axes[::-1], 0))
    ways = (
        ways * np.sign(ways[np.abs(ways).argmax(axis=0), range(3)]) + 0.0
    )  # one of two signs, always the same
    sigma = np.sqrt(np.maximum(np.diag(covariance), 0))
    wide = float(ndtri(0.5 + confidence / 2))
    judged = [
        "held" if held else verdict(abs(d), point.tolerance_mm, wide * s)
        for d, s in zip(off, sigma, strict=True)
    ]
    each = [
        AxisResult(axis=name, off_mm=round(float(d), 4), unsure_mm=round(wide * float(s), 4), verdict=said)
        for name, d, s, said in zip(AXES, off, sigma, judged, strict=True)
    ]
    way = off / length if length > 1e-9 else np.array([1.0, 0.0, 0.0])
    along = wide * float(np.sqrt(max(0.0, way @ covariance @ way)))
    return PointResult(
        id=point.id,
        place=[round(float(v), 4) for v in solution.places[i]],
        dx_mm=round(float(off[0]), 4),
        dy_mm=round(float(off[1]), 4),
        dz_mm=round(float(off[2]), 4),
        length_mm=round(length, 4),
        sigma_mm=[round(float(v), 4) for v in sigma],
        axes=each,
        unsure_mm=round(float(half[0]) * float(np.sqrt(chdtri(3, 1 - confidence))), 4),
        ellipsoid=Ellipsoid(
            half_axes_mm=[round(float(v), 4) for v in half],
            directions=[[round(float(v), 5) for v in ways[:, k]] for k in (2, 1, 0)],
        ),
        covariance_mm2=[[round(float(v), 6) for v in row] for row in covariance],
        redundancy=round(redundancy, 4),
        tolerance_mm=point.tolerance_mm,
        verdict="held" if held else point_verdict(judged, length, point.tolerance_mm, along),
        holds_the_frame=held,
    )


def _reading(
    reading: NetworkReading, search: Search, tests: Tests, i: int, notice: float, doubtful: set[int]
) -> ReadingResult:
    net = search.net
    unit = 180 / np.pi if reading.kind == "angle" else 1.0
    value = float(net.value[i] + search.solution.residual[i] * net.sigma[i]) * unit
    aside = i in search.aside
    standardised = tests.standardised[i]
    if aside:
        should_be, sigma = rest_says(search, i)
        standardised = (should_be - net.value[i]) / np.hypot(sigma, net.sigma[i])
    checked = tests.redundancy[i] > UNCHECKED
    return ReadingResult(
        id=reading.id,
        adjusted=round(value, 4),
        residual=round(value - reading.value, 4),
        standardised=None if np.isnan(standardised) else round(float(standardised), 3),
        redundancy=round(float(tests.redundancy[i]), 5),
        noticed_from=round(float(notice * net.sigma[i] / np.sqrt(tests.redundancy[i]) * unit), 3)
        if checked
        else None,
        status="set aside" if aside else "doubtful" if i in doubtful else "kept",
    )


def _gross_error(request: AdjustRequest, search: Search, i: int, group: list[int]) -> GrossError:
    reading, unit = request.readings[i], 180 / np.pi if request.readings[i].kind == "angle" else 1.0
    should_be, sigma = rest_says(search, i)
    kind, why, meant, points = slip_of(search, i, should_be, sigma) or ("unknown", "", None, [])
    among = [request.readings[k].id for k in group if k != i]
    off = float(search.net.value[i] - should_be)
    kind_of = Deg if reading.kind == "angle" else Mm
    said = Said(
        "{kind_words} {points}: {value} is read, the rest says {should_be}.",
        kind_words=KIND_WORDS[reading.kind],
        points=Listed(tuple(reading.points), " to "),
        value=kind_of(reading.value),
        should_be=kind_of(should_be * unit, 1),
    )
    if among:
        said = Said(
            "These cannot all be right: {id}. If it is {reading}, it should be {should_be}; ",
            id=Listed((reading.id, *among)),
            reading=reading.id,
            should_be=kind_of(should_be * unit, 1),
        )
        said += "it is left out of the sums, and what is unsure covers both."
    return GrossError(
        reading=reading.id,
        kind=reading.kind,
        points=list(reading.points),
        value=reading.value,
        should_be=round(should_be * unit, 3),
        should_be_sigma=round(sigma * unit, 3),
        by=round(off * unit, 3),
        standardised=round(float(abs(off) / np.hypot(sigma, search.net.sigma[i])), 2),
        explanation=kind,
        meant=meant,
        meant_points=points,
        words=joined((said, why or "Read it again.")),
        set_aside=True,
        among=among,
    )


def _sigma_zero(search: Search, tests: Tests, confidence: float) -> SigmaZero:
    """The overall test: the weighted squares against chi-squared, both sides."""
    redundancy = round(float(tests.redundancy.sum()))
    if redundancy < 1:
        words = "Nothing checks these readings: each point is fixed just once. Read a few more."
        return SigmaZero(value=0.0, redundancy=0, lowest=0.0, highest=0.0, passed=True, words=words)
    value = float(np.sqrt(search.solution.cost / redundancy))
    low, high = (
        float(np.sqrt(chdtri(redundancy, p) / redundancy))
        for p in (0.5 + confidence / 2, 0.5 - confidence / 2)
    )
    if value > high:
        words = Said(
            "The readings agree {value:.1f} times worse than their stated errors allow; all uncertainties are made as much larger.",
            value=value,
        )
    elif value < low:
        words = "The readings agree better than their stated errors: you measure well, or the errors are stated too large."
    else:
        words = "The readings agree as well as their stated errors let expect."
    passed = bool(value <= high)
    return SigmaZero(
        value=round(value, 4),
        redundancy=redundancy,
        lowest=round(low, 4),
        highest=round(high, 4),
        passed=passed,
        words=words,
    )


def _level(solution: Solution, covariance: np.ndarray) -> LevelPlane:
    sigma = np.sqrt(np.maximum(np.diag(covariance)[-3:], 0))
    height, along, across = solution.plane
    return LevelPlane(
        height_mm=round(float(height), 3),
        roll_mm_per_m=round(float(-across), 3),
        roll_sigma=round(float(sigma[2]), 3),
        pitch_mm_per_m=round(float(-along), 3),
        pitch_sigma=round(float(sigma[1]), 3),
    )


def _frame_words(net: Network, search: Search, held: bool) -> str:
    names = [
        name
        for i, (name, trusted) in enumerate(zip(net.ids, net.trusted, strict=True))
        if trusted and i not in search.moved
    ]
    if held:
        sure = sorted({float(sigma) for sigma in net.sigma[net.places]})
        each = (
            Said("{least}", least=Mm(sure[0]))
            if len(sure) == 1
            else Said("{least} to {most}", least=Mm(sure[0], bare=True), most=Mm(sure[-1]))
        )
        return Said(
            "{names} are trusted, each sure to {each} (one standard error), and hold the frame; all else is measured from them.",
            names=Listed(tuple(names)),
            each=each,
        )
    few = (
        "No point is trusted"
        if not names
        else Said("{names} alone cannot hold the frame", names=Listed(tuple(names)))
    )
    return Said(
        "{few}: the frame is the best fit to all nominal places, so a part that moved as a whole shows too small.",
        few=few,
    )


def _remarks(search: Search, mirrors: list, tests: Tests) -> list[Remark]:
    return [
        *(_mirror(search.net, point, other) for point, other, close in mirrors if close),
        *(_moved(search, i) for i in search.moved),
        *(_suspect(search.net.ids[i]) for i in search.suspects),
        *_of_the_round(search, tests),
    ]


def _mirror(net: Network, point: int, other: np.ndarray) -> Remark:
    place = Listed(tuple(Mm(float(v), 0, bare=i < 2) for i, v in enumerate(other)))
    what = Said(
        "{ids} fits its readings as well on the other side, at {place}; the place nearer to nominal is taken.",
        ids=net.ids[point],
        place=place,
    )
    mend = "A height or one more distance settles it."
    return Remark(code="DATUM-01", where=net.ids[point], what=what, mend=mend)


def _moved(search: Search, i: int) -> Remark:
    net = search.net
    off = search.solution.places[i] - net.nominal[i]
    what = Said(
        "{ids} is trusted, but the readings put it {off} off its place ({way_words}): its trust is left out.",
        ids=net.ids[i],
        off=Mm(float(np.linalg.norm(off)), 1),
        way_words=way_words(off),
    )
    mend = "Perhaps it has moved: look at it, and read it once more."
    return Remark(code="DATUM-02", where=net.ids[i], what=what, mend=mend)


def _suspect(name: str) -> Remark:
    what = Said(
        "A reading to {ids} was left out; but {ids} is only trusted, and may have moved instead.", ids=name
    )
    mend = "Read it once more; if it is right, take the trust away."
    return Remark(code="DATUM-02", where=name, what=what, mend=mend)


def _of_the_round(search: Search, tests: Tests) -> list[Remark]:
    net, found = search.net, []
    if len(search.aside) >= max(1, int(MOST_ASIDE * net.taken)):
        what = Said("A quarter of the readings was set aside and the rest still does not fit.")
        mend = "Check the nominal places and which points are trusted."
        found.append(Remark(code="DATUM-03", where="round", what=what, mend=mend))
    unchecked = int((search.keep & ~net.places & (tests.redundancy <= UNCHECKED)).sum())
    if unchecked:
        what = Said(
            "{unchecked} reading{words} checked by no other: a slip there would not be noticed.",
            unchecked=unchecked,
            words="s are" if unchecked > 1 else " is",
        )
        mend = "Read a diagonal or a second distance to their points."
        found.append(Remark(code="DATUM-04", where="round", what=what, mend=mend))
    return found
