"""A part laid out flat: which fold stands where, how long its leg is flat, and how its ends meet its neighbours'."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..errors import BadField
from ..geometry import Xy
from ..said import Mm, Said
from .base import Edge, drawn_in, edges_of, split, turn_between
from .faces import Face, Part, setback
from .part import BendSpec, Corner, PartRequest, bend_specs, require_parents, shown

#: Room between neighbouring lips that must not touch, and beside a lapped tab, mm.
CLEAR_MM = 0.2
_FAR = 1e5


@dataclass(frozen=True, slots=True)
class _End:
    """How a chain of folds ends towards a neighbour's: kind, tangent of half the turn, the corner along the edge, which way is outwards (1 at the finish)."""

    kind: str
    half: float
    corner: float
    way: int
    neighbour: BendSpec
    width: float | None = None


def laid_out(request: PartRequest) -> Part:
    """Lay a part out flat.

    Raises: BadField, BadOutline, naming the place: see ``part`` and ``base``; a leg that is all bend, legs without room between their neighbours.
    """
    edges, specs = edges_of(request.outline), bend_specs(request)
    specs += _tabs(request, edges, specs)
    require_parents(specs, [edge.name for edge in edges])
    t, outline_is = request.thickness_mm, request.outline_is
    pieces = split(edges, specs, lambda spec: setback(spec, t, outline_is))
    pieces, ends = drawn_in(pieces)
    corners = {corner.after: corner for corner in request.corners}
    if unknown := [name for name in corners if name not in {edge.name for edge in edges}]:
        raise BadField(Said("'{name}' is no edge of this part.", name=unknown[0]), "corners", "A corner follows an edge: name that.")  # fmt: skip
    part = Part(t, pieces, ends, [], [], [], tuple(request.holes))
    by_place: dict[str, list[BendSpec]] = {}
    for spec in specs:
        by_place.setdefault(spec.on, []).append(spec)
    for i, piece in enumerate(pieces):
        if piece.bend is None:
            continue
        part.slots += _slots(pieces, i, ends[i], t)
        first = _end(pieces, i, -1, corners.get(pieces[i - 1].name))
        last = _end(pieces, i, 1, corners.get(piece.name))
        if last is not None and last.kind == "round":
            size = last.width or _usual_relief(piece.bend, t)
            part.reliefs.append((ends[i][1], size))
        _stand(part, _on_base(part, i, by_place, first, last), by_place, first, last)
    return part


def _slots(pieces: Sequence[Edge], i: int, ends: tuple[Xy, Xy], t: float) -> list[list[Xy]]:
    """The slots that part a bend from the rest of its edge where it takes only a piece of it."""
    found, piece = [], pieces[i]
    if piece.centre is not None:
        return []
    x, y = piece.along(piece.a)
    for way, at, other in ((-1, ends[0], pieces[i - 1]), (1, ends[1], pieces[(i + 1) % len(pieces)])):
        if other.name == piece.name and other.bend is None:
            wide, deep = way * max(t, 1.0), piece.inset + 1.0
            beside = (at[0] + x * wide, at[1] + y * wide)
            up = (y * deep, -x * deep)
            found.append([at, beside, (beside[0] + up[0], beside[1] + up[1]), (at[0] + up[0], at[1] + up[1])])
    return found


def _usual_relief(spec: BendSpec, thickness: float) -> float:
    return round(max(spec.radius_mm + thickness, 1.5), 2)


