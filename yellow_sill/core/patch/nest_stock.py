"""What a nest is asked: patterns to cut, sheets and offcuts to cut them from, the saw's kerf, the clamp's margin."""

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..geometry import Xy
from ..records import Corners, Record
from ..remarks import Remark
from ..said import Said

#: Patterns and pieces of stock that one nest takes.
MOST_PARTS, MOST_STOCK = 60, 30
#: Sheets whose thickness differs by less are one thickness, mm: a mill's tolerance.
SAME_MM = 0.051
_Side = Annotated[float, Field(gt=0, le=6000)]
_Name = Annotated[str, Field(min_length=1, max_length=60)]


class NestPart(Record):
    """A pattern to cut: its outline on the flat, mm, and how it may lie.

    Attributes:
        grain: which way its u axis may lie to the sheet's rolling direction: any, along or across.
        both_faces: whether it may be turned over, because both faces serve.
        coating: what the sheet must be coated with; empty: any.
    """

    name: _Name
    outline: Corners
    thickness_mm: Annotated[float, Field(gt=0, le=12)]
    grain: Literal["any", "along", "across"] = "any"
    both_faces: bool = False
    coating: Annotated[str, Field(max_length=40)] = ""


class StockPiece(Record):
    """A sheet (``length_mm`` along its rolling direction, ``width_mm``) or an offcut (its ``outline``, rolled along u); its price whole."""

    name: _Name
    thickness_mm: Annotated[float, Field(gt=0, le=12)]
    length_mm: _Side | None = None
    width_mm: _Side | None = None
    outline: Corners | None = None
    coating: Annotated[str, Field(max_length=40)] = ""
    price: Annotated[float, Field(ge=0, le=1e6)] | None = None


class NestRequest(Record):
    """A nest: patterns, stock, cut width, margin for the clamp, smallest turn, seed, and how hard to try.

    Attributes:
        kerf_mm: steel that the cut takes, between any two patterns.
        margin_mm: steel that stays along a sheet's edges for the clamp.
        turn_deg: patterns whose grain is free may lie at every multiple of it on an offcut; whole sheets take quarter turns.
        rounds: how hard it tries: orders of placing and layouts of the engine, counted, not timed; 1 is a quick look without the engine.
        keep_mm: a rest narrower than this is scrap.
    """

    parts: Annotated[list[NestPart], Field(min_length=1, max_length=MOST_PARTS)]
    stock: Annotated[list[StockPiece], Field(max_length=MOST_STOCK)] = []
    kerf_mm: Annotated[float, Field(ge=0, le=20)] = 2.0
    margin_mm: Annotated[float, Field(ge=0, le=100)] = 5.0
    turn_deg: Literal[15, 30, 45, 90] = 90
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    rounds: Annotated[int, Field(ge=1, le=200)] = 20
    keep_mm: Annotated[float, Field(gt=0, le=1000)] = 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Placed:
    """A pattern on a piece of stock: turned about its origin, turned over first where ``flipped``, then moved by ``at``; its outline there, mm.

    ``label_mm``: how wide the pattern is where its label goes; ``cost``: its share of what the piece costs, by area; None where no price is known.
    """

    part: str
    turned_deg: float
    flipped: bool
    at: Xy
    outline: list[Xy]
    label_at: Xy
    label_mm: float
    cost: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class NestSheet:
    """A piece of stock that is begun.

    Attributes:
        outline: the piece's own outline, mm.
        used_mm2: area of the patterns on it.
        used_percent: of the piece's area; ``length_mm``: how far along the piece the patterns reach, the margins included.
        least_mm: the piece cannot be used less far than that: the patterns' area with the kerf over its width, or the longest that must lie along.
        rests: offcuts that go back to stock, outlines in mm, largest first; ``scrap_mm2``: what is neither pattern nor offcut.
        cost: the part of its price that the patterns and the scrap bear; None where no price is known.
    """

    stock: str
    outline: list[Xy]
    placed: list[Placed]
    used_mm2: float
    used_percent: float
    length_mm: float
    least_mm: float
    rests: list[list[Xy]]
    scrap_mm2: float
    cost: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Unplaced:
    """A pattern that is not on any piece: why, and what to do about it."""

    part: str
    why: Said | str
    mend: Said | str


@dataclass(frozen=True, slots=True, kw_only=True)
class Nest:
    """A nest worked out.

    Attributes:
        sheets: pieces begun, in the order of cutting.
        unplaced: what does not fit, and why.
        used_percent: area of the placed patterns over the area of the pieces begun.
        placed_mm2, most_mm2: area placed, and the most that any nest on this stock could place: the bound.
        begun_mm2, least_mm2: area of the pieces begun; no nest of these patterns begins with less: the bound by area.
        gap_percent: how far ``placed_mm2`` is below ``most_mm2``.
        buy: sheets to buy for what does not fit, by thickness.
        words: all of it in a few sentences.
    """

    sheets: list[NestSheet]
    unplaced: list[Unplaced]
    used_percent: float
    placed_mm2: float
    most_mm2: float
    gap_percent: float
    begun_mm2: float
    least_mm2: float
    buy: list[Said]
    remarks: list[Remark]
    words: Said | str
