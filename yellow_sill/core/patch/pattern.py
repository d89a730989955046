"""The flat pattern in full: what to cut, where to bend, which holes where, and what is wrong with it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from shapely.geometry import Point, Polygon
from shapely.ops import unary_union

from ..geometry import Xy, largest, ring, sound
from ..records import as_key
from ..remarks import Remark
from ..steel import KG_PER_MM3
from .base import arc_points, chord_angle, ring_of
from .faces import Face, Part
from .folded import run_into
from .judged import (
    LEAST_MM2,
    SEAM_MM,
    FlatHole,
    along_curves,
    fallen,
    hole_shape,
    meets,
    misplaced,
    overlaps,
    seam_of,
    short_legs,
)
from .layout import laid_out
from .part import Hole, PartRequest
from .rims import Piece, with_arcs


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatBend:
    """One bend on the flat sheet.

    Attributes:
        name: of its fold; start, end: its middle; tangents: the two lines where the bend begins and ends, each from and to; an arc's are given by ``centre``
        allowance_mm, setback_mm, deduction_mm, inside_radius_mm, angle_deg, direction, k_factor; flat_mm: of the leg beyond it.
    """

    name: str
    start: Xy = as_key("from")
    end: Xy = as_key("to")
    centre: Xy | None = None
    clockwise: bool = False
    middle: Xy
    angle_deg: float
    direction: str
    inside_radius_mm: float
    k_factor: float
    allowance_mm: float
    setback_mm: float
    deduction_mm: float
    length_mm: float
    flat_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatFace:
    """A leg on the flat sheet, for names and taps."""

    name: str
    on: str
    kind: str
    outline: list[list[float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatPart:
    """The piece to cut. ``outline``: its lines and true arcs, each from where the one before ends; ``corners``: the same as chords; ``cut_outs``: inside."""

    outline: list[Piece]
    corners: list[list[float]]
    cut_outs: list[list[list[float]]]
    faces: list[FlatFace]
    bends: list[FlatBend]
    holes: list[FlatHole]
    area_mm2: float
    bounding_box_mm: list[float]
    mass_kg: float
    warnings: list[Remark]


def pattern(request: PartRequest) -> FlatPart:
    """The flat pattern of a part: base, folds, corners, holes; arcs stay arcs.

    Args: request: see PartRequest.
    Returns: the flat, with remarks: FLAT-01 a leg too short to grip, FLAT-02 a flat that overlaps itself, FLAT-03 what falls off, FLAT-04 faces that meet when
        bent, FLAT-05 a flange along a curve, FLAT-07 a hole in a bend or off its face.
    Raises: BadField, BadOutline, naming the place.
    Source: docs/methods.md section 4.
    """
    return flat_of(laid_out(request), request)


def flat_of(part: Part, request: PartRequest) -> FlatPart:
    """The flat pattern of a part that is laid out already."""
    t = request.thickness_mm
    pieces = {"base": Polygon(ring_of(part.pieces, part.ends)).buffer(0)} | {
        face.name: _sheet(face) for face in part.faces
    }
    warnings = short_legs(part, request) + along_curves(part) + overlaps(pieces)
    joined = unary_union([*pieces.values(), *(seam_of(face) for face in part.faces)])
    taken = [Point(at).buffer(radius, quad_segs=_quarter(radius)) for at, radius in part.reliefs] + [
        Polygon(slot) for slot in part.slots
    ]
    whole = joined.difference(unary_union(taken)) if taken else joined
    whole = sound(whole)
    flat = largest(whole)
    warnings += fallen(whole, flat)
    holes = [_hole(part, None, hole) for hole in part.holes] + [
        _hole(part, face, hole) for face in part.faces for hole in face.spec.holes
    ]
    warnings += [remark for hole in holes for remark in misplaced(hole, pieces, part)]
    warnings += [meets(a, b, place) for a, b, place in run_into(part)]
    points = [(float(x), float(y)) for x, y in flat.exterior.coords[:-1]]
    points = points if flat.exterior.is_ccw else points[::-1]
    points = _without_seams(points)
    circles = _circles(part)
    made = FlatPart(
        outline=[_rounded(piece) for piece in with_arcs(points, circles)],
        corners=[[round(x, 4), round(y, 4)] for x, y in points],
        cut_outs=[ring(inner.coords, 4) for inner in flat.interiors if Polygon(inner).area > LEAST_MM2],
        faces=[FlatFace(name=f.name, on=f.spec.on, kind=f.spec.kind, outline=ring(pieces[f.name].exterior.coords, 3)) for f in part.faces],
        bends=[_bend(face) for face in part.faces],
        holes=holes,
        area_mm2=round(flat.area, 2),
        bounding_box_mm=[round(b, 4) for b in flat.bounds],
        mass_kg=round(flat.area * t * KG_PER_MM3, 5),
        warnings=warnings,
    )  # fmt: skip
    return mirrored(made) if request.mirror_hand else made


def _sheet(face: Face) -> Polygon:
    return Polygon(face.on_sheet()).buffer(0) if face.flat > 1e-6 else Polygon()


def _quarter(radius: float) -> int:
    return max(8, math.ceil(math.pi / 2 / chord_angle(radius)))


def _circles(part: Part) -> list[tuple[Xy, float, float]]:
    """Every circle that an edge of the flat may lie on, with its longest chord."""
    found = [(at, radius, math.pi / 2 / _quarter(radius) * radius * 1.01) for at, radius in part.reliefs]
    radii: dict[Xy, set[float]] = {}
    for piece in part.pieces:
        if piece.centre is not None:
            radii.setdefault(piece.centre, set()).add(piece.radius - piece.sense * piece.inset)
    for face in part.faces:
        if face.curved and face.piece is not None and face.piece.centre is not None:
            inner = face.piece.radius - face.piece.sense * face.inset
            for y in (-face.allowance, 0.0, face.flat):
                radii.setdefault(face.piece.centre, set()).add(
                    inner + face.piece.sense * (face.arc_reach + face.allowance + y)
                )
    return found + [
        (centre, radius, chord_angle(radius) * radius)
        for centre, some in radii.items()
        for radius in sorted(some)
    ]


def _without_seams(points: Sequence[Xy]) -> list[Xy]:
    """Corners without the doubles and the tiny teeth that joining leaves."""
    out: list[Xy] = []
    for p in points:
        if not out or math.dist(out[-1], p) > 2.5 * SEAM_MM:
            out.append(p)
    while len(out) > 3 and math.dist(out[0], out[-1]) <= 2.5 * SEAM_MM:
        out.pop()
    kept = [p for i, p in enumerate(out) if not _straight(out[i - 1], p, out[(i + 1) % len(out)])]
    return kept if len(kept) >= 3 else out


def _straight(a: Xy, b: Xy, c: Xy) -> bool:
    """Whether a corner lies on the straight line between its neighbours."""
    cross = (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])
    reach = math.dist(a, c) or 1.0
    ahead = (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1])
    return ahead > 0 and abs(cross) / reach < 0.0004


def _rounded(piece: Piece) -> Piece:
    at = lambda p: (round(p[0], 4) + 0.0, round(p[1], 4) + 0.0)  # noqa: E731
    return Piece(at(piece.to), piece.centre and at(piece.centre), piece.clockwise)


def _bend(face: Face) -> FlatBend:
    spec, (x0, x1), y = face.spec, face.root, -face.allowance / 2
    start, end = face.on_flat(x0, y), face.on_flat(x1, y)
    centre = face.piece.centre if face.curved and face.piece else None
    length = math.dist(start, centre) * (x1 - x0) / face.piece.radius if centre and face.piece else x1 - x0
    at = lambda p: (round(p[0], 4) + 0.0, round(p[1], 4) + 0.0)  # noqa: E731
    return FlatBend(
        name=face.name,
        start=at(start),
        end=at(end),
        centre=centre and at(centre),
        clockwise=bool(centre and face.piece and face.piece.clockwise),
        middle=at(face.on_flat((x0 + x1) / 2, y)),
        angle_deg=round(math.degrees(spec.angle), 3),
        direction="up" if spec.up else "down",
        inside_radius_mm=spec.radius_mm,
        k_factor=round(spec.k, 4),
        allowance_mm=round(face.allowance, 4),
        setback_mm=round(face.setback, 4),
        deduction_mm=round(2 * face.setback - face.allowance, 4),
        length_mm=round(length, 3),
        flat_mm=round(face.flat, 4),
    )


def _hole(part: Part, face: Face | None, hole: Hole) -> FlatHole:
    """A hole where it comes to lie on the flat."""
    if face is None:
        at, angle = hole.at, hole.angle_deg
    else:
        y = hole.at[1] - face.setback
        at = face.on_flat(hole.at[0], y)
        beside = face.on_flat(hole.at[0] + 0.01, y)
        way = math.degrees(math.atan2(beside[1] - at[1], beside[0] - at[0]))
        angle = way - hole.angle_deg  # the face's own axes run the other way round
    return FlatHole(
        kind=hole.kind, name=hole.name, on=face.name if face else "base", at=(round(at[0], 4), round(at[1], 4)), diameter_mm=hole.diameter_mm,
        length_mm=hole.length_mm, angle_deg=round((angle + 180) % 360 - 180, 3),
    )  # fmt: skip


def mirrored(flat: FlatPart) -> FlatPart:
    """The other hand: x turned round; up stays up."""
    flip = lambda p: (-p[0] + 0.0, p[1])  # noqa: E731
    rev = lambda points: [list(flip(p)) for p in reversed(points)]  # noqa: E731
    starts = [flat.outline[-1].to, *(piece.to for piece in flat.outline[:-1])]
    outline = [
        Piece(flip(start), piece.centre and flip(piece.centre), piece.clockwise)
        for start, piece in reversed(list(zip(starts, flat.outline, strict=True)))
    ]
    x0, y0, x1, y1 = flat.bounding_box_mm
    return FlatPart(
        outline=outline,
        corners=rev(flat.corners),
        cut_outs=[rev(each) for each in flat.cut_outs],
        faces=[FlatFace(name=f.name, on=f.on, kind=f.kind, outline=rev(f.outline)) for f in flat.faces],
        bends=[_flipped_bend(bend) for bend in flat.bends],
        holes=[
            FlatHole(
                kind=h.kind,
                name=h.name,
                on=h.on,
                at=flip(h.at),
                diameter_mm=h.diameter_mm,
                length_mm=h.length_mm,
                angle_deg=round((180 - h.angle_deg + 180) % 360 - 180, 3),
            )
            for h in flat.holes
        ],
        area_mm2=flat.area_mm2,
        bounding_box_mm=[-x1, y0, -x0, y1],
        mass_kg=flat.mass_kg,
        warnings=[
            Remark(code=w.code, where=w.where, what=w.what, mend=w.mend, at=w.at and flip(w.at))
            for w in flat.warnings
        ],
    )


def _flipped_bend(bend: FlatBend) -> FlatBend:
    flip = lambda p: (-p[0] + 0.0, p[1])  # noqa: E731
    return replace(
        bend,
        start=flip(bend.start),
        end=flip(bend.end),
        centre=bend.centre and flip(bend.centre),
        clockwise=not bend.clockwise,
        middle=flip(bend.middle),
    )


def path_of(bend: FlatBend) -> list[Xy]:
    """A bend's middle as a path, an arc as chords."""
    if bend.centre is None:
        return [bend.start, bend.end]
    return arc_points(bend.centre, math.dist(bend.start, bend.centre), bend.start, bend.end, bend.clockwise)


def rim_of(hole: FlatHole) -> list[Xy]:
    """A hole's outline as corners."""
    return [(round(x, 3), round(y, 3)) for x, y in list(hole_shape(hole).exterior.coords)[:-1]]
