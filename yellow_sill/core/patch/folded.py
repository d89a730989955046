"""A part folded in space: the middle of its sheet, bend by bend, and faces that run into each other."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from .base import ring_of
from .faces import Face, Part

#: Two faces touch, and do not collide, within this, mm.
TOUCH_MM = 0.05
#: An arc's fold is shown in so many strips; a bend in so many.
ARC_STRIPS, BEND_STRIPS = 24, 4


@dataclass(frozen=True, slots=True)
class Frame:
    """Where a face lies: its origin (x = 0 on its tangent line), x along, y outwards, n the side that is up on the base."""

    origin: np.ndarray
    x: np.ndarray
    y: np.ndarray
    n: np.ndarray

    def at(self, x: float, y: float, n: float = 0.0) -> np.ndarray:
        return self.origin + self.x * x + self.y * y + self.n * n


def frames(part: Part, share: Mapping[str, float] | None = None) -> dict[str, Frame]:
    """Where each straight face lies.

    Args: share: how far each bend is folded, 0 to 1, by name; all of them where nothing is said.
    Returns: by face's name; faces along arcs are left out, see ``surface``.
    """
    found: dict[str, Frame] = {}
    for face in part.faces:
        if face.curved:
            continue
        start = bend_start(face, found)
        found[face.name] = bent(
            start, face, part.thickness, 1.0 if share is None else share.get(face.name, 1.0)
        )
    return found


def bend_start(face: Face, found: Mapping[str, Frame]) -> Frame:
    """The tangent line where a face's bend begins: in the base's plane, or on its parent, whose frame is among those found."""
    above = face.parent
    if above is None:
        foot = face.on_flat(0.0, -face.allowance)
        return Frame(
            np.array([*foot, 0.0]),
            np.array([*face.along, 0.0]),
            np.array([*face.out, 0.0]),
            np.array([0.0, 0.0, 1.0]),
        )
    parent = found[above.name]
    u = np.array(into(above, face.along))
    o = np.array(into(above, face.out))
    foot = _local(above, face.on_flat(0.0, -face.allowance))
    return Frame(
        parent.at(*foot), parent.x * u[0] + parent.y * u[1], parent.x * o[0] + parent.y * o[1], parent.n
    )


def into(face: Face, way: Sequence[float]) -> tuple[float, float]:
    """A direction on the flat sheet in a face's own axes."""
    return way[0] * face.along[0] + way[1] * face.along[1], way[0] * face.out[0] + way[1] * face.out[1]


def _local(face: Face, at: Sequence[float]) -> tuple[float, float]:
    return into(face, (at[0] - face.origin[0], at[1] - face.origin[1]))


def bent(start: Frame, face: Face, thickness: float, share: float) -> Frame:
    """The frame of a leg beyond its bend. The neutral fibre keeps its length while the bend closes; at the end its inside radius is the one asked for."""
    angle = face.spec.angle * share
    if angle < 1e-9:
        return Frame(start.at(0.0, face.allowance), start.x, start.y, start.n)
    way = 1.0 if face.spec.up else -1.0
    middle = face.allowance / angle + (0.5 - face.spec.k) * thickness
    out, up = middle * math.sin(angle), way * middle * (1 - math.cos(angle))
    y = start.y * math.cos(angle) + start.n * way * math.sin(angle)
    n = start.n * math.cos(angle) - start.y * way * math.sin(angle)
    return Frame(start.at(0.0, out, up), start.x, y, n)


def profile(part: Part, face: Face, share: Mapping[str, float] | None = None) -> list[tuple[float, float]]:
    """On an arc: outwards and up, from the base's tangent line, of the places where each bend of the chain up to a face ends and its leg ends, mm."""
    at, angle, found = np.zeros(2), 0.0, [(0.0, 0.0)]
    for each in face.chain:
        turn = each.spec.angle * (1.0 if share is None else share.get(each.name, 1.0))
        way = 1.0 if each.spec.up else -1.0
        steps = BEND_STRIPS
        if turn < 1e-9:
            for _ in range(steps):
                at = at + each.allowance / steps * np.array([math.cos(angle), math.sin(angle)])
                found.append((float(at[0]), float(at[1])))
        else:
            middle = each.allowance / turn + (0.5 - each.spec.k) * part.thickness
            for k in range(steps):
                a0, a1 = angle + way * turn * k / steps, angle + way * turn * (k + 1) / steps
                at = at + way * middle * np.array([math.sin(a1) - math.sin(a0), math.cos(a0) - math.cos(a1)])
                found.append((float(at[0]), float(at[1])))
            angle += way * turn
        at = at + each.flat * np.array([math.cos(angle), math.sin(angle)])
        found.append((float(at[0]), float(at[1])))
    return found


def surface(part: Part, face: Face, share: Mapping[str, float] | None = None) -> list[np.ndarray]:
    """The four-cornered strips of a bend and its leg, each (4, 3) mm; along an arc in pieces."""
    if face.curved:
        return _swept(part, face, share)
    parts = frames(part, share)
    return straight_surface(part, face, parts, 1.0 if share is None else share.get(face.name, 1.0))


