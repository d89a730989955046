"""What the survey and the repairs say about a structure: how much of each part rust has taken, and where pieces are cut out."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from shapely import get_coordinates, make_valid
from shapely.geometry import LineString, Polygon, box

from ..errors import BadField
from ..shell.planes import Plane
from .asked import Frame, HoldRequest
from .bodies import panels_of

#: Share of the thickness that a grade takes where it lies; source: docs/methods.md section 9.
GRADE_LOSS = {"O": 0.0, "S": 0.03, "P": 0.15, "T": 0.45, "H": 0.85, "F": 0.6, "": 0.1}
#: Rust lies where water lies and eats in from edges and seams, the places that carry: spots count so much more than their share of the area.
CONCENTRATION = 2.0
#: Nothing that is still in has lost more than this of its worth.
MOST_LOSS = 0.9
#: Holed and filled metal: a gauge reads the steel beside it.
UNSEEN_BY_READINGS = ("H", "F")
#: A cut this near a member's metal touches it, mm: the structure is drawn with straight lines. A smaller overlap is none, mm².
TOUCHES_MM, LEAST_TOUCH_MM2 = 10.0, 25.0
#: A member that shows less of its length in a view than this share is seen end on: where a piece is cut along it cannot be told there.
END_ON = 0.35


@dataclass(frozen=True, slots=True, kw_only=True)
class Spot:
    """A finding as the structure sees it: its panel, its grade's letter, its share of the panel's area.

    ``left``: share of the panel's thickness that readings found, the mean of them; None without readings.
    """

    panel: str
    grade: str
    share: float
    left: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Opening:
    """A piece that is cut out: its panel, the plane of its view, its outline in the view (mm), its share of the panel's area, and what it is for."""

    panel: str
    plane: Plane
    outline: Sequence[Sequence[float]]
    share: float
    why: str = ""


def loss_of(spots: Iterable[Spot]) -> float:
    """Share of a part's worth that rust has taken: Σ loss x area share x concentration, at most ``MOST_LOSS``.

    >>> loss_of([Spot(panel="L-SILL", grade="H", share=0.2)])
    0.34
    """
    lost = sum(_lost(spot) * spot.share for spot in spots) * CONCENTRATION
    return round(min(MOST_LOSS, lost), 3)


def _lost(spot: Spot) -> float:
    """What is lost where the finding lies: readings overrule the grade, but no reading sees a hole or what filler hides."""
    by_grade = GRADE_LOSS[spot.grade]
    if spot.left is None:
        return by_grade
    by_reading = min(1.0, max(0.0, 1 - spot.left))
    return max(by_grade, by_reading) if spot.grade in UNSEEN_BY_READINGS else by_reading


def with_condition(
    structure: Mapping[str, Any],
    spots: Sequence[Spot],
    openings: Sequence[Opening],
    new: Collection[str] = (),
) -> dict[str, Any]:
    """The structure in its state of today.

    Args: structure: plain values of a whole HoldRequest; spots: findings on metal that is still in; openings: pieces that are out;
        new: parts that are new and whole, whatever was found on the old ones.
    Returns: plain values, with the parts' ``loss``, ``remain`` and ``along``.
    """
    parts = {}
    of_panel: dict[str, list[Opening]] = {}
    for opening in openings:
        of_panel.setdefault(opening.panel, []).append(opening)
    holes: dict[str, list[Opening]] = {}
    for name, part in structure["parts"].items():
        codes = panels_of(name)
        here = [opening for code in codes for opening in of_panel.get(code, ())]
        parts[name] = dict(part)
        if name in new:
            continue
        if lost := loss_of(spot for spot in spots if spot.panel in codes):
            parts[name]["loss"] = lost
        if here:
            holes[name] = here
            parts[name]["remain"] = round(max(0.0, 1 - sum(opening.share for opening in here)), 4)
    for frame in structure["frames"]:
        start, end = (structure["nodes"][frame[at]] for at in ("from", "to"))
        for name in sorted({strip[4] for strip in frame["strips"]} & set(holes)):
            parts[name].setdefault("along", {})[frame["id"]] = round(
                1 - _covered(start, end, holes[name], _half_size(frame)), 4
            )
    return dict(structure) | {"parts": parts}


def _half_size(frame: Mapping[str, Any]) -> float:
    """How far a member's metal reaches from its line, mm."""
    return max(max(abs(value) for value in strip[:4]) for strip in frame["strips"])


