"""Levelling a shell on its stands: packers, in the steps there are, that bring the trusted flats level."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product
from typing import Annotated

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Point, Record
from ..said import Mm, Said
from .network import NetworkRecord, PointId

#: A jack lifts this far in all; more is built up anew. Rule of thumb, the person's own stands may differ.
RANGE_MM = 100.0
#: So many packers at most lie on one stand.
MOST_STACKED = 4
#: Go round the stands in lifts no higher than this, so that the shell is never racked; source: docs/methods.md section 7.
LIFT_MM = 10.0
#: A stand with more air under the shell than this carries nothing, mm.
LIGHT_MM = 0.3
#: Packings that level as well as this are alike; then less lifting is better, mm.
ALIKE_MM = 0.2
#: How many heights of the lowest stand are tried, and how many packer heights near the ideal at each.
BASES = 8
TRIED = 3


class Flat(Record):
    """A trusted flat with its height above anything level, mm."""

    id: PointId
    xy: Point
    height_mm: Annotated[float, Field(ge=-20_000, le=20_000)]


class Stand(Record):
    """A stand: where it is, what is packed on it now, how far its jack may go (from the lowest: packers out, to the highest)."""

    id: PointId
    xy: Point
    packed_mm: Annotated[float, Field(ge=0, le=1000)] = 0.0
    most_mm: Annotated[float, Field(gt=0, le=1000)] = RANGE_MM


class LevelRequest(NetworkRecord):
    """Flats, three or four stands, the packers at hand. ``rigid``: the shell does not settle onto a fourth stand by itself."""

    flats: Annotated[list[Flat], Field(min_length=3, max_length=60)]
    stands: Annotated[list[Stand], Field(min_length=3, max_length=4)]
    packers_mm: Annotated[list[Annotated[float, Field(gt=0, le=200)]], Field(min_length=1, max_length=20)]
    rigid: bool = True
    load_xy: Point | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Packing:
    """What goes on one stand: ``add_mm`` more than now (less than 0: out), the packers that make the new height, air left above it."""

    stand: str
    add_mm: float
    packers_mm: list[float]
    height_mm: float
    gap_mm: float
    carries: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LevelledFlat:
    id: str
    height_mm: float
    off_level_mm: float
    own_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Levelled:
    """Packers for the stands and what is left.

    Attributes:
        tilt_before, tilt_after: roll and pitch of the flats' plane, mm per m (roll > 0: right side low; pitch > 0: tail low).
        off_level_mm: how far any flat's plane stays from level, highest to lowest.
        flats: each flat afterwards, relative to their mean; ``own_mm`` is what no packer can mend: it belongs to the shell.
        twist_mm: the twist that stays, over the length and the mean width of the flats.
        order: what to do, step by step.
    """

    stands: list[Packing]
    light_stand: str | None
    tilt_before: list[float]
    tilt_after: list[float]
    off_level_mm: float
    twist_mm: float
    flats: list[LevelledFlat]
    order: list[str]
    words: list[str]


def level(request: LevelRequest) -> Levelled:
    """Packers that bring the flats level within the steps there are.

    Args: request: see LevelRequest.
    Returns: packers, the stand that goes light, what stays in the shell.
    Raises: BadField: flats or stands in one line, a shell so far out that the stands cannot reach.
    Source: the plane of the flats by least squares; a rigid shell rests on three stands; docs/methods.md section 7.
    """
    flats = np.array([flat.xy for flat in request.flats], float)
    heights = np.array([flat.height_mm for flat in request.flats], float)
    stands = np.array([stand.xy for stand in request.stands], float)
    _spread(flats, "flats", "The flats lie in one line.", "Choose one more to the side.")
    for three in _threes(len(stands)):
        _spread(stands[three], "stands", "Three of the stands lie in one line.", "Move one out to the side.")
    _no_twice([stand.id for stand in request.stands], "stands")
    _no_twice([flat.id for flat in request.flats], "flats")
    middle = flats.mean(axis=0)
    load = np.array(request.load_xy, float) if request.load_xy else stands.mean(axis=0)
    if not _inside(stands, load):
        raise BadField(
            "The weight would lie outside the stands: the shell tips.",
            "load_xy",
            "Move the stands so that the heavy part is between them.",
        )
    plane = np.linalg.lstsq(_basis(flats, middle), heights, rcond=None)[0]
    wanted = -_basis(stands, middle)[:, 1:] @ plane[1:]
    twist = _twist(flats, middle, heights - _basis(flats, middle) @ plane)
    if not request.rigid and len(stands) == 4 and twist is not None:
        wanted = wanted - twist * _warp(stands, middle)
    heights_now = np.array([stand.packed_mm for stand in request.stands])
    choices = stacks(request.packers_mm, max(stand.most_mm for stand in request.stands), heights_now.tolist())
    chosen = _chosen(request, wanted, choices, stands, load, flats, heights, middle)
    return _answer(request, chosen, choices, stands, load, flats, heights, middle, plane, twist)


def _no_twice(names: Sequence[str], where: str) -> None:
    if len(set(names)) < len(names):
        raise BadField("One name is there twice.", where, "Give each its own.")


def _spread(points: np.ndarray, where: str, what: str, mend: str) -> None:
    if np.linalg.svd(points - points.mean(axis=0), compute_uv=False)[1] < 50:
        raise BadField(what, where, mend)


def _threes(count: int) -> list[list[int]]:
    return [[i for i in range(count) if i != left] for left in range(count)] if count == 4 else [[0, 1, 2]]


def _inside(stands: np.ndarray, load: np.ndarray) -> bool:
    return any((_corners(stands[three], load) > -1e-9).all() for three in _threes(len(stands)))


def _corners(triangle: np.ndarray, point: np.ndarray) -> np.ndarray:
    """Barycentric coordinates of a point: how the corners share its weight."""
    return np.linalg.solve(np.vstack([triangle.T, np.ones(3)]), np.append(point, 1.0))


def _basis(points: np.ndarray, middle: np.ndarray) -> np.ndarray:
    """Columns 1, x, y (metres from the middle)."""
    return np.column_stack([np.ones(len(points)), (points - middle) / 1000])


def _warp(points: np.ndarray, middle: np.ndarray) -> np.ndarray:
    return np.prod((points - middle) / 1000, axis=1)


def _twist(flats: np.ndarray, middle: np.ndarray, own: np.ndarray) -> float | None:
    """Twist of the flats, mm per m²: the part of what is left that runs with x times y. None where they cannot tell."""
    full = np.column_stack([_basis(flats, middle), _warp(flats, middle)])
    if len(flats) < 4 or np.linalg.matrix_rank(full, tol=0.02) < 4:
        return None
    return float(np.linalg.lstsq(full, own, rcond=None)[0][3])


def stacks(
    packers_mm: Sequence[float], most_mm: float, now: Sequence[float] = ()
) -> dict[float, list[float]]:
    """Every height that up to four packers make, with the fewest of them; what lies there now can stay.

    >>> stacks([2, 5], 8)
    {0.0: [], 2.0: [2.0], 4.0: [2.0, 2.0], 5.0: [5.0], 6.0: [2.0, 2.0, 2.0], 7.0: [5.0, 2.0], 8.0: [2.0, 2.0, 2.0, 2.0]}
    """
    found: dict[float, list[float]] = {0.0: []}
    for _ in range(MOST_STACKED):
        for height, pile in list(found.items()):
            for packer in sorted(set(map(float, packers_mm)), reverse=True):
                total = round(height + packer, 3)
                if total <= most_mm and (total not in found or len(found[total]) > len(pile) + 1):
                    found[total] = sorted([*pile, packer], reverse=True)
    for height in now:
        found.setdefault(round(float(height), 3), [round(float(height), 3)])
    return dict(sorted(found.items()))


def _rest(stands: np.ndarray, lifts: np.ndarray, load: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Where a rigid shell comes to rest on its stands.

    Of the planes through three stands the one that no stand pokes through and that has the weight inside is it.

    Args: stands: s x 2, mm; lifts: k x s tries, mm; load: where the weight is.
    Returns: k planes (1, x and y in metres), air above each stand, k x s.
    """
    basis = np.column_stack([np.ones(len(stands)), stands / 1000])
    threes = _threes(len(stands))
    planes = np.array([lifts[:, three] @ np.linalg.inv(basis[three]).T for three in threes])
    gaps = planes @ basis.T - lifts
    tips = np.array([max(0.0, -float(_corners(stands[three], load).min())) for three in threes])
    fault = np.maximum(0, -gaps.min(axis=2)) + tips[:, None]
    best, every = fault.round(9).argmin(axis=0), np.arange(len(lifts))
    return planes[best, every], np.maximum(gaps[best, every], 0)


