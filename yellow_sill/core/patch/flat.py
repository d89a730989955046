"""The flat pattern of a patch: what to cut from the sheet so that, bent and fitted, it fills the opening."""

import math
from dataclasses import dataclass

from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from ..errors import BadField, BadOutline
from ..geometry import Xy, largest, outline_polygon, ring, sound, turn_deg
from ..records import as_key
from ..remarks import Remark
from ..said import Said
from ..steel import KG_PER_MM3
from .edges import PatchRequest, Side, place_of, sides_of
from .flaps import STRAIGHT_DEG, collisions, narrow, part_flaps, rounded_xy

#: A mitred corner may reach this many times its own offset before it is cut off square.
MITRE_LIMIT = 3.0
#: Flaps overlap the plane part by this much while they are joined; it is tidied away again.
SEAM_MM = 0.001


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


def develop(request: PatchRequest) -> FlatPattern:
    """Develop the flat pattern.

    Args: request: the opening and how each edge is treated; an edge not named is a butt edge.
    Returns: the flat outline with bend lines, figures and remarks.
    Raises: BadOutline for a bad or clockwise opening, BadField naming the edge for a treatment that cannot be made.
    Source: docs/methods.md section 4.
    """
    opening = _opening(request)
    sides = sides_of(request, [(x, y) for x, y in opening.exterior.coords[:-1]])
    trims = [_trims(side, sides) for side in sides]
    warnings = narrow(sides, request)
    base = _base(sides, warnings)
    flanges = [(side, *trim) for side, trim in zip(sides, trims, strict=True) if side.is_flange]
    for side, start, end in flanges:
        _require_room(side, start, end, request)
    flaps = {side.number: _flap(side, start, end) for side, start, end in flanges}
    farthest = max(side.reach for side in sides)
    notches = [notch for side, start, end in flanges for notch in _notches(side, start, end, farthest)]
    base = _relieve(base, notches, sides)
    flaps = part_flaps(flaps, sides, base, warnings, request.thickness_mm)
    flat = largest(sound(unary_union([base, *flaps.values()]))).simplify(2 * SEAM_MM)
    warnings += collisions(flaps, sides, trims, request.thickness_mm)
    points = ring(flat.exterior.coords, 4)
    return FlatPattern(
        flat_outline=points if flat.exterior.is_ccw else points[::-1],
        bend_lines=[bend for side, start, end in flanges if (bend := _bend_line(side, start, end))],
        step_lines=[
            StepLine(edge=s.number, start=rounded_xy(s.a), end=rounded_xy(s.b), lost_mm=round(s.lost_mm, 4))
            for s in sides
            if s.spec.treatment == "joggle"
        ],
        area_mm2=round(flat.area, 2),
        bounding_box_mm=[round(b, 4) for b in flat.bounds],
        mass_kg=round(flat.area * request.thickness_mm * KG_PER_MM3, 5),
        warnings=warnings,
    )


def _opening(request: PatchRequest) -> Polygon:
    """The opening, its corners one by one and counter-clockwise. Raises: BadOutline."""
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
    return opening


def _require_room(side: Side, start: float, end: float, request: PatchRequest) -> None:
    """Raises: BadField for a flange that its neighbours leave no room."""
    if side.length - start - end < request.thickness_mm:
        raise BadField(
            Said("The flange on edge {number} has no room between its neighbours.", number=side.number),
            f"edges[{place_of(request, side.number)}]",
            "Make that edge longer or give a neighbour another treatment.",
        )


def _flap(side: Side, start: float, end: float) -> Polygon:
    """A flange laid flat, trimmed at both ends."""
    return Polygon(
        [
            side.at(start, -SEAM_MM),
            side.at(side.length - end, -SEAM_MM),
            side.at(side.length - end, side.reach),
            side.at(start, side.reach),
        ]
    )


def _bend_line(side: Side, start: float, end: float) -> BendLine | None:
    if side.bend is None:
        return None
    inside = -side.bend.deduction_mm / 2
    return BendLine(
        edge=side.number,
        start=rounded_xy(side.at(start, inside)),
        end=rounded_xy(side.at(side.length - end, inside)),
        angle_deg=side.angle_deg,
        allowance_mm=round(side.bend.allowance_mm, 4),
        setback_mm=round(side.bend.setback_mm, 4),
        deduction_mm=round(side.bend.deduction_mm, 4),
        direction=side.spec.direction,
        inside_radius_mm=side.radius_mm,
    )


def _notches(side: Side, start: float, end: float, farthest: float) -> list[tuple[Side, Polygon]]:
    """What corner reliefs take at the trimmed ends of a flange. Args: farthest: reach of any side, mm."""
    if side.bend is None:
        return []
    tangent = -side.bend.setback_mm
    far = max(abs(tangent), 1.0) + farthest * MITRE_LIMIT + 5
    spans = ((-far, start, start), (side.length - end, side.length + far, end))
    return [
        (
            side,
            Polygon([side.at(s0, tangent), side.at(s1, tangent), side.at(s1, far), side.at(s0, far)]),
        )
        for s0, s1, cut_back in spans
        if cut_back > 0
    ]


def _trims(side: Side, sides: list[Side]) -> tuple[float, float]:
    """How far a flange is cut back at its start and end so that bend zones do not meet: the corner relief."""
    if not side.is_flange:
        return 0.0, 0.0
    before, after = sides[side.number - 1], sides[(side.number + 1) % len(sides)]
    return _cut_back(side, before, turn_deg(before.a, side.a, side.b)), _cut_back(
        side, after, turn_deg(side.a, side.b, after.b)
    )


def _cut_back(side: Side, other: Side, turn: float) -> float:
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


def _base(sides: list[Side], warnings: list[Remark]) -> Polygon:
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
    place = rounded_xy(mended.centroid.coords[0])
    text = "Some edges are shorter than what is added beside them; the outline was tidied there."
    warnings.append(
        Remark(
            code="FLAT-03", where="outline", what=text, mend="Look at the pattern before you cut.", at=place
        )
    )
    return mended


def _relieve(base: Polygon, notches: list[tuple[Side, Polygon]], sides: list[Side]) -> Polygon:
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
