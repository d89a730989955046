"""The order of the tacks: corners first, then always where the plate is coolest and far from the last, pass after pass."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field
from shapely import get_coordinates, line_interpolate_point
from shapely.geometry import LineString

from ..errors import BadField, BadOutline
from ..records import MOST_CORNERS, Point, Record, as_key
from ..said import Mm, Said
from .field import HeatField
from .heat import Plate

PITCH_MM = 25.0  #: tacks of the first passes; rule of thumb, docs/methods.md section 5
LIMIT_C = 60.0  #: no tack where the plate is hotter; a hand cannot rest on it
AMBIENT_C = 15.0
TACK_LENGTH_MM = 7.0  #: length of a tack on thin sheet; tacks at this spacing touch and close the seam
TACK_S = 0.8  #: time the arc burns
MOVE_S = 4.0  #: to lift the visor, find the next place and settle
CORNER_DEG = 35.0  #: a turn of the seam within CORNER_REACH_MM by this much is a corner
CORNER_REACH_MM = 12.0
MOST_TACKS = 1500
#: A place that seems to have less than this share of the heat allowed is not looked at more closely.
SURELY = 0.95
#: Tacks whose temperatures are told together: a block knows only the tacks before its end.
BEFORE_BLOCK = 128
#: How much being far from the last tack counts against being cool, in share of the longest way across.
FAR_WEIGHT = 0.6


class MoreSeam(Record):
    """Another seam of the same patch."""

    path: Annotated[list[Point], Field(min_length=2, max_length=MOST_CORNERS)]
    closed: bool = False


class TackRequest(Record):
    """Input of ``tacks``. The path is the seam in mm; a closed one does not repeat its first point. ``more``: seams of the same patch, planned with it."""

    path: Annotated[list[Point], Field(min_length=2, max_length=MOST_CORNERS)]
    closed: bool = False
    more: Annotated[list[MoreSeam], Field(max_length=40)] = []
    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    pitch_mm: Annotated[float, Field(ge=5, le=200)] = PITCH_MM
    tack_energy_J: Annotated[float, Field(gt=0, le=20000)]
    cooling: Literal["still", "blown"] = "still"
    limit_C: Annotated[float, Field(gt=0, le=400)] = LIMIT_C
    ambient_C: Annotated[float, Field(ge=-40, le=60)] = AMBIENT_C
    tack_length_mm: Annotated[float, Field(ge=2, le=40)] = TACK_LENGTH_MM
    move_s: Annotated[float, Field(ge=0, le=300)] = MOVE_S


@dataclass(frozen=True, slots=True, kw_only=True)
class Tack:
    """One tack. ``wait_s`` is how long to wait for the plate beyond moving the torch; ``plate_C_before`` where it goes;
    ``seam``: 0 the first, then ``more``."""

    n: int
    at: list[float]
    s_mm: float
    pass_number: int = as_key("pass")
    start_s: float
    wait_s: float
    plate_C_before: float
    seam: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    hottest_before_tack_C: float
    total_min: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TackPlan:
    tacks: list[Tack]
    passes: int
    total_min: float
    hottest_before_tack_C: float
    seam_mm: float
    spacing_mm: float
    straight_run: Run


def tack_order(request: TackRequest) -> TackPlan:
    """Order the tacks of a seam so that no tack starts where the plate is above the limit.

    Args: request: seam, sheet, energy per tack, cooling, limit.
    Returns: the tacks in order with times and temperatures, and the straight run of the same tacks for comparison.
    Raises: BadField or BadOutline for a seam without length, too many tacks, or a limit not above the ambient.
    Source: docs/methods.md section 5.
    """
    if request.limit_C <= request.ambient_C:
        raise BadField(
            "The plate never cools below the air around it.",
            "limit_C",
            "Set the limit above the ambient temperature.",
        )
    seams = [_seam(request.path, request.closed, "path", request)]
    seams += [
        _seam(each.path, each.closed, f"more[{i}].path", request) for i, each in enumerate(request.more)
    ]
    counts = [len(seam.places) for seam in seams]
    if sum(counts) > MOST_TACKS:
        raise _too_many()
    places = [place for seam in seams for place in seam.places]
    passes = np.concatenate([seam.passes for seam in seams])
    points = np.concatenate([seam.points for seam in seams])
    of_seam = np.repeat(np.arange(len(seams)), counts)
    plate = Plate(
        thickness_mm=request.thickness_mm,
        energy_j=request.tack_energy_J,
        cooling=request.cooling,
        ambient_c=request.ambient_C,
    )
    order, starts, waits, before = _walk(points, passes, plate, request.limit_C, request.move_s)
    tacks = [
        Tack(
            n=n + 1,
            at=[round(float(points[i][0]), 2), round(float(points[i][1]), 2)],
            s_mm=round(places[i], 2),
            pass_number=int(passes[i]),
            start_s=round(starts[n], 1),
            wait_s=round(waits[n], 1),
            plate_C_before=round(before[n], 1),
            seam=int(of_seam[i]),
        )
        for n, i in enumerate(order)
    ]
    along = np.lexsort((np.array(places), of_seam))
    straight = _straight(points[along], plate)
    return TackPlan(
        tacks=tacks,
        passes=int(max(passes)),
        total_min=round((starts[-1] + TACK_S) / 60, 1),
        hottest_before_tack_C=round(max(before), 1),
        seam_mm=round(sum(seam.line.length for seam in seams), 1),
        spacing_mm=round(max(_widest(seam.places, seam.line.length, seam.closed) for seam in seams), 2),
        straight_run=straight,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Seam:
    """A seam with the places of its tacks: along it, mm, the pass of each, and where they lie (n, 2)."""

    line: LineString
    closed: bool
    places: list[float]
    passes: np.ndarray
    points: np.ndarray


def _seam(path: Sequence[Sequence[float]], closed: bool, where: str, request: TackRequest) -> _Seam:
    """Raises: BadOutline, BadField."""
    corners = [p for i, p in enumerate(path) if i == 0 or math.dist(p, path[i - 1]) > 1e-6]
    if closed and math.dist(corners[0], corners[-1]) < 1e-6:
        corners.pop()
    if len(corners) < 2:
        raise BadOutline("The seam has no length.", where, "Give two places that differ.")
    line = LineString([*corners, corners[0]] if closed and len(corners) > 2 else corners)
    if line.length < request.tack_length_mm:
        raise BadOutline(
            Said("The seam is only {length} long.", length=Mm(line.length, 1)), where, "One tack closes it."
        )
    places, passes = _places(line, corners, closed, request)
    points = get_coordinates(line_interpolate_point(line, places))
    return _Seam(line=line, closed=closed, places=places, passes=passes, points=points)


def _too_many() -> BadField:
    return BadField(
        Said("This seam needs more than {most_tacks} tacks.", most_tacks=MOST_TACKS),
        "path",
        "Divide it into shorter seams.",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Pass:
    """One pass as the sheet lists it: its tacks from first to last and the time waited in it."""

    number: int
    name: str
    first: int
    last: int
    count: int
    wait_s: float


def pass_list(tacks: Sequence[Mapping[str, Any]]) -> list[Pass]:
    """The passes of a stored plan. Args: tacks: as ``tacks`` writes them in JSON, in order."""
    groups: dict[int, list[Mapping[str, Any]]] = {}
    for tack in tacks:
        groups.setdefault(tack["pass"], []).append(tack)
    names = {1: "Corners and ends", 2: "At pitch"}
    return [
        Pass(
            number=number,
            name=names.get(number) or ("Close the gaps" if number == max(groups) else "Between"),
            first=group[0]["n"],
            last=group[-1]["n"],
            count=len(group),
            wait_s=round(sum(tack["wait_s"] for tack in group), 1),
        )
        for number, group in groups.items()
    ]


def _widest(places: list[float], length: float, closed: bool) -> float:
    ordered = sorted(places)
    gaps = [b - a for a, b in zip(ordered, ordered[1:], strict=False)] + (
        [length - ordered[-1] + ordered[0]] if closed else []
    )
    return max(gaps, default=0.0)


def _places(
    line: LineString, corners: list, closed: bool, request: TackRequest
) -> tuple[list[float], np.ndarray]:
    """Distances along the seam and the pass of each: 1 = corners and ends, 2 = pitch, then halves until closed."""
    marks = _corner_marks(line, corners, closed)
    places, passes = list(marks), [1] * len(marks)
    if (
        line.length / request.pitch_mm > MOST_TACKS or line.length / request.tack_length_mm > 2 * MOST_TACKS
    ):  # before the work
        raise _too_many()
    stops = sorted(marks)
    spans = list(zip(stops, stops[1:], strict=False)) + (
        [(stops[-1], stops[0] + line.length)] if closed else []
    )
    widest = 0.0
    fields: list[tuple[float, float]] = []
    for a, b in spans:
        parts = max(1, math.ceil((b - a) / request.pitch_mm - 1e-9))
        step = (b - a) / parts
        places += [(a + step * i) % line.length for i in range(1, parts)]
        passes += [2] * (parts - 1)
        fields += [(a + step * i, a + step * (i + 1)) for i in range(parts)]
        widest = max(widest, step)
    number = 3
    while any(b - a > request.tack_length_mm + 1e-6 for a, b in fields):
        split: list[tuple[float, float]] = []
        for a, b in fields:
            if b - a <= request.tack_length_mm + 1e-6:
                split.append((a, b))
                continue
            middle = (a + b) / 2
            places.append(middle % line.length)
            passes.append(number)
            split += [(a, middle), (middle, b)]
        fields, number = split, number + 1
        if len(places) > MOST_TACKS:
            raise _too_many()
    return places, _renumbered(np.array(passes))


def _renumbered(passes: np.ndarray) -> np.ndarray:
    """Pass numbers without gaps, for seams too short to need a pass."""
    present = sorted(set(passes.tolist()))
    return np.array([present.index(p) + 1 for p in passes.tolist()])


def _corner_marks(line: LineString, corners: list, closed: bool) -> list[float]:
    """Where the seam turns, one mark a corner (the middle of a rounded one), and both ends of an open seam."""
    n, distance, turns = len(corners), 0.0, []
    for i in range(n):
        if closed or 0 < i < n - 1:
            a, b, c = corners[i - 1], corners[i], corners[(i + 1) % n]
            turn = (math.atan2(c[1] - b[1], c[0] - b[0]) - math.atan2(b[1] - a[1], b[0] - a[0]) + math.pi) % (
                2 * math.pi
            ) - math.pi
            turns.append((distance, math.degrees(turn)))
        distance += math.dist(corners[i], corners[(i + 1) % n])
    marks: list[float] = [] if closed else [0.0, line.length]
    group: list[tuple[float, float]] = []
    for place in [*turns, (math.inf, 0.0)]:
        if group and (place[0] - group[-1][0] > CORNER_REACH_MM or place[1] * group[-1][1] < 0):
            total = sum(turn for _, turn in group)
            if abs(total) >= CORNER_DEG:
                count = (
                    1 if len(group) == 1 else max(1, round(abs(total) / 100))
                )  # a half circle counts as two corners
                first, last = group[0][0], group[-1][0]
                marks += [first + (last - first) * (k + 0.5) / count for k in range(count)]
            group = []
        if abs(place[1]) > 0.5:
            group.append(place)
    return _kept_apart(marks if closed else marks[2:], line.length, closed)


def _kept_apart(marks: list[float], length: float, closed: bool) -> list[float]:
    """Marks at least a tack apart; both ends of an open seam, or one place at least of a closed one."""
    kept = [] if closed else [0.0]
    for mark in sorted(marks):
        clear_behind = not kept or mark - kept[-1] >= TACK_LENGTH_MM
        clear_ahead = (
            length + kept[0] - mark >= TACK_LENGTH_MM
            if closed and kept
            else closed or length - mark >= TACK_LENGTH_MM
        )
        if clear_behind and clear_ahead:
            kept.append(mark)
    return (kept or [0.0]) if closed else [*kept, length]


def _walk(
    points: np.ndarray, passes: np.ndarray, plate: Plate, limit_c: float, move_s: float
) -> tuple[list[int], list[float], list[float], list[float]]:
    """Choose tack after tack: the pass in hand first, then cool and far from the last, waiting where all are too hot."""
    count = len(points)
    # Single precision is plenty to choose by, and twice as quick; the temperatures told are worked out in double below.
    squared = _squared(points.astype(np.float32), points.astype(np.float32))
    far = math.sqrt(squared.max()) or 1.0
    field, waits = HeatField(squared, plate), np.zeros(count)
    first = int(np.argmax(np.where(passes == passes.min(), ((points - points.mean(0)) ** 2).sum(1), -1.0)))
    field.tack(first, 0.0)
    for n in range(1, count):
        if not len(field.places):
            still = np.setdiff1d(np.arange(count), field.order[:n], assume_unique=True)
            field.begin(still[passes[still] == passes[still].min()])
        ready = float(field.starts[n - 1]) + TACK_S + move_s
        row, start = _next(field, ready, limit_c, far)
        field.tack(field.take(row), start)
        waits[n] = start - ready
    before = before_tacks(points[field.order], field.starts, plate)
    return field.order.tolist(), field.starts.tolist(), waits.tolist(), before.tolist()


def _next(field: HeatField, ready: float, limit_c: float, far: float) -> tuple[int, float]:
    """Which of the places to do is next and when it starts."""
    allowed = (limit_c - field.plate.ambient_c) * (1 - 1e-5)
    rise = field.rise(ready)
    score = rise / allowed - FAR_WEIGHT / far * np.sqrt(field.since_last())
    score[rise > allowed] = np.inf
    while score[best := int(score.argmin())] < np.inf:
        if rise[best] < SURELY * allowed or field.exact(best, ready) <= allowed:
            return best, ready
        score[best] = np.inf
    # All too hot: take the one that is cool enough first. Heat still on its way may arrive, so look along time.
    coolest = int(rise.argmin())
    column, started = field.apart(coolest), field.starts[: field.made]
    step, start = 0.5, ready
    while True:
        times = start + step * np.arange(1, 65)
        below = np.flatnonzero(field.plate.rise_at(column, times[:, None] - started[None, :]) <= allowed)
        if len(below):
            return coolest, float(times[below[0]])
        start, step = float(times[-1]), step * 2


def _squared(points: np.ndarray, others: np.ndarray) -> np.ndarray:
    """Squared distances between places, mm2: (n, 2) and (m, 2) give (n, m)."""
    along = np.subtract.outer(points[:, 0], others[:, 0])
    across = np.subtract.outer(points[:, 1], others[:, 1])
    along *= along
    across *= across
    return np.add(along, across, out=along)


def before_tacks(points: np.ndarray, starts: np.ndarray, plate: Plate) -> np.ndarray:
    """The plate's temperature at each tack's place when it starts, from the tacks before it."""
    told = np.full(len(points), plate.ambient_c)
    for top in range(0, len(points), BEFORE_BLOCK):
        own, earlier = slice(top, top + BEFORE_BLOCK), slice(0, top + BEFORE_BLOCK)
        squared = _squared(points[own], points[earlier])
        told[own] += plate.rise_at(squared, starts[own, None] - starts[None, earlier])
    return told


def _straight(points: np.ndarray, plate: Plate) -> Run:
    """The same tacks in one go along the seam without waiting, by the same model."""
    starts = np.arange(len(points)) * TACK_S
    hottest = float(before_tacks(points, starts, plate).max())
    return Run(hottest_before_tack_C=round(hottest, 1), total_min=round(float(starts[-1] + TACK_S) / 60, 1))
