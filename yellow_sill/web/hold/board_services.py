"""What the pages of the hold stage draw, as plain values: the board in space and in a view, charts, rows."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from math import dist, hypot, sqrt

from yellow_sill.core.hold.asked import Frame, HoldRequest
from yellow_sill.core.hold.bodies import panels_of
from yellow_sill.core.hold.condition import LESS_METAL, Opening, carried
from yellow_sill.core.hold.measured import ComparedHold, PointCompared
from yellow_sill.core.hold.paths import CASES
from yellow_sill.core.hold.verdict import Held
from yellow_sill.core.hold.words import between, node_name, part_name
from yellow_sill.core.said import Said, joined
from yellow_sill.web.datums.models import DatumPoint
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle

from .board_page import DrawnMember, DrawnNode, HoldPage, TapPage, TapPart
from .services import Facts, stands_of
from .setups import Fitted, Setup

#: How far the softest movement swings on the drawing, mm.
SWING_MM = 140
#: A flat view shows a member of the far side where its middle is this far beyond the centre line, mm.
BEYOND_MM = 60.0
#: A member that does less of the work than this is not said to, share.
LEAST_WORK = 0.005
#: A datum point this near to a node is called the same place, mm.
DATUM_MM = 160.0
#: Which axis (0 x, 1 y, 2 z) runs away from who looks at a view, and its sign.
DEEP = {
    "left": [1, 1],
    "right": [1, -1],
    "underside": [2, 1],
    "floor": [2, -1],
    "front": [0, 1],
    "rear": [0, -1],
    "top": [2, -1],
    "door-left": [1, 1],
    "door-right": [1, -1],
    "rear-door-left": [1, 1],
    "rear-door-right": [1, -1],
    "lids": [2, -1],
    "inside-left": [1, -1],
    "inside-right": [1, 1],
    "bulkhead": [0, 1],
    "boot": [0, -1],
    "engine-bay": [2, -1],
    "chassis": [2, -1],
}


def board_data(
    request: HoldRequest,
    held: Held,
    kept: Collection[tuple[str, str]],
    body: list,
    view: ShellView | None,
    points: Iterable[DatumPoint] = (),
) -> HoldPage:
    """Nodes (with the datum points at them), members, braces (which of them are ``kept``) and stands, with what each is worth now.

    Args: view: a flat view, of which only what it shows is told; None for the turntable.
    """
    share, most_carried = (
        carried(request),
        max((max(held.carries.get(frame.id, [0.0])) for frame in request.frames), default=0.0) or 1.0,
    )
    shape = held.softest.shape if held.softest else {}
    most = max((hypot(*v) for v in shape.values()), default=0.0)
    datums = _datums_at(request, points)
    seen = {name for name, at in request.nodes.items() if _seen(at, view)}
    swung = lambda name: [v / most * SWING_MM for v in shape[name]] if name in shape and most else [0, 0, 0]  # noqa: E731
    return HoldPage(
        nodes={
            name: DrawnNode(
                at=at, name=node_name(name), datum=datums.get(name, ""), seen=name in seen, swing=swung(name)
            )
            for name, at in request.nodes.items()
        },
        members=[
            DrawnMember(
                ends=(frame.start, frame.end),
                there=share[frame.id] > 0,
                less=share[frame.id] < LESS_METAL,
                size=_size(frame.strips),
                carries=round(sqrt(max(held.carries.get(frame.id, [0.0])) / most_carried), 2),
                idle=frame.id in held.idle,
                parts=list(dict.fromkeys(strip[4] for strip in frame.strips)),
                told=f"{_parts_of(frame)}: {share[frame.id] * 100:.0f} % of its metal{_work(held, frame.id)}",
            )
            for frame in request.frames
            if {frame.start, frame.end} <= seen
        ],
        braces=[(brace.start, brace.end, (brace.start, brace.end) in kept) for brace in request.braces],
        stands={name: held.reactions_n.get(name) for name in request.stands},
        worst=held.worst_node,
        verdict=held.verdict,
        body=body,
        axes=(view.u_axis, view.v_axis) if view else None,
        deep=DEEP.get(view.name, [1, 0]) if view else None,
    )


def _parts_of(frame: Frame) -> str:
    return joined(dict.fromkeys(part_name(strip[4]) for strip in frame.strips), ", ")


def _work(held: Held, member: str) -> str:
    """What a member carries, in words."""
    told = [
        f"{share * 100:.0f} % under {case}"
        for share, case in zip(held.carries.get(member, ()), CASES, strict=False)
        if share >= LEAST_WORK
    ]
    return f"; does {', '.join(told)} of all metal's work" if told else ""


def _datums_at(request: HoldRequest, points: Iterable[DatumPoint]) -> dict[str, str]:
    """The datum points that lie at a node, by the node."""
    found: dict[str, str] = {}
    for point in points:
        away, node = min((dist(at, point.nominal), name) for name, at in request.nodes.items())
        if away <= DATUM_MM:
            found[node] = f"{found[node]}, {point.code}" if node in found else point.code
    return found


def _seen(at: Sequence[float], view: ShellView | None) -> bool:
    """Whether a view from a side shows a node: those of the other side are behind it."""
    side = {"left": -1, "right": 1}.get(view.name, 0) if view else 0
    return side == 0 or side * at[1] > -BEYOND_MM


def tap_data(vehicle: Vehicle, request: HoldRequest, setup: Setup, views: Sequence[ShellView]) -> TapPage:
    """What a tap on a panel or a member may change: each part's name, state, and the panels of the drawn views that are it."""
    return TapPage(
        parts={
            name: TapPart(
                name=part_name(name),
                panels=list(panels_of(name)),
                state="out" if name in setup.out else "new" if name in setup.new else "",
            )
            for name in request.parts
        },
        panels=_panel_views(vehicle),
        cuts=[(cut.code, cut.panel) for cut in setup.cuts],
        views={view.name: (view.u_axis, view.v_axis) for view in views},
    )


