"""A section through a shell at any place: the sheets it meets, from the outside in, and their lines in the plane of the cut."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import Mm, Said
from .file import ViewPart
from .lie import STEEP, Body, Lying, box_of, stem
from .planes import Plane
from .reach import crossings

Axis = Literal["x", "y", "z"]
#: A piece of a sheet is followed at steps of this; shorter pieces than the second are not drawn, mm.
STEP_MM, LEAST_MM = 12.0, 2.0
#: Sheets lie behind one another where they pass a place within this, or within the second along the line of sight, mm.
BESIDE_MM, DEEP_MM = 40.0, 160.0
#: Where along its line a sheet's number may stand, the best first, share of its length.
LABEL_AT = (0.5, 0.3, 0.7, 0.1, 0.9)
#: A cut's line runs over the drawing's edge by this share of its size.
TRACE_SHARE = 0.04
#: Which two axes a section shows: across the drawing and up it.
SHOWS: dict[str, tuple[str, str]] = {"x": ("y", "z"), "y": ("x", "z"), "z": ("x", "y")}
#: Of a sheet in several views of one kind the first of these counts.
PREFER = (
    "left",
    "right",
    "top",
    "lids",
    "floor",
    "chassis",
    "engine-bay",
    "underside",
    "front",
    "bulkhead",
    "rear",
    "boot",
)

Line = list[list[float]]


class SectionRequest(Record):
    """A shell's views, the axis that is cut across, and where, mm."""

    views: Annotated[list[ViewPart], Field(min_length=1, max_length=30)]
    axis: Axis
    at_mm: Annotated[float, Field(ge=-20_000, le=20_000)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Met:
    """A sheet that a section meets.

    Attributes:
        code, name, thickness_mm, view, layer: of the sheet as one view shows it; lines: its pieces in the plane of the cut, mm.
        side: left, centre or right; inward_mm: how far its middle lies inside the body's outside there; span_mm: from where to where, across and up.
    """

    code: str
    name: str
    thickness_mm: float
    view: str
    layer: int
    side: str
    inward_mm: float
    span_mm: list[float]
    lines: list[Line]


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """What a cut across a shell meets: the sheets of each side from the outside in, those of the centre from the top down."""

    axis: str
    at_mm: float
    shows: list[str]
    bounds: list[float]
    sheets: list[Met]

    @property
    def words(self) -> str:
        return Said(
            "{count} sheets at {axis} {at}", count=len({each.code for each in self.sheets}), axis=self.axis, at=Mm(self.at_mm, 0)
        )  # fmt: skip


def cut_through(request: SectionRequest) -> Section:
    """A section through a shell. Raises: BadField where the cut passes the shell by."""
    return section(Body(request.views), request.axis, request.at_mm)


def extent(body: Body, axis: Axis) -> tuple[float, float]:
    """From where to where a shell reaches along an axis, mm."""
    found = [
        sheet.rings[0][:, sheet_axes(sheet).index(axis)] for sheet in body.lying if axis in sheet_axes(sheet)
    ]
    if not found:
        return 0.0, 0.0
    return min(float(each.min()) for each in found), max(float(each.max()) for each in found)


def sheet_axes(sheet: Lying) -> tuple[str, str]:
    return {"side": ("x", "z"), "plan": ("x", "y"), "end": ("y", "z")}[sheet.seen]


def section(body: Body, axis: Axis, at_mm: float) -> Section:
    """Cut a shell across an axis.

    Every sheet that is drawn along the axis is followed over the place: the two views' outlines give one line, the body's form the other.

    Args: body: the shell; axis: x cuts across the car, y along it, z level; at_mm: where on that axis.
    Returns: see Section.
    Raises: BadField where the cut passes the shell by, with the range that meets it.
    """
    low, high = extent(body, axis)
    if not low <= at_mm <= high:
        raise BadField(
            Said("Nothing is cut at {axis} {at}.", axis=axis, at=Mm(at_mm, 0)), "at_mm",
            Said("The shell reaches from {low} to {high} there.", low=Mm(low, 0, bare=True), high=Mm(high, 0)),
        )  # fmt: skip
    met = [found for sheet in _each_once(body, axis) if (found := _met(body, sheet, axis, at_mm))]
    points = [point for each in met for line in each.lines for point in line]
    bounds = [
        min((p[0] for p in points), default=0.0), min((p[1] for p in points), default=0.0),
        max((p[0] for p in points), default=0.0), max((p[1] for p in points), default=0.0),
    ]  # fmt: skip
    rank = {"left": 0, "centre": 1, "right": 2}
    met.sort(key=lambda each: (rank[each.side], each.inward_mm, each.code))
    return Section(
        axis=axis, at_mm=at_mm, shows=list(SHOWS[axis]), bounds=[round(b, 1) for b in bounds], sheets=met
    )


def _each_once(body: Body, axis: Axis) -> list[Lying]:
    """The outlines that a cut can meet, of a sheet in several views of one kind only one."""
    order = {name: i for i, name in enumerate(PREFER)}
    found: dict[tuple[str, str], Lying] = {}
    first = lambda each: (
        -1 if box_of(each.code) and each.view == "chassis" else order.get(each.view, len(order))
    )
    for sheet in sorted(body.lying, key=first):
        if axis not in sheet_axes(sheet):
            continue
        centred = sheet.seen == "side" and sheet.code[:2] not in ("L-", "R-")
        key = sheet.code, sheet.view.removeprefix("inside-") if centred else sheet.seen
        found.setdefault(key, sheet)
    return [each for each in found.values() if not _told_elsewhere(each, body)]


#: What stands across the body: only these are told by an end view.
ACROSS = ("BULK", "NOSE", "TAIL", "BACK", "VALANCE", "TGATE", "PEDALM", "SEATB", "SLAM")
#: Of what is seen from below or above too, these walls are told by a plan; the rest of the sheets of a side are told by the side alone.
LEVEL = ("SILL", "ARCHI", "MOUNTF", "MOUNTM", "MOUNTR", "BEDA")


def _told_elsewhere(sheet: Lying, body: Body) -> bool:
    """Whether another kind of view tells a sheet's line better."""
    if sheet.seen == "end":
        return stem(sheet.code) not in ACROSS
    if sheet.seen == "side" or sheet.view == "top" or box_of(sheet.code) or stem(sheet.code) in LEVEL:
        return False
    return body.drawn(sheet.code, "side") is not None


def _met(body: Body, sheet: Lying, axis: Axis, at: float) -> Met | None:
    lines = [line for line in _lines(body, sheet, axis, at) if _length(line) >= LEAST_MM]
    if not lines:
        return None
    points = np.array([point for line in lines for point in line])
    middle = points.mean(axis=0)
    shows = SHOWS[axis]
    if "y" in shows:
        y = float(middle[shows.index("y")])
        spread = np.ptp(points[:, shows.index("y")])
        crosses = points[:, shows.index("y")].min() < 0 < points[:, shows.index("y")].max()
        side = "centre" if (crosses and abs(y) < 0.2 * max(1.0, spread)) or abs(y) < 1 else "left" if y < 0 else "right"  # fmt: skip
    else:
        side = "centre" if abs(at) < 1 else "left" if at < 0 else "right"
    return Met(
        code=sheet.code, name=sheet.named, thickness_mm=sheet.thickness_mm, view=sheet.view,
        layer=sheet.layer, side=side, inward_mm=round(_inward(body, shows, side, points), 1),
        span_mm=[round(float(v), 1) for v in (*points.min(axis=0), *points.max(axis=0))],
        lines=[[[round(float(a), 1), round(float(b), 1)] for a, b in line] for line in lines],
    )  # fmt: skip


def _inward(body: Body, shows: tuple[str, str], side: str, points: np.ndarray) -> float:
    """How far inside the body's outside a sheet lies: from its side, or from the top where it crosses the centre."""
    if side != "centre" and "y" in shows:
        return body.form.widest_mm - float(np.abs(points[:, shows.index("y")]).mean())
    if "z" in shows:
        reach = body.form.side
        return (float(reach.high.max()) if reach is not None else 0.0) - float(points[:, shows.index("z")].mean())  # fmt: skip
    return float(points[:, 0].mean())


def _lines(body: Body, sheet: Lying, axis: Axis, at: float) -> list[np.ndarray]:
    """A sheet's pieces in the plane of a cut, (n, 2) each."""
    axes = sheet_axes(sheet)
    along = axes.index(axis)
    out = []
    for low, high in crossings(sheet.rings, along, at):
        count = max(2, int((high - low) / STEP_MM) + 1)
        run = np.linspace(low, high, count)
        here = np.full_like(run, at)
        a, b = (here, run) if along == 0 else (run, here)
        third = body.third(sheet, a, b)
        line = np.column_stack([third, run] if _third_first(sheet, axis) else [run, third])
        for piece in _known(line):
            out += _where_steep(body, sheet, axis, piece)
    return out


def _known(line: np.ndarray) -> list[np.ndarray]:
    """The runs of a line whose places are known."""
    known = np.isfinite(line).all(axis=1)
    if known.all():
        return [line]
    edges = np.flatnonzero(np.diff(known.astype(int))) + 1
    return [run for run in np.split(line, edges) if len(run) > 1 and np.isfinite(run).all()]


def _third_first(sheet: Lying, axis: Axis) -> bool:
    """Whether the axis that a sheet's own view leaves open is the first of those that the section shows."""
    third = {"side": "y", "plan": "z", "end": "x"}[sheet.seen]
    return SHOWS[axis][0] == third


def _where_steep(body: Body, sheet: Lying, axis: Axis, line: np.ndarray) -> list[np.ndarray]:
    """A skin seen from the side and from above is one line: its steep part comes from the side, its level part from above."""
    if axis != "x" or sheet.layer != 1 or len(line) < 3:
        return [line]
    twin = body.drawn(sheet.code, "plan", "top") if sheet.seen == "side" else body.drawn(sheet.code, "side")
    if (
        twin is None
        or (sheet.seen == "side" and twin.view != "top")
        or (sheet.seen == "plan" and sheet.view != "top")
    ):
        return [line]
    step = np.abs(np.gradient(line, axis=0))
    steep = step[:, 1] >= STEEP * step[:, 0]
    keep = steep if sheet.seen == "side" else ~steep
    pieces: list[np.ndarray] = []
    start = None
    for i, kept in enumerate([*keep.tolist(), False]):
        if kept and start is None:
            start = i
        elif not kept and start is not None:
            pieces.append(line[max(0, start - 1) : i + 1])
            start = None
    return pieces


def _length(line: np.ndarray) -> float:
    return float(np.hypot(*np.diff(line, axis=0).T).sum()) if len(line) > 1 else 0.0


def behind_one_another(found: Section, at: Sequence[float], deep: str = "") -> list[Met]:
    """The sheets of a section that lie at a place of it, from the outside in.

    Args: found: the section; at: a place in its plane, mm; deep: the axis that one looks along, along which sheets farther apart still lie
        behind one another; "" for none.
    """
    reach = np.array([DEEP_MM if axis == deep else BESIDE_MM for axis in found.shows])
    place = np.asarray(at, float)
    near = lambda line: float(np.min(np.max(np.abs(np.asarray(line, float) - place) / reach, axis=1)))
    return [each for each in found.sheets if min(map(near, each.lines)) <= 1]


@dataclass(frozen=True, slots=True, kw_only=True)
class Label:
    """A sheet's number in a section's list, and the places on its lines where it may stand, the best first."""

    n: int
    code: str
    places: list[list[float]]


def labels(found: Section) -> list[Label]:
    """Numbers for the sheets of a section, one each, in the order of the list."""
    out = []
    for n, code in enumerate(dict.fromkeys(each.code for each in found.sheets), start=1):
        lines = [line for each in found.sheets if each.code == code for line in each.lines]
        lines.sort(key=len, reverse=True)
        places = [line[int(share * (len(line) - 1))] for line in lines for share in LABEL_AT]
        out.append(Label(n=n, code=code, places=places))
    return out


def middle_of(low: float, high: float, axis: str) -> float:
    """Where a cut is made before anybody says: in the middle, or along the car at a quarter of its width, where the floor is met."""
    return round(low + (0.25 if axis == "y" else 0.5) * (high - low), 0)


def traced(plane: Plane, axis: str, at_mm: float, bounds: Sequence[float]) -> Line:
    """A cut as a line across a view that shows its axis, in the view's own plane, mm."""
    u0, v0, u1, v1 = bounds
    sign = plane.signs[plane.axes.index(axis)]
    over = TRACE_SHARE * max(u1 - u0, v1 - v0)
    if plane.axes[0] == axis:
        return [[sign * at_mm, v0 - over], [sign * at_mm, v1 + over]]
    return [[u0 - over, sign * at_mm], [u1 + over, sign * at_mm]]


def stack_through(body: Body, view: str, code: str, at: Sequence[float]) -> list[Met]:
    """The sheets that lie behind one another at a place of a sheet, whichever views draw them, from the outside in.

    Args: body: the shell; view, code: the sheet that was tapped, as a view shows it; at: the place, in the shell's two axes of that view, mm.
    Returns: each sheet once; empty where the view has no such sheet.
    """
    sheet = body.in_view(view, code)
    if sheet is None:
        return []
    depth = float(body.third(sheet, np.array([at[0]]), np.array([at[1]]))[0])
    x, y, z = {"side": (at[0], depth, at[1]), "plan": (at[0], at[1], depth), "end": (depth, at[0], at[1])}[
        sheet.seen
    ]
    if not np.isfinite(depth):
        return []
    low, high = extent(body, "x")
    found = section(body, "x", min(max(x, low), high))
    look = {"side": "y", "plan": "z", "end": ""}[sheet.seen]
    behind = list({each.code: each for each in behind_one_another(found, (y, z), look)}.values())
    return behind if any(each.code == code for each in behind) else [_by_itself(sheet, (y, z)), *behind]


def _by_itself(sheet: Lying, at: tuple[float, float]) -> Met:
    """A sheet at a place, where no cut across the car meets it: it stands across itself."""
    y, z = at
    return Met(
        code=sheet.code, name=sheet.named, thickness_mm=sheet.thickness_mm, view=sheet.view,
        layer=sheet.layer, side="left" if y < -1 else "right" if y > 1 else "centre", inward_mm=0.0, span_mm=[y, z, y, z], lines=[[[y, z], [y, z]]],
    )  # fmt: skip
