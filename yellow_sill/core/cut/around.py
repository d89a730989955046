"""What a cut line meets: edges, seams and swages to end on, rows of spot welds to keep clear of, keep-outs, fittings behind, curves, marks."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely import line_merge
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..errors import BadOutline
from ..geometry import outline_polygon, polygons_of
from ..records import Corners, Record
from ..records import Point as At
from ..remarks import Remark
from ..said import Count, Listed, Mm, Said
from .rows import PITCH_MM

#: A cut is taken on to a line up to this far beyond it; it keeps this far off a row of spot welds; rules of thumb, docs/methods.md section 3.
SNAP_MM, ROW_CLEAR_MM, STEP_MM = 30.0, 10.0, 20.0
#: A side and a line run along each other within this turn, and over this share of the side.
ALONG_DEG, ALONG_SHARE = 8.0, 0.5
ALONG_SIN = math.sin(math.radians(ALONG_DEG))
#: A joint within this of square across a curve is slanted by the second.
SQUARE_DEG, SLANT_DEG = 20.0, 15.0
#: Shorter sides are roundings.
LEAST_SIDE_MM = 15.0
#: An outline that turns more than this has a corner there.
CORNER_DEG = 25.0
#: A row counts as taken where so much of it lies in the cut.
TAKEN_MM = 20.0
#: A side lies on a line within this.
ON_LINE_MM = 1.0
#: A line runs along a row where it stays by it for more than this many times the clearance: crossing it takes twice.
ALONG_ROW = 3.0
#: Why a cut ends on a line.
WHY = {
    "edge": "The panel ends there.", "seam": "The seam hides the weld, and the panel parts there anyway.",
    "swage": "The fold stiffens the joint and hides it.", "flange": "The flange is taken whole: it is welded again as the maker did.",
}  # fmt: skip
MOST = 200
Name = Annotated[str, Field(min_length=1, max_length=60)]
Path = Annotated[list[At], Field(min_length=2, max_length=2000)]


class Line(Record):
    """A line that a cut may end on."""

    name: Name
    kind: Literal["edge", "seam", "swage", "flange"]
    path: Path


class NamedPath(Record):
    """A curve whose line must stay true."""

    name: Name
    path: Path


class WeldRow(NamedPath):
    """A row of spot welds: how far apart they stand, and the sheet that must survive when they are let go (empty: any)."""

    pitch_mm: Annotated[float, Field(ge=8, le=200)] = PITCH_MM
    survives: Annotated[str, Field(max_length=60)] = ""


class NamedPlace(Record):
    """A transfer mark."""

    name: Name
    at: At


class NamedOutline(Record):
    """Something that must not be cut, or a fitting behind the panel."""

    name: Name
    outline: Corners


class Around(Record):
    """Everything round the cuts of one panel, all optional."""

    lines: Annotated[list[Line], Field(max_length=MOST)] = []
    rows: Annotated[list[WeldRow], Field(max_length=MOST)] = []
    keep_outs: Annotated[list[NamedOutline], Field(max_length=MOST)] = []
    fittings: Annotated[list[NamedOutline], Field(max_length=MOST)] = []
    curves: Annotated[list[NamedPath], Field(max_length=MOST)] = []
    transfer_marks: Annotated[list[NamedPlace], Field(max_length=MOST)] = []
    snap_mm: Annotated[float, Field(ge=0, le=500)] = SNAP_MM
    row_clear_mm: Annotated[float, Field(ge=0, le=200)] = ROW_CLEAR_MM


@dataclass(frozen=True, slots=True, kw_only=True)
class Ended:
    """A side of a cut that was moved: onto what, by how much, and why."""

    on: str
    kind: str
    moved_mm: float
    why: str


#: A cut that the panel itself ends.
AT_EDGE = Ended(on="the panel's edge", kind="edge", moved_mm=0.0, why=WHY["edge"])


@dataclass(frozen=True, slots=True, kw_only=True)
class Released:
    """A row that a cut takes, over how much of its length (mm): about how many spot welds are let go, and what must survive it."""

    row: str
    length_mm: float
    count: int
    survives: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Met:
    """What one cut meets: where its sides ended, rows it takes, keep-outs it crosses, fittings behind it, joints slanted, marks lost."""

    ended_on: list[Ended] = field(default_factory=list)
    takes_rows: list[str] = field(default_factory=list)
    releases: list[Released] = field(default_factory=list)
    crosses: list[str] = field(default_factory=list)
    behind: list[str] = field(default_factory=list)
    slanted: list[str] = field(default_factory=list)
    marks: list[str] = field(default_factory=list)

    @property
    def words(self) -> list[str]:
        """The same in sentences."""
        told: list[str] = [
            Said("Ends on {on}. {why}", on=each.on, why=Said(each.why)) for each in self.ended_on
        ]
        for each in self.releases:
            survives = Said(" {survives} must survive.", survives=each.survives) if each.survives else ""
            told.append(
                Said(
                    "Takes {length} of {row}: about {welds} to release.{survives}",
                    length=Mm(each.length_mm, 0),
                    row=each.row,
                    welds=Count(each.count, "spot weld", "spot welds"),
                    survives=survives,
                )
            )
        told += [
            Said("Slanted across {name}, so that its line stays true.", name=name) for name in self.slanted
        ]
        if self.behind:
            told.append(Said("Behind it: {behind}.", behind=Listed(tuple(self.behind))))
        if self.marks:
            told.append(
                Said(
                    "It takes {marks} with it: measured before, marked out again after.",
                    marks=Listed(tuple(self.marks)),
                )
            )
        return told


class Surroundings:
    """The same, ready to be asked."""

    def __init__(self, around: Around, where: str = "around") -> None:
        self.around = around
        self.keep_outs = [
            (each.name, outline_polygon(each.outline, f"{where}.keep_outs[{i}].outline"))
            for i, each in enumerate(around.keep_outs)
        ]
        self.fittings = [
            (each.name, outline_polygon(each.outline, f"{where}.fittings[{i}].outline"))
            for i, each in enumerate(around.fittings)
        ]
        self.rows = [(row, LineString(row.path)) for row in around.rows]
        self.lines = [(line, LineString(line.path).bounds) for line in around.lines]
        for kind in ("lines", "rows", "curves"):
            for i, each in enumerate(getattr(around, kind)):
                if LineString(each.path).length < 1:
                    raise BadOutline(
                        Said("{name} has no length.", name=each.name),
                        f"{where}.{kind}[{i}].path",
                        "Give its two ends.",
                    )

    @property
    def moves(self) -> bool:
        """Whether anything may move a cut's sides."""
        return bool(self.around.lines or self.around.rows or self.around.curves)

    def settled(
        self, corners: Polygon, edge_mm: float = 0.0, beyond_mm: float = 0.0
    ) -> tuple[Polygon, list[Ended], list[str]]:
        """Corners whose sides go on to the nearest line, keep clear of rows, and slant across curves: never inwards.

        Args: edge_mm: an edge of the panel is ended on within this; beyond_mm: and gone past by this, so that rounding leaves no corner of it standing.
        """
        ended: list[Ended] = []
        for side in _sides(corners):
            by, told = self._on_to(side, edge_mm, beyond_mm)
            clear = self._clear_of(side, by)
            if clear is not None:
                by, told = clear
            if by > 0 and told:
                corners = _grown(corners, side, by, by)
                ended.append(told)
        slanted: list[str] = []
        for side in _sides(corners):
            for curve in self.around.curves:
                if _crosses_square(side, curve.path):
                    length = float(np.linalg.norm(side[1] - side[0]))
                    corners = _grown(corners, side, 0.0, length * float(np.tan(np.radians(SLANT_DEG))))
                    slanted.append(curve.name)
                    break
        return corners, ended, slanted

    def _on_to(self, side: np.ndarray, edge_mm: float, beyond_mm: float) -> tuple[float, Ended | None]:
        """How far outwards the nearest line to end on is; past an edge of the panel, which may lie a little inwards already."""
        found: list[tuple[float, Line]] = []
        most = max(beyond_mm, self.around.snap_mm)
        (x0, y0), (x1, y1) = side.min(axis=0) - most, side.max(axis=0) + most
        for line, (u0, v0, u1, v1) in self.lines:
            if u0 > x1 or v0 > y1 or u1 < x0 or v1 < y0:
                continue
            least, reach = (
                (-beyond_mm, min(edge_mm, self.around.snap_mm))
                if line.kind == "edge"
                else (0.0, self.around.snap_mm)
            )
            found += [(away, line) for away in _beside(side, line.path) if least <= away <= reach]
        if not found:
            return 0.0, None
        away, line = min(found, key=lambda each: (each[0], each[1].name))
        told = Ended(on=line.name, kind=line.kind, moved_mm=round(max(0.0, away), 1), why=WHY[line.kind])
        return away + (beyond_mm if line.kind == "edge" else 0.0), told

    def _clear_of(self, side: np.ndarray, by: float) -> tuple[float, Ended] | None:
        """A side that would run along a row is taken past it: clear of it, or with its flange."""
        clear, past = self.around.row_clear_mm, by
        taken: WeldRow | None = None
        for row in sorted(self.around.rows, key=lambda each: each.name):
            for away in _beside(side, row.path):
                if abs(away - past) < clear - 1e-9:
                    past, taken = away + clear, row
        if taken is None or past <= by:
            return None
        why = Said(
            "A joint keeps {clear} off a row of spot welds: the row is taken out with it.", clear=Mm(clear)
        )
        return past, Ended(on=taken.name, kind="row", moved_mm=round(past, 1), why=why)

    def met(
        self, outline: Polygon, ended: Sequence[Ended], slanted: Sequence[str], where: str
    ) -> tuple[Met, list[Remark]]:
        """What a finished cut meets, with remarks on what it must not."""
        crosses = [name for name, shape in self.keep_outs if shape.intersection(outline).area > 1e-6]
        behind = [name for name, shape in self.fittings if shape.intersects(outline)]
        remarks = []
        for name, shape in self.keep_outs:
            if name in crosses:
                place = shape.intersection(outline).representative_point()
                text = Said("The {where} takes metal of {name}, which must stay.", where=where, name=name)
                remarks.append(
                    Remark(
                        code="CUT-20",
                        where=where,
                        what=text,
                        mend="Move its line, or say that it may go.",
                        at=(place.x, place.y),
                    )
                )
        for name, shape in self.fittings:
            if name in behind and not outline.covers(shape):
                place = outline.exterior.intersection(shape).representative_point()
                text = Said("The {where} runs through {name}, which is fixed behind.", where=where, name=name)
                remarks.append(
                    Remark(
                        code="CUT-21",
                        where=where,
                        what=text,
                        mend="Take it off first, or move the line.",
                        at=(place.x, place.y),
                    )
                )
        reach = outline.buffer(0.5)
        lengths = [
            (row, float(line.intersection(reach).length)) for row, line in self.rows if line.intersects(reach)
        ]
        releases = [
            Released(
                row=row.name,
                length_mm=round(length, 1),
                count=int(length / row.pitch_mm + 0.5) or 1,
                survives=row.survives,
            )
            for row, length in lengths
            if length >= TAKEN_MM
        ]
        marks = [
            mark.name for mark in self.around.transfer_marks if outline.buffer(1e-6).contains(Point(mark.at))
        ]
        rows = [released.row for released in releases]
        met = Met(
            ended_on=list(ended),
            takes_rows=rows,
            releases=releases,
            crosses=crosses,
            behind=behind,
            slanted=list(slanted),
            marks=marks,
        )
        return met, remarks

    def lies_on(self, outline: Polygon) -> list[Ended]:
        """The lines that sides of a drawn cut lie on."""
        found = {}
        for side in _sides(outline):
            for line in self.around.lines:
                if line.name not in found and any(
                    abs(away) <= ON_LINE_MM for away in _beside(side, line.path)
                ):
                    found[line.name] = Ended(on=line.name, kind=line.kind, moved_mm=0.0, why=WHY[line.kind])
        return list(found.values())

    def misplaced(self, outline: Polygon, welded: BaseGeometry, where: str) -> list[Remark]:
        """Where a line that a person drew runs along a row of spot welds, or square across a curve.

        Args: outline: the cut; welded: its outline without what runs along the panel's own edge.
        """
        remarks, clear = [], self.around.row_clear_mm
        for row, line in self.rows:
            if clear <= 0 or not line.intersects(outline.buffer(clear)):
                continue
            beside = line_merge(welded).intersection(line.buffer(clear - 0.05, cap_style="flat"))
            along = max(
                getattr(beside, "geoms", [beside]), key=lambda piece: piece.length, default=LineString()
            )
            if along.length > ALONG_ROW * clear:
                place = along.interpolate(0.5, normalized=True)
                text = Said(
                    "The {where} runs along {name}, less than {clear} off its spot welds.",
                    where=where,
                    name=row.name,
                    clear=Mm(clear),
                )
                remarks.append(
                    Remark(
                        code="CUT-22",
                        where=where,
                        what=text,
                        mend="Keep clear of the row, or take its whole flange.",
                        at=_at(place),
                    )
                )
        for side in _sides(outline):
            for curve in self.around.curves:
                if _crosses_square(side, curve.path) and welded.distance(Point(side.mean(axis=0))) < 0.5:
                    place = LineString(side).intersection(LineString(curve.path)).representative_point()
                    text = Said(
                        "The {where} crosses {name} square on: its line is hard to keep true there.",
                        where=where,
                        name=curve.name,
                    )
                    remarks.append(
                        Remark(
                            code="CUT-23",
                            where=where,
                            what=text,
                            mend="Slant the joint across it.",
                            at=_at(place),
                        )
                    )
        return remarks


