"""What is asked and told of cavities: the boxes that bodies have, what a person said of them, and a cavity with its faces, openings and water."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated

from pydantic import Field
from shapely import points
from shapely.geometry import Polygon

from ..records import Point, Record
from .file import ViewPart
from .hollow import Pocket

MOST_SAID = 400
#: A place this near to a cavity lies on it, mm.
EDGE_MM = 5.0


@dataclass(frozen=True, slots=True)
class Between:
    """A cavity between an outer and an inner sheet of a side; codes without side.

    ``middle``: a sheet that divides it; ``into``: cavities that it stands on, open to them.
    """

    code: str
    name: str
    outer: tuple[str, ...]
    inner: tuple[str, ...]
    middle: tuple[str, ...] = ()
    into: tuple[str, ...] = ()


#: The boxes that bodies have between their sheets.
BETWEEN = (
    Between("SILL", "Sill", ("SILL", "SFL"), ("SILLI",), ("SILLM",)),
    Between("APOST", "A-post", ("APOST", "WING"), ("KICK",), ("APOSTM",), ("SILL",)),
    Between("BPOST", "B-post", ("BPOST", "QTR"), ("BPOSTI",), ("BPOSTM",), ("SILL",)),
    Between("CPOST", "C-post", ("CPOST", "QTR"), ("CPOSTI",), ("CPOSTM",), ("SILL",)),
    Between("CANT", "Cant rail", ("CANT", "ROOF", "QTR"), ("CANTI",), ("CANTM",), ("BPOST", "APOST")),
    Between("ARCH", "Between the rear arches", ("ARCHO",), ("ARCHI",)),
    Between("QTR", "Rear quarter", ("QTR",), ("QIN",)),
    Between("TAIL", "Behind the rear arch", ("QTR",), ("BSIDE",), ("QCLOSE",)),
    Between("DOOR", "Door", ("DOOR",), ("DOORI",)),
    Between("DOORR", "Rear door", ("DOORR",), ("DOORRI",)),
    Between("CORNER", "Cab corner", ("CABCORNER",), ("CORNERM",)),
    Between("BED", "Bed side", ("BEDS",), ("BEDI",)),
)
#: The members that are boxes of plates, and what they are called.
MEMBERS = {"LEG": "Chassis leg, front", "RAIL": "Chassis rail, rear", "CHRAIL": "Chassis rail"}


class CavitySaid(Record):
    """What a person said of a cavity: what it holds, drains that no drawing shows, openings that are not there or stopped up."""

    code: Annotated[str, Field(max_length=24)]
    volume_l: Annotated[float, Field(gt=0, le=2_000)] | None = None
    drains: Annotated[list[Point], Field(max_length=60)] = []
    stopped: Annotated[list[Point], Field(max_length=60)] = []


class OwnCavity(Record):
    """A cavity that a person made of two sheets of a view."""

    code: Annotated[str, Field(min_length=1, max_length=24)]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    outer: Annotated[str, Field(min_length=1, max_length=20)]
    inner: Annotated[str, Field(min_length=1, max_length=20)]


class CavityRequest(Record):
    """A shell's views, and what a person said of its cavities."""

    views: Annotated[list[ViewPart], Field(min_length=1, max_length=30)]
    said: Annotated[list[CavitySaid], Field(max_length=MOST_SAID)] = []
    own: Annotated[list[OwnCavity], Field(max_length=MOST_SAID)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Face:
    """A sheet that looks into a cavity: which way it lies (outer, inner, middle, bottom, top)."""

    code: str
    name: str
    lies: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Opening:
    """A hole into a cavity: the face it is in, its middle in the view, its size; whether water leaves by it; whether a person said so."""

    face: str
    at: list[float]
    area_mm2: float
    low_mm: float
    drain: bool
    by_hand: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Cavity:
    """One cavity.

    Attributes:
        code, name, side, view; faces: the sheets that look into it; length_mm: along the car; outline: its region in the view.
        volume_l: what it holds, None where it is not closed; by_hand: whether a person said so; parts_l: outside and inside of a dividing sheet.
        openings, pockets; drained: whether any water leaves it, None where no opening is known; words: what there is to say of it.
    """

    code: str
    name: str
    side: str
    view: str
    faces: list[Face]
    length_mm: float
    outline: list[list[list[float]]]
    volume_l: float | None
    by_hand: bool
    parts_l: list[float]
    openings: list[Opening] = field(default_factory=list)
    pockets: list[Pocket] = field(default_factory=list)
    drained: bool | None = None
    words: list[str] = field(default_factory=list)


def lies_on(cavity: Cavity, at: Sequence[float]) -> bool:
    """Whether a place of the side, in shell axes, lies on a cavity."""
    place = points(at)
    return any(Polygon(part).dwithin(place, EDGE_MM) for part in cavity.outline)
