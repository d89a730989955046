"""Two photos of one place laid over one another by points that were tapped in both."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..homography import cross, homography
from ..records import Record
from ..said import Count, Said

#: Points that are nearer to one another than this share of the picture's width cannot be told apart; so flat a triangle turns the picture over.
NEAREST, FLATTEST = 0.02, 0.005
#: A picture is laid over no larger or smaller than so many times.
MOST_SCALE = 8.0
_Pixel = Annotated[float, Field(ge=-10_000, le=20_000)]
_At = tuple[_Pixel, _Pixel]
_Side = Annotated[int, Field(ge=1, le=20_000)]


class PointPair(Record):
    """One thing in both photos: where it is before and after, px from the upper left corner."""

    before: _At
    after: _At


class OverlayRequest(Record):
    """Width and height of both photos, px, and two to four points that were tapped in both."""

    before_px: tuple[_Side, _Side]
    after_px: tuple[_Side, _Side]
    pairs: Annotated[list[PointPair], Field(min_length=2, max_length=4)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Overlay:
    """How the later photo is laid over the earlier one.

    ``matrix``: 3 x 3, from pixels of the later photo to pixels of the earlier; ``shared``: which share of the earlier photo the later one covers;
    ``words``: how it was laid.
    """

    matrix: list[list[float]]
    shared: float
    words: Said


def overlay(request: OverlayRequest) -> Overlay:
    """Lay the later photo over the earlier so that the tapped points fall on one another.

    Args: request: see OverlayRequest.
    Returns: two points move, turn and scale it; three stretch it too (affine); four follow the view (projective). All are met exactly.
    Raises: BadField: points that lie on one another or in one line, a picture that would be turned over, torn, or blown up beyond use.
    Source: Hartley and Zisserman, Multiple View Geometry, 2.3 and 4.1: the transform from so many points; docs/methods.md section 14.
    """
    here = np.array([pair.after for pair in request.pairs])
    there = np.array([pair.before for pair in request.pairs])
    _require_apart(here, request.after_px[0], "after")
    _require_apart(there, request.before_px[0], "before")
    made = {2: _similar, 3: _affine, 4: _projective}[len(request.pairs)]
    # worked out on a scale of one, so that pixels do not lose figures
    from_px, to_px = 1.0 / max(request.after_px), float(max(request.before_px))
    matrix = (
        np.diag([to_px, to_px, 1.0]) @ made(here * from_px, there / to_px) @ np.diag([from_px, from_px, 1.0])
    )
    matrix /= matrix[2, 2]
    corners = _require_sound(matrix, request)
    return Overlay(
        matrix=[[float(f"{value:.9g}") for value in row] for row in matrix], shared=_shared(corners, request.before_px),
        words=Said("Laid over by {points}.", points=Count(len(request.pairs), "point", "points")),
    )  # fmt: skip


def inverse_of(matrix: Sequence[Sequence[float]]) -> list[float]:
    """The way back of an overlay as eight figures: from pixels of the earlier photo to pixels of the later one, as pictures are drawn anew by."""
    back = np.linalg.inv(np.array(matrix))
    return [float(value) for value in (back / back[2, 2]).flatten()[:8]]


def _require_apart(points: np.ndarray, width: float, where: str) -> None:
    for n in range(len(points)):
        for k in range(n):
            if np.linalg.norm(points[n] - points[k]) < NEAREST * width:
                raise BadField(
                    Said("Points {a} and {b} lie on one another in the {which} photo.", a=k + 1, b=n + 1, which="earlier" if where == "before" else "later"),
                    "pairs", "Tap two things that are far apart.",
                )  # fmt: skip
    for n in range(len(points) if len(points) > 2 else 0):
        for k in range(n):
            for m in range(k):
                a, b = points[n] - points[m], points[k] - points[m]
                if abs(a[0] * b[1] - a[1] * b[0]) < FLATTEST * width * max(
                    np.linalg.norm(a), np.linalg.norm(b)
                ):
                    raise BadField(
                        Said("Points {a}, {b} and {c} lie in one line.", a=m + 1, b=k + 1, c=n + 1),
                        "pairs", "Tap things that are not in one line, or only two.",
                    )  # fmt: skip


def _similar(here: np.ndarray, there: np.ndarray) -> np.ndarray:
    a, b = here @ [1, 1j], there @ [1, 1j]
    turn = (b[1] - b[0]) / (a[1] - a[0])
    move = b[0] - turn * a[0]
    return np.array([[turn.real, -turn.imag, move.real], [turn.imag, turn.real, move.imag], [0, 0, 1]])


def _affine(here: np.ndarray, there: np.ndarray) -> np.ndarray:
    across = np.linalg.solve(np.column_stack([here, np.ones(3)]), there).T
    return np.vstack([across, [0, 0, 1]])


def _projective(here: np.ndarray, there: np.ndarray) -> np.ndarray:
    try:
        return homography(here, there)
    except np.linalg.LinAlgError:
        raise BadField(
            "The four points do not go together.", "pairs", "Tap them again, or only two."
        ) from None


def _require_sound(matrix: np.ndarray, request: OverlayRequest) -> list[tuple[float, float]]:
    """Where the corners of the later photo come to lie. Raises: BadField."""
    width, height = request.after_px
    corners = np.array([[0, 0, 1], [width, 0, 1], [width, height, 1], [0, height, 1]]) @ matrix.T
    if not np.isfinite(corners).all() or corners[:, 2].min() <= 0.05:
        raise BadField(
            "By these points the picture would be torn.", "pairs", "Tap them again, further apart."
        )
    at = corners[:, :2] / corners[:, 2:]
    turned = [cross(at[n], at[(n + 1) % 4], at[(n + 2) % 4]) for n in range(4)]
    if min(turned) <= 0:
        raise BadField(
            "By these points the picture would be turned over.",
            "pairs",
            "Each point must be the same thing in both photos.",
        )
    scale = float(np.sqrt(sum(turned) / 4 / (width * height)))
    if not 1 / MOST_SCALE <= scale * max(request.after_px) / max(request.before_px) <= MOST_SCALE:
        raise BadField(
            "By these points one picture would be far larger than the other.",
            "pairs",
            "Tap things that are further apart.",
        )
    return [(float(x), float(y)) for x, y in at]


def _shared(corners: Sequence[tuple[float, float]], size: tuple[int, int]) -> float:
    from shapely.geometry import Polygon, box

    frame = box(0, 0, *size)
    return round(float(Polygon(corners).intersection(frame).area / frame.area), 3)