def _settled(
    request: LevelRequest, stands: np.ndarray, lifts: np.ndarray, load: np.ndarray, points: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """How far points rise when the stands are raised (k x n), and the air above each stand (k x s)."""
    if request.rigid or len(stands) == 3:
        planes, gap = _rest(stands, lifts, load)
        return planes @ np.column_stack([np.ones(len(points)), points / 1000]).T, gap
    centre = stands.mean(axis=0)
    full = lambda at: np.column_stack([_basis(at, centre), _warp(at, centre)])  # noqa: E731
    bent = lifts @ np.linalg.pinv(full(stands)).T
    return bent @ full(points).T, np.maximum(bent @ full(stands).T - lifts, 0)


def _chosen(request, wanted, choices, stands, load, flats, heights, middle) -> np.ndarray:
    """Heights of the stacks on the stands: the least tilt left, then the least lifting, then the fewest packers."""
    have = np.array(list(choices))
    now = np.array([stand.packed_mm for stand in request.stands])
    most = np.array([stand.most_mm for stand in request.stands])
    ideal = (
        now + wanted - (now + wanted).min()
    )  # the lowest stand keeps no packer, all others are built up to it
    reach = float((most - ideal).min())
    if reach < 0:
        short = int((most - ideal).argmin())
        raise BadField(
            Said(
                "{id} would have to go up {ideal}; it reaches {most}.",
                id=request.stands[short].id,
                ideal=Mm(ideal[short], 0),
                most=Mm(most[short], 0),
            ),
            "stands",
            "Set the lowest stand higher first, or use taller stands.",
        )
    bases = sorted(
        {0.0, *(float(h) for h in have if h <= reach)},
        key=lambda base: abs(base - float((now - ideal).mean())),
    )[:BASES]
    near = [
        [have[np.argsort(np.abs(have - (base + each)), kind="stable")[:TRIED]] for each in ideal]
        for base in bases
    ]
    tries = np.unique(np.array([stack for each in near for stack in product(*each)]), axis=0)
    tries = tries[(tries <= most + 1e-9).all(axis=1)]
    if not len(tries):
        raise BadField("No heap of these packers fits on the stands.", "packers_mm", "Add thinner ones.")
    rise, gap = _settled(request, stands, tries - now, load, flats)
    size = flats.max(axis=0) - flats.min(axis=0)
    tilt = np.abs((heights + rise) @ np.linalg.pinv(_basis(flats, middle))[1:].T) * size / 1000
    faults = np.round((tilt.sum(axis=1) + 0.3 * gap.max(axis=1)) / ALIKE_MM)
    lifting = np.abs(tries - now).sum(axis=1).round(3)
    pieces = np.array([sum(len(choices[float(h)]) for h in stack) for stack in tries])
    return tries[np.lexsort((pieces, lifting, faults))[0]]


def _answer(request, chosen, choices, stands, load, flats, heights, middle, plane, twist) -> Levelled:
    now = np.array([stand.packed_mm for stand in request.stands])
    lifts = chosen - now
    rise, gap = (each[0] for each in _settled(request, stands, lifts[None], load, flats))
    after = heights + rise
    rest = _basis(flats, middle) @ np.linalg.lstsq(_basis(flats, middle), after, rcond=None)[0]
    own, levelled = after - rest, rest - rest.mean()
    light = int(gap.argmax()) if gap.max() > LIGHT_MM else None
    packed = [
        Packing(
            stand=stand.id,
            add_mm=round(float(lift), 3),
            packers_mm=choices[float(height)],
            height_mm=round(float(height), 3),
            gap_mm=round(float(air), 3),
            carries=bool(air <= LIGHT_MM),
        )
        for stand, lift, height, air in zip(request.stands, lifts, chosen, gap, strict=True)
    ]
    size = np.array([np.ptp(flats[:, 0]), 2 * np.abs(flats[:, 1] - middle[1]).mean()]) / 1000
    twisted = 0.0 if twist is None else float(twist * size[0] * size[1])
    if not request.rigid:
        twisted = 0.0 if len(stands) == 4 else twisted
    tilt = np.linalg.lstsq(_basis(flats, middle), after, rcond=None)[0][1:]
    return Levelled(
        stands=packed,
        light_stand=request.stands[light].id if light is not None else None,
        tilt_before=[round(float(-plane[2]), 3) + 0.0, round(float(-plane[1]), 3) + 0.0],
        tilt_after=[round(float(-tilt[1]), 3) + 0.0, round(float(-tilt[0]), 3) + 0.0],
        off_level_mm=round(float(np.ptp(levelled)), 3),
        twist_mm=round(twisted, 3),
        flats=[
            LevelledFlat(
                id=flat.id,
                height_mm=round(float(h - after.mean()), 3),
                off_level_mm=round(float(off), 3),
                own_mm=round(float(o), 3),
            )
            for flat, h, off, o in zip(request.flats, after, levelled, own, strict=True)
        ],
        order=_order(packed),
        words=_words(request, packed, light, float(np.ptp(levelled)), twisted, own),
    )


def _order(packed: list[Packing]) -> list[str]:
    """Rounds of lifts no higher than LIFT_MM, the stand with the most to go first; lowering comes last."""
    left = {each.stand: each.add_mm for each in packed if abs(each.add_mm) > 1e-9}
    steps: list[str] = []
    while any(left.values()):
        for stand in sorted(left, key=lambda name: (left[name] < 0, -abs(left[name]))):
            by = max(-LIFT_MM, min(LIFT_MM, left[stand]))
            if by:
                steps.append(
                    Said(
                        "{raise_} {stand} by {by}.",
                        raise_="Raise" if by > 0 else "Lower",
                        stand=stand,
                        by=Mm(abs(by)),
                    )
                )
                left[stand] = round(left[stand] - by, 3)
    if steps:
        steps.append("Let the shell settle, then read the heights again.")
    return steps


def _words(
    request: LevelRequest, packed: list[Packing], light: int | None, off: float, twist: float, own: np.ndarray
) -> list[str]:
    words: list[str] = [
        Said("The flats come level within {off}.", off=Mm(off, 1))
        if any(each.add_mm for each in packed)
        else Said("It stands level within {off}: nothing to add.", off=Mm(off, 1))
    ]
    if light is not None:
        words.append(
            Said(
                "{stand} goes light: {gap_mm} of air. Push a shim in by hand until it just touches.",
                stand=packed[light].stand,
                gap_mm=Mm(packed[light].gap_mm, 1),
            )
        )
    if abs(twist) >= 0.5:
        words.append(
            Said(
                "{twist} of twist stays over the flats: that is in the shell, not in the floor.",
                twist=Mm(abs(twist), 1),
            )
        )
    if not request.rigid and len(packed) == 4:
        words.append(
            "Four packed stands press the shell flat: what they press out comes back when it is lifted off."
        )
    worst = int(np.abs(own).argmax())
    if abs(own[worst]) >= 1.0:
        way = "above" if own[worst] > 0 else "below"
        words.append(
            Said(
                "{id} lies {own} {way} the others' plane: no packer mends that.",
                id=request.flats[worst].id,
                own=Mm(abs(own[worst]), 1),
                way=way,
            )
        )
    return words
