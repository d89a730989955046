"""A shell as a structure: nodes, parts, members made of strips, sheets, braces, stands; and its stiffness in any state.

Element matrices are kept by the state of their parts, so that another state costs only what has changed.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Any, Literal, NamedTuple

import numpy as np
from pydantic import Field

from ..errors import BadField
from ..records import FARTHEST_MM, OneOf, Record
from ..said import Said
from ..steel import KG_PER_MM3
from .elements import ANCHORS, axes_of, brace, brace_weight_kg, cross, freedoms, member, sheet
from .section import NOTHING, Section, Strip, section_of

MOST_NODES, MOST_FRAMES, MOST_SHEETS, MOST_BRACES = 200, 400, 400, 60
#: Weight of what is not in the model (paint, flanges, brackets), times the steel; N per kg.
WEIGHT_SHARE, GRAVITY = 1.25, 9.81
#: Hair springs that keep the equations solvable in any state, N/mm and N mm/rad.
HAIR = (1e-3, 1e2)
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


@dataclass(frozen=True, slots=True)
class Assembled:
    """Stiffness, weight and connections of one state.

    Attributes:
        stiffness: 6 n square; weight_n: n, N downwards, of what is in; alive: n, whether a node is held by metal that counts;
        joined: n square, whether there is stiffness between two nodes; idle: members that carry nothing, by id.
    """

    stiffness: np.ndarray
    weight_n: np.ndarray
    alive: np.ndarray
    joined: np.ndarray
    idle: list[str]


class Element(NamedTuple):
    """A member or triangle in a state: its nodes, stiffness (None where it carries nothing) and weight, kg."""

    name: str
    nodes: list[int]
    stiffness: np.ndarray | None
    kg: float


@dataclass(frozen=True, slots=True)
class _Asked:
    """The state that was asked about, from which others differ by some parts.

    Attributes:
        elements: all of them; spans: those of each member and sheet; touched: members and sheets that hang on a part, by its name;
        whole: their stiffness, 6 n square; shares, members: see ``_incidence``; pairs: nodes that an element joins, (p, 2), each of the
            element ``of_pair`` says.
    """

    elements: list[Element]
    spans: list[slice]
    touched: dict[str, list[int]]
    whole: np.ndarray
    shares: np.ndarray
    members: np.ndarray
    pairs: np.ndarray
    of_pair: np.ndarray

    @classmethod
    def of(cls, structure: "Structure") -> "_Asked":
        request = structure.request
        elements: list[Element] = []
        spans: list[slice] = []
        touched: dict[str, list[int]] = {}
        hangs_on = [[*(strip[4] for strip in frame.strips), *frame.needs] for frame in request.frames]
        hangs_on += [[each.part, *each.needs] for each in request.sheets]
        for group, names in enumerate(hangs_on):
            own = list(structure._group(group, request.parts))
            spans.append(slice(len(elements), len(elements) + len(own)))
            elements += own
            for name in set(names):
                touched.setdefault(name, []).append(group)
        shares, members = _incidence([element.nodes for element in elements], len(structure.index))
        told = [
            (number, pair)
            for number, element in enumerate(elements)
            for pair in zip(element.nodes, element.nodes[1:], strict=False)
        ]
        pairs = np.array([pair for _, pair in told], int).reshape(-1, 2)
        of_pair = np.array([number for number, _ in told], int)
        whole = structure._added(
            [(each.nodes, each.stiffness) for each in elements if each.stiffness is not None]
        )
        return cls(elements, spans, touched, whole, shares, members, pairs, of_pair)


@dataclass(slots=True)
class Structure:
    """A checked structure, ready to be assembled in any state of its parts."""

    request: HoldRequest
    index: dict[str, int]
    places: np.ndarray
    lengths: dict[str, float]
    soft: list[tuple[bool, bool]]
    _kept: dict[Any, Any] = field(default_factory=dict)

    def assemble(self, parts: Mapping[str, Part], braces: Iterable[Brace] = ()) -> Assembled:
        """The stiffness of one state.

        Args: parts: every part of the structure; braces: those fitted.
        """
        asked = self.once("as asked", lambda: _Asked.of(self))
        now, changed = (
            asked.elements,
            [],
        )  # only what differs from the state asked about is worked out and added up again
        own_parts = self.request.parts
        altered = [
            name for name, part in parts.items() if part is not own_parts[name] and part != own_parts[name]
        ]
        if altered:
            now = now.copy()
            for group in sorted({group for name in altered for group in asked.touched.get(name, ())}):
                own = asked.spans[group]
                for i, element in zip(range(own.start, own.stop), self._group(group, parts), strict=True):
                    before = now[i].stiffness
                    now[i] = element
                    if element.stiffness is before:
                        continue
                    changed += [] if element.stiffness is None else [(element.nodes, element.stiffness)]
                    changed += [] if before is None else [(element.nodes, -before)]
        stiffness = asked.whole + self._added(changed) if changed else asked.whole.copy()
        there = [element.stiffness is not None for element in now]
        weight = np.array([element.kg for element in now]) @ asked.shares
        metal = np.array(there, float) @ asked.members > 0
        joined = np.zeros((len(self.index), len(self.index)), bool)
        first, second = asked.pairs[np.array(there)[asked.of_pair]].T
        joined[first, second] = joined[second, first] = True
        idle = [
            element.name
            for counts, element in zip(there, now, strict=True)
            if not counts and len(element.nodes) == 2
        ]
        homes = self.request.home
        alive = np.array(
            [
                any(parts[part].present for part in homes[name]) if name in homes else metal[i]
                for name, i in self.index.items()
            ],
            bool,
        )
        for each in braces:
            ends, between = self.braced(each)
            _add(stiffness, ends, between)
            weight[ends] += (
                brace_weight_kg(
                    float(np.linalg.norm(self.places[ends[1]] - self.places[ends[0]])),
                    each.size_mm,
                    each.wall_mm,
                )
                / 2
            )
            joined[ends[0], ends[1]] = joined[ends[1], ends[0]] = True
        for lump in self.request.lumps:
            weight[self.index[lump.node]] += lump.kg
        return Assembled(stiffness, weight * GRAVITY, alive, joined, idle)

    def braced(self, each: Brace) -> tuple[list[int], np.ndarray]:
        """The two nodes of a brace, and its stiffness between them, 12 x 12."""
        ends = [self.index[each.start], self.index[each.end]]
        start, end = self.places[ends]
        return ends, brace(start, end, each.size_mm, each.wall_mm, each.ends, each.anchor)

    def _added(self, elements: Sequence[tuple[list[int], np.ndarray]]) -> np.ndarray:
        """Element matrices added up at their freedoms."""
        size = 6 * len(self.index)
        if not elements:
            return np.zeros((size, size))
        where, values = (
            np.concatenate([self._flat(nodes) for nodes, _ in elements]),
            np.concatenate([k.ravel() for _, k in elements]),
        )
        return np.bincount(where, weights=values, minlength=size * size).reshape(size, size)

    def _flat(self, nodes: list[int]) -> np.ndarray:
        """Where an element's freedoms lie in the stiffness laid out in one row."""
        key = ("flat", *nodes)
        if key not in self._kept:
            rows = freedoms(nodes)
            self._kept[key] = (rows[:, None] * 6 * len(self.index) + rows).ravel()
        return self._kept[key]

    def stretch(self, moved: np.ndarray, pair: Sequence[str]) -> tuple[float, float]:
        """Length between two nodes, and what a movement (n x 3) adds to it, mm."""
        a, b = (self.index[name] for name in pair)
        span = self.places[b] - self.places[a]
        length = float(np.linalg.norm(span))
        return length, float((moved[b] - moved[a]) @ span / length)

    def once(self, key: Any, make: Callable[[], Any]) -> Any:
        """Something that follows from the structure alone, made once."""
        if key not in self._kept:
            self._kept[key] = make()
        return self._kept[key]

    def elements(self, parts: Mapping[str, Part]) -> Iterator[Element]:
        """Every member and triangle of a state."""
        for group in range(len(self.request.frames) + len(self.request.sheets)):
            yield from self._group(group, parts)

    def _group(self, group: int, parts: Mapping[str, Part]) -> Iterator[Element]:
        """The elements of one member or sheet: the members first, then the sheets."""
        number = group - len(self.request.frames)
        if number < 0:
            frame = self.request.frames[group]
            k, kg = self._frame(group, frame, parts)
            nodes = [self.index[frame.start], self.index[frame.end]]
            yield Element(frame.id, nodes, k if _met(frame.needs, parts) else None, kg)
            return
        each = self.request.sheets[number]
        part = parts[each.part]
        there = part.present and part.remain > 0
        counts = there and _met(each.needs, parts)
        for nth, (nodes, stiff, kg) in enumerate(self._sheet(number, each, part)):
            name = f"{each.part} {number}.{nth}"
            yield Element(name, nodes, stiff if counts else None, kg if there else 0.0)

    def _frame(self, number: int, frame: Frame, parts: Mapping[str, Part]) -> tuple[np.ndarray | None, float]:
        key = (
            "frame",
            number,
            tuple(
                (p := parts[s[4]]).present and (p.thickness_mm, p.loss, p.along.get(frame.id, p.remain))
                for s in frame.strips
            ),
        )
        if key not in self._kept:
            start, end = self.places[self.index[frame.start]], self.places[self.index[frame.end]]
            axes, length = axes_of(start, end)
            section, mm2 = _section(frame, parts)
            whole = self.lengths[frame.member or frame.id]
            k = (
                None
                if section.area <= 0
                else member(section, axes, length, whole, self.soft[number]) / self.request.softness
            )
            self._kept[key] = k, mm2 * length * KG_PER_MM3 * WEIGHT_SHARE
        return self._kept[key]

    def _sheet(self, number: int, each: SheetPart, part: Part) -> list[tuple[list[int], np.ndarray, float]]:
        key = ("sheet", number, part.thickness_mm, part.loss, part.remain)
        if key not in self._kept:
            t = part.thickness_mm * (1 - part.loss) * part.remain
            nodes = [self.index[name] for name in each.nodes]
            threes = [(0, 1, 2)] if len(nodes) == 3 else [(0, 1, 2), (0, 2, 3), (0, 1, 3), (1, 2, 3)]
            thick = (
                t if len(nodes) == 3 else t / 2
            )  # both ways to divide a quadrilateral, half each: left and right answer alike
            out = []
            for three in threes:
                corners = self.places[[nodes[k] for k in three]]
                area = float(np.linalg.norm(cross(corners[1] - corners[0], corners[2] - corners[0]))) / 2
                out.append(
                    (
                        [nodes[k] for k in three],
                        sheet(corners, max(thick, 1e-6)) / self.request.softness,
                        area * thick * KG_PER_MM3 * WEIGHT_SHARE,
                    )
                )
            self._kept[key] = out
        return self._kept[key]


