"""The opening in the car as a person sees it: its edges by name, how each meets the old metal, and the part that comes of it."""

import math
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field
from shapely.geometry import LineString
from shapely.geometry import Point as ShapelyPoint

from ..errors import BadField
from ..geometry import Xy
from ..records import Point, Record
from ..said import Said
from .base import Edge, drawn_in
from .part import Corner, Hole, Measured, OutlineEdge, PartRequest, Run, shown
from .seen import Seen, edges_seen
from .sides import sides_of

#: What was said at a place counts for the edge that runs within this of it, mm.
SAID_MM = 12.0
#: A shorter piece at the end of an edge is not folded, mm.
LEAST_FOLD_MM = 2.0
#: How an edge meets the old metal, and which of them are bent.
TREATMENTS = {
    "butt": "Butt", "free": "Free edge", "lap": "Lap", "joggle": "Joggle", "flange": "Flange", "return": "Flange with a return", "open hem": "Open hem",
    "closed hem": "Closed hem",
}  # fmt: skip
BENT = ("joggle", "flange", "return", "open hem", "closed hem")
_Size = Annotated[float, Field(gt=0, le=1000)]


class EdgeMade(Record):
    """How one edge of the opening is made. ``legs_mm``: of a lap its width, of a flange its height, of a return both."""

    treatment: Literal["butt", "free", "lap", "joggle", "flange", "return", "open hem", "closed hem"] = "butt"
    legs_mm: Annotated[list[_Size], Field(max_length=4)] = []
    angle_deg: Annotated[float, Field(gt=0, le=180)] | None = None
    inside_radius_mm: Annotated[float, Field(ge=0, le=200)] | None = None
    direction: Literal["up", "down"] = "up"
    corner: Literal["slot", "round", "mitre", "tab"] = "slot"
    holes: Annotated[list[Hole], Field(max_length=60)] = []


class EdgeSaid(EdgeMade):
    """How the edge that runs by a place is made: the line may be drawn anew, and edges may get other names."""

    at: Point


def usual(seen: Sequence[Seen]) -> dict[str, EdgeMade]:
    """How each edge is made until somebody chooses: free or on its neighbour along the panel's own edge, else butted."""
    return {edge.name: EdgeMade(treatment="butt" if edge.kind in ("joint", "") else "free") for edge in seen}


def by_name(seen: Sequence[Seen], said: Sequence[EdgeSaid]) -> tuple[dict[str, EdgeMade], list[EdgeSaid]]:
    """What was said of places, by the edge that runs by them now; and what fits none any more, which is told and not forgotten."""
    found: dict[str, EdgeMade] = {}
    lost: list[EdgeSaid] = []
    for each in said:
        near = min(seen, key=lambda edge: _away(edge, each.at), default=None)
        if near is None or _away(near, each.at) > SAID_MM or near.name in found:
            lost.append(each)
        else:
            found[near.name] = EdgeMade(**each.model_dump(exclude={"at"}))
    return found, lost


def _away(edge: Seen, at: Xy) -> float:
    return float(LineString(edge.path).distance(ShapelyPoint(at)))


def part_of(
    outline: Sequence[Sequence[float]],
    made: Mapping[str, EdgeMade],
    *,
    kinds: Mapping[int, str] | None = None,
    thickness_mm: float,
    gap_mm: float = 0.0,
    trim_mm: float = 0.0,
    k_factor: float | None = None,
    inside_radius_mm: float | None = None,
    measured: Measured = "outside",
    holes: Sequence[Hole] = (),
    mirror_hand: bool = False,
) -> PartRequest:
    """The part that fills an opening: butted edges set back by the gap, laps wider, the rest at their mould lines with their runs of bends.

    Args: outline: of the opening, mm; made: by the edge's name; kinds: see ``edges_seen``; trim_mm: left on all round to be trimmed; holes: on the base.
    Raises: BadOutline, BadField naming the edge.
    """
    seen, whole = edges_seen(outline, kinds)
    plan = usual(seen) | dict(made)
    if unknown := [name for name in made if name not in {edge.name for edge in seen}]:
        raise BadField(
            Said("This opening has no edge {name}.", name=unknown[0]),
            f"edge {unknown[0]}",
            "Look at its edges again.",
        )
    for edge in seen:
        _require(edge, plan[edge.name])
    reach = _reaches(seen, whole, plan, gap_mm, trim_mm)
    starts = [whole[-1].to, *(edge.to for edge in whole[:-1])]
    pieces = [
        Edge(edge.name, start, edge.to, edge.centre, edge.clockwise, inset=-reach[edge.name]) for start, edge in zip(starts, whole, strict=True)
    ]  # fmt: skip
    moved = _moved(pieces)
    slivers = _slivers(seen, moved)
    runs = [run for edge in seen for run in _runs(edge, plan[edge.name], trim_mm) if run.on[0] not in slivers]
    left = {edge.name for edge in moved} | slivers
    if gone := [run.name for run in runs if run.on[0] not in left]:
        raise BadField(
            Said("The gap beside it leaves nothing of edge {name}.", name=shown(gone[0])[:-1]), "gap_mm", "Make the gap smaller, or that edge a butt too."
        )  # fmt: skip
    corners = [
        Corner(after=edge.pieces[-1].name, kind=plan[edge.name].corner)
        for edge in seen
        if plan[edge.name].treatment in ("flange", "return")
    ]
    return PartRequest(
        outline=moved, thickness_mm=thickness_mm, k_factor=k_factor, inside_radius_mm=inside_radius_mm, outline_is=measured, runs=runs,
        corners=[corner for corner in corners if corner.kind != "slot"], holes=list(holes), mirror_hand=mirror_hand,
    )  # fmt: skip


