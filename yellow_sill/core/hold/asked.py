"""What is asked about a shell: nodes, members, sheets, parts, braces, and one state of them."""

from typing import Annotated, Literal

from pydantic import Field

from ..records import FARTHEST_MM, OneOf, Record
from .elements import ANCHORS

MOST_NODES, MOST_FRAMES, MOST_SHEETS, MOST_BRACES = 200, 400, 400, 60
#: A shell is at least and at most so soft against what is planned.
HARDEST, SOFTEST = 0.2, 5.0

Name = Annotated[str, Field(min_length=1, max_length=40)]
Coordinate = Annotated[float, Field(ge=-FARTHEST_MM, le=FARTHEST_MM)]
Share = Annotated[float, Field(ge=0, le=1)]


#: A search tries hundreds of states: it takes at most so many nodes, where one state alone takes MOST_NODES.
MOST_SEARCH_NODES = 80


class Part(Record):
    """A sheet part: its thickness, the share lost to rust, whether it is in, and the share of its length that remains where it is cut.

    ``along``: the same share for single members, by their id, where it is known which of them a cut crosses.
    """

    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    loss: Share = 0.0
    present: bool = True
    remain: Share = 1.0
    along: dict[Name, Share] = {}


class Frame(Record):
    """A member between two nodes. Strips are [y1, z1, y2, z2, part] in its own plane (y and z as ``axes_of`` lays them).

    ``member`` names the whole member that segments belong to; ``needs`` are parts without which it carries nothing.
    """

    id: Name
    start: Annotated[Name, Field(alias="from")]
    end: Annotated[Name, Field(alias="to")]
    strips: Annotated[
        list[tuple[Coordinate, Coordinate, Coordinate, Coordinate, Name]], Field(min_length=1, max_length=20)
    ]
    needs: list[Name] = []
    member: Name | None = None


class SheetPart(Record):
    """A flat sheet over three or four nodes, in order round it."""

    part: Name
    nodes: Annotated[list[Name], Field(min_length=3, max_length=4)]
    needs: list[Name] = []


class Brace(Record):
    """A square tube that is fitted while the shell has the shape of the baseline."""

    start: Annotated[Name, Field(alias="from")]
    end: Annotated[Name, Field(alias="to")]
    size_mm: Annotated[float, Field(gt=2, le=200)] = 25.0
    wall_mm: Annotated[float, Field(gt=0, le=20)] = 2.0
    ends: Literal["welded", "bolted"] = "welded"
    anchor: Annotated[str, OneOf(ANCHORS)] = "seam"


class LoadPath(Record):
    """A way that forces take through one chain of members, from its lower end upwards, such as a post between floor and roof."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    nodes: Annotated[list[Name], Field(min_length=2, max_length=12)]


class Lump(Record):
    node: Name
    kg: Annotated[float, Field(ge=0, le=2000)]


class Baseline(Record):
    """The state that movements count from; by default every part in, sound and whole, without braces."""

    parts: dict[Name, Part] = {}
    braces: list[Brace] = []


class HoldRequest(Record):
    """A structure in one state; see the records of its parts.

    ``home``: parts of which one must be in for a node to count; ``checks``: pairs of nodes whose distance is watched;
    ``paths``: load paths, each lost where one of its members carries nothing and no brace stands in; ``passing``: nodes that are remade with
    the part they lie on, so that no verdict hangs on them.
    ``twist`` and ``bend``: pairs (left, right) for the two stiffnesses, the first living one counts; by default the mirrored pairs.
    ``softness``: how much softer this shell is than planned, told by a dial; see ``calibrate``.
    """

    nodes: Annotated[
        dict[Name, Annotated[list[Coordinate], Field(min_length=3, max_length=3)]],
        Field(min_length=2, max_length=MOST_NODES),
    ]
    parts: Annotated[dict[Name, Part], Field(min_length=1, max_length=400)]
    frames: Annotated[list[Frame], Field(max_length=MOST_FRAMES)] = []
    sheets: Annotated[list[SheetPart], Field(max_length=MOST_SHEETS)] = []
    braces: Annotated[list[Brace], Field(max_length=MOST_BRACES)] = []
    stands: Annotated[list[Name], Field(max_length=40)] = []
    lumps: Annotated[list[Lump], Field(max_length=60)] = []
    checks: Annotated[
        list[Annotated[list[Name], Field(min_length=2, max_length=2)]], Field(max_length=100)
    ] = []
    home: dict[Name, list[Name]] = {}
    paths: Annotated[list[LoadPath], Field(max_length=60)] = []
    passing: Annotated[list[Name], Field(max_length=MOST_NODES)] = []
    twist: list[list[Annotated[list[Name], Field(min_length=2, max_length=2)]]] | None = None
    bend: Annotated[list[Name], Field(max_length=20)] | None = None
    baseline: Baseline = Baseline()
    softness: Annotated[float, Field(ge=HARDEST, le=SOFTEST)] = 1.0
    modes: bool = True
