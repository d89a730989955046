"""A jig that keeps mountings where they are while their metal is renewed: a bolted frame of bars, or a drilled plate."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..geometry import Xy
from ..records import Record
from ..said import Listed, Mm, Said

#: Marks lie in one plane within this, mm; a bar shorter than this cannot be made; a plate reaches so far beyond its holes (rules of thumb), mm.
PLANE_MM, LEAST_BAR_MM, MARGIN_MM = 3.0, 40.0, 40.0
#: What was measured again is right within this, mm: two readings of a tape.
RIGHT_MM = 1.5
_Far = Annotated[float, Field(ge=-20_000, le=20_000)]


class JigMark(Record):
    """A mounting: its name, where the middle of its hole lies in the shell's axes, mm, and the bolt's size."""

    name: Annotated[str, Field(min_length=1, max_length=30)]
    at: tuple[_Far, _Far, _Far]
    bolt_mm: Annotated[float, Field(gt=1, le=60)] = 8.0


class JigMeasured(Record):
    """A distance between two marks, measured again, mm."""

    first: Annotated[str, Field(max_length=30)]
    second: Annotated[str, Field(max_length=30)]
    mm: Annotated[float, Field(gt=0, le=20_000)]


class JigRequest(Record):
    """The marks, what the jig is made of, how wide a foot is, and distances measured again after welding."""

    marks: Annotated[list[JigMark], Field(min_length=2, max_length=16)]
    made_of: Literal["tube", "angle", "plate"] = "tube"
    foot_mm: Annotated[float, Field(ge=0, le=300)] = 40.0
    measured: Annotated[list[JigMeasured], Field(max_length=200)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class JigBar:
    """A bar from foot to foot: its marks, from hole to hole and as cut, mm."""

    first: str
    second: str
    holes_mm: float
    cut_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class JigHole:
    """A hole of a plate: its mark, its place on the plate, its diameter, and the packer between plate and mark, mm."""

    mark: str
    at: Xy
    diameter_mm: float
    packer_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class JigCheck:
    """A distance to measure before and after: two marks, what it is, what was measured again, whether it is right (None: not measured)."""

    first: str
    second: str
    should_mm: float
    measured_mm: float | None
    right: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Jig:
    """A jig worked out: bars (a frame) or holes and outline (a plate), checks two a mark, pairs of marks that mirror each other, words."""

    flat: bool
    bars: list[JigBar]
    holes: list[JigHole]
    outline: list[Xy]
    checks: list[JigCheck]
    mirrored: list[tuple[str, str]]
    words: str


def jig(request: JigRequest) -> Jig:
    """A jig for some mountings.

    A frame has just the bars that hold its feet to one another: the shortest that each take one freedom away (3 n - 6 in space, 2 n - 3 in a plane).
    A plate lies in the plane nearest to the marks. Two distances to each mark cross as squarely as can be.

    Args: request: see JigRequest.
    Raises: BadField: a name twice, marks at one place, marks in a line that a frame of bars cannot hold, a plate for marks in no plane, a distance to no mark.
    Source: rank of the rigidity matrix; docs/methods.md section 4.
    """
    names = [mark.name for mark in request.marks]
    if len(set(names)) < len(names):
        raise BadField("Two marks have one name.", "marks", "Give each its own.")
    at = np.array([mark.at for mark in request.marks])
    for i, j in combinations(range(len(at)), 2):
        if np.linalg.norm(at[i] - at[j]) < LEAST_BAR_MM:
            raise BadField(
                Said("{a} and {b} are too near for a jig.", a=names[i], b=names[j]),
                "marks",
                Said("They must lie {least} apart.", least=Mm(LEAST_BAR_MM)),
            )
    middle, axes, off = _plane(at)
    flat = bool(np.abs(off).max() <= PLANE_MM)
    bars = _bars(names, at, flat, request.foot_mm) if request.made_of != "plate" else []
    holes, outline = _plate(request.marks, at, middle, axes, off) if request.made_of == "plate" else ([], [])
    checks = _checks(names, at, request.measured)
    return Jig(
        flat=flat,
        bars=bars,
        holes=holes,
        outline=outline,
        checks=checks,
        mirrored=_mirrored(names, at),
        words=_words(request, bars, holes, checks),
    )


def _plane(at: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The plane nearest to the marks: its middle, its axes (2, 3), and how far each mark lies off it."""
    middle = at.mean(axis=0)
    _, _, ways = np.linalg.svd(at - middle)
    return middle, ways[:2], (at - middle) @ ways[2]


def _bars(names: Sequence[str], at: np.ndarray, flat: bool, foot: float) -> list[JigBar]:
    """The shortest bars that hold the feet: one is taken where it takes a freedom away. Raises: BadField for marks in a line."""
    n = len(at)
    if n > 2 and np.linalg.matrix_rank(at - at.mean(axis=0), tol=PLANE_MM) < 2:
        raise BadField(
            "The marks lie in one line: bars would let them swing.",
            "marks",
            "Add one beside the line, or take a plate.",
        )
    places = at
    if flat and n > 2:
        middle, axes, _ = _plane(at)
        places = (at - middle) @ axes.T
    size = places.shape[1]
    wanted = 1 if n == 2 else size * n - size * (size + 1) // 2
    pairs = sorted(
        combinations(range(n), 2), key=lambda pair: float(np.linalg.norm(at[pair[0]] - at[pair[1]]))
    )
    rows: list[np.ndarray] = []
    found = []
    for i, j in pairs:
        row = np.zeros(size * n)
        way = (places[i] - places[j]) / np.linalg.norm(places[i] - places[j])
        row[size * i : size * i + size], row[size * j : size * j + size] = way, -way
        if np.linalg.matrix_rank(np.array([*rows, row]), tol=1e-6) > len(rows):
            rows.append(row)
            length = float(np.linalg.norm(at[i] - at[j]))
            found.append(
                JigBar(
                    first=names[i],
                    second=names[j],
                    holes_mm=round(length, 1),
                    cut_mm=round(max(0.0, length - foot), 1),
                )
            )
        if len(rows) == wanted:
            break
    return found


