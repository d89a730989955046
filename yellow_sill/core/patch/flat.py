"""The flat pattern of a patch: what to cut from the sheet so that, bent and fitted, it fills the opening."""

import math
from dataclasses import dataclass
from itertools import combinations
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from ..errors import BadField, BadOutline
from ..geometry import Xy, largest, outline_polygon, polygons_of, ring, sound, turn_deg
from ..records import Corners, Record, as_key
from ..remarks import Remark
from ..said import Mm, Said
from ..steel import KG_PER_MM3

JOGGLE_ANGLE_DEG = 45.0  #: usual slope of a joggling tool's step; a rule of thumb
K_FACTOR = (
    0.42  #: neutral fibre of air-bent mild sheet, share of thickness from the inside; usual 0.33 to 0.5
)
STEEPEST_JOGGLE_DEG = 90.0
#: Turns smaller than this are treated as one straight edge when reliefs are cut.
STRAIGHT_DEG = 1.0
#: Neighbouring flanges that turn less than this follow a curve and must be stretched or shrunk.
CURVED_DEG = 20.0
#: A mitred corner may reach this many times its own offset before it is cut off square.
MITRE_LIMIT = 3.0
MOST_EDGES = 600
#: Flaps overlap the plane part by this much while they are joined; it is tidied away again.
SEAM_MM = 0.001


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


@dataclass(frozen=True, slots=True, kw_only=True)
class BendLine:
    """Middle of one bend on the flat sheet, with what the folder needs. Lengths in mm."""

    edge: int
    start: Xy = as_key("from")
    end: Xy = as_key("to")
    angle_deg: float
    allowance_mm: float
    setback_mm: float
    deduction_mm: float
    direction: str
    inside_radius_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class StepLine:
    """Where the step of a joggle begins on the flat sheet; ``lost_mm`` is the length the step eats."""

    edge: int
    start: Xy = as_key("from")
    end: Xy = as_key("to")
    lost_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatPattern:
    """The piece to cut. ``opening`` is the outline it was made for, for orientation on the drawing."""

    flat_outline: list[list[float]]
    bend_lines: list[BendLine]
    step_lines: list[StepLine]
    area_mm2: float
    bounding_box_mm: list[float]
    mass_kg: float
    warnings: list[Remark]


@dataclass(frozen=True, slots=True)
class Bend:
    """The figures of one bend, mm: neutral arc, outside setback, deduction."""

    allowance_mm: float
    setback_mm: float
    deduction_mm: float


def bend_figures(angle_deg: float, inside_radius_mm: float, thickness_mm: float, k_factor: float) -> Bend:
    """Allowance, outside setback and deduction of a bend.

    Args: angle_deg: bent through, 90 = square, above 0 and below 180; radius and thickness in mm; k_factor 0 to 1.
    Source: arc of the neutral fibre and tangents of the outer surface; docs/methods.md section 4.

    >>> b = bend_figures(90, 1.0, 1.0, 0.4); round(b.allowance_mm, 3), round(b.setback_mm, 3), round(b.deduction_mm, 3)
    (2.199, 2.0, 1.801)
    """
    angle = math.radians(angle_deg)
    allowance = angle * (inside_radius_mm + k_factor * thickness_mm)
    setback = (inside_radius_mm + thickness_mm) * math.tan(angle / 2)
    return Bend(allowance, setback, 2 * setback - allowance)


def joggle_angle_deg(
    thickness_mm: float, inside_radius_mm: float, angle_deg: float = JOGGLE_ANGLE_DEG
) -> float:
    """The angle that the two bends of a step one sheet deep really get: the one asked for, or less where the radius is too big for the step.

    >>> round(joggle_angle_deg(1.0, 8.0), 2)
    19.75
    """
    middle = inside_radius_mm + thickness_mm / 2
    most = math.degrees(math.acos(1 - thickness_mm / (2 * middle)))
    return min(angle_deg, most)


