"""Adjusting a datum network: where the points are, how sure that is, which reading is silly, who is out of tolerance."""

from dataclasses import replace

import numpy as np

from ..said import Listed, Said, first_low
from .answer import answer
from .asked import AdjustRequest
from .equations import LOOSE_MM, Frame, frame_of, solve
from .hunt import UNDETERMINED_MM, find_gross_errors
from .mirrored import mirrored
from .network import KIND_WORDS, KINDS, Network, Undetermined, network_of
from .outliers import Search
from .results import Adjusted, LeftOut
from .robust import NOMINAL_SIGMA_MM, level_start


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
    return answer(request, search, left_out, mirrors)


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
