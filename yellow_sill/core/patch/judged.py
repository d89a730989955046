"""What is wrong with a flat pattern: legs too short, overlaps, holes in bends, faces that meet when bent."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from shapely.geometry import LineString, Point, Polygon

from ..geometry import Xy, polygons_of
from ..remarks import Remark
from ..said import Mm, Mm2, Said
from .faces import Face, Part
from .part import PartRequest, shown

#: Pieces overlap by this much while they are joined, mm; an overlap of less area is a rounding, mm².
SEAM_MM, LEAST_MM2 = 0.001, 0.05
#: A hole must stay this many sheets and the inside radius away from where the bend begins (rule of thumb).
HOLE_SHEETS = 2.0


@dataclass(frozen=True, slots=True, kw_only=True)
class FlatHole:
    """A hole or mark in its place on the flat. ``on``: the base or a fold; angle_deg: of a slot on the flat sheet."""

    kind: str
    name: str
    on: str
    at: Xy
    diameter_mm: float
    length_mm: float | None
    angle_deg: float


def seam_of(face: Face) -> Polygon:
    """The bend's own strip, a little longer at both ends so that it joins."""
    strip = Polygon(face.strip(-face.allowance - SEAM_MM, SEAM_MM))
    return strip if strip.is_valid else strip.buffer(0)


def hole_shape(hole: FlatHole) -> Polygon:
    """A hole's outline on the flat."""
    radius = hole.diameter_mm / 2
    if not hole.length_mm or hole.length_mm <= hole.diameter_mm:
        return Point(hole.at).buffer(radius, quad_segs=16)
    half, a = (hole.length_mm - hole.diameter_mm) / 2, math.radians(hole.angle_deg)
    x, y = half * math.cos(a), half * math.sin(a)
    return LineString([(hole.at[0] - x, hole.at[1] - y), (hole.at[0] + x, hole.at[1] + y)]).buffer(
        radius, quad_segs=16
    )


def misplaced(hole: FlatHole, pieces: dict[str, Polygon], part: Part) -> list[Remark]:
    """FLAT-07: a hole that is off its face, or so near to a bend that it is pulled out of shape."""
    shape, name = (
        hole_shape(hole),
        Said("The {kind} of {size}", kind=Said(hole.kind), size=Mm(hole.diameter_mm)),
    )
    told: list[Remark] = []
    for face in part.faces:
        if hole.on not in (face.name, face.spec.on, "base" if face.parent is None else face.parent.name):
            continue
        bend = seam_of(face)
        least = HOLE_SHEETS * part.thickness + face.spec.radius_mm
        apart = shape.distance(bend)
        if apart < least - 0.01:
            what = Said(
                "{hole} lies {apart} from the bend {bend}: it is drawn out of round.",
                hole=name,
                apart=Mm(apart, 1),
                bend=face.name,
            )
            told.append(
                _remark(
                    "FLAT-07",
                    hole.on,
                    what,
                    Said("Keep {least} away (2 t + R), or make it after bending.", least=Mm(least, 1)),
                    hole.at,
                )
            )
    over = shape.difference(pieces[hole.on].buffer(0.01)).area
    if not told and over > LEAST_MM2:
        what = Said("{hole} reaches over the edge of {face}.", hole=name, face=shown(hole.on))
        told.append(_remark("FLAT-07", hole.on, what, "Move it inwards, or make the face bigger.", hole.at))
    return told


def _remark(code: str, where: str, what: str, mend: str, at: Sequence[float] | None) -> Remark:
    return Remark(
        code=code,
        where=where,
        what=what,
        mend=mend,
        at=(round(at[0], 2), round(at[1], 2)) if at is not None else None,
    )


def short_legs(part: Part, request: PartRequest) -> list[Remark]:
    """FLAT-01: a leg that no folder can grip."""
    found = []
    for face in part.faces:
        if face.spec.kind in ("joggle", "tab") or "hem" in face.spec.kind:
            continue
        least = (
            request.least_leg_mm
            if request.least_leg_mm is not None
            else 4 * part.thickness + face.spec.radius_mm
        )
        if face.spec.leg_mm < least:
            what = Said(
                "The leg of {leg} on {name} is shorter than the tool grips, {least}.",
                leg=Mm(face.spec.leg_mm),
                name=shown(face.name),
                least=Mm(least, 1),
            )
            middle = (face.root[0] + face.root[1]) / 2
            found.append(
                _remark(
                    "FLAT-01",
                    face.name,
                    what,
                    "Make it wider and trim it after bending.",
                    face.on_flat(middle, face.flat / 2),
                )
            )
    return found


def along_curves(part: Part) -> list[Remark]:
    """FLAT-05: a flange along arcs, whose rim must change its length; of one edge the sharpest."""
    worst: dict[str, tuple[float, Remark]] = {}
    for face in part.faces:
        piece = face.piece
        if not face.curved or piece is None or face.parent is not None:
            continue
        beyond = piece.radius + piece.sense * face.spec.leg_mm
        share = face.spec.leg_mm / beyond
        what = Said(
            "{name} stands along a curve of {radius}: its rim must be {verb} by {share:.0f} %.",
            name=shown(face.name), radius=Mm(piece.radius, 0), verb=Said("shrunk" if piece.sense > 0 else "stretched"), share=100 * share,
        )  # fmt: skip
        told = _remark(
            "FLAT-05",
            shown(face.name),
            what,
            "See its marks: so much at each.",
            face.on_flat(piece.length / 2, face.flat),
        )
        if share > worst.get(shown(face.name), (0.0, told))[0]:
            worst[shown(face.name)] = share, told
    return [told for _, told in worst.values()]


def overlaps(pieces: dict[str, Polygon]) -> list[Remark]:
    """FLAT-02: two faces that claim the same sheet."""
    found = []
    for (a, one), (b, other) in combinations(pieces.items(), 2):
        if shown(a) == shown(b):
            continue  # two pieces of one curved edge: its rim runs on
        over = one.intersection(other)
        if over.area > LEAST_MM2:
            place = max(polygons_of(over), key=lambda part: part.area).representative_point()
            what = Said(
                "{a} and {b} overlap on the flat sheet, by {area}.",
                a=shown(a),
                b=shown(b),
                area=Mm2(over.area, 0),
            )
            found.append(
                _remark(
                    "FLAT-02",
                    b,
                    what,
                    "Make one narrower, taper it, or weld it on as a piece of its own.",
                    (place.x, place.y),
                )
            )
    return found


def fallen(whole, flat: Polygon) -> list[Remark]:
    """FLAT-03: what a relief cuts off."""
    lost = [p for p in polygons_of(whole) if p.area > 1.0 and not p.equals(flat)]
    return [
        _remark("FLAT-03", "outline", Said("A relief cuts {area} off the part.", area=Mm2(p.area, 0)), "Make the relief smaller.", p.centroid.coords[0])
        for p in lost
    ]  # fmt: skip


def meets(a: str, b: str, place) -> Remark:
    what = Said("{a} and {b} run into each other when bent.", a=shown(a), b=shown(b))
    return _remark(
        "FLAT-04",
        b,
        what,
        "Make one lower, bend it less, mitre the corner, or weld it on afterwards.",
        (float(place[0]), float(place[1])),
    )