def joggle_loss_mm(
    thickness_mm: float, inside_radius_mm: float, k_factor: float, angle_deg: float = JOGGLE_ANGLE_DEG
) -> float:
    """Length lost in a step one sheet deep: the neutral fibre's length less the run it covers.

    Two equal bends through ``angle_deg`` with a straight between. The step's geometry is that of the middle of the sheet, which moves over by one
    sheet; the length is the neutral fibre's. Where the radius is too big for the step, the bends meet without a straight: ``joggle_angle_deg``.

    Source: docs/methods.md section 4.

    >>> round(joggle_loss_mm(0.9, 1.0, 0.4, 30.0), 3)
    0.111
    """
    angle = math.radians(joggle_angle_deg(thickness_mm, inside_radius_mm, angle_deg))
    middle, neutral = inside_radius_mm + thickness_mm / 2, inside_radius_mm + k_factor * thickness_mm
    straight = max(0.0, (thickness_mm - 2 * middle * (1 - math.cos(angle))) / math.sin(angle))
    run = 2 * middle * math.sin(angle) + straight * math.cos(angle)
    return 2 * neutral * angle + straight - run


@dataclass(frozen=True, slots=True)
class _Side:
    """One edge with its treatment worked out; what the person left open is as usual here. ``reach``: how far the flat goes beyond the edge, mm."""

    number: int
    a: Xy
    b: Xy
    along: Xy
    out: Xy
    length: float
    spec: EdgeTreatment
    reach: float
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


def develop(request: PatchRequest) -> FlatPattern:
    """Develop the flat pattern.

    Args: request: the opening and how each edge is treated; an edge not named is a butt edge.
    Returns: the flat outline with bend lines, figures and remarks.
    Raises: BadOutline for a bad or clockwise opening, BadField naming the edge for a treatment that cannot be made.
    Source: docs/methods.md section 4.
    """
    opening = outline_polygon(request.outline, "outline")
    if not opening.exterior.is_ccw:
        raise BadOutline(
            "The corners run clockwise.",
            "outline",
            "Give them counter-clockwise, so that the edges' numbers fit.",
        )
    if len(opening.exterior.coords) - 1 != len(request.outline):
        raise BadOutline(
            "Two corners lie on the same spot.",
            "outline",
            "Leave one of them out, so that the edges' numbers fit.",
        )
    sides = _sides(request, [tuple(p) for p in opening.exterior.coords[:-1]])
    trims = [_trims(side, sides) for side in sides]
    warnings = _warn_small(sides, request)
    base = _base(sides, warnings)
    notches, flaps, bends = [], {}, []
    for side, (start, end) in zip(sides, trims, strict=True):
        if side.bend is None:
            continue
        if side.length - start - end < request.thickness_mm:
            text = Said("The flange on edge {number} has no room between its neighbours.", number=side.number)
            raise BadField(
                text,
                f"edges[{_place(request, side.number)}]",
                "Make that edge longer or give a neighbour another treatment.",
            )
        reach = side.reach
        flaps[side.number] = Polygon(
            [
                side.at(start, -SEAM_MM),
                side.at(side.length - end, -SEAM_MM),
                side.at(side.length - end, reach),
                side.at(start, reach),
            ]
        )
        inside = -side.bend.deduction_mm / 2
        spec, figures = side.spec, side.bend
        bends.append(
            BendLine(
                edge=side.number,
                start=_xy(side.at(start, inside)),
                end=_xy(side.at(side.length - end, inside)),
                angle_deg=side.angle_deg,
                allowance_mm=round(figures.allowance_mm, 4),
                setback_mm=round(figures.setback_mm, 4),
                deduction_mm=round(figures.deduction_mm, 4),
                direction=spec.direction,
                inside_radius_mm=side.radius_mm,
            )
        )
        tangent = -figures.setback_mm
        far = max(abs(tangent), 1.0) + max(s.reach for s in sides) * MITRE_LIMIT + 5
        for at_start, cut_back in ((True, start), (False, end)):
            if cut_back > 0:
                s0, s1 = (-far, cut_back) if at_start else (side.length - cut_back, side.length + far)
                notches.append(
                    (
                        side,
                        Polygon(
                            [side.at(s0, tangent), side.at(s1, tangent), side.at(s1, far), side.at(s0, far)]
                        ),
                    )
                )
    base = _relieve(base, notches, sides)
    flaps = _part_flaps(flaps, sides, base, warnings, request.thickness_mm)
    flat = largest(sound(unary_union([base, *flaps.values()]))).simplify(2 * SEAM_MM)
    warnings += _collisions(flaps, sides, trims, request.thickness_mm)
    steps = [
        StepLine(edge=s.number, start=_xy(s.a), end=_xy(s.b), lost_mm=round(s.lost_mm, 4))
        for s in sides
        if s.spec.treatment == "joggle"
    ]
    points = ring(flat.exterior.coords, 4)
    return FlatPattern(
        flat_outline=points if flat.exterior.is_ccw else points[::-1],
        bend_lines=bends,
        step_lines=steps,
        area_mm2=round(flat.area, 2),
        bounding_box_mm=[round(b, 4) for b in flat.bounds],
        mass_kg=round(flat.area * request.thickness_mm * KG_PER_MM3, 5),
        warnings=warnings,
    )