def _met(needs: Iterable[str], parts: Mapping[str, Part]) -> bool:
    return all(parts[name].present for name in needs)


def _incidence(elements: Sequence[list[int]], n: int) -> tuple[np.ndarray, np.ndarray]:
    """Each element's share of its weight at each node; which nodes members end on."""
    shares, members = np.zeros((len(elements), n)), np.zeros((len(elements), n))
    for row, nodes in enumerate(elements):
        shares[row, nodes] = 1 / len(nodes)
        members[row, nodes] = len(nodes) == 2
    return shares, members


def _add(stiffness: np.ndarray, nodes: list[int], k: np.ndarray) -> None:
    rows = freedoms(nodes)
    stiffness[np.ix_(rows, rows)] += k


def _section(frame: Frame, parts: Mapping[str, Part]) -> tuple[Section, float]:
    """What a member is worth with its parts as they are, and its area for the weight, mm².

    A part that is cut to a share of the length leaves zones; in each only the parts that reach it count, and the zones work in a row:
    the harmonic mean by length. One zone with nothing in it, and the member carries nothing.
    """
    walls = []
    for y1, z1, y2, z2, name in frame.strips:
        part = parts[name]
        if part.present:
            walls.append(
                (
                    Strip(y1, z1, y2, z2, part.thickness_mm * (1 - part.loss)),
                    part.along.get(frame.id, part.remain),
                )
            )
    tops = sorted({1.0, *(remain for _, remain in walls)})
    low, zones = 0.0, []
    for top in tops:
        if top > low:
            zones.append((top - low, section_of([wall for wall, remain in walls if remain >= top - 1e-12])))
            low = top
    weight = sum(share * section.area for share, section in zones)
    if not zones or any(section.area <= 0 for _, section in zones):
        return NOTHING, weight
    if len(zones) == 1:
        return zones[0][1], weight
    mean = lambda name: 1 / sum(share / max(getattr(section, name), 1e-9) for share, section in zones)  # noqa: E731
    return Section(mean("area"), mean("iy"), mean("iz"), zones[0][1].turn, mean("j"), 0.0), weight


