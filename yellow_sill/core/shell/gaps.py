"""The gaps round a hung part judged: even or wedge, left beside right, and which hinge moves it which way."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Coordinate, Record
from ..said import Listed, Mm, Said, joined
from .hung import BOLTED, NAMES, WAYS, HungPart
from .lie import stem

#: One reading of a gap is this sure, mm (standard deviation; a stepped gauge or drill shanks).
READING_MM = 0.3
#: An edge is even where its two ends differ by no more than this; left and right are alike within it, mm.
EVEN_MM = 1.0
#: A gap this far from what it should be is out, mm.
OUT_MM = 1.5
#: A hinge is told to move where its move is at least this, and this many standard errors above nothing, mm.
LEAST_MOVE_MM, SURE = 0.5, 2.0
#: Sheets in the two directions that may be adjusted are held towards nothing this much: a movement of so many mm is as likely as not.
USUAL_MOVE_MM = 4.0
MOST_MM = 60.0
#: Between two rounds a gap has changed where it differs by more than this: 95 in 100 pairs of readings of one gap differ by less, mm.
MOVED_MM = round(1.96 * 2**0.5 * READING_MM, 2)

Name = Annotated[str, Field(min_length=1, max_length=40)]


class GapAt(Record):
    """A place of a part: its code, where it lies and which way its neighbour is, its nominal gap and the gap measured, mm."""

    code: Name
    edge: Name
    at: tuple[Coordinate, Coordinate]
    normal: tuple[Annotated[float, Field(ge=-1, le=1)], Annotated[float, Field(ge=-1, le=1)]]
    nominal_mm: Annotated[float, Field(gt=0, le=MOST_MM)]
    gap_mm: Annotated[float, Field(ge=0, le=MOST_MM)] | None = None


class GapRequest(Record):
    """A part's measured places and its two hinges, or groups of bolts where ``bolted``; each moves along the first axis, both together along the second."""

    places: Annotated[list[GapAt], Field(min_length=1, max_length=40)]
    hinges: (
        tuple[tuple[Name, tuple[Coordinate, Coordinate]], tuple[Name, tuple[Coordinate, Coordinate]]] | None
    ) = None
    ways: tuple[tuple[Name, Name], tuple[Name, Name]] = (WAYS["x"], WAYS["z"])
    bolted: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class EdgeJudged:
    """One edge: even, wedge or "" (one end not measured); how much wider its first end is than its second, mm."""

    edge: str
    verdict: str
    wider_mm: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """What to move, how far along its axis (mm, signed) and how sure that is (standard error, mm), in words; "" where nothing is to do."""

    what: str
    by_mm: float
    sigma_mm: float
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class GapsJudged:
    """A part's gaps judged.

    Attributes:
        edges; out: places that are off by more than OUT_MM; moves: of the hinges, those worth making have words.
        after_mm: the gaps after the moves, by place; left_mm: what no hinge takes away, the worst of them; words: the part in a few sentences.
    """

    edges: list[EdgeJudged]
    out: list[str]
    moves: list[Move]
    after_mm: dict[str, float]
    left_mm: float | None
    words: str


def judge_gaps(request: GapRequest) -> GapsJudged:
    """Judge the gaps round a part, and tell which hinge moves it which way.

    A part moves as a rigid piece in its plane. Two hinges that each move along one axis and together along the other give any such movement; those that
    bring the gaps nearest to their nominal sizes are found by least squares, held a little towards no move. What stays is in the opening.

    Args: request: see GapRequest; places that nobody measured are left out.
    Raises: BadField where hinges lie at one place.
    Source: small rigid motions in a plane; least squares with a prior, docs/methods.md.
    """
    known = [place for place in request.places if place.gap_mm is not None]
    edges = _edges(request.places)
    off = {place.code: float(place.gap_mm or 0) - place.nominal_mm for place in known}
    out = [code for code, by in off.items() if abs(by) > OUT_MM]
    moves: list[Move] = []
    after: dict[str, float] = {}
    left = None
    if request.hinges is not None and len(known) >= 3:
        moves, residual = _moves(request, known, np.array([off[place.code] for place in known]))
        after = {
            place.code: round(place.nominal_mm + by, 1) for place, by in zip(known, residual, strict=True)
        }
        left = round(float(np.abs(residual).max()), 1)
    return GapsJudged(edges=edges, out=out, moves=moves, after_mm=after, left_mm=left, words=_words(request, known, edges, out, moves, left))  # fmt: skip