def _xy(point: Xy) -> Xy:
    return round(point[0], 4) + 0.0, round(point[1], 4) + 0.0


def _place(request: PatchRequest, number: int) -> int:
    return next((i for i, edge in enumerate(request.edges) if edge.edge == number), 0)


def _sides(request: PatchRequest, corners: list[Xy]) -> list[_Side]:
    specs: dict[int, EdgeTreatment] = {}
    for place, spec in enumerate(request.edges):
        if spec.edge >= len(corners):
            raise BadField(
                Said(
                    "There is no edge {edge}; the outline has edges 0 to {corners}.",
                    edge=spec.edge,
                    corners=len(corners) - 1,
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
    t, k, trim = request.thickness_mm, request.k_factor, request.trim_allowance_mm
    sides = []
    for i, a in enumerate(corners):
        b = corners[(i + 1) % len(corners)]
        length = math.dist(a, b)
        along = (b[0] - a[0]) / length, (b[1] - a[1]) / length
        spec = specs.get(i) or EdgeTreatment(edge=i, treatment="butt")
        bend, lost, width, radius, angle = None, 0.0, spec.width_mm or 0.0, 0.0, 0.0
        if spec.treatment in ("butt", "free"):
            reach = -request.gap_mm if spec.treatment == "butt" else 0.0
        elif spec.treatment == "lap":
            reach = width
        elif spec.treatment == "joggle":
            radius = t if spec.inside_radius_mm is None else spec.inside_radius_mm
            angle = JOGGLE_ANGLE_DEG if spec.angle_deg is None else spec.angle_deg
            if angle >= STEEPEST_JOGGLE_DEG:
                text = Said(
                    "A joggle's step on edge {i} cannot be bent through {angle:g}°.", i=i, angle=angle
                )
                raise BadField(
                    text,
                    f"edges[{_place(request, i)}].angle_deg",
                    Said(
                        "Make it less than {steepest_joggle_deg:g}°; {joggle_angle_deg:g}° is usual.",
                        steepest_joggle_deg=STEEPEST_JOGGLE_DEG,
                        joggle_angle_deg=JOGGLE_ANGLE_DEG,
                    ),
                )
            lost = joggle_loss_mm(t, radius, k, angle)
            reach = width + lost
        else:
            radius = t if spec.inside_radius_mm is None else spec.inside_radius_mm
            angle = 90.0 if spec.angle_deg is None else spec.angle_deg
            bend = bend_figures(angle, radius, t, k)
            reach = width - bend.deduction_mm
            if reach <= 0:
                text = Said(
                    "A flange of {width} on edge {i} is all bend: nothing would stand up.",
                    width=Mm(width),
                    i=i,
                )
                raise BadField(
                    text,
                    f"edges[{_place(request, i)}].width_mm",
                    Said(
                        "Make it more than {deduction_mm}, better {t}.",
                        deduction_mm=Mm(bend.deduction_mm, 1),
                        t=Mm(4 * t + radius, 1),
                    ),
                )
        sides.append(
            _Side(
                i,
                a,
                b,
                along,
                (along[1], -along[0]),
                length,
                spec,
                reach + trim,
                bend,
                lost,
                width,
                angle,
                radius,
            )
        )
    return sides


def _trims(side: _Side, sides: list[_Side]) -> tuple[float, float]:
    """How far a flange is cut back at its start and end so that bend zones do not meet: the corner relief."""
    if not side.is_flange:
        return 0.0, 0.0
    before, after = sides[side.number - 1], sides[(side.number + 1) % len(sides)]
    return _cut_back(side, before, turn_deg(before.a, side.a, side.b)), _cut_back(
        side, after, turn_deg(side.a, side.b, after.b)
    )


def _cut_back(side: _Side, other: _Side, turn: float) -> float:
    if abs(turn) < STRAIGHT_DEG and other.is_flange:
        return 0.0
    if other.bend is not None and turn > 0:
        return other.bend.setback_mm / max(math.sin(math.radians(180 - turn)), 0.2)
    if (
        side.bend is not None
        and other.bend is None
        and other.reach > 0
        and other.spec.treatment not in ("butt", "free")
    ):
        return side.bend.setback_mm
    return max(0.0, -other.reach) if turn > 0 else 0.0


def _base(sides: list[_Side], warnings: list[Remark]) -> Polygon:
    """The plane part: every edge that is not bent moved out or in by its reach; a flange's edge stays on its mould line."""
    points: list[Xy] = []
    for side in sides:
        before = sides[side.number - 1]
        d0, d1 = (0.0 if before.is_flange else before.reach), (0.0 if side.is_flange else side.reach)
        cross = before.along[0] * side.along[1] - before.along[1] * side.along[0]
        turn = turn_deg(before.a, side.a, side.b)
        p0, p1 = before.at(before.length, d0), side.at(0, d1)
        if abs(d0 - d1) < 1e-9 and abs(turn) < 0.01:
            points.append(p1)
        elif abs(turn) < STRAIGHT_DEG * 15 and abs(d0 - d1) > 1e-9:
            points += [p0, p1]
        else:
            s = ((p1[0] - p0[0]) * side.along[1] - (p1[1] - p0[1]) * side.along[0]) / cross
            meet = p0[0] + before.along[0] * s, p0[1] + before.along[1] * s
            limit = MITRE_LIMIT * max(abs(d0), abs(d1), 1e-6)
            points += [meet] if math.dist(meet, side.a) <= limit else [p0, p1]
    shape = Polygon(points)
    inmost = max(side.reach for side in sides)
    if not shape.exterior.is_ccw or (
        inmost < 0 and Polygon([side.a for side in sides]).buffer(inmost).is_empty
    ):
        raise BadOutline("The gap eats the whole piece.", "gap_mm", "Make the gap smaller.")
    if shape.is_valid:
        return shape
    mended = largest(sound(shape))
    if mended.is_empty:
        raise BadOutline("The gap eats the whole piece.", "gap_mm", "Make the gap smaller.")
    if abs(shape.area - mended.area) < max(2.0, 0.002 * mended.area):
        return mended  # loops smaller than a scriber line
    place = _xy(mended.centroid.coords[0])
    text = "Some edges are shorter than what is added beside them; the outline was tidied there."
    warnings.append(
        Remark(
            code="FLAT-03", where="outline", what=text, mend="Look at the pattern before you cut.", at=place
        )
    )
    return mended


def _relieve(base: Polygon, notches: list[tuple[_Side, Polygon]], sides: list[_Side]) -> Polygon:
    """Cut the corner reliefs. At a corner of two flanges only what lies outside both tangent lines goes."""
    for side, notch in notches:
        for other, second in notches:
            if other.number in (side.number, (side.number + 1) % len(sides)):
                continue
            if (other.number + 1) % len(sides) == side.number:
                base = largest(base.difference(notch.intersection(second)))
        for number in (side.number - 1, (side.number + 1) % len(sides)):
            if not sides[number].is_flange and sides[number].reach > 0:
                near = LineString([sides[number].a, sides[number].b]).buffer(sides[number].reach + 1)
                base = largest(base.difference(notch.intersection(near)))
    return base


def _part_flaps(
    flaps: dict[int, Polygon], sides: list[_Side], base: Polygon, warnings: list[Remark], slot_mm: float
) -> dict[int, Polygon]:
    """Part flaps that overlap on the flat sheet: at an inward corner a slot two sheets wide runs along the bisector."""
    n = len(sides)
    for i in list(flaps):
        j = (i + 1) % n
        if (
            j in flaps
            and turn_deg(sides[i].a, sides[j].a, sides[j].b) < -STRAIGHT_DEG
            and flaps[i].intersection(flaps[j]).area > 0.01
        ):
            flaps[i], flaps[j] = _halves(sides[i], sides[j], flaps[i], flaps[j], slot_mm)
    for i, j in combinations(flaps, 2):
        if flaps[i].intersection(flaps[j]).area > 0.01:
            warnings.append(
                _clash(i, j, "overlap on the flat sheet", flaps[i].intersection(flaps[j]).centroid.coords[0])
            )
    for i, flap in flaps.items():
        over = flap.intersection(base.difference(LineString([sides[i].a, sides[i].b]).buffer(0.05)))
        beyond = [p for p in polygons_of(over) if p.area > 0.05]
        if beyond:
            where = _xy(beyond[0].centroid.coords[0])
            text = Said("The flange on edge {i} runs into the piece itself on the flat sheet.", i=i)
            warnings.append(
                Remark(
                    code="FLAT-02",
                    where=f"edge {i}",
                    what=text,
                    mend="Make the flange narrower or weld it on.",
                    at=where,
                )
            )
    return flaps


def _halves(
    first: _Side, second: _Side, flap0: Polygon, flap1: Polygon, slot_mm: float
) -> tuple[Polygon, Polygon]:
    x, y = second.a
    bx, by = first.out[0] + second.out[0], first.out[1] + second.out[1]
    norm, far = math.hypot(bx, by) or 1.0, 5000.0
    bx, by = bx / norm, by / norm
    tip, tail = (x + bx * far, y + by * far), (x - bx * far, y - by * far)

    def side_of_line(side: _Side) -> Polygon:
        px, py = side.at(side.length / 2, 0)
        sign = 1 if (px - x) * -by + (py - y) * bx > 0 else -1
        nx, ny = -by * sign * far, bx * sign * far
        return Polygon([tip, tail, (tail[0] + nx, tail[1] + ny), (tip[0] + nx, tip[1] + ny)])

    slot = LineString([tip, tail]).buffer(slot_mm)
    return tuple(
        largest(flap.intersection(side_of_line(side)).difference(slot))
        for flap, side in ((flap0, first), (flap1, second))
    )


def _warn_small(sides: list[_Side], request: PatchRequest) -> list[Remark]:
    warnings = []
    for side in (s for s in sides if s.spec.treatment == "joggle"):
        asked, radius = side.angle_deg, side.radius_mm
        made = joggle_angle_deg(request.thickness_mm, radius, asked)
        if made < asked - 0.05:
            text = Said(
                "With a radius of {radius} the joggle on edge {number} is bent through {made:.1f}°, not {asked:g}°.",
                radius=Mm(radius),
                number=side.number,
                made=made,
                asked=asked,
            )
            mend = "The step is one sheet deep: take a smaller radius for a steeper one."
            warnings.append(
                Remark(
                    code="FLAT-06",
                    where=f"edge {side.number}",
                    what=text,
                    mend=mend,
                    at=_xy(side.at(side.length / 2, 0)),
                )
            )
    for side in (s for s in sides if s.is_flange):
        least = 4 * request.thickness_mm + side.radius_mm
        middle = _xy(side.at(side.length / 2, 0))
        if side.width_mm < least:
            text = Said(
                "The flange on edge {number} is {width_mm} wide; below {least} (4 t + R) a folder cannot grip it.",
                number=side.number,
                width_mm=Mm(side.width_mm),
                least=Mm(least, 1),
            )
            warnings.append(
                Remark(
                    code="FLAT-01",
                    where=f"edge {side.number}",
                    what=text,
                    mend="Make it wider and trim it after bending.",
                    at=middle,
                )
            )
        other = sides[(side.number + 1) % len(sides)]
        turn = turn_deg(side.a, side.b, other.b)
        if other.is_flange and STRAIGHT_DEG <= abs(turn) < CURVED_DEG:
            verb = "stretched" if turn < 0 else "shrunk"
            text = Said(
                "The flange from edge {number} to {number2} follows a curve: its rim must be {verb}, a folder cannot make it.",
                number=side.number,
                number2=other.number,
                verb=verb,
            )
            warnings.append(
                Remark(
                    code="FLAT-05",
                    where=f"edge {side.number}",
                    what=text,
                    mend="Use a shrinker or stretcher, or cut tabs.",
                    at=_xy(side.b),
                )
            )
    return warnings


def _clash(i: int, j: int, how: str, at: Xy) -> Remark:
    text = Said("The flanges on edges {i} and {j} {how}.", i=i, j=j, how=how)
    return Remark(
        code="FLAT-04",
        where=Said("edges {i} and {j}", i=i, j=j),
        what=text,
        mend="Make one narrower, bend it less, or weld it on afterwards.",
        at=_xy(at),
    )


def _collisions(
    flaps: dict[int, Polygon], sides: list[_Side], trims: list[tuple[float, float]], thickness_mm: float
) -> list[Remark]:
    """Flanges that run into one another once bent: their folded planes, a sheet's thickness short of each end, cross."""
    folded = {i: _folded(sides[i], trims[i], thickness_mm) for i in flaps}
    return [
        _clash(i, j, "run into each other when bent", sides[j].a)
        for i, j in combinations(folded, 2)
        if _cross(folded[i], folded[j])
    ]


def _folded(side: _Side, trim: tuple[float, float], thickness_mm: float) -> np.ndarray:
    angle = math.radians(side.angle_deg)
    up = 1.0 if side.spec.direction == "up" else -1.0
    rise = np.array([side.out[0] * math.cos(angle), side.out[1] * math.cos(angle), up * math.sin(angle)])
    start, end = trim[0] + thickness_mm * 0.01, side.length - trim[1] - thickness_mm * 0.01
    foot = [np.array([*side.at(s, 0.0), 0.0]) for s in (start, end)]
    low, high = rise * thickness_mm, rise * side.width_mm
    return np.array([foot[0] + low, foot[1] + low, foot[1] + high, foot[0] + high])


def _cross(first: np.ndarray, second: np.ndarray) -> bool:
    """Whether two flat four-cornered faces in space cut through each other."""
    return any(_edges_pierce(a, b) for a, b in ((first, second), (second, first)))


def _edges_pierce(face: np.ndarray, other: np.ndarray) -> bool:
    normal = np.cross(face[1] - face[0], face[3] - face[0])
    height = (other - face[0]) @ normal
    for i in range(4):
        h0, h1 = height[i], height[(i + 1) % 4]
        if h0 * h1 > 0 or h0 == h1:
            continue
        hit = other[i] + (other[(i + 1) % 4] - other[i]) * (h0 / (h0 - h1))
        turns = [np.dot(np.cross(face[(k + 1) % 4] - face[k], hit - face[k]), normal) for k in range(4)]
        if all(turn > -1e-6 * np.dot(normal, normal) for turn in turns):  # equal neighbours meet edge to edge
            return True
    return False