def structure_of(request: HoldRequest) -> Structure:
    """Check a request and lay its structure out.

    Raises: BadField, naming the node, part, member or brace: unknown, without length, in one line, twice.
    """
    index = {name: i for i, name in enumerate(request.nodes)}
    places = np.array(list(request.nodes.values()), float)
    _known("baseline.parts", request.baseline.parts, request.parts, "part")
    seen: set[str] = set()
    for i, frame in enumerate(request.frames):
        where = f"frames[{i}]"
        if frame.id in seen:
            raise BadField(
                Said("Two members bear the name {id}.", id=frame.id), f"{where}.id", "Give each its own."
            )
        seen.add(frame.id)
        _known(where, (frame.start, frame.end), index, "node")
        _known(f"{where}.strips", (strip[4] for strip in frame.strips), request.parts, "part")
        _known(f"{where}.needs", frame.needs, request.parts, "part")
        if np.linalg.norm(places[index[frame.start]] - places[index[frame.end]]) < 1:
            raise BadField(
                Said("Member {id} has no length.", id=frame.id), where, "Its two nodes lie on one spot."
            )
        for k, (y1, z1, y2, z2, _) in enumerate(frame.strips):
            if abs(y1 - y2) + abs(z1 - z2) < 1e-6:
                raise BadField(
                    Said("A strip of member {id} has no width.", id=frame.id),
                    f"{where}.strips[{k}]",
                    "Give its two ends.",
                )
    for i, each in enumerate(request.sheets):
        where = f"sheets[{i}]"
        _known(where, (each.part, *each.needs), request.parts, "part")
        _known(f"{where}.nodes", each.nodes, index, "node")
        corners = places[[index[name] for name in each.nodes]]
        if (
            len(set(each.nodes)) < len(each.nodes)
            or np.linalg.svd(corners - corners.mean(axis=0), compute_uv=False)[1] < 1
        ):
            raise BadField(
                Said("A sheet of {part} has no area.", part=each.part),
                f"{where}.nodes",
                "Its nodes lie in one line.",
            )
    check_braces(request.braces, index, places)
    check_braces(request.baseline.braces, index, places, "baseline.braces")
    _known("stands", request.stands, index, "node")
    _known("lumps", (lump.node for lump in request.lumps), index, "node")
    _known("home", request.home, index, "node")
    _known("passing", request.passing, index, "node")
    for i, path in enumerate(request.paths):
        _known(f"paths[{i}].nodes", path.nodes, index, "node")
    _known("home", (part for parts in request.home.values() for part in parts), request.parts, "part")
    _known("checks", (name for pair in request.checks for name in pair), index, "node")
    _known("twist", (name for group in request.twist or () for pair in group for name in pair), index, "node")
    _known("bend", request.bend or (), index, "node")
    lengths: dict[str, float] = {}
    ends: dict[str, list[str]] = {}
    for frame in request.frames:
        name = frame.member or frame.id
        lengths[name] = lengths.get(name, 0.0) + float(
            np.linalg.norm(places[index[frame.start]] - places[index[frame.end]])
        )
        ends.setdefault(name, []).extend((frame.start, frame.end))
    once = lambda frame, node: ends[frame.member or frame.id].count(node) == 1  # noqa: E731
    soft = [(once(frame, frame.start), once(frame, frame.end)) for frame in request.frames]
    return Structure(request=request, index=index, places=places, lengths=lengths, soft=soft)


