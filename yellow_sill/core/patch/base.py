"""The base of a part: its outline with true arcs, drawn in where edges are bent."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from shapely.geometry import Polygon

from ..errors import BadField, BadOutline
from ..geometry import Xy, outline_polygon
from ..said import Mm, Said
from .part import BendSpec, OutlineEdge, shown

#: An arc's ends must lie equally far from its centre within this; arcs are drawn with chords this near to them, mm.
MEETS_MM, SAGITTA_MM = 0.05, 0.002
#: Edges that turn by less than this run on into one another, degrees.
TANGENT_DEG = 1.0


@dataclass(frozen=True, slots=True)
class Edge:
    """One edge, or a piece of one: ``start`` is where it begins along the whole edge, mm; ``inset`` how far it is drawn in where it is bent."""

    name: str
    a: Xy
    b: Xy
    centre: Xy | None
    clockwise: bool
    start: float = 0.0
    inset: float = 0.0
    bend: BendSpec | None = None

    @property
    def radius(self) -> float:
        assert self.centre is not None
        return math.dist(self.a, self.centre)

    @property
    def sense(self) -> int:
        """1 where outwards is away from an arc's centre, -1 where it is towards it."""
        return -1 if self.clockwise else 1

    @property
    def sweep(self) -> float:
        """How far an arc runs, radians, above 0."""
        assert self.centre is not None
        a, b = (math.atan2(p[1] - self.centre[1], p[0] - self.centre[0]) for p in (self.a, self.b))
        swept = (a - b if self.clockwise else b - a) % (2 * math.pi)
        return swept or 2 * math.pi

    @property
    def length(self) -> float:
        return math.dist(self.a, self.b) if self.centre is None else self.radius * self.sweep

    def along(self, at: Xy) -> Xy:
        """Unit vector along the edge at a place on it."""
        if self.centre is None:
            length = math.dist(self.a, self.b)
            return (self.b[0] - self.a[0]) / length, (self.b[1] - self.a[1]) / length
        x, y = (
            (at[0] - self.centre[0]) / math.dist(at, self.centre),
            (at[1] - self.centre[1]) / math.dist(at, self.centre),
        )
        return (y, -x) if self.clockwise else (-y, x)

    def moved(self, inset: float) -> tuple[Xy, Xy] | tuple[Xy, float]:
        """The line, as two places on it, or the circle, as centre and radius, that lies so far inside."""
        if self.centre is None:
            x, y = self.along(self.a)
            return (self.a[0] - y * inset, self.a[1] + x * inset), (
                self.b[0] - y * inset,
                self.b[1] + x * inset,
            )
        return self.centre, self.radius - self.sense * inset


def edges_of(outline: Sequence[OutlineEdge]) -> list[Edge]:
    """The edges of the base by name: A, B, C where none is given.

    Raises: BadField, BadOutline: arcs that do not meet, an outline that crosses itself or runs clockwise, a name twice.
    """
    found, names = [], set()
    for i, edge in enumerate(outline):
        a, b = outline[i - 1].to, edge.to
        name = edge.name or letter(i)
        if name in names:
            raise BadField(Said("Two edges are called {name}.", name=name), f"outline[{i}].name", "Give each its own name.")  # fmt: skip
        names.add(name)
        if math.dist(a, b) < 0.01 and edge.centre is None:
            raise BadField(Said("Edge {name} has no length.", name=name), f"outline[{i}].to", "Leave it out, or move its end.")  # fmt: skip
        if edge.centre is not None:
            r0, r1 = math.dist(a, edge.centre), math.dist(b, edge.centre)
            if abs(r0 - r1) > MEETS_MM or min(r0, r1) < 0.01:
                what = Said(
                    "The arc of edge {name} does not meet its ends: its centre lies {r0} from one and {r1} from the other.",
                    name=name, r0=Mm(r0, 2), r1=Mm(r1, 2),
                )  # fmt: skip
                raise BadField(what, f"outline[{i}].centre", "Move the centre, or an end.")
        found.append(Edge(name, a, b, edge.centre, edge.clockwise))
    shape = outline_polygon(_dense_ring(found), "outline")
    if not shape.exterior.is_ccw:
        raise BadOutline("The outline runs clockwise.", "outline", "Give its corners counter-clockwise.")
    return found