def _edges(places: Sequence[GapAt]) -> list[EdgeJudged]:
    found = []
    for edge in dict.fromkeys(place.edge for place in places):
        ends = [place for place in places if place.edge == edge]
        gaps = [place.gap_mm for place in ends]
        if len(ends) < 2 or gaps[0] is None or gaps[1] is None:
            found.append(EdgeJudged(edge=edge, verdict="", wider_mm=None))
            continue
        wider = float(gaps[0]) - float(gaps[1]) - (ends[0].nominal_mm - ends[1].nominal_mm)
        found.append(EdgeJudged(edge=edge, verdict="even" if abs(wider) <= EVEN_MM else "wedge", wider_mm=round(wider, 1)))  # fmt: skip
    return found


def _moves(request: GapRequest, known: Sequence[GapAt], off: np.ndarray) -> tuple[list[Move], np.ndarray]:
    """The hinges' moves, and what the gaps are off by after those that are worth making."""
    assert request.hinges is not None
    (first, a), (second, b) = request.hinges
    apart = a[1] - b[1]
    if abs(apart) < 1.0:
        raise BadField(
            "The two hinges lie at one place.", "hinges", "Give two places, one above or beside the other."
        )
    rows = []
    for place in known:
        (p, q), (n, m) = place.at, place.normal
        share = (q - b[1]) / apart  # how much of the first hinge's move reaches this height
        lever = (p - (a[0] + b[0]) / 2) / apart  # turning raises what lies away from the hinges
        rows.append([-(n * share - m * lever), -(n * (1 - share) + m * lever), -m])
    design = np.array(rows)
    normal = design.T @ design / READING_MM**2 + np.eye(3) / USUAL_MOVE_MM**2
    covariance = np.linalg.inv(normal)
    by = -covariance @ design.T @ off / READING_MM**2
    sigma = np.sqrt(np.diag(covariance))
    made = np.where((np.abs(by) >= LEAST_MOVE_MM) & (np.abs(by) >= SURE * sigma), by, 0.0)
    names, both = (first, second, ""), "all bolts" if request.bolted else "both hinges"
    axis = (0, 0, 1)
    moves = [
        Move(
            what=names[k],
            by_mm=round(float(by[k]), 1),
            sigma_mm=round(float(sigma[k]), 2),
            words=_move_words(names[k] or both, float(made[k]), request.ways[axis[k]]),
        )
        for k in range(3)
    ]
    return moves, off + design @ made


def _move_words(what: str, by: float, ways: tuple[str, str]) -> str:
    if by == 0:
        return ""
    way = Said(ways[1] if by > 0 else ways[0])
    return Said("{what} {by} {way}", what=Said(what), by=Mm(abs(by), 1), way=way)


def _words(
    request: GapRequest,
    known: Sequence[GapAt],
    edges: Sequence[EdgeJudged],
    out: Sequence[str],
    moves: Sequence[Move],
    left: float | None,
) -> str:
    """The part in a few sentences."""
    if not known:
        return Said("Nobody has measured here yet.")
    told: list[str] = []
    wedges = sum(edge.verdict == "wedge" for edge in edges)
    missing = len(request.places) - len(known)
    if out:
        told.append(Said("{count} of {all} gaps are off by more than {limit}.", count=len(out), all=len(known), limit=Mm(OUT_MM)))  # fmt: skip
    elif wedges:
        told.append(Said("All gaps are near their sizes, but {count} edge(s) run to a wedge.", count=wedges))
    elif missing:
        told.append(Said("What was measured is even and near its size."))
    else:
        told.append(Said("Even all round, and near their sizes."))
    if missing:
        told.append(Said("{missing} are not measured.", missing=missing))
    wanted = [move.words for move in moves if move.words]
    if wanted:
        told.append(Said("Move: {moves}.", moves=Listed(tuple(wanted))))
        if left is not None and left > OUT_MM:
            told.append(Said("Even then one gap stays {left} off: that is in the opening, not in the hinges.", left=Mm(left, 1)))  # fmt: skip
    elif out and request.hinges is not None and len(known) >= 3:
        told.append(
            Said("No hinge or bolt mends that: the opening itself is out of shape. Take a datum round.")
        )
    return joined(told)


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """The same place on both sides: left and right gap, mm, and whether they are alike (None: one is not measured)."""

    name: str
    left_mm: float | None
    right_mm: float | None
    alike: bool | None