def _tabs(request: PartRequest, edges: Sequence[Edge], specs: Sequence[BendSpec]) -> list[BendSpec]:
    """The lapped tabs that corners ask for, each a bend on the finish of the flange before its corner. Raises: BadField."""
    found = []
    by_edge = {spec.on: spec for spec in specs}
    order = [edge.name for edge in edges]
    for i, corner in enumerate(request.corners):
        if corner.kind != "tab" or corner.after not in order:
            continue
        at = order.index(corner.after)
        mine, other = by_edge.get(corner.after), by_edge.get(order[(at + 1) % len(order)])
        turn = turn_between(edges[at], edges[(at + 1) % len(edges)])
        square = [spec for spec in (mine, other) if spec and abs(spec.angle - math.pi / 2) < 0.02]
        if mine is None or other is None or len(square) < 2 or mine.up != other.up or turn < math.radians(5):
            raise BadField(
                "A lapped tab needs two flanges, both bent square and to one side.",
                f"corners[{i}].kind",
                "Choose a slot, a round relief or a mitre.",
            )
        leg = corner.size_mm or 12.0
        found.append(
            replace(mine, name=f"{mine.name}.tab", on=f"{mine.name}.finish", leg_mm=leg, measured="outside", angle=turn, from_mm=None, to_mm=None,
                    tapers=(0.0, 0.0), holes=(), flat_mm=None, kind="tab")
        )  # fmt: skip
    return found


def _end(pieces: Sequence[Edge], i: int, way: int, corner: Corner | None) -> _End | None:
    """How the folds on a piece end towards the next one (way 1) or the one before (-1); None where that is not bent, or runs on."""
    piece, other = pieces[i], pieces[(i + way) % len(pieces)]
    if other.bend is None or piece.centre is not None or other.centre is not None:
        return None
    turn = turn_between(piece, other) if way > 0 else turn_between(other, piece)
    if abs(turn) < math.radians(1.0):
        return None
    at = piece.start + piece.length if way > 0 else piece.start
    if turn > 0 and (other.bend.kind == "joggle" or "hem" in other.bend.kind):
        return _End(
            "beside", 0.0, at, way, other.bend
        )  # it lies nearly in the base's plane: nothing of it stands in the way
    kind = "concave" if turn < 0 else corner.kind if corner else "slot"
    if kind == "tab" and way < 0:
        kind = "slot"  # the tab stands on the flange before the corner
    return _End(kind, math.tan(turn / 2), at, way, other.bend, corner.size_mm if corner else None)


def _figures(spec: BendSpec, t: float, child: BendSpec | None) -> tuple[float, float, float]:
    """Allowance, setback and flat length of a leg. Raises: BadField for a leg that is all bend."""
    allowance = spec.angle * (spec.radius_mm + spec.k * t)
    back = setback(spec, t, spec.measured)
    taken = setback(child, t, spec.measured) if child else 0.0
    flat = spec.flat_mm if spec.flat_mm is not None else spec.leg_mm - back - taken
    if flat < (0.0 if spec.kind == "joggle" else 0.01):
        raise BadField(
            Said("The leg of {leg} on {name} is all bend: nothing flat is left of it.", leg=Mm(spec.leg_mm), name=shown(spec.name)),
            f"runs[{spec.run}].legs_mm", Said("Make it more than {least}.", least=Mm(back + taken, 1)),
        )  # fmt: skip
    return allowance, back, flat


def _child(spec: BendSpec, by_place: dict[str, list[BendSpec]], side: str = "") -> BendSpec | None:
    return next(iter(by_place.get(spec.name + side, [])), None)


def _on_base(
    part: Part, i: int, by_place: dict[str, list[BendSpec]], first: _End | None, last: _End | None
) -> Face:
    """The fold that stands on a piece of the base."""
    piece, (a, b), t = part.pieces[i], part.ends[i], part.thickness
    spec = piece.bend
    assert spec is not None
    allowance, back, flat = _figures(spec, t, _child(spec, by_place))
    if piece.centre is not None:
        return _on_arc(piece, (a, b), allowance, back, flat)
    x, y = piece.along(piece.a)
    zero = piece.a[0] - x * piece.start - y * piece.inset, piece.a[1] - y * piece.start + x * piece.inset
    at = lambda p: (p[0] - zero[0]) * x + (p[1] - zero[1]) * y  # noqa: E731
    root = [max(piece.start, at(a)), min(piece.start + piece.length, at(b))]
    for k, end in ((0, first), (1, last)):
        if end is not None and end.kind == "concave":
            root[k] = at((a, b)[k]) - end.way * (allowance * abs(end.half) + t)
    out = (y, -x)
    face = Face(
        spec, None, piece, (root[0], root[1]), [], flat, allowance, back,
        (zero[0] + out[0] * allowance, zero[1] + out[1] * allowance), (x, y), out, inset=piece.inset,
    )  # fmt: skip
    _shape(part, face, by_place, first, last)
    return face


