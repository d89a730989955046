"""Tools that fold sheet, as solids round the bend line: what must not stand where they do."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..records import Record

#: Room between a tool and what is bent already, mm.
CLEAR_MM = 0.3
#: A folder's beam and bed are so deep behind and below the line, mm; what ends behind it is out of the way.
BEAM_MM, BED_MM, BELOW_MM = 220.0, 60.0, 120.0
#: How much of a bend line may stay without a finger at either end, sheets (rule of thumb).
BARE_SHEETS = 8.0

Xyz = tuple[float, float, float]
_Size = Annotated[float, Field(gt=0, le=5000)]


class Tool(Record):
    """A tool to fold with.

    ``kind``: a finger folder; angle irons in a vice; by hand over an edge under a bar. ``longest_mm``: bend. ``throat_mm``: how tall the fingers, the irons
    or the bar are; ``foot_mm``: how deep they stand on the sheet; ``fingers_mm``: widths of the fingers there are; ``nose_deg``: how far they lean back;
    ``apron_mm``: how wide the apron is; ``most_deg``: that it bends through.
    """

    kind: Literal["finger folder", "angle irons", "edge"] = "finger folder"
    longest_mm: _Size = 1000.0
    throat_mm: _Size = 80.0
    foot_mm: _Size = 20.0
    fingers_mm: Annotated[list[Annotated[float, Field(gt=1, le=1000)]], Field(max_length=40)] = [
        25,
        50,
        75,
        100,
        125,
        150,
        200,
        250,
    ]
    nose_deg: Annotated[float, Field(ge=20, le=90)] = 45.0
    apron_mm: _Size = 60.0
    most_deg: Annotated[float, Field(gt=0, le=180)] = 135.0

    @property
    def in_pieces(self) -> bool:
        return self.kind == "finger folder"


#: Irons and bars as most garages have them.
IRONS = Tool(
    kind="angle irons", longest_mm=400, throat_mm=40, foot_mm=40, fingers_mm=[], nose_deg=90, most_deg=100
)
EDGE = Tool(kind="edge", longest_mm=900, throat_mm=25, foot_mm=50, fingers_mm=[], nose_deg=90, most_deg=110)


@dataclass(frozen=True, slots=True)
class Solid:
    """A convex solid along the bend line, as half-spaces of (back, up): a · back + b · up <= c. ``pieces``: it may be left out over a length of the line."""

    name: str
    sides: tuple[tuple[float, float, float], ...]
    pieces: bool

    def reach(self, face: Sequence[Xyz]) -> tuple[float, float] | None:
        """From where to where along the line a flat outline (places along, back, up) stands in the solid; None where it does not."""
        points = face  # a handful of corners: plain numbers are quicker than arrays
        for a, b, c in self.sides:
            side = [point[1] * a + point[2] * b - c for point in points]
            if max(side) <= 1e-9:
                continue
            if min(side) >= -1e-9:
                return None
            points = _clipped(points, side)
        along = [point[0] for point in points]
        return (min(along), max(along)) if len(along) > 1 else None


def _clipped(points: Sequence[Xyz], side: Sequence[float]) -> list[Xyz]:
    """What of a flat outline lies where ``side`` is not above 0."""
    found: list[Xyz] = []
    for i, (p, d) in enumerate(zip(points, side, strict=True)):
        q, e = points[i - 1], side[i - 1]
        if (d < 0) != (e < 0) and d != e:
            k = e / (e - d)
            found.append((q[0] + (p[0] - q[0]) * k, q[1] + (p[1] - q[1]) * k, q[2] + (p[2] - q[2]) * k))
        if d <= 1e-9:
            found.append(p)
    return found


def _slab(back0: float, back1: float, up0: float, up1: float) -> tuple[tuple[float, float, float], ...]:
    return (-1, 0, -back0), (1, 0, back1), (0, -1, -up0), (0, 1, up1)


def solids(tool: Tool, thickness_mm: float) -> list[Solid]:
    """The solids of a tool round a sheet whose middle lies at up = 0 and whose bend line at back = 0; the clamped side lies behind it."""
    low, top = thickness_mm / 2 + CLEAR_MM, tool.throat_mm
    lean = 1 / math.tan(math.radians(tool.nose_deg)) if tool.nose_deg < 89.9 else 0.0
    # between the leaning front and back: lean · up <= back <= foot + lean · up
    finger = ((-1.0, lean, -CLEAR_MM), (1.0, -lean, tool.foot_mm), (0.0, -1.0, -low), (0.0, 1.0, top))
    if tool.kind == "finger folder":
        beam = _slab(top * lean, top * lean + BEAM_MM, top, top + BEAM_MM)
        return [
            Solid("fingers", finger, True), Solid("beam", beam, False), Solid("bed", _slab(CLEAR_MM, BED_MM, -BELOW_MM, -low), False),
        ]  # fmt: skip
    other = _slab(CLEAR_MM, tool.foot_mm, -tool.throat_mm, -low)
    name = "iron" if tool.kind == "angle irons" else "bar"
    return [Solid(name, finger, True), Solid("other iron" if name == "iron" else "table", other, True)]


def apron(tool: Tool, thickness_mm: float) -> Solid | None:
    """The apron that swings the leg up, before it swings."""
    if tool.kind != "finger folder":
        return None
    return Solid("apron", _slab(-tool.apron_mm, -CLEAR_MM, -BELOW_MM, -thickness_mm / 2 - CLEAR_MM), False)


def fingers_for(widths: list[float], room_mm: float, wanted_mm: float) -> list[float] | None:
    """Which fingers to leave in: the most that fit into a room along the line, no more than reach over the bend; None where none fits.

    >>> fingers_for([25, 50, 75, 100], 130, 120), fingers_for([25, 50], 20, 18), fingers_for([25, 50, 75], 500, 60)
    ([50, 75], None, [75])
    """
    if room_mm >= sum(widths) and sum(widths) < wanted_mm:
        return sorted(widths)
    sums: dict[int, list[float]] = {0: []}
    for width in sorted(widths, reverse=True):
        for total, some in list(sums.items()):
            new = total + round(width * 10)
            if new <= room_mm * 10 + 1e-6 and (new not in sums or len(some) + 1 < len(sums[new])):
                sums[new] = [*some, width]
    enough = [total for total in sums if total >= wanted_mm * 10 - 1e-6]
    best = min(enough) if enough else max(sums)
    return sorted(sums[best]) if best else None
