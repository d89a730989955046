"""Millimetres from a photo: a card or square of known size in the plane of the metal gives the scale at every place.

The four reference corners and the true figure fix a plane projective map (homography); the traced hole goes through it.
Source: direct linear transformation, Hartley and Zisserman, Multiple View Geometry, 2nd ed., section 4.1, solved exactly
for four points; docs/methods.md section 2.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field
from shapely.geometry import Polygon

from ..errors import BadField, BadOutline
from ..geometry import outline_polygon, ring
from ..homography import cross, homography
from ..records import Record
from ..remarks import Remark
from ..said import Said

CLICK_PX = 1.0  #: how far a careful click may be off, standard deviation in each direction
WARN_ERROR_PCT = 2.0  #: above this the trace is too rough to cut by
LEAST_SIDE_PX = 40.0  #: a card shorter than this in the picture is too small
FLAT_SIDES = 0.35  #: opposite sides of the card that differ by more than this share are seen too flat
MOST_TRACE = 2000
NEAR_HORIZON = 1e-3  #: a place so much farther off than the card lies on the horizon or beyond it

Pixel = tuple[
    Annotated[float, Field(ge=-100_000, le=100_000)], Annotated[float, Field(ge=-100_000, le=100_000)]
]
Millimetre = Annotated[float, Field(gt=0, le=5000)]


class RectifyRequest(Record):
    """Input of ``rectify``. Reference corners in order round the card; ``size_mm`` is its first side and its second.

    Where no square lies there, ``distances_mm`` gives the taped distances of the four points instead: 1-2, 2-3, 3-4, 4-1, 1-3.
    """

    reference: Annotated[list[Pixel], Field(min_length=4, max_length=4)]
    size_mm: tuple[Millimetre, Millimetre] | None = None
    distances_mm: Annotated[list[Millimetre], Field(min_length=5, max_length=5)] | None = None
    trace: Annotated[list[Pixel], Field(min_length=3, max_length=MOST_TRACE)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rectified:
    """The traced outline in the card's plane, as the picture shows it: origin at the first corner, x along the first side, mm.

    y runs along the second side where the corners were clicked clockwise, against it where they were clicked the other way round.
    """

    outline_mm: list[list[float]]
    area_mm2: float
    bounding_box_mm: list[float]
    scale_error_pct: float
    warnings: list[Remark]


def rectify(request: RectifyRequest) -> Rectified:
    """Turn a traced hole into millimetres.

    Args: request: reference corners and trace in pixels, the card's size or the points' distances in mm.
    Returns: the outline with its area, bounding box, and the standard error of its lengths in per cent when each reference
        click is CLICK_PX off.
    Raises: BadField and BadOutline: corners in one line or crossing, distances that make no figure, a trace behind the horizon.
    """
    true = _true_corners(request)
    pixels = np.array(request.reference, float)
    turns = [cross(pixels[i], pixels[(i + 1) % 4], pixels[(i + 2) % 4]) for i in range(4)]
    size = max(np.ptp(pixels[:, 0]), np.ptp(pixels[:, 1]), 1e-9)
    if min(map(abs, turns)) < 1e-4 * size * size or (min(turns) < 0 < max(turns)):
        raise BadField(
            "The four reference corners do not go round a card.",
            "reference",
            "Click them in order: along one side, then on round.",
        )
    trace = np.array(request.trace, float)
    flat = _mapped(_homography(pixels, true), trace, pixels)
    outline = outline_polygon([tuple(point) for point in flat], "trace")
    if outline.area < 1e-6:
        raise BadOutline("The trace has no area.", "trace", "Trace round the hole.")
    error = _scale_error_pct(pixels, true, trace, outline.area)
    return Rectified(
        outline_mm=ring(outline.exterior.coords, 2),
        area_mm2=round(outline.area, 1),
        bounding_box_mm=[round(bound, 2) for bound in outline.bounds],
        scale_error_pct=round(error, 2),
        warnings=_warnings(pixels, true, trace, error),
    )


def _true_corners(request: RectifyRequest) -> np.ndarray:
    """Where the reference corners lie in their own plane, mm: as handed as the picture shows them, whichever way round they were clicked."""
    corners, pixels = _clockwise_corners(request), np.array(request.reference, float)
    return corners if _turned(pixels) > 0 else corners * [1.0, -1.0]


def _turned(pixels: np.ndarray) -> float:
    """Twice the area of the reference in the picture: above 0 where its corners run clockwise, as the picture is seen."""
    x, y = pixels.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1))


def _clockwise_corners(request: RectifyRequest) -> np.ndarray:
    if (request.size_mm is None) == (request.distances_mm is None):
        raise BadField(
            "Give the card's size, or five distances between the four points.",
            "size_mm",
            "One of the two is needed, not both.",
        )
    if request.size_mm:
        w, h = request.size_mm
        return np.array([[0, 0], [w, 0], [w, h], [0, h]], float)
    a, b, c, d, diagonal = request.distances_mm or []
    return np.array([[0.0, 0.0], [a, 0.0], _third(a, diagonal, b, "1-3"), _fourth(a, b, c, d, diagonal)])


def _third(base: float, from_first: float, from_second: float, name: str) -> tuple[float, float]:
    """The point at two distances from the ends of a base line, on the side of positive y."""
    x = (base * base + from_first * from_first - from_second * from_second) / (2 * base)
    y2 = from_first * from_first - x * x
    if y2 <= 1e-6:
        raise BadField(
            Said("These distances make no triangle (1-2, 2-3, {name}).", name=name),
            "distances_mm",
            "Tape them again.",
        )
    return x, math.sqrt(y2)


def _fourth(a: float, b: float, c: float, d: float, diagonal: float) -> tuple[float, float]:
    """Point 4: at d from point 1 and c from point 3, beyond the diagonal."""
    third = _third(a, diagonal, b, "1-3")
    along, across = _third(diagonal, d, c, "3-4, 4-1, 1-3")
    u = third[0] / diagonal, third[1] / diagonal
    return u[0] * along - u[1] * across, u[1] * along + u[0] * across


def _homography(pixels: np.ndarray, true: np.ndarray) -> np.ndarray:
    """The 3 x 3 map from pixels to millimetres through four points. Raises: BadField."""
    try:
        return homography(pixels, true)
    except np.linalg.LinAlgError:
        raise BadField(
            "The reference corners lie in one line.", "reference", "Click the four corners of the card."
        ) from None


def _mapped(homography: np.ndarray, pixels: np.ndarray, card: np.ndarray) -> np.ndarray:
    """Pixels in the card's plane. Args: card: the reference's pixels; what lies on their side of the horizon is in front of the camera."""
    points = np.column_stack([pixels, np.ones(len(pixels))]) @ homography.T
    depth = np.column_stack([card, np.ones(len(card))]) @ homography[2]
    if (points[:, 2] * np.sign(depth.mean()) <= NEAR_HORIZON * np.abs(depth).min()).any():
        raise BadOutline(
            "Part of the trace lies beyond the horizon of the card's plane.",
            "trace",
            "Take the photo squarer to the metal.",
        )
    return points[:, :2] / points[:, 2:]


def _scale_error_pct(pixels: np.ndarray, true: np.ndarray, trace: np.ndarray, area_mm2: float) -> float:
    """Standard error of lengths from the reference clicks: half the relative error of the area, each click moved in turn."""
    total = 0.0
    for i in range(4):
        for axis in range(2):
            moved = pixels.copy()
            moved[i, axis] += CLICK_PX
            total += (Polygon(_mapped(_homography(moved, true), trace, moved)).area / area_mm2 - 1) ** 2
    return 50 * math.sqrt(total)


def _warnings(pixels: np.ndarray, true: np.ndarray, trace: np.ndarray, error_pct: float) -> list[Remark]:
    sides = [math.dist(pixels[i], pixels[(i + 1) % 4]) for i in range(4)]
    lengths = [math.dist(true[i], true[(i + 1) % 4]) for i in range(4)]
    scales = [side / length for side, length in zip(sides, lengths, strict=True)]
    remarks = []
    if min(sides) < LEAST_SIDE_PX:
        text = Said(
            "The card is small in the picture: its shortest side has {sides:.0f} pixels.", sides=min(sides)
        )
        remarks.append(
            Remark(
                code="RECT-01",
                where="reference",
                what=text,
                mend="Take the photo nearer, or use a larger card.",
            )
        )
    if min(scales) < (1 - FLAT_SIDES) * max(scales):
        text = Said("The card is seen flat: one side looks much shorter than another.")
        remarks.append(
            Remark(code="RECT-02", where="reference", what=text, mend="Take the photo squarer to the metal.")
        )
    if error_pct > WARN_ERROR_PCT:
        text = Said("A click one pixel off changes lengths by {error_pct:.1f} %.", error_pct=error_pct)
        remarks.append(
            Remark(
                code="RECT-03",
                where="reference",
                what=text,
                mend="Good enough to find it again, not to cut by.",
            )
        )
    reach = max(np.ptp(trace[:, 0]), np.ptp(trace[:, 1])) / max(np.ptp(pixels[:, 0]), np.ptp(pixels[:, 1]))
    if reach > 6:
        remarks.append(
            Remark(
                code="RECT-04",
                where="trace",
                what="The hole is far larger than the card.",
                mend="Use a larger reference.",
            )
        )
    return remarks


#: Which face of the metal a photo shows: the one that the drawing shows, or the other.
SEEN_FROM = {"drawn": "the side that the drawing shows", "behind": "the other side, from behind"}


def placed(
    outline_mm: Sequence[Sequence[float]],
    marks_mm: Sequence[Sequence[float]],
    on_panel: Sequence[Sequence[float]],
    seen_from: str,
) -> tuple[list[list[float]], float]:
    """Lay a rectified outline on its panel by two points.

    Two points fix place and turn but not which way round the figure lies: that is a person's word. The picture's second axis runs
    down, the drawing's up, so a photo of the drawn side is turned over first; one from behind is not. Then it is moved and turned,
    never stretched.

    Args: outline_mm: from ``rectify``; marks_mm: two points in the same plane; on_panel: where they lie in the view, mm;
        seen_from: a key of SEEN_FROM.
    Returns: the outline in the view's plane, and by how much the two distances differ, mm.
    Raises: BadField when the two points coincide, or nobody has said which side the photo shows.
    """
    if seen_from not in SEEN_FROM:
        raise BadField(
            "Nobody has said which side of the metal this photo shows.",
            "seen_from",
            "From behind, left and right are changed over.",
        )
    down = -1 if seen_from == "drawn" else 1
    marks, goal = _plane(marks_mm, down), np.array([complex(u, v) for u, v in on_panel])
    if abs(marks[1] - marks[0]) < 5 or abs(goal[1] - goal[0]) < 5:
        raise BadField(
            "The two points lie on the same spot.",
            "marks",
            "Take two that are at least 5 mm apart; farther is better.",
        )
    turn = (goal[1] - goal[0]) / (marks[1] - marks[0])
    turn /= abs(turn)
    moved = (_plane(outline_mm, down) - marks.mean()) * turn + goal.mean()
    return [[round(float(z.real), 2), round(float(z.imag), 2)] for z in moved], round(
        float(abs(goal[1] - goal[0]) - abs(marks[1] - marks[0])), 1
    )


def _plane(points: Sequence[Sequence[float]], down: int) -> np.ndarray:
    return np.array([complex(x, down * y) for x, y in points])


def picture_points(
    reference: Sequence, size_mm, distances_mm, points: Sequence[Sequence[float]]
) -> list[list[float]]:
    """Single points of the picture in the card's plane, mm. Raises: BadField, BadOutline."""
    request = RectifyRequest.read(
        {
            "reference": reference,
            "size_mm": size_mm,
            "distances_mm": distances_mm,
            "trace": [[0, 0], [1, 0], [0, 1]],
        }
    )
    flat = _mapped(
        _homography(np.array(request.reference, float), _true_corners(request)),
        np.array(points, float),
        np.array(request.reference, float),
    )
    return [[float(x), float(y)] for x, y in flat]