def check_searchable(request: HoldRequest) -> None:
    """Raises: BadField for a structure too large to search."""
    if len(request.nodes) > MOST_SEARCH_NODES:
        raise BadField(
            Said(
                "A search takes at most {most_search_nodes} nodes; {nodes} given.",
                most_search_nodes=MOST_SEARCH_NODES,
                nodes=len(request.nodes),
            ),
            "nodes",
            "Join nodes that move alike.",
        )


def _known(where: str, names: Iterable[str], known: Mapping[str, Any], what: str) -> None:
    for name in names:
        if name not in known:
            raise BadField(Said("There is no {what} {name}.", what=what, name=name), where, "Check the name.")


def check_braces(
    braces: Iterable[Brace], index: Mapping[str, int], places: np.ndarray, where: str = "braces"
) -> None:
    """Refuse braces that cannot be. Raises: BadField: an unknown node, no length, a wall thicker than the tube."""
    for i, each in enumerate(braces):
        _checked_brace(each, f"{where}[{i}]", index, places)


def _checked_brace(each: Brace, where: str, index: Mapping[str, int], places: np.ndarray) -> None:
    _known(where, (each.start, each.end), index, "node")
    if np.linalg.norm(places[index[each.start]] - places[index[each.end]]) < 1:
        raise BadField(
            Said("The brace from {start} to {end} has no length.", start=each.start, end=each.end),
            where,
            "Choose two places apart.",
        )
    if 2 * each.wall_mm >= each.size_mm:
        raise BadField(
            Said(
                "A tube {size_mm:g} wide cannot have walls {wall_mm:g} thick.",
                size_mm=each.size_mm,
                wall_mm=each.wall_mm,
            ),
            f"{where}.wall_mm",
            "Check size and wall.",
        )
