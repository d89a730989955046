"""Transfer marks: a stud, slot or rib on metal that goes, fixed to marks on metal that stays, and marked out again on the new piece."""

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Point, Record
from ..remarks import Remark
from ..said import Mm, Said

#: Standard error of a tape or rule distance over so short a way, mm.
TAPE_SIGMA_MM = 0.5
#: Two arms that meet flatter than this, degrees, fix a point badly.
LEAST_CROSSING_DEG = 30.0
#: An expected error above this is told, mm.
WIDE_ERROR_MM = 2.0


class Mark(Record):
    id: Annotated[str, Field(min_length=1, max_length=40, coerce_numbers_to_str=True)]
    xy: Point


class TransferRequest(Record):
    """Two marks and either two distances from them, or an offset along (from the first towards the second) and across (left above 0).

    ``apart_mm`` is the taped distance between the marks, where their places are only about right: the second is moved to fit.
    ``side`` says on which side of the way from the first mark to the second the point lies; or ``near`` gives a place close to it.
    """

    marks: Annotated[list[Mark], Field(min_length=2, max_length=2)]
    distances_mm: (
        Annotated[list[Annotated[float, Field(gt=0, le=20_000)]], Field(min_length=2, max_length=2)] | None
    ) = None
    along_mm: Annotated[float, Field(ge=-20_000, le=20_000)] | None = None
    across_mm: Annotated[float, Field(ge=-20_000, le=20_000)] | None = None
    side: Literal["left", "right"] | None = None
    near: Point | None = None
    apart_mm: Annotated[float, Field(gt=0, le=20_000)] | None = None
    tape_sigma_mm: Annotated[float, Field(gt=0, le=20)] = TAPE_SIGMA_MM


@dataclass(frozen=True, slots=True, kw_only=True)
class Transferred:
    """The point, its other solution (None where there is none), the expected error (longest half axis, mm) and the ways to mark it."""

    at: list[float]
    other: list[float] | None
    side: str
    error_mm: float
    crossing_deg: float
    distances_mm: list[float]
    along_mm: float
    across_mm: float
    remarks: list[Remark]


def transfer(request: TransferRequest) -> Transferred:
    """Find a mark again.

    Args: request: see TransferRequest.
    Returns: the place on the chosen side, the other one, how sure it is.
    Raises: BadField: both ways or none, marks on one spot, distances that do not meet, no side said.
    Source: intersection of two circles; error from the inverse of the two directions; docs/methods.md section 7.
    """
    first, second = (np.array(mark.xy, float) for mark in request.marks)
    a, b = (mark.id for mark in request.marks)
    apart = float(np.linalg.norm(second - first))
    if a == b or apart < 1:
        raise BadField(Said("{a} and {b} are one spot.", a=a, b=b), "marks", "Choose two marks well apart.")
    tape = request.distances_mm
    offset = request.along_mm is not None and request.across_mm is not None
    if offset == (request.distances_mm is not None) or (request.along_mm is None) != (
        request.across_mm is None
    ):
        raise BadField(
            "Give two distances, or an offset along and across.", "distances_mm", "One way, whole."
        )
    unit = (second - first) / apart
    if request.apart_mm is not None:
        apart = request.apart_mm
        second = first + apart * unit
    left = np.array([-unit[1], unit[0]])
    if offset:
        along, across = request.along_mm or 0.0, request.across_mm or 0.0
        at, other, error = first + along * unit + across * left, None, request.tape_sigma_mm
        distances = [float(np.linalg.norm(at - mark)) for mark in (first, second)]
    else:
        distances = list(tape or [])
        along, reach = _meet(distances, apart, a, b)
        places = {"left": first + along * unit + reach * left, "right": first + along * unit - reach * left}
        side = _side(request, places, reach)
        at, other = places[side], places["right" if side == "left" else "left"]
        across = reach if side == "left" else -reach
        error = _error(at, first, second, request.tape_sigma_mm)
        other = None if reach < 1e-6 else [round(float(v), 3) for v in other]
    crossing = _crossing(at, first, second)
    return Transferred(
        at=[round(float(v), 3) for v in at],
        other=other,
        side="on the line" if abs(across) < 1e-6 else "left" if across > 0 else "right",
        error_mm=round(min(error, 1e4), 3),
        crossing_deg=round(crossing, 2),
        distances_mm=[round(float(v), 2) for v in distances],
        along_mm=round(along, 2),
        across_mm=round(across, 2),
        remarks=[] if offset else _remarks(a, b, crossing, error),
    )