def _on_arc(piece: Edge, ends: tuple[Xy, Xy], allowance: float, back: float, flat: float) -> Face:
    """A fold along an arc. Raises: BadField where it is higher than the arc's radius."""
    assert piece.bend is not None and piece.centre is not None
    if piece.sense < 0 and piece.radius - piece.bend.leg_mm <= 0:
        raise BadField(
            Said("A flange of {leg} cannot stand inside an arc of {radius}.", leg=Mm(piece.bend.leg_mm), radius=Mm(piece.radius, 1)),
            f"runs[{piece.bend.run}].legs_mm", "Make it lower than the arc's radius.",
        )  # fmt: skip
    root = (0.0, piece.length)
    face = Face(
        piece.bend,
        None,
        piece,
        root,
        [],
        flat,
        allowance,
        back,
        ends[0],
        (1.0, 0.0),
        (0.0, 1.0),
        inset=piece.inset,
    )
    face.outline = [(0.0, 0.0), (piece.length, 0.0), (piece.length, flat), (0.0, flat)]
    return face


def _stand(
    part: Part, face: Face, by_place: dict[str, list[BendSpec]], first: _End | None, last: _End | None
) -> None:
    """Take a face into the part, with everything that stands on it."""
    part.faces.append(face)
    t = part.thickness
    for side in ("", ".start", ".finish"):
        spec = _child(face.spec, by_place, side)
        if spec is None:
            continue
        if face.curved and side:
            raise BadField(Said("{name} runs along an arc: nothing can stand on its sides.", name=shown(face.name)), f"runs[{spec.run}].on")  # fmt: skip
        allowance, back, flat = _figures(spec, t, _child(spec, by_place))
        if face.curved:
            child = Face(
                spec,
                face,
                face.piece,
                face.root,
                [],
                flat,
                allowance,
                back,
                face.origin,
                face.along,
                face.out,
                inset=face.inset,
            )
            child.outline = [
                (face.root[0], 0.0),
                (face.root[1], 0.0),
                (face.root[1], flat),
                (face.root[0], flat),
            ]
        elif side:
            child = _on_side(part, face, spec, side[1:], (allowance, back, flat), by_place)
        else:
            tip = [x for x, y in face.outline if abs(y - face.flat) < 1e-6]
            child = Face(
                spec, face, None, (min(tip), max(tip)), [], flat, allowance, back, face.on_flat(0.0, face.flat + allowance), face.along, face.out
            )  # fmt: skip
            _shape(part, child, by_place, first, last)
        child.side = side[1:] or "tip"
        face.children.append(child)
        ends = (first, last) if not side else (None, None)
        _stand(part, child, by_place, *ends)


def _on_side(
    part: Part, face: Face, spec: BendSpec, side: str, figures: tuple[float, float, float], by_place: dict
) -> Face:
    """A fold on the start or finish of a leg. Its edge runs so that outwards lies to the right: from the tip at the finish, to it at the start."""
    allowance, back, flat = figures
    low, high = (
        f(((x, y) for x, y in face.outline if abs(y - z) < 1e-6), key=lambda p: p[0])
        for z in (0.0, face.flat)
        for f in ((max,) if side == "finish" else (min,))
    )
    a, b = (high, low) if side == "finish" else (low, high)
    length = math.dist(a, b)
    fa, fb = face.on_flat(*a), face.on_flat(*b)
    along = ((fb[0] - fa[0]) / length, (fb[1] - fa[1]) / length)
    out = (along[1], -along[0])
    child = Face(spec, face, None, (0.0, length), [], flat, allowance, back, (fa[0] + out[0] * allowance, fa[1] + out[1] * allowance), along, out)  # fmt: skip
    _shape(part, child, by_place, None, None)
    return child