def left_beside_right(parts: Sequence[HungPart], gaps: Mapping[str, float]) -> list[Beside]:
    """Parts of both sides, place by place. Args: gaps: by place's code, mm."""
    found = []
    for part in parts:
        for place in part.places if part.side == "left" else ():
            left, right = gaps.get(place.code), gaps.get("R" + place.code[1:])
            alike = None if left is None or right is None else abs(left - right) <= EVEN_MM
            name = Said("{part}: {place}", part=Said(NAMES[stem(part.code)]), place=place.name)
            found.append(Beside(name=name, left_mm=left, right_mm=right, alike=alike))
    return found


def request_of(
    part: HungPart, gaps: Mapping[str, float], nominal_mm: Mapping[str, float] | None = None
) -> GapRequest:
    """What ``judge_gaps`` takes, from a part, its measured gaps and a person's own nominal sizes, by place's code."""
    own = nominal_mm or {}
    turn = (lambda pair: (pair[1], pair[0])) if part.turned else lambda pair: pair
    hinges = part.hinges and tuple((name, turn(at)) for name, at in part.hinges)
    places: list[dict[str, Any]] = [
        {
            "code": place.code, "edge": place.edge, "at": turn(place.at), "normal": turn(place.normal), "nominal_mm": own.get(place.code, place.nominal_mm),
            "gap_mm": gaps.get(place.code),
        }
        for place in part.places
    ]  # fmt: skip
    return GapRequest.read(
        {"places": places, "hinges": hinges, "ways": part.ways, "bolted": part.held == BOLTED}
    )


def round_words(
    judged: Sequence[tuple[HungPart, GapsJudged]],
    gaps: Mapping[str, float],
    before: Mapping[str, float] | None = None,
    earlier: str = "",
) -> str:
    """A whole round of gaps in a few sentences.

    Args: judged: every part with its judgement; gaps, before: by place's code, mm, in this round and an earlier one, which is called ``earlier``.
    """
    places = [(part, place) for part, _ in judged for place in part.places]
    known = [(part, place) for part, place in places if place.code in gaps]
    if not known:
        return Said("Nobody has measured here yet.")
    told: list[str] = [Said("{known} of {all} gaps measured.", known=len(known), all=len(places))]
    out = sum(len(each.out) for _, each in judged)
    wedges = sum(edge.verdict == "wedge" for _, each in judged for edge in each.edges)
    if out:
        told.append(Said("{count} off by more than {limit}.", count=out, limit=Mm(OUT_MM)))
    if wedges:
        told.append(Said("{count} edge(s) run to a wedge.", count=wedges))
    if not out and not wedges:
        told.append(Said("What was measured is even and near its size."))
    by = {place.code: gaps[place.code] - before[place.code] for _, place in known if place.code in before} if before else {}  # fmt: skip
    moved = {code: change for code, change in by.items() if abs(change) > MOVED_MM}
    if moved:
        worst = max(moved, key=lambda code: abs(moved[code]))
        part, place = next((part, place) for part, place in known if place.code == worst)
        what = "{count} changed since {earlier}, most {part}: {place}, {way} by {by}."
        way = Said("wider" if moved[worst] > 0 else "narrower")
        told.append(Said(what, count=len(moved), earlier=earlier, part=part.name, place=place.name, way=way, by=Mm(abs(moved[worst]), 1)))  # fmt: skip
    elif by:
        told.append(Said("None of {count} changed since {earlier}.", count=len(by), earlier=earlier))
    return joined(told)