def letter(number: int) -> str:
    """A, B ... Z, A1, B1 ...

    >>> letter(0), letter(25), letter(27)
    ('A', 'Z', 'B1')
    """
    return chr(65 + number % 26) + (str(number // 26) if number >= 26 else "")


def dense(edge: Edge, a: Xy, b: Xy, inset: float = 0.0) -> list[Xy]:
    """Places from ``a`` up to, not with, ``b`` along an edge that is drawn in, near enough to a true arc."""
    if edge.centre is None:
        return [a]
    radius = edge.radius - edge.sense * inset
    return arc_points(edge.centre, radius, a, b, edge.clockwise)[:-1]


def arc_points(centre: Xy, radius: float, a: Xy, b: Xy, clockwise: bool) -> list[Xy]:
    """An arc as chords, ends included."""
    a0, a1 = (math.atan2(p[1] - centre[1], p[0] - centre[0]) for p in (a, b))
    sweep = ((a0 - a1) if clockwise else (a1 - a0)) % (2 * math.pi) or 2 * math.pi
    count = max(2, math.ceil(sweep / chord_angle(radius)))
    sign = -1 if clockwise else 1
    return [
        (centre[0] + radius * math.cos(a0 + sign * sweep * k / count), centre[1] + radius * math.sin(a0 + sign * sweep * k / count))
        for k in range(count + 1)
    ]  # fmt: skip


def chord_angle(radius: float) -> float:
    """The angle of a chord that lies within SAGITTA_MM of its arc."""
    return min(0.2, 2 * math.sqrt(2 * SAGITTA_MM / max(radius, 0.1)))


def _dense_ring(edges: Sequence[Edge]) -> list[Xy]:
    return [at for edge in edges for at in dense(edge, edge.a, edge.b)]


def split(edges: Sequence[Edge], specs: Sequence[BendSpec], inset_of) -> list[Edge]:
    """The edges cut into bent and plain pieces. Args: inset_of: a bend's setback on its parent's side, mm.

    Raises: BadField for bends that overlap along an edge or reach beyond it.
    """
    pieces: list[Edge] = []
    for edge in edges:
        mine = sorted((spec for spec in specs if spec.on == edge.name), key=lambda spec: spec.from_mm or 0.0)
        length, reached = edge.length, 0.0
        for spec in mine:
            start, end = spec.from_mm or 0.0, length if spec.to_mm is None else spec.to_mm
            where = f"runs[{spec.run}]"
            if end > length + 0.01 or end - start < 0.5:
                raise BadField(
                    Said(
                        "Edge {name} is {length} long: a bend from {start} to {end} does not fit.",
                        name=edge.name,
                        length=Mm(length, 1),
                        start=Mm(start, 1),
                        end=Mm(end, 1),
                    ),
                    f"{where}.to_mm",
                    "Give places along the finished edge.",
                )
            if start < reached - 0.01:
                raise BadField(Said("Two bends overlap on edge {name}.", name=edge.name), f"{where}.from_mm", "Make one shorter.")  # fmt: skip
            if edge.centre is not None and (start > 0.01 or end < length - 0.01):
                raise BadField(
                    Said("Edge {name} is an arc: it is bent along the whole of it.", name=edge.name),
                    where,
                    "Part the arc in two edges.",
                )
            if start - reached > 0.01:
                pieces.append(_piece(edge, reached, start))
            piece = _piece(edge, start, end) if edge.centre is None else edge
            pieces.append(replace(piece, inset=inset_of(spec), bend=spec))
            reached = end
        if length - reached > 0.01:
            pieces.append(_piece(edge, reached, length) if reached else edge)
    return pieces


def _piece(edge: Edge, start: float, end: float) -> Edge:
    x, y = edge.along(edge.a)
    at = lambda s: (edge.a[0] + x * s, edge.a[1] + y * s)  # noqa: E731
    return replace(edge, a=at(start), b=edge.b if abs(end - edge.length) < 1e-9 else at(end), start=start)


def drawn_in(pieces: Sequence[Edge]) -> tuple[list[Edge], list[tuple[Xy, Xy]]]:
    """The pieces of the base with where each starts and ends on the flat, up to the tangent lines of the bends; plain ones that the bends swallow go.

    Raises: BadField where bends leave nothing of an edge that is bent, or of the base.
    """
    left = unswallowed(pieces)
    ends = _ends(left)
    bent = [piece for piece in pieces if piece.bend is not None and piece not in left]
    if bent:
        raise BadField(
            Said("The bends leave nothing of edge {name}.", name=shown(bent[0].name)),
            "runs",
            "Make the bends' radius smaller, or the part wider.",
        )
    ring = ring_of(left, ends)
    if (
        len(ring) < 3
        or not Polygon(ring).is_valid
        or Polygon(ring).area < 1.0
        or not Polygon(ring).exterior.is_ccw
    ):
        raise BadField(
            "The bends eat the base: nothing flat is left of it.",
            "runs",
            "Make the part wider, or bend fewer edges.",
        )
    return left, ends


def unswallowed(pieces: Sequence[Edge]) -> list[Edge]:
    """The pieces of which something is left once all are drawn in; where one goes its neighbours meet. Two pieces always stay."""
    left = [
        piece for piece in pieces if piece.centre is None or piece.radius - piece.sense * piece.inset > 0.05
    ]
    while len(left) > 2:
        gone = [
            i
            for i, (piece, (a, b)) in enumerate(zip(left, _ends(left), strict=True))
            if _swallowed(piece, a, b)
        ]
        if not gone:
            break
        left.pop(min(gone, key=lambda i: (left[i].bend is not None, left[i].length)))
    return left


def _ends(pieces: Sequence[Edge]) -> list[tuple[Xy, Xy]]:
    joins = [join(pieces[i - 1], pieces[i]) for i in range(len(pieces))]
    return [(joins[i][1], joins[(i + 1) % len(pieces)][0]) for i in range(len(pieces))]


def _swallowed(piece: Edge, a: Xy, b: Xy) -> bool:
    """Whether nothing of a piece is left between its new ends, which lie the other way round by then."""
    if piece.centre is None:
        x, y = piece.along(piece.a)
        return (b[0] - a[0]) * x + (b[1] - a[1]) * y < 0.02
    moved = Edge(piece.name, a, b, piece.centre, piece.clockwise)
    return math.dist(a, b) < 0.02 or moved.sweep > piece.sweep + math.pi


def ring_of(pieces: Sequence[Edge], ends: Sequence[tuple[Xy, Xy]]) -> list[Xy]:
    """The base's flat outline as chords."""
    ring: list[Xy] = []
    for i, (piece, (a, b)) in enumerate(zip(pieces, ends, strict=True)):
        ring += dense(piece, a, b, piece.inset)
        following = ends[(i + 1) % len(ends)][0]
        if math.dist(b, following) > 1e-6:
            ring.append(b)
    return ring


def turn_between(before: Edge, after: Edge) -> float:
    """How far an outline turns left from one edge to the next, radians."""
    u, v = before.along(before.b), after.along(after.a)
    return math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1])


