"""The faces of a part: each fold's flat, and where it lies on the sheet."""

import math
from dataclasses import dataclass, field

from ..geometry import Xy
from .base import Edge, arc_points
from .part import BendSpec, Hole


@dataclass(slots=True)
class Face:
    """One fold's leg, flat.

    ``x`` runs along the edge it stands on from its start corner, ``y`` outwards from the tangent line of its own bend, mm. ``outline``: of the leg there;
    ``root``: from and to, of the bend; ``flat``: how long the leg is flat; ``allowance``: the bend's own length; ``setback``: from the tangent line to
    the place its sizes are measured to.
    """

    spec: BendSpec
    parent: "Face | None"
    piece: Edge | None
    root: tuple[float, float]
    outline: list[Xy]
    flat: float
    allowance: float
    setback: float
    origin: Xy
    along: Xy
    out: Xy
    children: list["Face"] = field(default_factory=list)
    side: str = "tip"
    inset: float = 0.0

    @property
    def name(self) -> str:
        return self.spec.name

    @property
    def chain(self) -> list["Face"]:
        """All that the face stands on and the face itself, from the base outwards."""
        found = [self]
        while found[0].parent is not None:
            found.insert(0, found[0].parent)
        return found

    @property
    def curved(self) -> bool:
        return self.piece is not None and self.piece.centre is not None

    def on_flat(self, x: float, y: float) -> Xy:
        """A place of the face, or of its bend (y below 0), on the flat sheet."""
        if self.curved:
            return self._on_arc(x, y)
        return (
            self.origin[0] + self.along[0] * x + self.out[0] * y,
            self.origin[1] + self.along[1] * x + self.out[1] * y,
        )

    def _on_arc(self, x: float, y: float) -> Xy:
        piece = self.piece
        assert piece is not None and piece.centre is not None
        radius = piece.radius - piece.sense * self.inset + piece.sense * (self.arc_reach + self.allowance + y)
        a0 = math.atan2(piece.a[1] - piece.centre[1], piece.a[0] - piece.centre[0])
        angle = a0 + piece.sense * x / piece.radius
        return piece.centre[0] + radius * math.cos(angle), piece.centre[1] + radius * math.sin(angle)

    @property
    def arc_reach(self) -> float:
        """On an arc: how much sheet lies between the base's tangent line and this face's bend, mm."""
        return sum((face.allowance + face.flat for face in reversed(self.chain[:-1])), 0.0)

    def strip(self, y0: float, y1: float) -> list[Xy]:
        """The piece between two heights on the flat as one outline, its arcs as chords; of the bend's root where it lies below the face."""
        x0, x1 = self.root
        if not self.curved:
            return [self.on_flat(x0, y0), self.on_flat(x1, y0), self.on_flat(x1, y1), self.on_flat(x0, y1)]
        piece = self.piece
        assert piece is not None and piece.centre is not None
        rows = []
        for y in (y0, y1):
            a, b = self.on_flat(x0, y), self.on_flat(x1, y)
            rows.append(arc_points(piece.centre, math.dist(a, piece.centre), a, b, piece.clockwise))
        return [*rows[0], *reversed(rows[1])]

    def on_sheet(self) -> list[Xy]:
        """The face's outline on the flat sheet."""
        if self.curved:
            return self.strip(0.0, self.flat)
        return [self.on_flat(x, y) for x, y in self.outline]


@dataclass(slots=True)
class Part:
    """A part laid out flat: its base's pieces with where they start and end, its faces (parents first), round reliefs (place, radius), slots beside bends
    that take a part of an edge, and the holes of the base.
    """

    thickness: float
    pieces: list[Edge]
    ends: list[tuple[Xy, Xy]]
    faces: list[Face]
    reliefs: list[tuple[Xy, float]]
    slots: list[list[Xy]]
    holes: tuple[Hole, ...]

    def face(self, name: str) -> Face:
        return next(face for face in self.faces if face.name == name)


def setback(spec: BendSpec, thickness: float, measured: str) -> float:
    """From a bend's tangent line to the place that sizes are measured to; for a hem to its outermost, mm."""
    lever = {"outside": spec.radius_mm + thickness, "inside": spec.radius_mm, "tangent": 0.0}[measured]
    return lever if spec.angle > math.radians(170.5) else lever * math.tan(spec.angle / 2)
