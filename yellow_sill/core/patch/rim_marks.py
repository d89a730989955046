"""The curved flanges of a part with the marks along their rims, where they lie on the flat sheet."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..geometry import Xy
from .curved import CurvedFlange, CurvedFlangeRequest, curved_along
from .faces import Face
from .layout import laid_out
from .opening import EdgeMade, Seen
from .part import PartRequest


@dataclass(frozen=True, slots=True, kw_only=True)
class RimPlace:
    """A mark on the rim's flat: its place, and what the stretch up to the next one must gain (below 0: lose), mm."""

    at: Xy
    gain_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CurvedRim:
    """The curved flange of one edge: its name, what its rim must gain or lose, and its marks on the flat."""

    name: str
    flange: CurvedFlange
    marks: list[RimPlace]


def curved_rims(request: PartRequest, seen: Sequence[Seen], made: Mapping[str, EdgeMade]) -> list[CurvedRim]:
    """Every flange along a curve of an opening's edges, folded up from the flat.

    Args: request: the part, from ``part_of``; seen: its edges; made: how each is made, by name.
    Raises: BadField as ``curved_flange``.
    """
    found = []
    part = laid_out(request)
    for edge in seen:
        plan = made[edge.name]
        faces = [
            face for face in part.faces if face.parent is None and face.name.split("_")[0] == f"{edge.name}1"
        ]
        if plan.treatment != "flange" or not any(face.curved for face in faces):
            continue
        spans = [(_length(face), _curvature(face)) for face in faces]
        flange = curved_along(spans, CurvedFlangeRequest(height_mm=plan.legs_mm[0]))
        starts = [mark.start_mm for mark in flange.marks]
        places = [_on_rim(faces, flange, at) for at in starts]
        found.append(
            CurvedRim(
                name=edge.name,
                flange=flange,
                marks=[
                    RimPlace(at=at, gain_mm=mark.gain_mm)
                    for at, mark in zip(places, flange.marks, strict=True)
                ],
            )
        )
    return found


def _length(face: Face) -> float:
    return face.root[1] - face.root[0]


def _curvature(face: Face) -> float:
    piece = face.piece
    return piece.sense / piece.radius if piece is not None and piece.centre is not None else 0.0


def _on_rim(faces: Sequence[Face], flange: CurvedFlange, at: float) -> Xy:
    """Where a place along the rim, as long as it is before it is worked, lies on the flat."""
    for face, zone in zip(faces, flange.zones, strict=True):
        if at <= zone.before_mm + 1e-6:
            x, y = face.on_flat(face.root[0] + at / zone.before_mm * _length(face), face.flat)
            return round(x, 2), round(y, 2)
        at -= zone.before_mm
    x, y = faces[-1].on_flat(faces[-1].root[1], faces[-1].flat)
    return round(x, 2), round(y, 2)
