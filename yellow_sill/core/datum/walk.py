"""A measuring round as a walk round the shell: which readings, and in which order."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .sight import LOW_SHARE, TAPE_MM, Bar, Plate, Sheet, in_reach
from .slips import mirror_of

#: Stages of a rebuild at which a round is taken, in order, and the words for them.
STAGES = {
    "found": "As found",
    "levelled": "Levelled",
    "braced": "Braced",
    "cut": "Cut",
    "tacked": "Tacked",
    "welded": "Welded",
    "final": "Final",
}
#: A point is taped to so many of the next ones on its own side.
AHEAD = 2
#: A point needs to see so many others to be fixed and checked.
TIES = 5
#: Points of a repair's round besides those in its box: the nearest few outside.
AROUND = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Planned:
    """One reading to take: its kind, its points in order, what it should be by the nominal places (None for a height)."""

    kind: str
    points: tuple[str, ...]
    nominal: float | None


def reading_key(kind: str, points: Sequence[str]) -> str:
    """One name for a reading whichever way round a distance is taped.

    >>> reading_key("distance", ["8R", "2L"]), reading_key("height", ["2L"])
    ('distance 2L 8R', 'height 2L')
    """
    ends = [points[0], points[2]] if kind == "angle" else list(points)
    if kind in ("distance", "plumb", "angle"):
        ends.sort()
    named = [ends[0], points[1], ends[1]] if kind == "angle" else ends
    return " ".join([kind, *named])


def planned_round(
    ids: Sequence[str],
    nominal: np.ndarray,
    sheets: Sequence[Sheet] = (),
    tape_mm: float = TAPE_MM,
    wanted: Sequence[str] | None = None,
    *,
    plates: Sequence[Plate] = (),
    bars: Sequence[Bar] = (),
) -> list[Planned]:
    """The readings of a round, in walking order.

    All heights from one set-up of the level: down the left side, up the right. Then the offsets of both ends from a string along the
    centre line. Then the tape, from the front back: each pair's width,
    its diagonals to the next pair, each side's lengths, and from the foremost pairs the long diagonals.

    Args: ids: n names; nominal: n x 3, mm; sheets, plates, bars, tape_mm: see in_reach; wanted: only these points.
    """
    chosen = [i for i, name in enumerate(ids) if wanted is None or name in wanted]
    left = sorted((i for i in chosen if nominal[i, 1] <= 0), key=lambda i: nominal[i, 0])
    right = sorted((i for i in chosen if nominal[i, 1] > 0), key=lambda i: nominal[i, 0])
    heights = [Planned(kind="height", points=(ids[i],), nominal=None) for i in [*left, *reversed(right)]]
    strung = [
        Planned(kind="offset_y", points=(ids[i],), nominal=round(float(nominal[i, 1]), 1))
        for i in _at_ends(left, nominal) + _at_ends(right, nominal)
    ]
    pairs = {
        pair
        for pair in in_reach(nominal, sheets, tape_mm, plates=plates, bars=bars)
        if set(pair) <= set(chosen)
    }
    taken = _taped(left, right, nominal, pairs)
    taken += _few(chosen, nominal, pairs, taken)
    order = {
        i: place
        for place, i in enumerate(sorted(chosen, key=lambda i: (round(nominal[i, 0]), nominal[i, 1])))
    }
    unique = {tuple(sorted(pair, key=order.__getitem__)): None for pair in taken}
    tape = sorted(unique, key=lambda pair: (order[pair[0]], order[pair[1]]))
    return (
        heights
        + strung
        + [
            Planned(
                kind="distance",
                points=(ids[a], ids[b]),
                nominal=round(float(np.linalg.norm(nominal[a] - nominal[b])), 1),
            )
            for a, b in tape
        ]
    )


def _taped(left: list[int], right: list[int], nominal: np.ndarray, pairs: set) -> list[tuple[int, int]]:
    """What the tape takes from each point: ahead along its side, across to the next pair, its own pair's width, far across from the foremost."""
    mirror = mirror_of(nominal)
    taken: list[tuple[int, int]] = []
    for side, other in ((left, right), (right, left)):
        for i in side:
            opposite = mirror[i]
            reach = [k for k in side if nominal[k, 0] > nominal[i, 0] and _joined(pairs, i, k)]
            across = [
                k for k in other if nominal[k, 0] > nominal[i, 0] and k != opposite and _joined(pairs, i, k)
            ]
            taken += [(i, k) for k in reach[:AHEAD]] + [(i, k) for k in across[:1]]
            if i in side[: len(side) // 3]:
                taken += [(i, k) for k in across[-1:]]
            if opposite != i and nominal[i, 1] < 0 and _joined(pairs, i, opposite):
                taken.append((i, opposite))
    return taken


def _at_ends(side: list[int], nominal: np.ndarray) -> list[int]:
    """The low points of the front and rear third of one side: there a string along the centre line tells more than any tape."""
    low = [
        i
        for i in side
        if abs(nominal[i, 1]) > 1 and nominal[i, 2] <= nominal[:, 2].min() + LOW_SHARE * np.ptp(nominal[:, 2])
    ]
    third = len(low) // 3
    return low[:third] + low[len(low) - third :] if third else low


def _few(
    chosen: list[int], nominal: np.ndarray, pairs: set[tuple[int, int]], taken: list[tuple[int, int]]
) -> list[tuple[int, int]]:
    """More distances for points that are taped to fewer than three others: to the nearest."""
    more: list[tuple[int, int]] = []
    for i in chosen:
        joined = {a + b - i for a, b in taken + more if i in (a, b)}
        near = sorted(
            (k for k in chosen if k not in joined and _joined(pairs, i, k)),
            key=lambda k: float(np.linalg.norm(nominal[i] - nominal[k])),
        )
        more += [(i, k) for k in near[: max(0, 3 - len(joined))]]
    return more


def _joined(pairs: set[tuple[int, int]], i: int, k: int) -> bool:
    return (min(i, k), max(i, k)) in pairs


def with_ties(
    ids: Sequence[str],
    nominal: np.ndarray,
    wanted: Sequence[str],
    pairs: Sequence[tuple[int, int]],
    least: int = TIES,
) -> list[str]:
    """The points of a part's round with what ties them: one that sees fewer than ``least`` of the others takes more that it does see along, near and far.

    Args: ids: n names; nominal: n x 3, mm; wanted: names; pairs: what a tape can join, as indices.
    """
    chosen = [i for i, name in enumerate(ids) if name in wanted]
    sees: dict[int, list[int]] = {}
    for a, b in pairs:
        sees.setdefault(a, []).append(b)
        sees.setdefault(b, []).append(a)
    out = list(chosen)
    for i in chosen:
        there = [k for k in sees.get(i, []) if k in out]
        more = sorted(
            (k for k in sees.get(i, []) if k not in out),
            key=lambda k: float(np.linalg.norm(nominal[i] - nominal[k])),
        )
        lack = max(0, least - len(there))
        out += dict.fromkeys(more[: (lack + 1) // 2] + more[len(more) - lack // 2 :])
    return [ids[i] for i in sorted(out)]


def places_of(nominal: Sequence[Sequence[float]]) -> np.ndarray:
    """Nominal places as the walk takes them: n x 3, mm."""
    return np.asarray(nominal, float).reshape(-1, 3)


def by_the_book(kind: str, nominal: Sequence[Sequence[float]]) -> float:
    """What a distance, plumb distance or offset should read by the nominal places of its points, mm.

    >>> by_the_book("plumb", [(0, 0, 0), (3, 4, 12)]), by_the_book("distance", [(0, 0, 0), (3, 4, 12)])
    (5.0, 13.0)
    """
    if kind == "offset_y":
        return float(nominal[0][1])
    span = np.subtract(nominal[1], nominal[0]) * ([1, 1, 0] if kind == "plumb" else [1, 1, 1])
    return float(np.linalg.norm(span))


def points_near(
    ids: Sequence[str],
    places: np.ndarray | Sequence[Sequence[float]],
    box: dict[str, tuple[float, float]],
    held: Sequence[str] = (),
    count: int = AROUND,
) -> list[str]:
    """The points a repair's round takes: the nearest few to it, and those that hold the frame.

    Args: places: n x 3, mm; box: from and to along some of x, y, z, mm; held: names that are always taken.
    """
    nominal = np.asarray(places, float).reshape(-1, 3)
    away = np.zeros((len(ids), 3))
    for axis, name in enumerate("xyz"):
        if name in box:
            low, high = box[name]
            away[:, axis] = np.maximum(0, np.maximum(low - nominal[:, axis], nominal[:, axis] - high))
    nearest = np.argsort(np.linalg.norm(away, axis=1), kind="stable")[:count]
    wanted = {ids[i] for i in nearest} | set(held)
    return [name for name in ids if name in wanted]
