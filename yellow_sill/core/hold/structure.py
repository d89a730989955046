"""A shell as a structure: nodes, parts, members made of strips, sheets, braces, stands; and its stiffness in any state.

Element matrices are kept by the state of their parts, so that another state costs only what has changed.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np

from ..steel import KG_PER_MM3
from .asked import Brace, Frame, HoldRequest, Part, SheetPart
from .elements import axes_of, brace, brace_weight_kg, cross, freedoms, member, sheet
from .section import NOTHING, Section, Strip, section_of

#: Weight of what is not in the model (paint, flanges, brackets), times the steel; N per kg.
WEIGHT_SHARE, GRAVITY = 1.25, 9.81
#: Hair springs that keep the equations solvable in any state, N/mm and N mm/rad.
HAIR = (1e-3, 1e2)


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