def _meet(distances: list[float], apart: float, a: str, b: str) -> tuple[float, float]:
    """Along the line from the first mark, and across, where two arcs meet. Raises: BadField where they do not."""
    r, s = distances
    if r + s < apart:
        raise BadField(
            Said(
                "{r} and {s} together are shorter than the {apart} from {a} to {b}.",
                r=Mm(r, bare=True),
                s=Mm(s),
                apart=Mm(apart, 1),
                a=a,
                b=b,
            ),
            "distances_mm",
            "One of them is misread: measure both again.",
        )
    if abs(r - s) > apart:
        raise BadField(
            Said(
                "{r} and {r2} differ by more than the {apart} from {a} to {b}.",
                r=Mm(max(r, s), bare=True),
                r2=Mm(min(r, s)),
                apart=Mm(apart, 1),
                a=a,
                b=b,
            ),
            "distances_mm",
            "One of them is misread: measure both again.",
        )
    along = (r * r - s * s + apart * apart) / (2 * apart)
    return along, float(np.sqrt(max(0.0, r * r - along * along)))


def _side(request: TransferRequest, places: dict[str, np.ndarray], reach: float) -> str:
    if request.near is not None:
        return min(places, key=lambda side: float(np.linalg.norm(places[side] - np.array(request.near))))
    if request.side is None and reach > 1e-6:
        raise BadField(
            "On which side of the two marks does it lie?",
            "side",
            "Say left or right of the way from the first to the second, or tap near it.",
        )
    return request.side or "left"


def _crossing(at: np.ndarray, first: np.ndarray, second: np.ndarray) -> float:
    """The angle at which the two arms meet, 0 to 90 degrees."""
    p, q = first - at, second - at
    size = np.linalg.norm(p) * np.linalg.norm(q)
    if size < 1e-9:
        return 90.0
    return float(np.degrees(np.arctan2(abs(p[0] * q[1] - p[1] * q[0]), abs(p @ q))))


def _error(at: np.ndarray, first: np.ndarray, second: np.ndarray, sigma: float) -> float:
    """Longest half axis of the standard ellipse, mm: sigma over the smallest singular value of the two unit directions."""
    arms = np.array([(at - mark) / max(float(np.linalg.norm(at - mark)), 1e-9) for mark in (first, second)])
    least = float(np.linalg.svd(arms, compute_uv=False)[-1])
    return sigma / max(least, 1e-6)


def _remarks(a: str, b: str, crossing: float, error: float) -> list[Remark]:
    out = []
    if crossing < LEAST_CROSSING_DEG:
        what = Said(
            "Seen from there {a} and {b} are nearly in line: the arcs meet at {crossing:.0f}°.",
            a=a,
            b=b,
            crossing=crossing,
        )
        out.append(
            Remark(
                code="TRANS-01", where=f"{a}, {b}", what=what, mend="Choose another mark, more to the side."
            )
        )
    if error > WIDE_ERROR_MM:
        what = (
            Said("The place is sure to {error} only.", error=Mm(error, 1))
            if error < 1e3
            else Said("The place can slide along the line.")
        )
        out.append(
            Remark(
                code="TRANS-02",
                where=f"{a}, {b}",
                what=what,
                mend="A nearer mark, or arms closer to square, helps.",
            )
        )
    return out
