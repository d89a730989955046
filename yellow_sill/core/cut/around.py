"""What a cut line meets: edges, seams and swages to end on, rows of spot welds to keep clear of, keep-outs, fittings behind, curves, marks."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from shapely.geometry import LineString

from ..records import Corners, Record
from ..records import Point as At
from ..said import Count, Listed, Mm, Said
from .rows import PITCH_MM

#: A cut is taken on to a line up to this far beyond it; it keeps this far off a row of spot welds; rules of thumb, docs/methods.md section 3.
SNAP_MM, ROW_CLEAR_MM, STEP_MM = 30.0, 10.0, 20.0
#: Shorter sides are roundings.
LEAST_SIDE_MM = 15.0
#: An outline that turns more than this has a corner there.
CORNER_DEG = 25.0
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
