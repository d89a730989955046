"""A shape nobody drew: points taped from two marks, as an outline."""

import math
import re
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import Field

from ..errors import BadField
from ..geometry import Xy, outline_polygon
from ..records import Point, Record
from ..remarks import Remark
from ..said import Mm, Said
from .typed import lengths_typed

#: Two tapes that miss each other by no more meet halfway; a check that differs by more is told, mm (two readings of a tape).
MEET_MM = 3.0
_Far = Annotated[float, Field(gt=0, le=10_000)]


class TapedPoint(Record):
    """A point: how far it is from the first mark and from the second, mm."""

    first_mm: _Far
    second_mm: _Far


class TapedCheck(Record):
    """A distance between two points by their numbers, from 1 on, taped to check them, mm."""

    points: tuple[Annotated[int, Field(ge=1, le=200)], Annotated[int, Field(ge=1, le=200)]]
    mm: _Far


class TapedRequest(Record):
    """Two marks, which side of the line from the first to the second the points lie, the points in order round the outline, checks."""

    marks: tuple[Point, Point]
    side: Literal["left", "right"] = "left"
    points: Annotated[list[TapedPoint], Field(min_length=3, max_length=200)]
    checks: Annotated[list[TapedCheck], Field(max_length=100)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Taped:
    """The outline, mm in the marks' plane; how far a millimetre of tape moves the least sure point, and remarks TAPE-01 and 02."""

    outline: list[Xy]
    per_mm: float
    remarks: list[Remark]


def taped(request: TapedRequest) -> Taped:
    """An outline from distances to two marks.

    Args: request: see TapedRequest.
    Raises: BadField: marks at one place, a point whose tapes cannot meet, a check of no two points; BadOutline: an outline that crosses itself.
    Source: intersection of two circles; docs/methods.md section 4.
    """
    (u0, v0), (u1, v1) = request.marks
    base = math.dist((u0, v0), (u1, v1))
    if base < 1:
        raise BadField("The two marks are at one place.", "marks", "Take marks well apart.")
    along, across = ((u1 - u0) / base, (v1 - v0) / base), (-(v1 - v0) / base, (u1 - u0) / base)
    way = 1 if request.side == "left" else -1
    outline, worst = [], 1.0
    for number, point in enumerate(request.points, start=1):
        a, b = point.first_mm, point.second_mm
        short = max(base - a - b, abs(a - b) - base)
        if short > MEET_MM:
            raise BadField(
                Said("Point {number}: {a} and {b} cannot meet; the marks are {base} apart.", number=number, a=Mm(a), b=Mm(b), base=Mm(base, 0)),
                f"points[{number - 1}]",
                "Tape it again from both marks.",
            )  # fmt: skip
        s = (a * a - b * b + base * base) / (2 * base)
        h = math.sqrt(max(a * a - s * s, 0.0))
        sine = h * base / (a * b) if a * b else 0.0
        worst = max(worst, 1 / max(sine, 0.02))
        outline.append(
            (
                round(u0 + s * along[0] + way * h * across[0], 2),
                round(v0 + s * along[1] + way * h * across[1], 2),
            )
        )
    remarks = [_checked(request, check, number, outline) for number, check in enumerate(request.checks)]
    if worst > 4:
        remarks.append(
            Remark(
                code="TAPE-02",
                where="points",
                what=Said(
                    "A point lies nearly in line with the marks: a millimetre of tape moves it {by}.",
                    by=Mm(worst, 0),
                ),
                mend="Take marks from which the tapes cross more squarely.",
            )
        )
    outline_polygon(outline, "points")
    return Taped(outline=outline, per_mm=round(worst, 1), remarks=[remark for remark in remarks if remark])


def _checked(request: TapedRequest, check: TapedCheck, number: int, outline: list[Xy]) -> Remark | None:
    """A check that does not agree. Raises: BadField for points that there are not."""
    first, second = check.points
    if max(first, second) > len(outline) or first == second:
        raise BadField(
            Said("There are no two points {first} and {second}.", first=first, second=second), f"checks[{number}]", "Count them again."
        )  # fmt: skip
    should = math.dist(outline[first - 1], outline[second - 1])
    if abs(should - check.mm) <= MEET_MM:
        return None
    what = Said(
        "Points {first} and {second} come out {should} apart, taped {read}.", first=first, second=second, should=Mm(should, 1), read=Mm(check.mm, 1)
    )  # fmt: skip
    return Remark(
        code="TAPE-01",
        where=f"points {first} and {second}",
        what=what,
        mend="Tape both again before you cut.",
        at=outline[first - 1],
    )


def points_typed(text: str, unit: str = "mm") -> dict[str, Any]:
    """Taped points as typed: a point a line, its two lengths; a check as ``1 to 3: 212``. Returns: points and checks of TapedRequest. Raises: BadField."""
    points, checks = [], []
    for line in (each.strip() for each in text.splitlines() if each.strip()):
        if found := re.fullmatch(r"(\d+)\s+to\s+(\d+)\s*:\s*(.+)", line):
            checks.append(
                {
                    "points": [int(found[1]), int(found[2])],
                    "mm": lengths_typed(found[3], "taped", unit, line)[0],
                }
            )
            continue
        lengths = lengths_typed(line, "taped", unit, line)
        if len(lengths) != 2:
            raise BadField(
                Said("The line '{line}' is no taped point.", line=line[:40]), "taped", "Write its distance from the first mark and from the second."
            )  # fmt: skip
        points.append({"first_mm": lengths[0], "second_mm": lengths[1]})
    return {"points": points, "checks": checks}
