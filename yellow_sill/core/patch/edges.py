"""The edges of an opening and how each meets the old metal."""

import math
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..geometry import Xy
from ..records import Corners, Record
from ..said import Mm, Said
from .bends import JOGGLE_ANGLE_DEG, K_FACTOR, Bend, bend_figures, joggle_loss_mm

STEEPEST_JOGGLE_DEG = 90.0
MOST_EDGES = 600


class EdgeTreatment(Record):
    """How one edge of the opening meets the old metal. Edge i runs from corner i to corner i + 1.

    ``free`` is the panel's own edge: nothing is there to keep a gap from, so it stays where it is.
    """

    edge: Annotated[int, Field(ge=0, lt=MOST_EDGES)]
    treatment: Literal["butt", "lap", "joggle", "flange", "free"]
    width_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    angle_deg: Annotated[float, Field(gt=0, le=170)] | None = None
    inside_radius_mm: Annotated[float, Field(ge=0, le=200)] | None = None
    direction: Literal["up", "down"] = "up"


class PatchRequest(Record):
    """Input of ``develop``. The outline is the opening, counter-clockwise, at the outside of the finished piece."""

    outline: Corners
    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    gap_mm: Annotated[float, Field(ge=0, le=20)] = 0.0
    k_factor: Annotated[float, Field(ge=0, le=1)] = K_FACTOR
    trim_allowance_mm: Annotated[float, Field(ge=0, le=100)] = 0.0
    edges: Annotated[list[EdgeTreatment], Field(max_length=MOST_EDGES)] = []


@dataclass(frozen=True, slots=True)
class Side:
    """One edge with its treatment worked out; what the person left open is as usual here. ``reach``: how far the flat goes beyond the edge, mm."""

    number: int
    a: Xy
    b: Xy
    along: Xy
    out: Xy
    length: float
    spec: EdgeTreatment
    reach: float = 0.0
    bend: Bend | None = None
    lost_mm: float = 0.0
    width_mm: float = 0.0
    angle_deg: float = 0.0
    radius_mm: float = 0.0

    @property
    def is_flange(self) -> bool:
        return self.bend is not None

    def at(self, s: float, outward: float) -> Xy:
        return self.a[0] + self.along[0] * s + self.out[0] * outward, self.a[1] + self.along[
            1
        ] * s + self.out[1] * outward


def place_of(request: PatchRequest, number: int) -> int:
    """Where in the request an edge is told of."""
    return next((i for i, edge in enumerate(request.edges) if edge.edge == number), 0)


def _treatments(request: PatchRequest, edges: int) -> dict[int, EdgeTreatment]:
    """What was said of each edge. Raises: BadField."""
    specs: dict[int, EdgeTreatment] = {}
    for place, spec in enumerate(request.edges):
        if spec.edge >= edges:
            raise BadField(
                Said(
                    "There is no edge {edge}; the outline has edges 0 to {edges}.",
                    edge=spec.edge,
                    edges=edges - 1,
                ),
                f"edges[{place}].edge",
            )
        if spec.edge in specs:
            raise BadField(
                Said("Edge {edge} is given twice.", edge=spec.edge),
                f"edges[{place}].edge",
                "Give each edge one treatment.",
            )
        if spec.treatment not in ("butt", "free") and not spec.width_mm:
            raise BadField(
                Said("A {treatment} needs its width in mm, above 0.", treatment=spec.treatment),
                f"edges[{place}].width_mm",
            )
        specs[spec.edge] = spec
    return specs


def sides_of(request: PatchRequest, corners: list[Xy]) -> list[Side]:
    """Every edge with its treatment worked out.

    Args: corners: of the opening, counter-clockwise, mm.
    Raises: BadField naming the edge whose treatment cannot be made.
    """
    specs = _treatments(request, len(corners))
    sides = []
    for i, a in enumerate(corners):
        b = corners[(i + 1) % len(corners)]
        length = math.dist(a, b)
        along = (b[0] - a[0]) / length, (b[1] - a[1]) / length
        spec = specs.get(i) or EdgeTreatment(edge=i, treatment="butt")
        side = Side(
            number=i,
            a=a,
            b=b,
            along=along,
            out=(along[1], -along[0]),
            length=length,
            spec=spec,
            width_mm=spec.width_mm or 0.0,
        )
        made = _MADE[spec.treatment](side, request)
        sides.append(replace(made, reach=made.reach + request.trim_allowance_mm))
    return sides


def _butt(side: Side, request: PatchRequest) -> Side:
    return replace(side, reach=-request.gap_mm)


def _free(side: Side, _request: PatchRequest) -> Side:
    return side


def _lap(side: Side, _request: PatchRequest) -> Side:
    return replace(side, reach=side.width_mm)


def _joggle(side: Side, request: PatchRequest) -> Side:
    """Raises: BadField for a step too steep."""
    spec, t = side.spec, request.thickness_mm
    radius = t if spec.inside_radius_mm is None else spec.inside_radius_mm
    angle = JOGGLE_ANGLE_DEG if spec.angle_deg is None else spec.angle_deg
    if angle >= STEEPEST_JOGGLE_DEG:
        raise BadField(
            Said(
                "A joggle's step on edge {i} cannot be bent through {angle:g}°.", i=side.number, angle=angle
            ),
            f"edges[{place_of(request, side.number)}].angle_deg",
            Said(
                "Make it less than {steepest_joggle_deg:g}°; {joggle_angle_deg:g}° is usual.",
                steepest_joggle_deg=STEEPEST_JOGGLE_DEG,
                joggle_angle_deg=JOGGLE_ANGLE_DEG,
            ),
        )
    lost = joggle_loss_mm(t, radius, request.k_factor, angle)
    return replace(side, reach=side.width_mm + lost, lost_mm=lost, angle_deg=angle, radius_mm=radius)


def _flange(side: Side, request: PatchRequest) -> Side:
    """Raises: BadField for a flange that is all bend."""
    spec, t = side.spec, request.thickness_mm
    radius = t if spec.inside_radius_mm is None else spec.inside_radius_mm
    angle = 90.0 if spec.angle_deg is None else spec.angle_deg
    bend = bend_figures(angle, radius, t, request.k_factor)
    reach = side.width_mm - bend.deduction_mm
    if reach <= 0:
        raise BadField(
            Said(
                "A flange of {width} on edge {i} is all bend: nothing would stand up.",
                width=Mm(side.width_mm),
                i=side.number,
            ),
            f"edges[{place_of(request, side.number)}].width_mm",
            Said(
                "Make it more than {deduction_mm}, better {t}.",
                deduction_mm=Mm(bend.deduction_mm, 1),
                t=Mm(4 * t + radius, 1),
            ),
        )
    return replace(side, reach=reach, bend=bend, angle_deg=angle, radius_mm=radius)


_MADE = {"butt": _butt, "free": _free, "lap": _lap, "joggle": _joggle, "flange": _flange}