def _panel_views(vehicle: Vehicle) -> dict[str, list[str]]:
    """The views that draw a panel, by its code, in the order of the buttons."""
    found: dict[str, list[str]] = {}
    for code, name in (
        Panel.objects.filter(view__vehicle=vehicle).order_by("view__place").values_list("code", "view__name")
    ):
        found.setdefault(code, []).append(name)
    return found


def _size(strips: Sequence[Sequence]) -> float:
    """The lesser of width and height of a member, mm: how thick it is drawn."""
    ys, zs = [v for s in strips for v in (s[0], s[2])], [v for s in strips for v in (s[1], s[3])]
    return min(max(ys) - min(ys), max(zs) - min(zs)) or 20.0


@dataclass(frozen=True, slots=True, kw_only=True)
class PartRow:
    """A part: whether it is out or new, what rust has taken and how much of its length is left, %; the repairs with a piece of it out."""

    code: str
    name: str
    out: bool
    new: bool
    loss: float
    remain: float
    repairs: list[str]


def part_rows(request: HoldRequest, setup: Setup, openings: Sequence[Opening]) -> list[PartRow]:
    """Every part by name: whether it is out or new, what rust has taken, and which repair has a piece of it out."""
    rows = []
    for name, part in request.parts.items():
        why = sorted({opening.why for opening in openings if opening.panel in panels_of(name)})
        rows.append(
            PartRow(
                code=name,
                name=part_name(name),
                out=name in setup.out,
                new=name in setup.new,
                loss=part.loss * 100,
                remain=part.remain * 100,
                repairs=why,
            )
        )
    return sorted(rows, key=lambda row: (not row.out, not row.new, not row.repairs, row.name))


@dataclass(frozen=True, slots=True, kw_only=True)
class BraceRow:
    """A brace: its code, its two places in words, its length in mm, its tube, the day it went in."""

    code: str
    words: str
    length: float
    brace: Fitted
    since: date | None


def brace_rows(request: HoldRequest, setup: Setup) -> list[BraceRow]:
    """Each brace: its code, its two places in words, its length, its tube."""
    rows = []
    for brace in setup.braces:
        a, b = brace.pair
        known = a in request.nodes and b in request.nodes
        length = dist(request.nodes[a], request.nodes[b]) if known else 0.0
        since = date.fromisoformat(brace.fitted_on) if brace.fitted_on else None
        words = between(a, b) if known else f"{a} to {b}"
        rows.append(BraceRow(code=brace.code, words=words, length=length, brace=brace, since=since))
    return rows


def places(request: HoldRequest) -> list[tuple[str, str]]:
    """The places a brace can join, by name."""
    return sorted(((name, node_name(name)) for name in request.nodes), key=lambda each: each[1])


@dataclass(frozen=True, slots=True, kw_only=True)
class MeasuredRow:
    """A datum point: its name, the node that carries it, both movements' lengths in mm; None where one is not told."""

    point: PointCompared
    name: str
    node: str
    predicted: float | None
    measured: float | None


def measured_rows(told: ComparedHold, names: dict[str, str]) -> list[MeasuredRow]:
    """Each datum point: its name, the node that carries it, both movements' lengths and whether they agree."""
    size = lambda v: hypot(*v) if v else None  # noqa: E731
    return [
        MeasuredRow(
            point=point,
            name=names.get(point.id, ""),
            node=node_name(point.node) if point.node else "",
            predicted=size(point.predicted_mm),
            measured=size(point.measured_mm),
        )
        for point in told.points
    ]


def change_words(before: Facts, after: Facts) -> list[str]:
    """What was done to the shell between two states, in words."""
    said: list[str] = []
    for words, first, second in (
        ("out", before.setup.out, after.setup.out),
        ("new in", before.setup.new, after.setup.new),
    ):
        said += [
            Said("{part} {now}", part=part_name(part), now=Said(words))
            for part in second
            if part not in first
        ]
        said += [
            Said("{part} no longer {now}", part=part_name(part), now=Said(words))
            for part in first
            if part not in second
        ]
    pairs = lambda facts: {brace.pair for brace in facts.setup.braces}  # noqa: E731
    said += [Said("brace in: {brace}", brace=between(a, b)) for a, b in sorted(pairs(after) - pairs(before))]
    said += [Said("brace out: {brace}", brace=between(a, b)) for a, b in sorted(pairs(before) - pairs(after))]
    codes = lambda facts: {opening.why for opening in facts.openings}  # noqa: E731
    said += [f"{code}: piece out" for code in sorted(codes(after) - codes(before))] + [
        f"{code}: closed" for code in sorted(codes(before) - codes(after))
    ]
    for name, words in (("engine_in", "engine"), ("doors_on", "doors")):
        was, now = getattr(before.setup, name), getattr(after.setup, name)
        if was != now:
            said.append(f"{words} {'in' if now else 'out'}")
    moved = [joined((node_name(each) for each in stands_of(facts)), ", ") for facts in (before, after)]
    if moved[0] != moved[1]:
        said.append(Said("stands moved to {places}", places=moved[1]))
    return said