def straight_surface(part: Part, face: Face, parts: Mapping[str, Frame], share: float) -> list[np.ndarray]:
    """A straight bend in strips, then its leg as one outline (n, 3)."""
    frame, (x0, x1) = parts[face.name], face.root
    start = bend_start(face, parts)
    rows: list[tuple[np.ndarray, ...]] = [(start.at(x0, 0.0), start.at(x1, 0.0))]
    angle, way = face.spec.angle * share, 1.0 if face.spec.up else -1.0
    if angle > 1e-6:
        middle = face.allowance / angle + (0.5 - face.spec.k) * part.thickness
        for k in range(1, BEND_STRIPS + 1):
            a = angle * k / BEND_STRIPS
            rows.append(
                tuple(start.at(x, middle * math.sin(a), way * middle * (1 - math.cos(a))) for x in (x0, x1))
            )
    else:
        for k in range(1, BEND_STRIPS + 1):
            rows.append(tuple(start.at(x, face.allowance * k / BEND_STRIPS) for x in (x0, x1)))
    strips = [np.array([p[0], p[1], q[1], q[0]]) for p, q in zip(rows, rows[1:], strict=False)]
    return [*strips, np.array([frame.at(x, y) for x, y in face.outline])]


def _swept(part: Part, face: Face, share: Mapping[str, float] | None) -> list[np.ndarray]:
    piece = face.piece
    assert piece is not None and piece.centre is not None
    line = profile(part, face, share)
    before = 0 if face.parent is None else len(profile(part, face.parent, share)) - 1
    line = line[before:]
    inner, a0 = (
        piece.radius - piece.sense * face.inset,
        math.atan2(piece.a[1] - piece.centre[1], piece.a[0] - piece.centre[0]),
    )
    angles = [a0 + piece.sense * piece.sweep * k / ARC_STRIPS for k in range(ARC_STRIPS + 1)]
    x, y = piece.centre
    rows = []
    for out, up in line:
        radius = inner + piece.sense * out
        rows.append([(x + radius * math.cos(a), y + radius * math.sin(a), up) for a in angles])
    return [
        np.array([p[k], p[k + 1], q[k + 1], q[k]]) for p, q in zip(rows, rows[1:], strict=False) for k in range(ARC_STRIPS)
    ]  # fmt: skip


def base_surface(part: Part) -> np.ndarray:
    """The base's outline, (n, 3)."""
    ring = np.array(ring_of(part.pieces, part.ends))
    return np.column_stack([ring, np.zeros(len(ring))])


def run_into(part: Part) -> list[tuple[str, str, np.ndarray]]:
    """Faces that cut through each other once everything is folded, with a place."""
    parts = frames(part)
    shapes = {"base": base_surface(part)}
    shapes |= {
        face.name: np.array([parts[face.name].at(x, y) for x, y in face.outline])
        for face in part.faces
        if not face.curved
    }
    near = {(face.name, face.parent.name if face.parent else "base") for face in part.faces}
    low = np.array([shape.min(axis=0) for shape in shapes.values()]) - TOUCH_MM
    high = np.array([shape.max(axis=0) for shape in shapes.values()]) + TOUCH_MM
    over = np.all((low[:, None] <= high[None]) & (low[None] <= high[:, None]), axis=2)
    named, found = list(shapes.items()), []
    for i, j in combinations(range(len(named)), 2):
        (a, one), (b, other) = named[i], named[j]
        if not over[i, j] or (a, b) in near or (b, a) in near:
            continue
        place = _pierced(one, other)
        if place is None:
            place = _pierced(other, one)
        if place is not None:
            found.append((a, b, place))
    return found


def _pierced(face: np.ndarray, other: np.ndarray) -> np.ndarray | None:
    """Where an edge of ``other`` goes through ``face``, a sheet's touch inside its rim; None where none does."""
    normal = _normal(face)
    middle, reach = other.mean(axis=0), float(np.ptp(other, axis=0).max())
    other = middle + (other - middle) * (
        1 - 8 * TOUCH_MM / max(reach, 1.0)
    )  # two rims that end in one line cut through each other inside it
    height = (other - face[0]) @ normal
    axis = int(np.argmax(np.abs(normal)))
    keep = [k for k in range(3) if k != axis]
    rim = face[:, keep]
    for i in range(len(other)):
        h0, h1 = height[i], height[(i + 1) % len(other)]
        if h0 * h1 >= 0 or min(abs(h0), abs(h1)) < TOUCH_MM:
            continue
        hit = other[i] + (other[(i + 1) % len(other)] - other[i]) * (h0 / (h0 - h1))
        if _inside(rim, hit[keep]):
            return hit
    return None


def _normal(face: np.ndarray) -> np.ndarray:
    """Newell's normal of a flat outline, unit length."""
    after = np.roll(face, -1, axis=0)
    normal = np.cross(face, after).sum(axis=0)
    return normal / (np.linalg.norm(normal) or 1.0)


def _inside(rim: np.ndarray, at: np.ndarray) -> bool:
    """Even-odd rule, not within a touch of the rim."""
    after = np.roll(rim, -1, axis=0)
    way = after - rim
    length = np.maximum(1e-12, (way**2).sum(axis=1))
    k = np.clip(((at - rim) * way).sum(axis=1) / length, 0, 1)
    if np.hypot(*(rim + way * k[:, None] - at).T).min() < TOUCH_MM:
        return False
    crossing = (rim[:, 1] > at[1]) != (after[:, 1] > at[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = rim[:, 0] + (at[1] - rim[:, 1]) * way[:, 0] / way[:, 1]
    return bool((crossing & (at[0] < x)).sum() % 2)
