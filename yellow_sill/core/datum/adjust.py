"""Adjusting a datum network: where the points are, how sure that is, which reading is silly, who is out of tolerance."""

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.special import chdtri, ndtri

from ..remarks import Remark
from ..said import Deg, Listed, Mm, Said, first_low, joined
from .body import body_words
from .compare import way_words
from .hunt import UNDETERMINED_MM, find_gross_errors
from .mirrored import mirrored
from .network import (
    KIND_WORDS,
    KINDS,
    LOOSE_MM,
    MOST_POINTS,
    MOST_READINGS,
    Frame,
    Network,
    NetworkPoint,
    NetworkReading,
    NetworkRecord,
    Solution,
    Undetermined,
    frame_of,
    network_of,
    solve,
)
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
from .robust import NOMINAL_SIGMA_MM, level_start

#: The chance to notice an error of the stated size; usual in surveying (Baarda 1968).
POWER = 0.80


class AdjustRequest(NetworkRecord):
    """Points and readings of one measuring round.

    ``heights_from`` "datum": heights are above the datum plane. "level": above a water level or laser of unknown height, the shell
    may stand out of level. ``leave_out_undetermined`` works with what can be worked out instead of refusing.
    """

    points: Annotated[list[NetworkPoint], Field(min_length=1, max_length=MOST_POINTS)]
    readings: Annotated[list[NetworkReading], Field(min_length=1, max_length=MOST_READINGS)]
    confidence: Annotated[float, Field(ge=0.5, le=0.9999)] = 0.95
    heights_from: Literal["datum", "level"] = "datum"
    leave_out_undetermined: bool = False


def adjust(request: AdjustRequest) -> Adjusted:
    """Adjust a network of points by least squares and look for gross errors.

    Args: request: see AdjustRequest.
    Returns: places, readings, gross errors, overall test.
    Raises: BadField naming the reading or point; Undetermined naming the point that the readings do not fix.
    Source: docs/methods.md section 7.
    """
    net = network_of(request.points, request.readings, request.heights_from == "level")
    if not net.is_a("height", "height_difference").any():
        net = replace(net, level_plane=False)
    left_out, keep, frame = _determined(net, request)
    start = (net.nominal.copy(), level_start(net, keep))
    search = Search(
        net=net,
        keep=keep,
        frame=frame,
        confidence=request.confidence,
        solution=solve(net, keep, frame, start, steps=0),
    )
    find_gross_errors(search)
    left_out += _lost(search)
    mirrors = mirrored(search)
    return _answer(request, search, left_out, mirrors)


def _determined(net: Network, request: AdjustRequest) -> tuple[list[LeftOut], np.ndarray, Frame]:
    """Which points the readings fix at all. Raises: Undetermined, unless the request leaves them out."""
    n = len(net.ids)
    keep, out = np.ones(len(net.value), bool), np.zeros(n, bool)
    left: list[LeftOut] = []
    for _ in range(n + 1):
        frame = frame_of(net, keep, ~out)
        keep[net.places] = frame.held[net.ends[net.places, 0]]
        covariance = solve(net, keep, frame, steps=0).covariance
        sigma = np.sqrt(np.diag(covariance)[: 3 * n].reshape(n, 3)).max(axis=1)
        loose = np.flatnonzero((sigma > UNDETERMINED_MM) & ~out)
        if not len(loose):
            break
        found = [LeftOut(id=net.ids[i], why=_why_loose(net, keep, int(i), covariance)) for i in loose]
        if not request.leave_out_undetermined:
            first = int(loose[0])
            others = (
                Said(" Neither are {found} fixed.", found=Listed(tuple(each.id for each in found[1:6])))
                if len(found) > 1
                else ""
            )
            raise Undetermined(
                Said("{point}: {why}.{others}", point=net.ids[first], why=found[0].why, others=others),
                f"points[{first}]",
                "Measure it from one more point.",
            )
        left += found
        out[loose] = True
        keep &= ~np.isin(net.ends, loose).any(axis=1)
    if not keep[: net.taken].any():
        raise Undetermined(
            "No point is fixed by these readings yet.",
            "readings",
            "Read a few more: each point needs about three distances, or two and a height.",
        )
    return left, keep, frame


