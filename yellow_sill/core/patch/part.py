"""A sheet-metal part as a person says it: a base outline with true arcs, runs of bends on its edges, corners, and holes on the finished faces."""

import math
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import Point, Record
from ..said import Listed, Mm, Said
from .bends import JOGGLE_ANGLE_DEG, joggle_angle_deg

MOST_EDGES, MOST_RUNS, MOST_HOLES = 400, 40, 200
#: Bends in a row that anybody can still reach with a tool.
MOST_IN_A_ROW = 12
#: A closed hem of steel thicker than this cracks or springs open (rule of thumb), mm.
THICKEST_HEM_MM = 1.2

Name = Annotated[str, Field(min_length=1, max_length=20)]
Measured = Literal["outside", "inside", "tangent"]
Direction = Literal["up", "down"]
Length = Annotated[float, Field(gt=0, le=5000)]


class OutlineEdge(Record):
    """One edge of the base, from where the edge before it ends. ``centre``: of a true arc; ``clockwise``: which way it runs."""

    to: Point
    centre: Point | None = None
    clockwise: bool = False
    name: Annotated[str, Field(max_length=20)] = ""


class Hole(Record):
    """Something on the finished face that must arrive in its place on the flat.

    ``at``: on the base in the outline's own axes; on a fold along the edge from its start corner, and up from its mould line, mm. ``length_mm``: of a
    slot, over all; ``angle_deg``: of a slot, from the first axis.
    """

    kind: Literal["hole", "slot", "stud", "captive nut", "drain"] = "hole"
    at: Point
    diameter_mm: Annotated[float, Field(gt=0, le=500)]
    length_mm: Length | None = None
    angle_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    name: Annotated[str, Field(max_length=40)] = ""


#: What a run of bends can be, with how many legs it takes (least, most).
RUNS = {
    "flange": (1, 1), "return": (2, MOST_IN_A_ROW + 1), "z": (2, 2), "channel": (1, 1), "hat": (2, 2), "open hem": (1, 1), "closed hem": (1, 1),
    "joggle": (1, 1),
}  # fmt: skip


class Run(Record):
    """Bends in a row on an edge.

    ``on``: an edge of the base by name, two of them for a channel or a hat; or another run's name, for its tip, or that with ``.start`` or
    ``.finish`` for its sides. ``legs_mm``: from the base outwards; of a hem its depth over all. ``measured``: to the outside mould point, the inside one, or
    only the flat part to the tangent line. ``angles_deg``: bent through, one for all or one each. ``from_mm``, ``to_mm``: along the finished edge.
    ``gap_mm``: inside an open hem. ``start_taper_deg``, ``finish_taper_deg``: how far the ends of the legs lean inwards.
    """

    name: Name
    on: Annotated[list[Name], Field(min_length=1, max_length=2)]
    kind: Literal["flange", "return", "z", "channel", "hat", "open hem", "closed hem", "joggle"] = "flange"
    legs_mm: Annotated[list[Length], Field(min_length=1, max_length=40)]
    measured: Measured = "outside"
    angles_deg: Annotated[list[float], Field(max_length=40)] = []
    inside_radius_mm: Annotated[float, Field(ge=0, le=200)] | None = None
    k_factor: Annotated[float, Field(ge=0, le=1)] | None = None
    direction: Direction = "up"
    from_mm: Annotated[float, Field(ge=0, le=10_000)] | None = None
    to_mm: Annotated[float, Field(gt=0, le=10_000)] | None = None
    gap_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    start_taper_deg: Annotated[float, Field(ge=-60, le=80)] = 0.0
    finish_taper_deg: Annotated[float, Field(ge=-60, le=80)] = 0.0
    holes: Annotated[list[Hole], Field(max_length=MOST_HOLES)] = []


class Corner(Record):
    """How two neighbouring flanges meet. ``after``: the edge of the base before the corner; ``size_mm``: radius of a round relief, width of a tab."""

    after: Name
    kind: Literal["slot", "round", "mitre", "tab"] = "slot"
    size_mm: Annotated[float, Field(gt=0, le=200)] | None = None


class PartRequest(Record):
    """Input of ``pattern``. The outline runs counter-clockwise; ``outline_is``: what its sizes are measured to where an edge is bent."""

    outline: Annotated[list[OutlineEdge], Field(min_length=2, max_length=MOST_EDGES)]
    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    k_factor: Annotated[float, Field(ge=0, le=1)] | None = None
    inside_radius_mm: Annotated[float, Field(ge=0, le=200)] | None = None
    outline_is: Measured = "outside"
    runs: Annotated[list[Run], Field(max_length=MOST_RUNS)] = []
    corners: Annotated[list[Corner], Field(max_length=MOST_EDGES)] = []
    holes: Annotated[list[Hole], Field(max_length=MOST_HOLES)] = []
    least_leg_mm: Annotated[float, Field(ge=0, le=500)] | None = None
    mirror_hand: bool = False


