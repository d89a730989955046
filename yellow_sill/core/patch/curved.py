"""A flange along a curve: how much its rim must be shrunk or stretched, where, in how many passes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Corners, Record
from ..said import Mm, Said
from .zones import zones_along

#: What mild sheet takes at an edge before it tears when stretched, or folds over when shrunk (rule of thumb).
STRAIN_LIMIT = 0.12
MARK_MM = 25.0
#: A zone is straight where its radius is beyond this, mm.
STRAIGHT_MM = 3000.0
MOST_PASSES = 500

Way = Literal["folded", "angle"]


class CurvedFlangeRequest(Record):
    """A flange of a height along an arc, or along a free path.

    ``sense``: ``out`` where the rim lies outside the arc as seen flat (round the edge of a disc), ``in`` inside it (round a hole).
    ``way``: ``folded`` up from a flat blank, whose rim lies at r + h or r - h, on to the arc; or a straight ``angle`` curved in its plane, whose fold keeps
    its length. ``angle_deg`` or ``length_mm`` of the arc; or ``path``: places along a free edge, out to the right of the way it runs. ``bite_mm``,
    ``per_bite_mm``: of the shrinker or stretcher: how wide its jaws grip, and what one bite gains or loses.
    """

    height_mm: Annotated[float, Field(gt=0, le=500)]
    radius_mm: Annotated[float, Field(gt=0, le=20_000)] | None = None
    sense: Literal["out", "in"] = "out"
    way: Way = "folded"
    angle_deg: Annotated[float, Field(gt=0, le=360)] | None = None
    length_mm: Annotated[float, Field(gt=0, le=20_000)] | None = None
    path: Corners | None = None
    strain_limit: Annotated[float, Field(gt=0, le=0.6)] = STRAIN_LIMIT
    mark_mm: Annotated[float, Field(ge=5, le=500)] = MARK_MM
    bite_mm: Annotated[float, Field(gt=0, le=200)] = 25.0
    per_bite_mm: Annotated[float, Field(gt=0, le=10)] = 0.6


@dataclass(frozen=True, slots=True, kw_only=True)
class RimMark:
    """A stretch of the rim between two marks: from and to along it before it is worked, and what it must gain (above 0) or lose, mm."""

    start_mm: float
    end_mm: float
    gain_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RimZone:
    """One zone of a curve.

    Attributes:
        start_mm, fold_mm: where it begins along the fold, and how long; radius_mm: None where it is straight; sense: out, in or "".
        blank_radius_mm: of the rim on the flat; before_mm, after_mm: the rim's length; strain: gained share of what it was, below 0 where it is shrunk.
        deed: shrink, stretch or "" where nothing is to do; highest_mm: flange for the strain limit; passes: over the zone.
    """

    start_mm: float
    fold_mm: float
    radius_mm: float | None
    sense: str
    blank_radius_mm: float | None
    before_mm: float
    after_mm: float
    strain: float
    deed: str
    highest_mm: float | None
    passes: int

    @property
    def gain_mm(self) -> float:
        """What the zone's rim must gain over all, below 0 where it is shrunk."""
        return round(self.after_mm - self.before_mm, 2)


@dataclass(frozen=True, slots=True, kw_only=True)
class CurvedFlange:
    """A curved flange worked out: its zones, marks along the whole rim, worst strain and whether it lies within the limit, words."""

    zones: list[RimZone]
    marks: list[RimMark]
    before_mm: float
    after_mm: float
    worst_strain: float
    within: bool
    words: str


def curved_flange(request: CurvedFlangeRequest) -> CurvedFlange:
    """What a flange along a curve asks of its rim.

    Folded up from the flat, a rim at radius r + h comes to lie at r and loses h / (r + h) of its length; one at r - h gains h / (r - h). A straight angle whose
    fold keeps its length gains h / r outside the arc and loses h / r inside it.

    Args: request: see CurvedFlangeRequest.
    Returns: zone by zone and mark by mark.
    Raises: BadField: no arc and no path, or both; a height that reaches the arc's centre.
    Source: lengths of concentric arcs; docs/methods.md section 4.
    """
    if (request.path is None) == (request.radius_mm is None):
        raise BadField("Give an arc's radius, or the path of a free edge.", "radius_mm")
    return curved_along(_arc_span(request) if request.path is None else zones_along(request.path), request)


def curved_along(spans: Sequence[tuple[float, float]], request: CurvedFlangeRequest) -> CurvedFlange:
    """A flange along zones that are known: of each the length of its fold and its curvature, 1 / r, above 0 where the flange lies outside the arc.

    Args: request: height, way, limit, marks and the tool; its arc and path are not looked at. Raises: BadField as ``curved_flange``.
    """
    zones = []
    start = 0.0
    for fold, curvature in spans:
        zones.append(_zone(request, start, fold, curvature))
        start += fold
    before, after = sum(zone.before_mm for zone in zones), sum(zone.after_mm for zone in zones)
    worst = max((zone.strain for zone in zones), key=abs)
    within = abs(worst) <= request.strain_limit
    return CurvedFlange(
        zones=zones, marks=_marks(zones, request.mark_mm), before_mm=round(before, 2), after_mm=round(after, 2), worst_strain=round(worst, 5), within=within,
        words=_words(request, zones, before, after, worst),
    )  # fmt: skip


