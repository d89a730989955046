"""The metal map: every sheet by what it is today, and how much of it is the metal that it left the works with."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated

from pydantic import Field
from shapely import difference, get_parts, intersection, make_valid, union, union_all
from shapely.geometry import LineString, MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from ..errors import BadField
from ..order.removal import is_done
from ..records import OneOf, Record
from ..repairs.sheets import SHEET_STATES
from ..said import Said

#: How much a sheet's look counts, as its owner says it; "": nobody has said.
RANKS = {"": "nobody has said", "show": "is on show", "visible": "is visible", "hidden": "is hidden"}
#: What metal is; the last: nobody has looked at it, so nobody knows.
WHAT = ("original", "old repair", "new", "out", "not looked at")
#: A seam lies within new metal where its line is this near, mm: cut lines end on edges.
NEAR_MM = 1.5
#: Places are rounded to this, mm: what is nearer is the same.
GRID_MM = 0.01
_Outline = Annotated[
    list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(min_length=3, max_length=4000)
]
_Code = Annotated[str, Field(min_length=1, max_length=20)]


class SheetOf(Record):
    """A sheet as one view draws it: code, view, outline and holes (mm), thickness, how much of its area was looked at, rank."""

    code: _Code
    view: Annotated[str, Field(max_length=40)]
    outline: _Outline
    holes: Annotated[list[_Outline], Field(max_length=200)] = []
    thickness_mm: Annotated[float, Field(ge=0, le=20)] = 0.0
    looked: Annotated[float, Field(ge=0, le=1)] = 0.0
    rank: Annotated[str, OneOf(RANKS)] = ""


class PieceOf(Record):
    """A piece that a repair took out of a sheet: repair, code, view, outline (mm), state and the day since, thickness of the new one (0: not known), coats."""

    repair: Annotated[int, Field(ge=1)]
    code: _Code
    view: Annotated[str, Field(max_length=40)]
    outline: _Outline
    state: Annotated[str, OneOf(SHEET_STATES)]
    since: date | None = None
    by: Annotated[str, Field(max_length=150)] = ""
    thickness_mm: Annotated[float, Field(ge=0, le=20)] = 0.0
    faces: dict[str, list[str]] = {}

    @property
    def is_new(self) -> bool:
        """Whether its new metal is in."""
        return is_done(False, [self.state])

    @property
    def is_out(self) -> bool:
        """Whether its old metal is out and the new not in yet."""
        return is_done(True, [self.state]) and not self.is_new


class OldOf(Record):
    """An old repair that stays: its finding's number, code, view, outline (mm), kind in words."""

    number: int
    code: _Code
    view: Annotated[str, Field(max_length=40)]
    outline: _Outline
    kind: Annotated[str, Field(max_length=80)] = ""