def _at(place: Point) -> tuple[float, float]:
    return round(place.x, 1), round(place.y, 1)


def panel_edges(outline: Sequence[Sequence[float]], name: str = "the panel's edge") -> list[Line]:
    """A panel's outline, divided where it turns a corner: each side is an edge that a cut may end on."""
    points = np.asarray(outline, float)
    steps = np.roll(points, -1, axis=0) - points
    turns = np.arctan2(steps[:, 1], steps[:, 0])
    bends = np.abs((turns - np.roll(turns, 1) + np.pi) % (2 * np.pi) - np.pi) > np.radians(CORNER_DEG)
    starts = np.flatnonzero(bends)
    if len(starts) < 2:
        starts = np.array([0, len(points) // 2])
    edges = []
    for i, start in enumerate(starts):
        stop = starts[(i + 1) % len(starts)]
        run = np.arange(start, stop + 1 if stop > start else stop + len(points) + 1) % len(points)
        edges.append(Line(name=name, kind="edge", path=[(float(u), float(v)) for u, v in points[run]]))
    return [edge for edge in edges if LineString(edge.path).length >= LEAST_SIDE_MM]


def _sides(polygon: Polygon) -> list[np.ndarray]:
    """The sides that are long enough, counter-clockwise: (2, 2) each, with the outside to the right."""
    points = np.array(polygon.exterior.coords if polygon.exterior.is_ccw else polygon.exterior.coords[::-1])
    return [
        points[i : i + 2]
        for i in range(len(points) - 1)
        if np.linalg.norm(points[i + 1] - points[i]) >= LEAST_SIDE_MM
    ]


def _frame(side: np.ndarray) -> tuple[np.ndarray, np.ndarray, float]:
    """Along and outwards of a side, and its length."""
    along = side[1] - side[0]
    length = float(np.linalg.norm(along))
    along = along / length
    return along, np.array([along[1], -along[0]]), length


def _beside(side: np.ndarray, path: Sequence[Sequence[float]]) -> list[float]:
    """How far outwards pieces of a path lie that run along a side over enough of it, mm; inwards below zero. The farther end counts."""
    (x0, y0), (x1, y1) = side.tolist()
    length = math.hypot(x1 - x0, y1 - y0)
    ux, uy = (x1 - x0) / length, (y1 - y0) / length
    told = [((x - x0) * uy - (y - y0) * ux, (x - x0) * ux + (y - y0) * uy) for x, y in path]
    farthest, covered = None, 0.0
    for (away, place), (away_next, place_next) in zip(told, told[1:], strict=False):
        size = math.hypot(away_next - away, place_next - place)
        here = min(max(place, place_next), length) - max(min(place, place_next), 0.0)
        if size < 1e-9 or here <= 0 or abs(away_next - away) > size * ALONG_SIN:
            continue
        covered += here
        farthest = max(away, away_next, -math.inf if farthest is None else farthest)
    return [farthest] if farthest is not None and covered >= ALONG_SHARE * length else []


def _grown(corners: Polygon, side: np.ndarray, first: float, last: float) -> Polygon:
    """Corners with a side's two ends moved outwards."""
    _, out, _ = _frame(side)
    more = (
        Polygon([side[0], side[1], side[1] + out * last, side[0] + out * first])
        if first or last
        else Polygon()
    )
    whole: BaseGeometry = (
        unary_union([corners.buffer(0), more.buffer(0)])
        .buffer(1e-7, join_style="mitre")
        .buffer(-1e-7, join_style="mitre")
    )
    return max(polygons_of(whole), key=lambda part: part.area).simplify(1e-6)


def _crosses_square(side: np.ndarray, path: Sequence[Sequence[float]]) -> bool:
    """Whether a path crosses a side nearly square."""
    line = LineString(side)
    along, _, _ = _frame(side)
    points = np.asarray(path, float)
    for a, b in zip(points, points[1:], strict=False):
        size = float(np.linalg.norm(b - a))
        if (
            size > 1e-9
            and line.crosses(LineString([a, b]))
            and abs((b - a) @ along) < size * np.sin(np.radians(SQUARE_DEG))
        ):
            return True
    return False
