"""Rows of spot welds: where the old nuggets are, how each row is released, and where the new welds go."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field
from shapely import get_coordinates, line_interpolate_point
from shapely.geometry import LineString, Point

from ..errors import BadField
from ..records import Record
from ..remarks import Remark
from ..said import Mm, Said
from .release import Release, nugget_mm, release_of
from .rows import MOST_NUGGETS, MOST_ROWS, OFF_ROW_MM, SpotRow, plug_hole_mm

#: A gap this many times the usual one may hide a nugget.
HIDDEN_GAP = 1.6
#: New welds stand so far apart at least and at most, mm, and their holes this far off the old nuggets' rims.
LEAST_PITCH_MM, MOST_PITCH_MM, CLEAR_MM = 18.0, 60.0, 2.0
#: A row this near to what is cut out is released with it: its flange lies just beside the panel.
REACH_MM = 10.0
#: And so far from the row's ends.
EDGE_MM = 8.0
#: What a resistance welder of a small workshop takes: sheets, all together and one of them (mm), and how much thicker one may be.
SPOT_SHEETS, SPOT_TOTAL_MM, SPOT_ONE_MM, SPOT_RATIO = 3, 3.0, 1.6, 2.5


class SpotRequest(Record):
    """Rows and the processes owned (mig, tig, spot)."""

    rows: Annotated[list[SpotRow], Field(min_length=1, max_length=MOST_ROWS)]
    processes: Annotated[list[Annotated[str, Field(max_length=10)]], Field(max_length=6)] = ["mig"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Nugget:
    """One old spot weld: its number over all rows, its place, and how far along its row it is, mm."""

    number: int
    at: list[float]
    along_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class NewWelds:
    """What goes in instead: spot or plug, where, the hole in which sheet (None for spots)."""

    process: str
    at: list[list[float]]
    count: int
    pitch_mm: float
    hole_mm: float | None
    hole_in: str
    why: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RowPlan:
    id: str
    length_mm: float
    nuggets: list[Nugget]
    release: Release
    new: NewWelds


@dataclass(frozen=True, slots=True, kw_only=True)
class SpotPlan:
    """Every row, with totals and remarks."""

    rows: list[RowPlan]
    nuggets: int
    new_welds: int
    minutes: float
    remarks: list[Remark]


def spot_rows(request: SpotRequest) -> SpotPlan:
    """Plan the release of rows of spot welds, and the welds that replace them.

    Args: request: see SpotRequest.
    Returns: nuggets numbered over all rows, a release and the new welds for each.
    Raises: BadField: a row shorter than its end margins, a mark off its row, two rows of one name, nothing that goes.
    Source: rules of thumb, docs/methods.md section 3.
    """
    seen: set[str] = set()
    remarks: list[Remark] = []
    rows: list[RowPlan] = []
    number = 0
    for i, row in enumerate(request.rows):
        if row.id in seen:
            raise BadField(
                Said("Two rows bear the name {id}.", id=row.id), f"rows[{i}].id", "Give each its own."
            )
        seen.add(row.id)
        line = LineString(row.path)
        if line.length < 1:
            raise BadField(
                Said("Row {id} has no length.", id=row.id), f"rows[{i}].path", "Give its two ends."
            )
        if all(sheet.stays for sheet in row.sheets):
            raise BadField(
                Said("In row {id} every sheet stays: nothing is to be released.", id=row.id),
                f"rows[{i}].sheets",
                "Say which sheet goes.",
            )
        along = _old(row, line, i, remarks)
        places = zip(_places(line, along), np.round(along, 1).tolist(), strict=True)
        nuggets = [Nugget(number=number + k, at=at, along_mm=s) for k, (at, s) in enumerate(places, start=1)]
        number += len(nuggets)
        rows.append(
            RowPlan(
                id=row.id, length_mm=round(line.length, 1), nuggets=nuggets, release=release_of(row, len(nuggets)),
                new=_new_welds(row, line, along, request.processes, remarks),
            )
        )  # fmt: skip
    return SpotPlan(
        rows=rows,
        nuggets=number,
        new_welds=sum(row.new.count for row in rows),
        minutes=round(sum(row.release.minutes for row in rows), 1),
        remarks=remarks,
    )


def _places(line: LineString, along: np.ndarray) -> list[list[float]]:
    """Places so far along a row."""
    return np.round(get_coordinates(line_interpolate_point(line, along)), 2).tolist()


def _old(row: SpotRow, line: LineString, i: int, remarks: list[Remark]) -> np.ndarray:
    """How far along each old nugget is: from the marks, or evenly by pitch and end margins."""
    if row.marks:
        return _marked(row, line, i, remarks)
    free = line.length - 2 * row.end_mm
    if free < 0:
        raise BadField(
            Said(
                "Row {id} is {length} long, shorter than its two end margins.",
                id=row.id,
                length=Mm(line.length, 0),
            ),
            f"rows[{i}].end_mm",
            "Measure the row again, or give less margin.",
        )
    count = int(free / row.pitch_mm + 0.5) + 1
    if count > MOST_NUGGETS:
        raise BadField(
            Said(
                "Row {id} would have {count} nuggets; {most_nuggets} are taken.",
                id=row.id,
                count=count,
                most_nuggets=MOST_NUGGETS,
            ),
            f"rows[{i}].pitch_mm",
            "Check the pitch.",
        )
    if line.is_ring:  # no ends, so no end margins: the last stands a pitch before the first
        count = max(1, int(line.length / row.pitch_mm + 0.5))
        return np.arange(count) * (line.length / count)
    return (
        np.linspace(row.end_mm, line.length - row.end_mm, count) if count > 1 else np.array([line.length / 2])
    )


def _marked(row: SpotRow, line: LineString, i: int, remarks: list[Remark]) -> np.ndarray:
    """How far along each marked nugget is; a gap in which one may hide is told. Raises: BadField: a mark off the row."""
    for k, mark in enumerate(row.marks):
        if line.distance(Point(mark)) > OFF_ROW_MM:
            what = Said(
                "Mark {k} lies {line} off row {id}.",
                k=k + 1,
                line=Mm(line.distance(Point(mark)), 0),
                id=row.id,
            )
            raise BadField(what, f"rows[{i}].marks[{k}]", "Click it again, or draw the row there.")
    along = np.array(sorted(line.project(Point(mark)) for mark in row.marks))
    gaps = np.diff(along)
    for gap, start in zip(gaps, along, strict=False):
        if len(gaps) > 2 and gap > HIDDEN_GAP * np.median(gaps):
            at = line.interpolate(start + gap / 2)
            text = Said(
                "Row {id}: {gap} without a nugget, the others stand {gaps} apart.",
                id=row.id,
                gap=Mm(gap, 0),
                gaps=Mm(np.median(gaps), 0),
            )
            remarks.append(
                Remark(
                    code="SPOT-01",
                    where=f"row {row.id}",
                    what=text,
                    mend="Wire-wheel it: one may hide under paint.",
                    at=(at.x, at.y),
                )
            )
    return along


def may_spot(row: SpotRow, processes: Sequence[str]) -> str:
    """Why a resistance welder cannot make this row; empty where it can."""
    sheets = [sheet.thickness_mm for sheet in row.sheets]
    if "spot" not in processes:
        return "no resistance welder"
    if not row.both_sides:
        return "its arms do not reach both sides"
    if len(sheets) > SPOT_SHEETS:
        return Said("{sheets} sheets are too many for it", sheets=len(sheets))
    if sum(sheets) > SPOT_TOTAL_MM or max(sheets) > SPOT_ONE_MM:
        return Said("{sum} of sheet are too much for it", sum=Mm(sum(sheets)))
    if max(sheets) > SPOT_RATIO * min(sheets):
        return "the sheets' thicknesses differ too much"
    return ""


def _new_welds(
    row: SpotRow, line: LineString, old: np.ndarray, processes: Sequence[str], remarks: list[Remark]
) -> NewWelds:
    """At least as many as the maker had, between the old nuggets, within the limits of pitch."""
    why_not = may_spot(row, processes)
    hole = None if not why_not else plug_hole_mm(row.sheets[0].thickness_mm)
    width = hole or nugget_mm(row.sheets)
    clear = width / 2 + nugget_mm(row.sheets) / 2 + CLEAR_MM
    places = _round(line.length, old, clear) if line.is_ring else _between(line.length, old, clear)
    if len(places) < len(old) or (len(places) > 1 and np.diff(places).min() < LEAST_PITCH_MM - 1e-6):
        text = Said(
            "Row {id}: between the old nuggets there is no room for {old} new welds; some come where old ones were.",
            id=row.id,
            old=len(old),
        )
        remarks.append(
            Remark(
                code="SPOT-02",
                where=f"row {row.id}",
                what=text,
                mend="Close the drilled holes first, dress them, then weld there.",
            )
        )
        places = (old + line.length / len(old) / 2) % line.length if line.is_ring else _even(line.length, old)
    gaps = (
        np.append(np.diff(places), places[0] + line.length - places[-1]) if line.is_ring else np.diff(places)
    )
    pitch = float(gaps.max()) if len(places) > 1 else 0.0
    why = (
        "Both sides can be reached and the sheets suit it: prove the setting on scrap by peeling."
        if not why_not
        else Said("Plug welds, as {why_not}.", why_not=why_not)
    )
    return NewWelds(
        process="spot" if not why_not else "plug", at=_places(line, places), count=len(places), pitch_mm=round(pitch, 1), hole_mm=hole,
        hole_in="" if hole is None else row.sheets[0].name, why=why,
    )  # fmt: skip


def _between(length: float, old: np.ndarray, clear: float) -> np.ndarray:
    """New places: one in the middle of each gap, then more in the longest gaps until there are enough and none is too far from the next."""
    stops = np.concatenate([[0.0], old, [length]])
    need = [
        1 if i in (0, len(stops) - 2) else 2 for i in range(len(stops) - 1)
    ]  # a gap's ends that are nuggets keep clear
    gaps = np.diff(stops)
    room = [gap - clear * sides - EDGE_MM * (2 - sides) for gap, sides in zip(gaps, need, strict=True)]
    counts = [int(space >= 0 and sides == 2) for space, sides in zip(room, need, strict=True)]

    def spacing(i: int, n: int) -> float:
        return room[i] / (n - 1) if n > 1 else float("inf")

    while sum(counts) < len(old):
        fits = [
            i for i, space in enumerate(room) if space >= 0 and spacing(i, counts[i] + 1) >= LEAST_PITCH_MM
        ]
        if not fits:
            break
        best = max(fits, key=lambda i: (round(room[i] / (counts[i] + 1), 6), -i))
        counts[best] += 1
    places = []
    for i, n in enumerate(counts):
        low, high = (
            stops[i] + (clear if i else EDGE_MM),
            stops[i + 1] - (clear if i < len(counts) - 1 else EDGE_MM),
        )
        if n == 1:
            places.append((low + high) / 2)
        elif n:
            places += list(np.linspace(low, high, n))
    return np.array(sorted(places))


def _round(length: float, old: np.ndarray, clear: float) -> np.ndarray:
    """New places on a row that closes on itself: one in the middle of each gap that has room, the last gap running over the start."""
    gaps = np.append(np.diff(old), old[0] + length - old[-1])
    return np.sort((old + gaps / 2)[gaps >= 2 * clear] % length)


def _even(length: float, old: np.ndarray) -> np.ndarray:
    """As many as the maker had, or more where they would stand too far apart, evenly from the first old one to the last."""
    low, high = (float(old[0]), float(old[-1])) if len(old) > 1 else (length / 2, length / 2)
    count = max(len(old), int(np.ceil((high - low) / MOST_PITCH_MM - 1e-9)) + 1)
    return np.linspace(low, high, count) if count > 1 else np.array([low])