class MapRequest(Record):
    """All sheets in all views, the pieces of all repairs, the old repairs that stay."""

    sheets: Annotated[list[SheetOf], Field(min_length=1, max_length=2000)]
    pieces: Annotated[list[PieceOf], Field(max_length=2000)] = []
    old: Annotated[list[OldOf], Field(max_length=2000)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetTold:
    """A sheet: code, the view in which it is told, area (mm²), the share of each of ``WHAT``, the share of its edges that are original, rank."""

    code: str
    view: str
    area_mm2: float
    shares: dict[str, float]
    seam_mm: float
    seam_original: float
    rank: str

    @property
    def what(self) -> str:
        """What most of it is."""
        return max(WHAT, key=lambda what: self.shares[what])


@dataclass(frozen=True, slots=True, kw_only=True)
class MetalMap:
    """The sheets; shares of all metal by what it is, and of what was looked at alone the original share; by rank; of all edges the original share; in words."""

    sheets: list[SheetTold]
    shares: dict[str, float]
    original: float | None
    by_rank: dict[str, float | None]
    seams_original: float | None
    words: list[Said]

    @property
    def looked(self) -> float:
        """The share of all metal that anybody has looked at."""
        return round(1 - self.shares["not looked at"], 4)


def metal_map(request: MapRequest) -> MetalMap:
    """What every sheet is today.

    Args: request: see MapRequest. A code that several views show is one sheet: it is told where its pieces lie, else where it shows the largest area.
    Returns: see MetalMap. What nobody looked at is neither original nor not: it is told by itself.
    Raises: BadField: a piece of a sheet that there is not.
    Source: areas and lengths of polygons; docs/methods.md section 14.
    """
    there = {(sheet.code, sheet.view) for sheet in request.sheets}
    marked: dict[str, Sequence[PieceOf | OldOf]] = {"pieces": request.pieces, "old": request.old}
    for where, these in marked.items():
        for n, each in enumerate(these):
            if (each.code, each.view) not in there:
                raise BadField(
                    Said("There is no sheet {code} in that view.", code=each.code), f"{where}[{n}].code"
                )
    told = [_told(sheet, request) for sheet in _chosen(request)]
    shares = _together(told)
    return MetalMap(
        sheets=told, shares=shares, original=_original(shares), seams_original=_seams(told),
        by_rank={rank: _original(_together([each for each in told if each.rank == rank])) for rank in RANKS if any(each.rank == rank for each in told)},
        words=_words(shares, told),
    )  # fmt: skip


def _chosen(request: MapRequest) -> list[SheetOf]:
    """Each code once."""
    marked = Counter(
        [(each.code, each.view) for each in request.pieces] + [(each.code, each.view) for each in request.old]
    )
    best: dict[str, SheetOf] = {}
    for sheet in request.sheets:
        worth = lambda each: (marked[each.code, each.view], _shape(each.outline, each.holes).area)  # noqa: E731
        if sheet.code not in best or worth(sheet) > worth(best[sheet.code]):
            best[sheet.code] = sheet
    return list(best.values())


def _shape(
    outline: Sequence[Sequence[float]], holes: Sequence[Sequence[Sequence[float]]] = ()
) -> BaseGeometry:
    return _areas(make_valid(Polygon(outline, holes)))


def _told(sheet: SheetOf, request: MapRequest) -> SheetTold:
    whole = _shape(sheet.outline, sheet.holes)
    mine = [each for each in request.pieces if (each.code, each.view) == (sheet.code, sheet.view)]
    new = _united([each.outline for each in mine if each.is_new], whole)
    out = _united([each.outline for each in mine if each.is_out], whole).difference(new)
    old = _united(
        [each.outline for each in request.old if (each.code, each.view) == (sheet.code, sheet.view)], whole
    )
    old = _areas(difference(old, union(new, out, grid_size=GRID_MM), grid_size=GRID_MM))
    area = whole.area or 1.0
    rest = max(0.0, area - new.area - out.area - old.area)
    # What was cut, welded or tested was looked at; the looked share counts for the rest of the sheet.
    unknown = min(rest, max(0.0, (1 - sheet.looked) * area))
    shares = {
        "original": rest - unknown,
        "old repair": old.area,
        "new": new.area,
        "out": out.area,
        "not looked at": unknown,
    }
    edge = LineString([*sheet.outline, sheet.outline[0]])
    gone = (
        edge.intersection(union(new, out, grid_size=GRID_MM).buffer(NEAR_MM)).length
        if not (new.is_empty and out.is_empty)
        else 0.0
    )
    return SheetTold(
        code=sheet.code, view=sheet.view, area_mm2=round(whole.area, 1), shares={what: round(shares[what] / area, 4) for what in WHAT},
        seam_mm=round(edge.length, 1), seam_original=round(1 - gone / (edge.length or 1.0), 4), rank=sheet.rank,
    )  # fmt: skip


def _united(outlines: Sequence[Sequence[Sequence[float]]], within: BaseGeometry) -> BaseGeometry:
    return _areas(
        intersection(
            union_all([_shape(outline) for outline in outlines], grid_size=GRID_MM),
            within,
            grid_size=GRID_MM,
        )
    )


def _areas(shape: BaseGeometry) -> BaseGeometry:
    """What of a shape has an area: two pieces that touch in a line leave that line behind, which is no metal."""
    return MultiPolygon([part for part in get_parts(get_parts(shape)) if part.geom_type == "Polygon"])


def _together(told: Sequence[SheetTold]) -> dict[str, float]:
    area = sum(each.area_mm2 for each in told) or 1.0
    return {what: round(sum(each.shares[what] * each.area_mm2 for each in told) / area, 4) for what in WHAT}


def _original(shares: dict[str, float]) -> float | None:
    """The original share of what is known; None where nothing is."""
    known = sum(share for what, share in shares.items() if what != "not looked at")
    return round(shares["original"] / known, 4) if known > 0 else None


def _seams(told: Sequence[SheetTold]) -> float | None:
    known = [each for each in told if each.shares["not looked at"] < 1]
    length = sum(each.seam_mm for each in known)
    return round(sum(each.seam_original * each.seam_mm for each in known) / length, 4) if length else None


def _words(shares: dict[str, float], told: Sequence[SheetTold]) -> list[Said]:
    unknown = 100 * shares["not looked at"]
    words = []
    if (original := _original(shares)) is not None:
        words.append(
            Said(
                "Of the metal that was looked at {original:.1f} % is original by area.",
                original=100 * original,
            )
        )
    if unknown >= 0.05:
        words.append(
            Said("At {unknown:.0f} % of the metal nobody has looked: nothing is said of it.", unknown=unknown)
        )
    if out := 100 * shares["out"]:
        words.append(Said("{out:.1f} % is out at the moment.", out=out))
    if not any(each.rank for each in told):
        words.append(Said("Nobody has said yet what is on show and what is hidden."))
    return words