def shown(name: str) -> str:
    """A fold's name as a person sees it: the pieces of one edge share theirs.

    >>> shown("C1_3"), shown("C1_2.2"), shown("A1.tab")
    ('C1', 'C1.2', 'A1.tab')
    """
    first, *rest = name.split(".")
    return ".".join([first.split("_")[0], *rest])


#: K by inside radius over thickness (rule of thumb for air-bent mild sheet); between two of them straight.
K_TABLE = ((0.0, 0.33), (0.5, 0.36), (1.0, 0.40), (2.0, 0.43), (3.0, 0.45), (5.0, 0.47), (10.0, 0.50))


def k_from_table(inside_radius_mm: float, thickness_mm: float) -> float:
    """The neutral fibre's place for a bend, share of the thickness from the inside.

    >>> k_from_table(1.0, 1.0), round(k_from_table(1.5, 1.0), 3), k_from_table(50.0, 1.0)
    (0.4, 0.415, 0.5)
    """
    ratio = inside_radius_mm / thickness_mm
    for (r0, k0), (r1, k1) in zip(K_TABLE, K_TABLE[1:], strict=False):
        if ratio <= r1:
            return k0 + (k1 - k0) * (ratio - r0) / (r1 - r0)
    return K_TABLE[-1][1]


@dataclass(frozen=True, slots=True, kw_only=True)
class BendSpec:
    """One bend with the leg that follows it. ``flat_mm``: given flat length, of a hem or a joggle's web, where the leg is not measured to mould points."""

    name: str
    on: str
    leg_mm: float
    measured: str
    angle: float
    radius_mm: float
    k: float
    up: bool
    run: int
    flat_mm: float | None = None
    from_mm: float | None = None
    to_mm: float | None = None
    tapers: tuple[float, float] = (0.0, 0.0)
    holes: tuple[Hole, ...] = ()
    kind: str = "flange"


def bend_specs(request: PartRequest) -> list[BendSpec]:
    """Every bend of a part, parents before children.

    Raises: BadField naming the run: a name twice, too many bends in a row, an angle over 180, legs that do not fit the kind, a hem too thick.
    """
    names: set[str] = {"base"}
    found: list[BendSpec] = []
    for i, run in enumerate(request.runs):
        _require_run(run, i, request)
        for k, edge in enumerate(run.on):
            name = run.name if len(run.on) == 1 else f"{run.name}{'ab'[k]}"
            if name in names:
                raise BadField(Said("'{name}' is the name of two runs.", name=name), f"runs[{i}].name", "Give each its own.")  # fmt: skip
            names.add(name)
            found += _chain(run, i, name, edge, request)
    return found


def _require_run(run: Run, i: int, request: PartRequest) -> None:
    """Raises: BadField for a run that cannot be."""
    least, most = RUNS[run.kind]
    where = f"runs[{i}]"
    if len(run.legs_mm) > MOST_IN_A_ROW:
        raise BadField(
            Said("{count} bends in a row on {name}: nobody can fold that.", count=len(run.legs_mm), name=run.name),
            f"{where}.legs_mm", Said("At most {most} are taken. Make it of two pieces.", most=MOST_IN_A_ROW),
        )  # fmt: skip
    if not least <= len(run.legs_mm) <= most:
        words = Said("{kind}: {least} leg(s) are needed, {given} given.", kind=Said(run.kind), least=least, given=len(run.legs_mm))  # fmt: skip
        raise BadField(words, f"{where}.legs_mm", "Give one size for each leg, from the base outwards.")
    pair = run.kind in ("channel", "hat")
    if pair != (len(run.on) == 2):
        raise BadField(Said("{kind}: {count} edge(s) are named.", kind=Said(run.kind), count=len(run.on)), f"{where}.on",
                       "A channel and a hat stand on two edges, everything else on one.")  # fmt: skip
    if len(run.angles_deg) not in (0, 1, len(run.legs_mm)):
        raise BadField("Give one angle for all bends, or one for each.", f"{where}.angles_deg")
    for angle in run.angles_deg:
        if not 0 < angle <= 180:
            raise BadField(
                Said("No sheet is bent through {angle:g}°.", angle=angle), f"{where}.angles_deg", "Above 0, up to 180: 90 is square, 180 a hem."
            )  # fmt: skip
        if angle > 170 and "hem" not in run.kind:
            raise BadField(
                Said("Bent through {angle:g}° it is a hem.", angle=angle),
                f"{where}.angles_deg",
                "Choose a hem: its depth is measured over all.",
            )
    if run.kind == "closed hem" and request.thickness_mm > THICKEST_HEM_MM:
        raise BadField(
            Said("Steel of {thickness} is too thick for a closed hem: it cracks.", thickness=Mm(request.thickness_mm)),
            f"{where}.kind", Said("Up to {most} can be closed; make an open hem, or a return.", most=Mm(THICKEST_HEM_MM)),
        )  # fmt: skip