def _lost(search: Search) -> list[LeftOut]:
    """Points that only a silly reading fixed are no longer told; the rest is worked out with them loosely at their nominal places."""
    net = search.net
    covariance = solve(
        net, search.keep, search.frame, (search.solution.places, search.solution.plane), steps=0
    ).covariance
    sigma = np.sqrt(np.diag(covariance)[:-3].reshape(-1, 3)).max(axis=1)
    touched = np.isin(np.arange(len(net.ids)), net.ends[search.keep])
    loose = np.flatnonzero((sigma > UNDETERMINED_MM) & touched)
    weak = np.full(len(net.ids), LOOSE_MM)
    weak[loose] = NOMINAL_SIGMA_MM
    search.solution = solve(
        net, search.keep, search.frame, (search.solution.places, search.solution.plane), loose_mm=weak
    )
    return [
        LeftOut(
            id=net.ids[i],
            why=Said(
                "without its silly reading {why_loose}",
                why_loose=_why_loose(net, search.keep, int(i), covariance),
            ),
        )
        for i in loose
    ]


def _why_loose(net: Network, keep: np.ndarray, point: int, covariance: np.ndarray) -> str:
    """Why a point is not fixed, in words."""
    reaching = np.flatnonzero(keep & ~net.places & (net.ends == point).any(axis=1))
    kinds = [KINDS[kind] for kind in net.kind[reaching]]
    if not kinds:
        return "no reading reaches it"
    if len(kinds) == 1:
        return Said("only one {kind_words} reaches it", kind_words=first_low(KIND_WORDS[kinds[0]]))
    block = covariance[3 * point : 3 * point + 3, 3 * point : 3 * point + 3]
    weak = int(np.abs(np.linalg.eigh(block)[1][:, -1]).argmax())
    missing = ("nothing fixes it along the shell", "nothing fixes it sideways", "nothing fixes its height")[
        weak
    ]
    if set(kinds) == {"distance"} and len(kinds) == 2:
        return Said("only two distances reach it, and {missing}", missing=missing)
    return Said("{kinds} readings reach it, but {missing}", kinds=len(kinds), missing=missing)


def _answer(request: AdjustRequest, search: Search, left_out: list[LeftOut], mirrors: list) -> Adjusted:
    net, solution = search.net, search.solution
    out = {each.id for each in left_out}
    unread = {
        net.ids[i]
        for i in np.flatnonzero(
            ~np.isin(
                np.arange(len(net.ids)),
                net.ends[search.keep | np.isin(np.arange(len(net.value)), search.aside)],
            )
        )
    }
    tests = tests_of(net, search.keep, solution, request.confidence)
    overall = _sigma_zero(search, tests, request.confidence)
    scale = overall.value**2 if not overall.passed and overall.value > 1 else 1.0
    covariance = solution.covariance * scale + (0 if search.spread is None else search.spread)
    wide = float(ndtri(0.5 + request.confidence / 2))
    share = np.zeros(len(net.ids))
    for i, ends in enumerate(net.ends[: net.taken]):
        for k in ends[ends >= 0]:
            share[k] += tests.redundancy[i] / int((ends >= 0).sum())
    held = search.frame.held.copy()
    held[search.moved] = False
    points = [
        _point(
            request.points[i],
            net,
            solution,
            covariance[3 * i : 3 * i + 3, 3 * i : 3 * i + 3],
            float(share[i]),
            request.confidence,
            bool(held[i]),
        )
        for i in range(len(net.ids))
        if net.ids[i] not in out
    ]
    notice = tests.critical + float(ndtri(POWER))
    doubtful = {i for group in search.doubtful for i in group}
    gone = np.isin(net.ends, [i for i, name in enumerate(net.ids) if name in unread])
    dropped: np.ndarray = np.any(gone, axis=1)
    standing = np.flatnonzero(~dropped[: net.taken]).tolist()
    readings = [_reading(request.readings[i], search, tests, i, notice, doubtful) for i in standing]
    among = {group[0]: group for group in search.doubtful}
    errors = [_gross_error(request, search, i, among.get(i, [])) for i in search.aside]
    stands = not search.frame.fit.shape[1]
    there = np.array([name not in out for name in net.ids])
    return Adjusted(
        points=points,
        readings=readings,
        gross_errors=errors,
        sigma_zero=overall,
        frame="trusted points" if stands else "best fit",
        frame_words=_frame_words(net, search, stands),
        body=body_words(
            net.nominal[there],
            solution.places[there],
            covariance[:-3, :-3][np.ix_(np.repeat(there, 3), np.repeat(there, 3))],
            wide,
            held[there],
        ),
        level=_level(solution, covariance) if net.level_plane else None,
        undetermined=left_out,
        remarks=_remarks(search, errors, mirrors, tests),
    )


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