def _shape(
    part: Part, face: Face, by_place: dict[str, list[BendSpec]], first: _End | None, last: _End | None
) -> None:
    """The outline of a straight leg: as wide as its root, or to the mitre, drawn in for what stands on its sides, its ends leaning as said.

    Raises: BadField where nothing is left of it.
    """
    t, spec, h = part.thickness, face.spec, face.flat
    x0, x1 = face.root
    poly = [(-_FAR, 0.0), (_FAR, 0.0), (_FAR, h), (-_FAR, h)]
    for way, end, x, taper in ((-1, first, x0, spec.tapers[0]), (1, last, x1, spec.tapers[1])):
        if end is not None and end.kind == "mitre":
            poly = _clip(poly, *_mitre(part, face, end, 0.0))
        else:
            poly = _clip(poly, (x, 0.0), (way, math.tan(math.radians(taper))))
            if end is not None and end.kind == "concave":
                poly = _clip(poly, (x, 0.0), (way, abs(end.half)))
            elif (
                end is not None
                and end.kind != "beside"
                and (face.parent is not None or spec.angle > math.pi / 2 + 1e-6)
            ):
                poly = _clip(poly, *_mitre(part, face, end, CLEAR_MM))
        child = _child(spec, by_place, ".start" if way < 0 else ".finish")
        if child is not None:
            drawn = setback(child, t, spec.measured)
            if child.kind == "tab" and end is not None:
                lean = math.sin(2 * math.atan(end.half))
                poly = _clip(poly, (end.corner - t / lean - CLEAR_MM - drawn, 0.0), (1, 0.0))
            else:
                poly = _clip(poly, (x - way * drawn, 0.0), (way, math.tan(math.radians(taper))))
    width = max((p[0] for p in poly), default=0.0) - min((p[0] for p in poly), default=0.0)
    if len(poly) < 3 or width < 0.5 or (h > 0.01 and not any(abs(y - h) < 1e-6 for _, y in poly)):
        raise BadField(
            Said("{name} has no room between its neighbours.", name=shown(face.name)), f"runs[{spec.run}].legs_mm",
            "Make it lower, its edge longer, or cut its neighbours' corners another way.",
        )  # fmt: skip
    face.outline = poly


def _mitre(part: Part, face: Face, end: _End, clear: float) -> tuple[Xy, tuple[float, float]]:
    """The line at which the inner faces of two neighbours meet, as a place on it and the way that is cut off."""
    offset, angle = reach_out(face, part.thickness)
    inner = offset - part.thickness / 2 * abs(math.sin(angle))
    at = end.corner + end.way * (inner * end.half - clear)
    lean = math.cos(angle) * end.half  # how far the line runs out for each mm of height
    return (at, 0.0), (end.way, -lean)


def reach_out(face: Face, t: float) -> tuple[float, float]:
    """How far the middle of a face's sheet lies outside the mould line of the edge its chain stands on, at its tangent line, and the angle it stands at."""
    chain = face.chain
    offset, angle = -chain[0].inset, 0.0
    for k, each in enumerate(chain):
        spec = each.spec
        middle, turn = spec.radius_mm + t / 2, spec.angle if spec.up else -spec.angle
        start, angle = angle, angle + turn
        offset += middle * (math.sin(angle) - math.sin(start)) * (1 if spec.up else -1)
        if k < len(chain) - 1:
            offset += each.flat * math.cos(angle)
    return offset, angle


def _clip(poly: list[Xy], at: Xy, way: tuple[float, float]) -> list[Xy]:
    """What of a polygon lies on the near side of a line through a place, square to ``way`` (which points to what is cut off)."""
    side = [(x - at[0]) * way[0] + (y - at[1]) * way[1] for x, y in poly]
    found: list[Xy] = []
    for i, p in enumerate(poly):
        j = (i + 1) % len(poly)
        if side[i] <= 1e-9:
            found.append(p)
        if (side[i] < -1e-9 and side[j] > 1e-9) or (side[i] > 1e-9 and side[j] < -1e-9):
            k = side[i] / (side[i] - side[j])
            found.append((p[0] + (poly[j][0] - p[0]) * k, p[1] + (poly[j][1] - p[1]) * k))
    return found
