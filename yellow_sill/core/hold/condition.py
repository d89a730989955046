"""What the survey and the repairs say about a structure: how much of each part rust has taken, and where pieces are cut out."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from shapely.geometry import Polygon

from ..datum.drawn import in_view
from .bodies import panels_of
from .structure import Frame, HoldRequest

#: Share of the thickness that a grade takes where it lies; source: docs/methods.md section 9.
GRADE_LOSS = {"O": 0.0, "S": 0.03, "P": 0.15, "T": 0.45, "H": 0.85, "F": 0.6, "": 0.1}
#: Rust lies where water lies and eats in from edges and seams, the places that carry: spots count so much more than their share of the area.
CONCENTRATION = 2.0
#: Nothing that is still in has lost more than this of its worth.
MOST_LOSS = 0.9
#: A member that shows less of its length in a view than this share is seen end on: where a piece is cut along it cannot be told there.
END_ON = 0.35


@dataclass(frozen=True, slots=True, kw_only=True)
class Spot:
    """A finding as the structure sees it: its panel, its grade's letter and its share of the panel's area."""

    panel: str
    grade: str
    share: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Opening:
    """A piece that is cut out: its panel, the view's axes, its outline in the view (mm), its share of the panel's area, and what it is for."""

    panel: str
    u_axis: str
    v_axis: str
    outline: Sequence[Sequence[float]]
    share: float
    why: str = ""


def loss_of(spots: Iterable[Spot]) -> float:
    """Share of a part's worth that rust has taken: Σ grade loss x area share x concentration, at most ``MOST_LOSS``.

    >>> loss_of([Spot(panel="L-SILL", grade="H", share=0.2)])
    0.34
    """
    lost = sum(GRADE_LOSS[spot.grade] * spot.share for spot in spots) * CONCENTRATION
    return round(min(MOST_LOSS, lost), 3)


def with_condition(structure: Mapping[str, Any], spots: Sequence[Spot], openings: Sequence[Opening]) -> dict[str, Any]:
    """The structure in its state of today.

    Args: structure: plain values of a whole HoldRequest; spots: findings on metal that is still in; openings: pieces that are out.
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
        if lost := loss_of(spot for spot in spots if spot.panel in codes):
            parts[name]["loss"] = lost
        if here:
            holes[name] = here
            parts[name]["remain"] = round(max(0.0, 1 - sum(opening.share for opening in here)), 4)
    for frame in structure["frames"]:
        start, end = (structure["nodes"][frame[at]] for at in ("from", "to"))
        for name in sorted({strip[4] for strip in frame["strips"]} & set(holes)):
            parts[name].setdefault("along", {})[frame["id"]] = round(1 - _covered(start, end, holes[name]), 4)
    return dict(structure) | {"parts": parts}


def _covered(start: Sequence[float], end: Sequence[float], openings: Sequence[Opening]) -> float:
    """How much of a member's length openings take out, 0 to 1, told in the planes of their views."""
    length = float(np.linalg.norm(np.subtract(end, start)))
    taken: list[tuple[float, float]] = []
    loose = 0.0
    for opening in openings:
        a, b = (np.array(in_view(list(at), opening.u_axis, opening.v_axis)) for at in (start, end))
        along = b - a
        if np.linalg.norm(along) < END_ON * length:
            loose = max(loose, opening.share)
            continue
        places = (np.asarray(opening.outline, float) - a) @ along / float(along @ along)
        low, high = max(0.0, float(places.min())), min(1.0, float(places.max()))
        if high > low:
            taken.append((low, high))
    covered, reached = 0.0, 0.0
    for low, high in sorted(taken):
        covered += max(0.0, high - max(low, reached))
        reached = max(reached, high)
    return min(1.0, max(covered, loose))


def share_of_panel(area_mm2: float, panel: Sequence[Sequence[float]]) -> float:
    """Share of a panel that an area on it is, 0 to 1.

    >>> share_of_panel(50.0, [[0, 0], [20, 0], [20, 10], [0, 10]])
    0.25
    """
    whole = Polygon(panel).area
    return min(1.0, area_mm2 / whole) if whole > 0 else 0.0


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