def join(before: Edge, after: Edge) -> tuple[Xy, Xy]:
    """Where one piece ends and the next begins once both are drawn in; two places where a step lies between them."""
    u, v = before.along(before.b), after.along(after.a)
    turn = math.degrees(turn_between(before, after))
    inward = lambda at, way, inset: (at[0] - way[1] * inset, at[1] + way[0] * inset)  # noqa: E731
    stepped = inward(before.b, u, before.inset), inward(after.a, v, after.inset)
    if abs(turn) < TANGENT_DEG and math.dist(before.b, after.a) < 1e-6:
        if abs(before.inset - after.inset) > 1e-9:
            return stepped
        (x, y), (p, q) = stepped  # nearly one place: they are made one
        return ((x + p) / 2, (y + q) / 2), ((x + p) / 2, (y + q) / 2)
    near = _crossings(before.moved(before.inset), after.moved(after.inset))
    corner = (before.b[0] + after.a[0]) / 2, (before.b[1] + after.a[1]) / 2
    met = min(near, key=lambda at: math.dist(at, corner), default=None)
    return (met, met) if met is not None else stepped


def _crossings(one, two) -> list[Xy]:
    """Where two lines or circles cross."""
    circles = [each for each in (one, two) if not isinstance(each[1], tuple)]
    if not circles:
        (p, q), (r, s) = one, two
        d, e = (q[0] - p[0], q[1] - p[1]), (s[0] - r[0], s[1] - r[1])
        cross = d[0] * e[1] - d[1] * e[0]
        if abs(cross) < 1e-9 * math.hypot(*d) * math.hypot(*e):
            return []
        k = ((r[0] - p[0]) * e[1] - (r[1] - p[1]) * e[0]) / cross
        return [(p[0] + d[0] * k, p[1] + d[1] * k)]
    if len(circles) == 1:
        (c, radius), (p, q) = circles[0], next(each for each in (one, two) if isinstance(each[1], tuple))
        length = math.dist(p, q)
        d = (q[0] - p[0]) / length, (q[1] - p[1]) / length
        foot = (c[0] - p[0]) * d[0] + (c[1] - p[1]) * d[1]
        off = (c[0] - p[0]) * d[1] - (c[1] - p[1]) * d[0]
        half = radius**2 - off**2
        return (
            []
            if half < 0
            else [
                (p[0] + d[0] * k, p[1] + d[1] * k) for k in (foot - math.sqrt(half), foot + math.sqrt(half))
            ]
        )
    (c, r0), (e, r1) = circles
    far = math.dist(c, e)
    if far < 1e-9 or far > r0 + r1 or far < abs(r0 - r1):
        return []
    along = (far**2 + r0**2 - r1**2) / (2 * far)
    half = math.sqrt(max(0.0, r0**2 - along**2))
    u = (e[0] - c[0]) / far, (e[1] - c[1]) / far
    return [(c[0] + u[0] * along - u[1] * k, c[1] + u[1] * along + u[0] * k) for k in (half, -half)]