def verdict(off_mm: float, tolerance_mm: float, unsure_mm: float) -> str:
    """in, out, or 'cannot tell yet' where the uncertainty is wider than the tolerance; far enough out is out all the same."""
    if unsure_mm <= tolerance_mm:
        return "in" if off_mm <= tolerance_mm else "out"
    return "out" if off_mm - unsure_mm > tolerance_mm else "cannot tell yet"


def point_verdict(axes: list[str], length_mm: float, tolerance_mm: float, unsure_mm: float) -> str:
    """The verdict on a point: out along one axis, or in all, is out; in only where every axis can be told and is in.

    Args: axes: the verdicts along x, y and z; length_mm: how far off in all; unsure_mm: of that length, along the deviation itself.
    """
    if "out" in axes or verdict(length_mm, tolerance_mm, unsure_mm) == "out":
        return "out"
    return "cannot tell yet" if "cannot tell yet" in axes else "in"


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


def _remarks(search: Search, errors: list[GrossError], mirrors: list, tests: Tests) -> list[Remark]:
    net, out = search.net, []
    for point, other, close in mirrors:
        if close:
            place = Listed(tuple(Mm(float(v), 0, bare=i < 2) for i, v in enumerate(other)))
            what = Said(
                "{ids} fits its readings as well on the other side, at {place}; the place nearer to nominal is taken.",
                ids=net.ids[point],
                place=place,
            )
            out.append(
                Remark(
                    code="DATUM-01",
                    where=net.ids[point],
                    what=what,
                    mend="A height or one more distance settles it.",
                )
            )
    for i in search.moved:
        off = search.solution.places[i] - net.nominal[i]
        what = Said(
            "{ids} is trusted, but the readings put it {off} off its place ({way_words}): its trust is left out.",
            ids=net.ids[i],
            off=Mm(float(np.linalg.norm(off)), 1),
            way_words=way_words(off),
        )
        out.append(
            Remark(
                code="DATUM-02",
                where=net.ids[i],
                what=what,
                mend="Perhaps it has moved: look at it, and read it once more.",
            )
        )
    for i in search.suspects:
        what = Said(
            "A reading to {ids} was left out; but {ids} is only trusted, and may have moved instead.",
            ids=net.ids[i],
        )
        out.append(
            Remark(
                code="DATUM-02",
                where=net.ids[i],
                what=what,
                mend="Read it once more; if it is right, take the trust away.",
            )
        )
    if len(search.aside) >= max(1, int(MOST_ASIDE * net.taken)):
        what = Said("A quarter of the readings was set aside and the rest still does not fit.")
        out.append(
            Remark(
                code="DATUM-03",
                where="round",
                what=what,
                mend="Check the nominal places and which points are trusted.",
            )
        )
    unchecked = int((search.keep & ~net.places & (tests.redundancy <= UNCHECKED)).sum())
    if unchecked:
        what = Said(
            "{unchecked} reading{words} checked by no other: a slip there would not be noticed.",
            unchecked=unchecked,
            words="s are" if unchecked > 1 else " is",
        )
        out.append(
            Remark(
                code="DATUM-04",
                where="round",
                what=what,
                mend="Read a diagonal or a second distance to their points.",
            )
        )
    return out
