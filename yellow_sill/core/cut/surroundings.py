"""The surroundings of a panel asked: what a cut line ends on, keeps clear of, crosses and takes."""

import math
from collections.abc import Sequence

import numpy as np
from shapely import line_merge
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..errors import BadOutline
from ..geometry import outline_polygon, polygons_of
from ..remarks import Remark
from ..said import Mm, Said
from .around import LEAST_SIDE_MM, WHY, Around, Ended, Line, Met, Released, WeldRow

#: A side and a line run along each other within this turn, and over this share of the side.
ALONG_DEG, ALONG_SHARE = 8.0, 0.5
ALONG_SIN = math.sin(math.radians(ALONG_DEG))
#: A joint within this of square across a curve is slanted by the second.
SQUARE_DEG, SLANT_DEG = 20.0, 15.0
#: A row counts as taken where so much of it lies in the cut.
TAKEN_MM = 20.0
#: A side lies on a line within this.
ON_LINE_MM = 1.0
#: A line runs along a row where it stays by it for more than this many times the clearance: crossing it takes twice.
ALONG_ROW = 3.0


class Surroundings:
    """Everything round the cuts of a panel, ready to be asked.

    Raises: BadOutline naming the keep-out, fitting, line, row or curve that has no shape.
    """

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
        crosses, kept = self._must_stay(outline, where)
        behind, fixed = self._behind(outline, where)
        releases = self._releases(outline)
        met = Met(
            ended_on=list(ended),
            takes_rows=[released.row for released in releases],
            releases=releases,
            crosses=crosses,
            behind=behind,
            slanted=list(slanted),
            marks=[
                mark.name
                for mark in self.around.transfer_marks
                if outline.buffer(1e-6).contains(Point(mark.at))
            ],
        )
        return met, kept + fixed

    def _must_stay(self, outline: Polygon, where: str) -> tuple[list[str], list[Remark]]:
        """Keep-outs that a cut crosses."""
        taken = {name: shape.intersection(outline) for name, shape in self.keep_outs}
        taken = {name: metal for name, metal in taken.items() if metal.area > 1e-6}
        mend = "Move its line, or say that it may go."
        return list(taken), [
            _remark(
                "CUT-20",
                where,
                Said("The {where} takes metal of {name}, which must stay.", where=where, name=name),
                mend,
                metal.representative_point(),
            )
            for name, metal in taken.items()
        ]

    def _behind(self, outline: Polygon, where: str) -> tuple[list[str], list[Remark]]:
        """Fittings behind a cut, with remarks on those that its line runs through."""
        behind = [(name, shape) for name, shape in self.fittings if shape.intersects(outline)]
        return [name for name, _ in behind], [
            _remark(
                "CUT-21",
                where,
                Said("The {where} runs through {name}, which is fixed behind.", where=where, name=name),
                "Take it off first, or move the line.",
                outline.exterior.intersection(shape).representative_point(),
            )
            for name, shape in behind
            if not outline.covers(shape)
        ]

    def _releases(self, outline: Polygon) -> list[Released]:
        """The rows that a cut takes a good part of."""
        reach = outline.buffer(0.5)
        lengths = [
            (row, float(line.intersection(reach).length)) for row, line in self.rows if line.intersects(reach)
        ]
        return [
            Released(
                row=row.name,
                length_mm=round(length, 1),
                count=int(length / row.pitch_mm + 0.5) or 1,
                survives=row.survives,
            )
            for row, length in lengths
            if length >= TAKEN_MM
        ]

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
                mend = "Keep clear of the row, or take its whole flange."
                remarks.append(_remark("CUT-22", where, text, mend, place))
        for side in _sides(outline):
            for curve in self.around.curves:
                if _crosses_square(side, curve.path) and welded.distance(Point(side.mean(axis=0))) < 0.5:
                    place = LineString(side).intersection(LineString(curve.path)).representative_point()
                    text = Said(
                        "The {where} crosses {name} square on: its line is hard to keep true there.",
                        where=where,
                        name=curve.name,
                    )
                    remarks.append(_remark("CUT-23", where, text, "Slant the joint across it.", place))
        return remarks


def _remark(code: str, where: str, what: str, mend: str, place: Point) -> Remark:
    return Remark(code=code, where=where, what=what, mend=mend, at=(round(place.x, 1), round(place.y, 1)))


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
