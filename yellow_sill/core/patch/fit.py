"""The patch offered up: gaps where they were tapped against what the process takes; how to move it, what to trim, where metal is missing."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.optimize import linprog
from shapely.geometry import LineString, Point, Polygon

from ..errors import BadField
from ..geometry import Xy, outline_polygon
from ..records import Corners, Record
from ..records import Point as Place
from ..said import Count, Deg, Mm, Said, joined
from .filler import Filler, filler_of

#: What each process takes between the sheets, mm; MIG up to the sheet and 1 mm (rules of thumb).
TAKES_MM = {"mig": 1.0, "tig": 0.2, "braze": 0.3, "spot": 0.2}
#: A gap tapped at one place counts so far along the edge on each side; what laps over by less is a reading's error, mm.
COUNTS_MM, READING_MM = 60.0, 0.1
#: A gap is looked at every so many mm along an edge; moves beyond these are no adjustment, mm and degrees.
STEP_MM, MOST_MOVE_MM, MOST_TURN_DEG = 5.0, 5.0, 3.0
#: A patch is moved out of the line of a kept edge by this at most, mm: the eye sees more (rule of thumb).
KEPT_MM = 0.3
#: Tacks at a time where both sheets are cut through together, and their pitch, mm.
TACKS_AT_A_TIME, TACK_PITCH_MM = 3, 25.0


class FitEdge(Record):
    """An edge of the opening that must meet the patch: its name and its line, mm, the way the outline runs."""

    name: Annotated[str, Field(min_length=1, max_length=12)]
    path: Annotated[list[Place], Field(min_length=2, max_length=2000)]


class FitReading(Record):
    """What was measured at a place: the gap, mm; below 0 the patch laps over the old metal by so much."""

    at: Place
    gap_mm: Annotated[float, Field(ge=-100, le=100)]


class FitRequest(Record):
    """An offer-up: the opening, its edges that are butted, what was tapped, process, sheet, the gap that is wanted, and which school fits it.

    ``kept``: edges whose line the patch carries on (free, or lying on a neighbour): it is not moved out of them.
    """

    outline: Corners
    edges: Annotated[list[FitEdge], Field(min_length=1, max_length=200)]
    kept: Annotated[list[FitEdge], Field(max_length=200)] = []
    gaps: Annotated[list[FitReading], Field(max_length=400)] = []
    process: Literal["mig", "tig", "braze", "spot"] = "mig"
    thickness_mm: Annotated[float, Field(gt=0, le=12)] = 0.9
    wanted_mm: Annotated[float, Field(ge=0, le=5)] = 0.0
    school: Literal["template", "overlay"] = "template"


@dataclass(frozen=True, slots=True, kw_only=True)
class FitStretch:
    """A stretch of an edge that is alike: fits, laps (trim), wide (metal is missing) or unknown (nothing was tapped near).

    Attributes:
        start_mm: along its edge; path: its line; most_mm: the worst gap or overlap there, None where unknown; trim_mm: to take off the patch at most there.
    """

    edge: str
    verdict: Literal["fits", "laps", "wide", "unknown"]
    start_mm: float
    length_mm: float
    most_mm: float | None
    trim_mm: float
    path: list[Xy]
    words: Said | str


@dataclass(frozen=True, slots=True, kw_only=True)
class FitMove:
    """How to move the patch before anything is cut: right and up as drawn, mm, and turned against the clock about its middle, degrees."""

    right_mm: float
    up_mm: float
    turn_deg: float
    words: Said | str


@dataclass(frozen=True, slots=True, kw_only=True)
class FitGo:
    """One go of cutting through both sheets: which in turn, its line, three tacks on it."""

    number: int
    path: list[Xy]
    tacks: list[Xy]


@dataclass(frozen=True, slots=True, kw_only=True)
class FitTold:
    """An offer-up judged.

    Attributes:
        fits: True only where every stretch is known and within the limit; None where all that is known is, and something is not.
        limit_mm: the widest gap that the process takes; move: where moving it first saves trimming or metal; stretches: after that move.
        fillers: strips for what was trimmed too far; goes: of the school that overlays; measured: share of the edges that the readings speak for.
    """

    fits: bool | None
    limit_mm: float
    move: FitMove | None
    stretches: list[FitStretch]
    fillers: list[Filler]
    goes: list[FitGo]
    measured: float
    words: Said | str


def fit(request: FitRequest) -> FitTold:
    """Judge an offer-up.

    A gap counts along its own edge only, up to the next one tapped and 60 mm beyond the last. The patch may be moved and turned a little before it is
    trimmed: the move that leaves the least metal missing, and then the least to trim, is found by linear programming and told where it is worth it.

    Args: request: see FitRequest.
    Raises: BadOutline; BadField for a place that lies on no edge.
    Source: docs/methods.md section 4.
    """
    shape = outline_polygon(request.outline, "outline")
    edges = [_Edge(edge, shape) for edge in request.edges]
    for number, reading in enumerate(request.gaps):
        near = min(edges, key=lambda edge: edge.line.distance(Point(reading.at)))
        if near.line.distance(Point(reading.at)) > 15:
            raise BadField(
                Said("Place {number} lies on no edge that is butted.", number=number + 1), f"gaps[{number}].at", "Tap the outline where it gaps."
            )  # fmt: skip
        near.read(reading)
    limit = (
        min(request.thickness_mm, TAKES_MM["mig"]) if request.process == "mig" else TAKES_MM[request.process]
    )
    kept = [_Edge(edge, shape) for edge in request.kept]
    move = _move(edges, kept, shape, limit)
    stretches = [
        stretch for edge in edges for stretch in _stretches(edge, move, shape, limit, request.wanted_mm)
    ]
    whole = sum(stretch.length_mm for stretch in stretches)
    known = sum(stretch.length_mm for stretch in stretches if stretch.verdict != "unknown")
    bad = any(stretch.verdict in ("laps", "wide") for stretch in stretches)
    fits = False if bad or (move is not None) else None if known < whole - 1e-6 else True
    fillers = [
        filler_of(shape, stretch.path, stretch.most_mm or 0.0, request.wanted_mm, f"{stretch.edge}{number}")
        for number, stretch in enumerate((each for each in stretches if each.verdict == "wide"), start=1)
    ]
    goes = _goes(edges) if request.school == "overlay" else []
    return FitTold(
        fits=fits, limit_mm=round(limit, 2), move=move, stretches=stretches, fillers=fillers, goes=goes,
        measured=round(known / whole, 3) if whole else 0.0, words=_words(request, fits, move, stretches, fillers),
    )  # fmt: skip


class _Edge:
    """An edge with its readings: distance along it and gap."""

    def __init__(self, edge: FitEdge, shape: Polygon) -> None:
        self.name, self.line, self.shape = edge.name, LineString(edge.path), shape
        self.readings: list[tuple[float, float]] = []

    def read(self, reading: FitReading) -> None:
        self.readings.append((self.line.project(Point(reading.at)), reading.gap_mm))

    def outward(self, along: float) -> tuple[float, float]:
        """The direction out of the opening at a place, a unit vector."""
        a, b = (
            self.line.interpolate(max(along - 1, 0)),
            self.line.interpolate(min(along + 1, self.line.length)),
        )
        far = math.hypot(b.x - a.x, b.y - a.y) or 1.0
        normal = ((b.y - a.y) / far, -(b.x - a.x) / far)
        at = self.line.interpolate(along)
        inside = self.shape.contains(Point(at.x + 0.05 * normal[0], at.y + 0.05 * normal[1]))
        return (-normal[0], -normal[1]) if inside else normal

    def gap_at(self, along: float, by: np.ndarray | None = None, middle: Xy = (0.0, 0.0)) -> float | None:
        """The gap at a place after a move, mm; None where nothing near was tapped."""
        read = sorted(self.readings)
        before = [each for each in read if each[0] <= along + 1e-9]
        after = [each for each in read if each[0] >= along - 1e-9]
        first, last = (before[-1] if before else None), (after[0] if after else None)
        if first and last and last[0] - first[0] <= 2 * COUNTS_MM:
            share = (along - first[0]) / (last[0] - first[0]) if last[0] > first[0] else 0.0
            gap = first[1] + share * (last[1] - first[1])
        else:
            near = [each for each in (first, last) if each and abs(each[0] - along) <= COUNTS_MM]
            if not near:
                return None
            gap = min(near, key=lambda each: abs(each[0] - along))[1]
        if by is None:
            return gap
        return gap - float(self.pull(along, middle) @ by)

    def pull(self, along: float, middle: Xy) -> np.ndarray:
        """How much a move right, a move up and a turn (radians) each close the gap at a place."""
        (nu, nv), at = self.outward(along), self.line.interpolate(along)
        return np.array([nu, nv, nv * (at.x - middle[0]) - nu * (at.y - middle[1])])


def _move(edges: Sequence[_Edge], kept: Sequence[_Edge], shape: Polygon, limit: float) -> FitMove | None:
    """The move that leaves the least missing, then the least to trim; None where staying is as good, or an edge is not known at all."""
    middle = (shape.centroid.x, shape.centroid.y)
    told = [(edge.pull(along, middle), gap) for edge in edges for along, gap in edge.readings]
    if len(told) < 3 or not all(edge.readings for edge in edges):
        return None
    pulls, gaps = np.array([pull for pull, _ in told]), np.array([gap for _, gap in told])
    n = len(gaps)
    size = math.sqrt(shape.area)
    # right, up, turn, each split in two so that small moves are preferred; then what is too wide and what laps at each place
    columns = np.hstack([pulls, -pulls])
    eye, none = np.eye(n), np.zeros((n, n))
    lines = np.array(
        [edge.pull(share * edge.line.length, middle) for edge in kept for share in (0.1, 0.9)]
    ).reshape(-1, 3)
    still = np.hstack([lines, -lines, np.zeros((len(lines), 2 * n))])
    rows = np.vstack([np.hstack([-columns, -eye, none]), np.hstack([columns, none, -eye]), still, -still])
    right = np.concatenate(
        [limit - min(READING_MM, 0.2 * limit) - gaps, gaps, np.full(2 * len(lines), KEPT_MM)]
    )
    cost = np.concatenate([np.tile([0.01, 0.01, 0.01 * size], 2), np.full(n, 20.0), np.ones(n)])
    turn = math.radians(MOST_TURN_DEG)
    bounds = [(0, MOST_MOVE_MM), (0, MOST_MOVE_MM), (0, turn)] * 2 + [(0, None)] * (2 * n)
    found = linprog(cost, A_ub=rows, b_ub=right, bounds=bounds, method="highs")
    if not found.success:
        return None
    by = found.x[:3] - found.x[3:6]
    u, v, angle = round(float(by[0]), 1), round(float(by[1]), 1), round(math.degrees(float(by[2])), 2)
    after = gaps - pulls @ np.array([u, v, math.radians(angle)])
    if _faults(after, limit) >= _faults(gaps, limit):
        return None
    return FitMove(right_mm=u, up_mm=v, turn_deg=angle, words=_move_words(u, v, angle))


def _faults(gaps: np.ndarray, limit: float) -> tuple[int, int]:
    """How many places are too wide, and how many lap over."""
    return int((gaps > limit + READING_MM).sum()), int((gaps < -READING_MM).sum())


def _move_words(u: float, v: float, angle: float) -> Said:
    parts: list[str] = []
    if u:
        parts.append(
            Said("{by} to the right", by=Mm(u, 1)) if u > 0 else Said("{by} to the left", by=Mm(-u, 1))
        )
    if v:
        parts.append(Said("{by} up", by=Mm(v, 1)) if v > 0 else Said("{by} down", by=Mm(-v, 1)))
    if abs(angle) >= 0.05:
        way = "turn it {by} against the clock" if angle > 0 else "turn it {by} with the clock"
        parts.append(Said(way, by=Deg(abs(angle), 1)))
    return Said("Before you trim, move it: {how}, as drawn.", how=joined(parts, ", "))


def _stretches(
    edge: _Edge, move: FitMove | None, shape: Polygon, limit: float, wanted: float
) -> list[FitStretch]:
    """An edge parted where its verdict changes, every STEP_MM."""
    middle = (shape.centroid.x, shape.centroid.y)
    by = np.array([move.right_mm, move.up_mm, math.radians(move.turn_deg)]) if move else None
    length = edge.line.length
    count = max(2, math.ceil(length / STEP_MM) + 1)
    told = [(float(s), edge.gap_at(float(s), by, middle)) for s in np.linspace(0, length, count)]
    found: list[FitStretch] = []
    start = 0
    for i in range(1, count + 1):
        if i < count and _verdict(told[i][1], limit) == _verdict(told[start][1], limit):
            continue
        a = 0.0 if start == 0 else (told[start - 1][0] + told[start][0]) / 2
        b = length if i == count else (told[i - 1][0] + told[i][0]) / 2
        found.append(_stretch(edge, a, b, [gap for _, gap in told[start:i]], limit, wanted))
        start = i
    return found


def _verdict(gap: float | None, limit: float) -> Literal["fits", "laps", "wide", "unknown"]:
    if gap is None:
        return "unknown"
    return "laps" if gap < -READING_MM else "wide" if gap > limit + READING_MM else "fits"


def _stretch(
    edge: _Edge, a: float, b: float, gaps: Sequence[float | None], limit: float, wanted: float
) -> FitStretch:
    verdict = _verdict(gaps[0], limit)
    known = [gap for gap in gaps if gap is not None]
    most = None if not known else min(known) if verdict == "laps" else max(known)
    trim = round(max(wanted - min(known), 0.0), 1) if verdict == "laps" else 0.0
    count = max(2, math.ceil((b - a) / STEP_MM) + 1)
    at = [edge.line.interpolate(float(s)) for s in np.linspace(a, b, count)]
    values = {"edge": edge.name, "length": Mm(b - a, 0)}
    if verdict == "unknown":
        words = Said("{edge}: nothing was tapped over {length}. Tap it there.", **values)
    elif verdict == "laps":
        words = Said("{edge}: trim up to {trim} over {length}.", trim=Mm(trim, 1), **values)
    elif verdict == "wide":
        words = Said(
            "{edge}: {gap} apart over {length}, more than {limit}: metal is missing.",
            gap=Mm(most or 0, 1),
            limit=Mm(limit, 1),
            **values,
        )
    else:
        words = Said("{edge}: fits over {length}.", **values)
    return FitStretch(
        edge=edge.name, verdict=verdict, start_mm=round(a, 1), length_mm=round(b - a, 1), most_mm=None if most is None else round(most, 2), trim_mm=trim,
        path=[(round(p.x, 2), round(p.y, 2)) for p in at], words=words,
    )  # fmt: skip


def _goes(edges: Sequence[_Edge]) -> list[FitGo]:
    """Stretches of three tacks along the edges, the next one always farthest from those just done."""
    lines: list[tuple[list[Xy], list[Xy]]] = []
    for edge in edges:
        count = max(1, round(edge.line.length / (TACKS_AT_A_TIME * TACK_PITCH_MM)))
        each = edge.line.length / count
        for k in range(count):
            steps = np.linspace(k * each, (k + 1) * each, 7)
            path = [edge.line.interpolate(float(s)) for s in steps]
            tacks = [path[j] for j in (1, 3, 5)]
            lines.append(
                (
                    [(round(p.x, 2), round(p.y, 2)) for p in path],
                    [(round(p.x, 2), round(p.y, 2)) for p in tacks],
                )
            )
    left, order = list(range(1, len(lines))), [0] if lines else []
    while left:
        recent = [lines[k][0][3] for k in order[-3:]]
        best = max(left, key=lambda k: (min(math.dist(lines[k][0][3], at) for at in recent), -k))
        order.append(best)
        left.remove(best)
    return [FitGo(number=i, path=lines[k][0], tacks=lines[k][1]) for i, k in enumerate(order, start=1)]


def _words(
    request: FitRequest,
    fits: bool | None,
    move: FitMove | None,
    stretches: Sequence[FitStretch],
    fillers: Sequence[Filler],
) -> Said:
    if fits:
        return Said("It fits all round.")
    if not request.gaps:
        return Said("Nothing is tapped yet: whether it fits is not known.")
    unknown = sum(stretch.length_mm for stretch in stretches if stretch.verdict == "unknown")
    parts: list[str] = [move.words] if move else []
    laps = [stretch for stretch in stretches if stretch.verdict == "laps"]
    if laps:
        trim = max(stretch.trim_mm for stretch in laps)
        parts.append(
            Said(
                "Trim at {count}, {trim} at most.",
                count=Count(len(laps), "place", "places"),
                trim=Mm(trim, 1),
            )
        )
    if fillers:
        parts.append(Said("Metal is missing at {count}.", count=Count(len(fillers), "place", "places")))
    if unknown:
        parts.append(Said("Over {unknown} nothing was tapped: not known.", unknown=Mm(unknown, 0)))
    if fits is None:
        parts.insert(0, Said("What was tapped fits."))
    return joined(parts)