def _plate(
    marks: Sequence[JigMark], at: np.ndarray, middle: np.ndarray, axes: np.ndarray, off: np.ndarray
) -> tuple[list[JigHole], list[Xy]]:
    """Holes of a plate and its outline. Raises: BadField for marks that lie in no plane."""
    if np.abs(off).max() > 10 * PLANE_MM:
        worst = marks[int(np.abs(off).argmax())]
        raise BadField(
            Said(
                "{name} lies {off} off the plane of the others.",
                name=worst.name,
                off=Mm(float(np.abs(off).max()), 0),
            ),
            "made_of",
            "Take a frame of bars.",
        )
    places = (at - middle) @ axes.T
    places -= places.min(axis=0) - MARGIN_MM
    far = places.max(axis=0) + MARGIN_MM
    level = off - off.max()
    holes = [
        JigHole(
            mark=mark.name,
            at=(round(float(p[0]), 1), round(float(p[1]), 1)),
            diameter_mm=mark.bolt_mm,
            packer_mm=round(float(-down), 1) + 0.0,
        )
        for mark, p, down in zip(marks, places, level, strict=True)
    ]
    return holes, [
        (0.0, 0.0),
        (round(float(far[0]), 1), 0.0),
        (round(float(far[0]), 1), round(float(far[1]), 1)),
        (0.0, round(float(far[1]), 1)),
    ]


def _checks(names: Sequence[str], at: np.ndarray, measured: Sequence[JigMeasured]) -> list[JigCheck]:
    """Two distances to each mark, to the two others that it is seen from most squarely. Raises: BadField for a distance to no mark."""
    told: dict[frozenset[str], float] = {}
    for i, each in enumerate(measured):
        if each.first not in names or each.second not in names or each.first == each.second:
            raise BadField(
                Said("No two marks are called {a} and {b}.", a=each.first, b=each.second),
                f"measured[{i}]",
                Said("There are: {names}.", names=Listed(tuple(names))),
            )
        told[frozenset((each.first, each.second))] = each.mm
    wanted: dict[frozenset[str], tuple[int, int]] = {}
    for i in range(len(at)):
        others = [j for j in range(len(at)) if j != i]
        best = max(
            combinations(others, 2),
            key=lambda pair: _square(at[i], at[pair[0]], at[pair[1]]),
            default=(others[0],),
        )
        for j in best:
            wanted[frozenset((names[i], names[j]))] = (min(i, j), max(i, j))
    found = []
    for key, (i, j) in sorted(wanted.items(), key=lambda item: item[1]):
        should, read = float(np.linalg.norm(at[i] - at[j])), told.get(key)
        found.append(
            JigCheck(
                first=names[i],
                second=names[j],
                should_mm=round(should, 1),
                measured_mm=read,
                right=None if read is None else abs(read - should) <= RIGHT_MM,
            )
        )
    return found


def _square(at: np.ndarray, one: np.ndarray, other: np.ndarray) -> float:
    """How squarely two marks are seen from a third: the sine of the angle between them."""
    a, b = one - at, other - at
    return float(np.linalg.norm(np.cross(a, b)) / (np.linalg.norm(a) * np.linalg.norm(b)))


def _mirrored(names: Sequence[str], at: np.ndarray) -> list[tuple[str, str]]:
    """Marks of the two sides that mirror each other: one jig, turned over, serves both."""
    flipped = at * np.array([1.0, -1.0, 1.0])
    found = []
    for i, j in combinations(range(len(at)), 2):
        if abs(at[i, 1]) > PLANE_MM and np.linalg.norm(flipped[i] - at[j]) <= PLANE_MM:
            found.append((names[i], names[j]))
    return found


def _words(
    request: JigRequest, bars: Sequence[JigBar], holes: Sequence[JigHole], checks: Sequence[JigCheck]
) -> str:
    wrong = [check for check in checks if check.right is False]
    if wrong:
        told = Listed(
            tuple(
                Said(
                    "{a} to {b} by {off}",
                    a=check.first,
                    b=check.second,
                    off=Mm((check.measured_mm or 0.0) - check.should_mm, 1),
                )
                for check in wrong
            )
        )
        return Said("Out: {pairs}. Do not weld on; pull it back first.", pairs=told)
    if bars:
        total = sum(bar.cut_mm for bar in bars)
        return Said(
            "{count} bars, {total} of {stock}; each foot bolted up before the bars are tacked.",
            count=len(bars),
            total=Mm(math.ceil(total), 0),
            stock=Said(request.made_of),
        )
    return Said("{count} holes in a plate; bolt it up before the metal goes.", count=len(holes))
