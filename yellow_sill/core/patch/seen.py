"""The edges of an opening as a person sees them: a lip along an arch is one edge, a rounded corner none."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..geometry import Xy, outline_polygon, turn_deg
from .base import Edge, letter, turn_between
from .part import OutlineEdge

#: Corners of an outline lie on one arc within this, mm; a chord of it spans no more than this, degrees; it has at least so many chords.
ON_ARC_MM, WIDEST_CHORD_DEG, LEAST_CHORDS = 0.08, 30.0, 3
#: Its longest chord is no more than this times the middle one.
UNEVEN = 2.0
#: An arc is a rounded corner, and no edge of its own, up to this radius and from this turn.
CORNER_MM, CORNER_DEG = 30.0, 25.0
#: A turn sharper than this parts two edges; what is shorter than this has no name of its own, mm.
SHARP_DEG, LEAST_EDGE_MM = 30.0, 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Seen:
    """One edge as a person sees it: a lip along an arch is one edge, whatever it was traced with.

    Attributes:
        name: A, B ...; pieces: its lines and true arcs; edges: numbers of the outline's own; length_mm; middle; curved: whether it has an arc.
        kind: what the cut says it is (joint, flange, free, seam; "" where nobody says); path: its corners on the outline.
    """

    name: str
    pieces: list[OutlineEdge]
    edges: list[int]
    length_mm: float
    middle: Xy
    curved: bool
    kind: str
    path: list[Xy]


@dataclass(frozen=True, slots=True)
class _Piece:
    """A line or an arc that stands for some of an outline's own edges."""

    a: Xy
    b: Xy
    centre: Xy | None
    clockwise: bool
    edges: tuple[int, ...]
    kind: str

    @property
    def edge(self) -> Edge:
        return Edge("", self.a, self.b, self.centre, self.clockwise)

    @property
    def rounds(self) -> bool:
        """Whether it only rounds a corner."""
        return (
            self.centre is not None
            and self.edge.radius <= CORNER_MM
            and math.degrees(self.edge.sweep) >= CORNER_DEG
        )


def edges_seen(
    outline: Sequence[Sequence[float]], kinds: Mapping[int, str] | None = None
) -> tuple[list[Seen], list[OutlineEdge]]:
    """The edges of an opening as a person sees them, and its whole outline with true arcs.

    Runs of short edges that lie on a circle become an arc; lines and arcs that run on into one another and are one thing to the cut become one edge; a small
    arc between two of them is a rounded corner and has no name.

    Args: outline: corners in mm, counter-clockwise; kinds: what the cut says of the outline's own edges, by number.
    Returns: the named edges in order, and every piece; pieces of a named edge are called A, A_2, A_3, a rounded corner by its neighbours, a-b.
    Raises: BadOutline.
    """
    shape = outline_polygon(outline, "outline")
    points = [(float(x), float(y)) for x, y in shape.exterior.coords[:-1]]
    pieces = _pieces(points, kinds or {})
    first = next((i for i, piece in enumerate(pieces) if _parts(pieces[i - 1], piece)), 0)
    pieces = pieces[first:] + pieces[:first]
    groups: list[list[_Piece]] = []
    for i, piece in enumerate(pieces):
        if i and not _parts(pieces[i - 1], piece):
            groups[-1].append(piece)
        else:
            groups.append([piece])
    long = lambda group: sum(piece.edge.length for piece in group) >= LEAST_EDGE_MM  # noqa: E731
    named = [group for group in groups if not group[0].rounds and long(group)] or groups
    names = {id(group): letter(i) for i, group in enumerate(named)}
    seen, whole = [], []
    for i, group in enumerate(groups):
        name = names.get(id(group)) or _between(groups, i, names)
        made = [
            OutlineEdge(
                to=p.b, centre=p.centre, clockwise=p.clockwise, name=name if k == 0 else f"{name}_{k + 1}"
            )
            for k, p in enumerate(group)
        ]
        whole += made
        if id(group) in names:
            seen.append(_seen(name, group, made, points))
    return seen, whole


def _seen(name: str, group: Sequence[_Piece], made: list[OutlineEdge], points: Sequence[Xy]) -> Seen:
    lengths = [piece.edge.length for piece in group]
    left, middle = sum(lengths) / 2, group[0].a
    for piece, length in zip(group, lengths, strict=True):
        if left <= length:
            middle = _along(piece, left)
            break
        left -= length
    return Seen(
        name=name, pieces=made, edges=[edge for piece in group for edge in piece.edges], length_mm=round(sum(lengths), 2),
        middle=(round(middle[0], 2), round(middle[1], 2)), curved=any(piece.centre for piece in group), kind=group[0].kind,
        path=[points[i] for piece in group for i in piece.edges] + [group[-1].b],
    )  # fmt: skip