def _chain(run: Run, i: int, name: str, edge: str, request: PartRequest) -> list[BendSpec]:
    """The bends of a run on one edge."""
    t = request.thickness_mm
    radius = run.inside_radius_mm
    if radius is None:
        radius = t if request.inside_radius_mm is None else request.inside_radius_mm
    up, count = run.direction == "up", len(run.legs_mm)
    if "hem" in run.kind:
        return [_hem(run, i, name, edge, request)]
    if run.kind == "joggle":
        return _joggle(run, i, name, edge, request, radius)
    angles = run.angles_deg or [90.0]
    angles = angles * count if len(angles) == 1 else angles
    turns = {"z": [up, not up], "hat": [up, not up]}.get(run.kind, [up] * count)
    k = _k(run, request, radius)
    return [
        BendSpec(
            name=name if n == 0 else f"{name}.{n + 1}", on=edge if n == 0 else name if n == 1 else f"{name}.{n}", leg_mm=run.legs_mm[n],
            angle=math.radians(angles[n]), radius_mm=radius, k=k, up=turns[n], from_mm=run.from_mm if n == 0 else None,
            to_mm=run.to_mm if n == 0 else None, tapers=(run.start_taper_deg, run.finish_taper_deg), holes=tuple(run.holes) if n == 0 else (),
            measured=run.measured, run=i, kind=run.kind,
        )
        for n in range(count)
    ]  # fmt: skip


def _k(run: Run, request: PartRequest, radius: float) -> float:
    if run.k_factor is not None:
        return run.k_factor
    return k_from_table(radius, request.thickness_mm) if request.k_factor is None else request.k_factor


def _hem(run: Run, i: int, name: str, edge: str, request: PartRequest) -> BendSpec:
    """A hem: folded back on itself; its depth runs from the outermost of the fold to the lip. Raises: BadField for one that is all fold."""
    t = request.thickness_mm
    radius = 0.0 if run.kind == "closed hem" else (run.gap_mm or 2 * t) / 2
    flat = run.legs_mm[0] - radius - t
    if flat <= 0:
        raise BadField(
            Said("A hem of {depth} is all fold.", depth=Mm(run.legs_mm[0])), f"runs[{i}].legs_mm", Said("Make it deeper than {least}.", least=Mm(radius + t, 1))
        )  # fmt: skip
    return BendSpec(
        name=name, on=edge, leg_mm=run.legs_mm[0], measured="tangent", angle=math.pi, radius_mm=radius, k=_k(run, request, radius), up=run.direction == "up",
        run=i, flat_mm=flat, from_mm=run.from_mm, to_mm=run.to_mm, tapers=(run.start_taper_deg, run.finish_taper_deg), holes=tuple(run.holes), kind=run.kind,
    )  # fmt: skip


def _joggle(run: Run, i: int, name: str, edge: str, request: PartRequest, radius: float) -> list[BendSpec]:
    """A step one sheet deep: two equal bends, there and back. The edge of the base is where the step begins."""
    t = request.thickness_mm
    asked = run.angles_deg[0] if run.angles_deg else JOGGLE_ANGLE_DEG
    if asked >= 90:
        raise BadField(Said("A joggle's step cannot be bent through {angle:g}°.", angle=asked), f"runs[{i}].angles_deg", "45 is usual.")  # fmt: skip
    angle, k = math.radians(joggle_angle_deg(t, radius, asked)), _k(run, request, radius)
    middle = radius + t / 2
    web = max(0.0, (t - 2 * middle * (1 - math.cos(angle))) / math.sin(angle))
    up = run.direction == "up"
    first = BendSpec(
        name=name, on=edge, leg_mm=web, measured="tangent", angle=angle, radius_mm=radius, k=k, up=up, run=i,
        flat_mm=web, from_mm=run.from_mm, to_mm=run.to_mm, kind="joggle",
    )  # fmt: skip
    lap = run.legs_mm[0]
    second = replace(first, name=f"{name}.2", on=name, leg_mm=lap, flat_mm=lap, up=not up, from_mm=None, to_mm=None, holes=tuple(run.holes))  # fmt: skip
    return [first, second]


def require_parents(specs: list[BendSpec], edges: list[str]) -> None:
    """Raises: BadField for a run on something that is not there, one that bears an edge's name, or two on one place of a fold."""
    known: dict[str, None] = dict.fromkeys(edges)
    taken: set[str] = set()
    for spec in specs:
        if spec.on not in known:
            raise BadField(
                Said("'{on}' is no edge of this part.", on=spec.on), f"runs[{spec.run}].on", Said("There are: {edges}.", edges=Listed(tuple(known)[:40]))
            )  # fmt: skip
        if spec.on not in edges and spec.on in taken:
            raise BadField(Said("Two runs stand on '{on}'.", on=spec.on), f"runs[{spec.run}].on", "Put them into one run, or on another edge.")  # fmt: skip
        taken.add(spec.on)
        if spec.name in edges:
            raise BadField(
                Said("'{name}' is an edge already.", name=spec.name),
                f"runs[{spec.run}].name",
                "Call the run something else, such as A1.",
            )
        for place in (spec.name, f"{spec.name}.start", f"{spec.name}.finish"):
            known[place] = None