def _require(edge: Seen, made: EdgeMade) -> None:
    """Raises: BadField for an edge whose sizes do not fit how it is made."""
    where = f"edge {edge.name}"
    wanted = {"butt": 0, "free": 0, "return": 2}.get(made.treatment, 1)
    if len(made.legs_mm) < wanted:
        raise BadField(
            Said("{name} needs {count} size(s) in mm.", name=edge.name, count=wanted), where, "Type them."
        )
    if (
        edge.curved
        and made.treatment in ("return", "open hem", "closed hem", "joggle")
        and len(edge.pieces) > 1
    ):
        raise BadField(Said("{name} is curved: a {kind} cannot be folded along it.", name=edge.name, kind=Said(made.treatment)), where,
                       "Make it a flange, shrunk or stretched, or part the edge.")  # fmt: skip


def _reaches(
    seen: Sequence[Seen], whole: Sequence[OutlineEdge], plan: Mapping[str, EdgeMade], gap: float, trim: float
) -> dict[str, float]:
    """How far each piece of the base reaches beyond the opening, mm; a rounded corner goes with its neighbours where both do the same."""
    by_piece: dict[str, float] = {}
    for edge in seen:
        treatment, legs = plan[edge.name].treatment, plan[edge.name].legs_mm
        reach = {"butt": -gap, "lap": legs[0] if legs else 0.0}.get(treatment, 0.0)
        by_piece |= {piece.name: reach + (trim if treatment not in BENT else 0.0) for piece in edge.pieces}
    names = [edge.name for edge in whole]
    found = {}
    for i, name in enumerate(names):
        if name in by_piece:
            found[name] = by_piece[name]
            continue
        near = [
            next(
                by_piece[names[(i + way * d) % len(names)]]
                for d in range(1, len(names) + 1)
                if names[(i + way * d) % len(names)] in by_piece
            )
            for way in (-1, 1)
        ]
        found[name] = near[0] if abs(near[0] - near[1]) < 1e-9 else min(near)
    return found


def _moved(pieces: Sequence[Edge]) -> list[OutlineEdge]:
    """The outline with each piece moved by its reach; pieces that the gap swallows go, and their neighbours meet. Raises: BadField where nothing is left."""
    try:
        left, ends = drawn_in(pieces)
    except BadField:
        raise BadField("The gap leaves nothing of the patch.", "gap_mm", "Make the gap smaller.") from None
    found: list[OutlineEdge] = []
    for i, (piece, (_, b)) in enumerate(zip(left, ends, strict=True)):
        found.append(OutlineEdge(to=b, centre=piece.centre, clockwise=piece.clockwise, name=piece.name))
        following = ends[(i + 1) % len(ends)][0]
        if math.dist(b, following) > 0.01:
            found.append(OutlineEdge(to=following, name=f"{piece.name}/"))
    return found


def _slivers(seen: Sequence[Seen], moved: Sequence[OutlineEdge]) -> set[str]:
    """Pieces at the ends of an edge of several that the gap beside them has left too short to fold: the fold ends at the piece before."""
    lengths = dict.fromkeys((piece.name for edge in seen for piece in edge.pieces), 0.0)
    for before, piece in zip([moved[-1], *moved[:-1]], moved, strict=True):
        lengths[piece.name] = math.dist(before.to, piece.to)
    found: set[str] = set()
    for edge in seen:
        for names in ([piece.name for piece in edge.pieces], [piece.name for piece in reversed(edge.pieces)]):
            for name in names[:-1]:
                if lengths[name] >= LEAST_FOLD_MM:
                    break
                found.add(name)
    return found


def _runs(edge: Seen, made: EdgeMade, trim: float) -> list[Run]:
    """The runs of bends that an edge asks for, one on each of its pieces; what is left on to be trimmed goes to the last leg."""
    if made.treatment not in BENT:
        return []
    angles = [] if made.angle_deg is None or "hem" in made.treatment else [made.angle_deg]
    legs = made.legs_mm[:1] if made.treatment != "return" else list(made.legs_mm)
    if "hem" not in made.treatment:
        legs = [*legs[:-1], legs[-1] + trim]
    run = Run(
        name=f"{edge.name}1", on=[edge.name], kind=made.treatment, legs_mm=legs, angles_deg=angles,  # type: ignore[arg-type]
        inside_radius_mm=made.inside_radius_mm, direction=made.direction, holes=made.holes,
    )  # fmt: skip
    return [
        run.model_copy(update={"name": run.name if k == 0 else f"{run.name}_{k + 1}", "on": [piece.name], "holes": made.holes if k == 0 else []})
        for k, piece in enumerate(edge.pieces)
    ]  # fmt: skip


def of_sides(outline: Sequence[Sequence[float]], sides: Mapping[str, Mapping[str, Any]]) -> list[EdgeSaid]:
    """What was stored by sides (``core.patch.sides``), by the places they have: patterns from before edges were named as they are now."""
    found = []
    for side in sides_of(outline):
        spec = sides.get(side.name)
        if spec:
            legs = [spec["width_mm"]] if spec.get("width_mm") else []
            rest = {
                key: spec[key]
                for key in ("angle_deg", "inside_radius_mm", "direction")
                if spec.get(key) is not None
            }
            found.append(
                EdgeSaid.read(
                    {"at": side.middle, "treatment": spec.get("treatment", "butt"), "legs_mm": legs, **rest}
                )
            )
    return found