def _along(piece: _Piece, s: float) -> Xy:
    if piece.centre is None:
        share = s / piece.edge.length
        return piece.a[0] + (piece.b[0] - piece.a[0]) * share, piece.a[1] + (piece.b[1] - piece.a[1]) * share
    (x, y), r = piece.centre, piece.edge.radius
    angle = math.atan2(piece.a[1] - y, piece.a[0] - x) + piece.edge.sense * s / r
    return x + r * math.cos(angle), y + r * math.sin(angle)


def _between(groups: Sequence[Sequence[_Piece]], i: int, names: Mapping[int, str]) -> str:
    """A rounded corner's name: its neighbours', in small letters."""
    near = [
        next(
            (
                names[id(groups[(i + way * d) % len(groups)])]
                for d in range(1, len(groups))
                if id(groups[(i + way * d) % len(groups)]) in names
            ),
            "",
        )
        for way in (-1, 1)
    ]
    return f"{near[0]}-{near[1]}{i}".lower()


def _parts(before: _Piece, after: _Piece) -> bool:
    """Whether a new edge begins between two pieces."""
    if before.rounds or after.rounds or before.kind != after.kind:
        return True
    return abs(math.degrees(turn_between(before.edge, after.edge))) > SHARP_DEG


def _pieces(points: Sequence[Xy], kinds: Mapping[int, str]) -> list[_Piece]:
    """An outline's own edges as lines and arcs, each of one kind."""
    n = len(points)
    turns = [turn_deg(points[i - 1], points[i], points[(i + 1) % n]) for i in range(n)]
    kind = [kinds.get(i, "") for i in range(n)]
    start = max(
        range(n), key=lambda i: math.dist(points[i], points[(i + 1) % n])
    )  # the longest edge is no chord of an arc
    found, i = [], 0
    while i < n:
        count, centre, clockwise = _longest_arc(points, turns, kind, start + i, n - i)
        a, b = points[(start + i) % n], points[(start + i + count) % n]
        found.append(
            _Piece(
                a,
                b,
                centre,
                clockwise,
                tuple((start + i + k) % n for k in range(count)),
                kind[(start + i) % n],
            )
        )
        i += count
    return found


def _longest_arc(
    points: Sequence[Xy], turns: Sequence[float], kind: Sequence[str], start: int, most: int
) -> tuple[int, Xy | None, bool]:
    """How many edges from a corner on lie on one arc, its centre and which way it runs; one edge and None where none does."""
    n = len(points)
    best: tuple[int, Xy | None, bool] = (1, None, False)
    for count in range(2, most + 1):
        j = (start + count - 1) % n
        if (
            kind[j] != kind[start % n]
            or not 0.2 < abs(turns[j]) < WIDEST_CHORD_DEG
            or turns[j] * turns[(start + 1) % n] < 0
        ):
            break
        if count < LEAST_CHORDS:
            continue
        run = [points[(start + k) % n] for k in range(count + 1)]
        centre = _centre(run[0], run[count // 2], run[-1])
        if centre is None:
            break
        radius = math.dist(run[0], centre)
        chords = sorted(math.dist(p, q) for p, q in zip(run, run[1:], strict=False))
        uneven = (
            chords[-1] > UNEVEN * chords[len(chords) // 2]
        )  # a long line that runs into an arc is no chord of it
        if uneven or max(abs(math.dist(p, centre) - radius) for p in run) > ON_ARC_MM:
            if count > 6:
                break
            continue
        best = count, centre, turns[(start + 1) % n] < 0
    return best


def _centre(a: Xy, b: Xy, c: Xy) -> Xy | None:
    """The centre of the circle through three places."""
    d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]))
    if abs(d) < 1e-6:
        return None
    sq = [p[0] ** 2 + p[1] ** 2 for p in (a, b, c)]
    x = (sq[0] * (b[1] - c[1]) + sq[1] * (c[1] - a[1]) + sq[2] * (a[1] - b[1])) / d
    y = (sq[0] * (c[0] - b[0]) + sq[1] * (a[0] - c[0]) + sq[2] * (b[0] - a[0])) / d
    return (x, y) if math.hypot(x - a[0], y - a[1]) < 5000 else None