def _covered(
    start: Sequence[float], end: Sequence[float], openings: Sequence[Opening], half_mm: float
) -> float:
    """How much of a member's length openings take out, 0 to 1, told in the planes of their views: only where a cut touches its metal.

    Args: half_mm: how far the member's metal reaches from its line.
    """
    length = float(np.linalg.norm(np.subtract(end, start)))
    taken: list[tuple[float, float]] = []
    loose = 0.0
    for opening in openings:
        a, b = (np.array(opening.plane.drawn(at)) for at in (start, end))
        along = b - a
        metal = LineString([a, b]).buffer(
            half_mm + TOUCHES_MM, cap_style="square" if np.linalg.norm(along) < END_ON * length else "flat"
        )
        touched = metal.intersection(make_valid(Polygon(opening.outline)))
        if touched.area < LEAST_TOUCH_MM2:
            continue
        if np.linalg.norm(along) < END_ON * length:
            loose = max(loose, opening.share)
            continue
        places = (get_coordinates(touched) - a) @ along / float(along @ along)
        low, high = max(0.0, float(places.min())), min(1.0, float(places.max()))
        if high > low:
            taken.append((low, high))
    covered, reached = 0.0, 0.0
    for low, high in sorted(taken):
        covered += max(0.0, high - max(low, reached))
        reached = max(reached, high)
    return min(1.0, max(covered, loose))


def cut_to(outline: Sequence[Sequence[float]], at: Sequence[float]) -> list[list[float]]:
    """The piece of a panel that is out when it is cut to a place: from its nearer end, along its longer way.

    Args: outline: the panel's, in its view, mm; at: where it was tapped.
    Raises: BadField where nothing or everything would be left.

    >>> cut_to([[0, 0], [20, 0], [20, 5], [0, 5]], [6, 2])
    [[0.0, 0.0], [0.0, 5.0], [6.0, 5.0], [6.0, 0.0]]
    """
    panel = Polygon(outline)
    u0, v0, u1, v1 = panel.bounds
    low, high, where = (u0, u1, at[0]) if u1 - u0 >= v1 - v0 else (v0, v1, at[1])
    start, end = (low, where) if where - low <= high - where else (where, high)
    half = box(start, v0, end, v1) if (low, high) == (u0, u1) else box(u0, start, u1, end)
    piece = panel.intersection(half)
    piece = max(getattr(piece, "geoms", [piece]), key=lambda each: each.area)
    if piece.area < 1 or piece.area > 0.99 * panel.area:
        raise BadField("There is no panel to cut to there.", "cut", "Tap on the panel, between its ends.")
    return [[float(u), float(v)] for u, v in piece.exterior.coords[:-1]]


def opening_to(
    panel: str, plane: Plane, outline: Sequence[Sequence[float]], at: Sequence[float], why: str
) -> Opening:
    """The opening that a panel cut to a place leaves; args and errors as ``cut_to``."""
    piece = tuple((u, v) for u, v in cut_to(outline, at))
    return Opening(
        panel=panel,
        plane=plane,
        outline=piece,
        share=share_of_panel(Polygon(piece).area, outline),
        why=why,
    )


def share_of_panel(area_mm2: float, panel: Sequence[Sequence[float]]) -> float:
    """Share of a panel that an area on it is, 0 to 1.

    >>> share_of_panel(50.0, [[0, 0], [20, 0], [20, 10], [0, 10]])
    0.25
    """
    return share_of_area(area_mm2, area_of_panel(panel))


def area_of_panel(panel: Sequence[Sequence[float]]) -> float:
    """The area within a panel's outline, mm²."""
    return float(Polygon(panel).area)


def share_of_area(area_mm2: float, whole_mm2: float) -> float:
    """Share of a whole that an area is, 0 to 1; 0 of nothing."""
    return min(1.0, area_mm2 / whole_mm2) if whole_mm2 > 0 else 0.0


#: A member that is made of less than this share of its metal is shown as weakened.
LESS_METAL = 0.85


def carried(request: HoldRequest) -> dict[str, float]:
    """How much of its whole worth each member is still made of: the share of its metal that is in and sound, by member id, 0 to 1."""
    return {frame.id: _share(frame, request) for frame in request.frames}


def _share(frame: Frame, request: HoldRequest) -> float:
    whole = now = 0.0
    for y1, z1, y2, z2, name in frame.strips:
        part = request.parts[name]
        area = float(np.hypot(y2 - y1, z2 - z1)) * part.thickness_mm
        whole += area
        now += area * (1 - part.loss) * part.along.get(frame.id, part.remain) if part.present else 0.0
    return round(now / whole, 3) if whole else 0.0