def _arc_span(request: CurvedFlangeRequest) -> list[tuple[float, float]]:
    radius = request.radius_mm
    assert radius is not None
    if (request.angle_deg is None) == (request.length_mm is None):
        raise BadField("Give the arc's angle, or its length along the fold.", "angle_deg")
    length = (
        request.length_mm
        if request.length_mm is not None
        else radius * math.radians(request.angle_deg or 0.0)
    )
    if length > 2 * math.pi * radius + 0.01:
        raise BadField("The arc is longer than its circle.", "length_mm", "Check the radius.")
    return [(length, (1.0 if request.sense == "out" else -1.0) / radius)]


def _zone(request: CurvedFlangeRequest, start: float, fold: float, curvature: float) -> RimZone:
    """One zone. Args: curvature: 1 / r, above 0 where the flange lies outside the arc. Raises: BadField."""
    h = request.height_mm
    if abs(curvature) < 1 / STRAIGHT_MM:
        return RimZone(
            start_mm=round(start, 2),
            fold_mm=round(fold, 2),
            radius_mm=None,
            sense="",
            blank_radius_mm=None,
            before_mm=fold,
            after_mm=fold,
            strain=0.0,
            deed="",
            highest_mm=None,
            passes=0,
        )
    r, out = 1 / abs(curvature), curvature > 0
    if h >= r:
        raise BadField(
            Said("A flange of {height} does not go round a radius of {radius}.", height=Mm(h), radius=Mm(r, 1)), "height_mm",
            "Make it lower than the radius, or cut tabs.",
        )  # fmt: skip
    beyond, e = (r + h if out else r - h), request.strain_limit
    if request.way == "folded":
        before, after, deed = fold * beyond / r, fold, "shrink" if out else "stretch"
        highest = e * r / (1 - e) if out else e * r / (1 + e)
    else:
        before, after, deed = fold, fold * beyond / r, "stretch" if out else "shrink"
        highest = e * r
    gain = after - before
    passes = max(1, math.ceil(abs(gain) / (request.per_bite_mm * max(1.0, before / request.bite_mm)) - 1e-9))
    if passes > MOST_PASSES:
        raise BadField(
            Said("That takes {passes} passes of the tool.", passes=passes),
            "per_bite_mm",
            "Check what one bite gains or loses.",
        )
    return RimZone(
        start_mm=round(start, 2), fold_mm=round(fold, 2), radius_mm=round(r, 2), sense="out" if out else "in",
        blank_radius_mm=round(beyond, 2) if request.way == "folded" else None, before_mm=round(before, 3), after_mm=round(after, 3),
        strain=round(gain / before, 6), deed=deed, highest_mm=round(min(highest, r), 2), passes=passes,
    )  # fmt: skip


def _marks(zones: Sequence[RimZone], every: float) -> list[RimMark]:
    """What each stretch between two marks must gain; the stretches sum to the whole."""
    ends = np.cumsum([0.0, *(zone.before_mm for zone in zones)])
    gains = np.cumsum([0.0, *(zone.after_mm - zone.before_mm for zone in zones)])
    total = float(ends[-1])
    count = max(1, math.ceil(total / every - 1e-9))
    at = [min(total, every * k) for k in range(count)] + [total]
    gained = np.interp(at, ends, gains)
    return [
        RimMark(start_mm=round(a, 1), end_mm=round(b, 1), gain_mm=round(float(g1 - g0), 3))
        for a, b, g0, g1 in zip(at, at[1:], gained, gained[1:], strict=False)
    ]


def _words(
    request: CurvedFlangeRequest, zones: Sequence[RimZone], before: float, after: float, worst: float
) -> str:
    if not any(zone.deed for zone in zones):
        return Said("The edge is straight: fold it, nothing is to be shrunk or stretched.")
    verb = {True: "lose", False: "gain"}[after < before]
    if abs(worst) <= request.strain_limit:
        return Said(
            "The rim must {verb} {by} over all, {share:.1f} % where it is most.",
            verb=Said(verb),
            by=Mm(abs(after - before), 1),
            share=100 * abs(worst),
        )
    low = min((zone.highest_mm for zone in zones if zone.highest_mm is not None), default=0.0)
    return Said(
        "The rim must {verb} {by} over all, {share:.1f} % where it is most: more than {limit:.0f} %. "
        "Up to {highest} can be made in one piece; else cut tabs, or part it.",
        verb=Said(verb),
        by=Mm(abs(after - before), 1),
        share=100 * abs(worst),
        limit=100 * request.strain_limit,
        highest=Mm(low, 1),
    )
