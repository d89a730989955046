"""Every set of bends made so far, and which bend can be made next: where the faces of a part lie round a bend, cut with a tool's solids."""

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, reduce

import numpy as np

from ..errors import BadField
from ..said import Said
from .base import ring_of
from .faces import Face, Part
from .folded import Frame, bend_start, bent
from .part import shown
from .tools import BARE_SHEETS, Solid, Tool, Xyz, apron, fingers_for, solids

#: Bends that are searched through exactly.
MOST_BENDS = 12
#: What makes one order better than another: turning the sheet over, turning it end for end, another tool, fingers out.
OVER, AROUND, OTHER_TOOL, OUT = 1.0, 0.4, 0.8, 0.1
#: A base with arcs is checked with no more corners than this.
MOST_CORNERS = 60
#: Of so many bends between two faces every set is worked out at once.
WORKED_OUT = 3
#: A face in its own axes.
_OWN = Frame(np.zeros(3), *np.eye(3))
#: What a face meets: the name of a solid, or where along the line it stands among pieces that can be left out.
_Hit = str | list[tuple[float, float]]


@dataclass(frozen=True, slots=True)
class Way:
    """A bend that can be made now: cost, tool's number, clamped side, fingers and room; or why not."""

    cost: float
    tool: int
    held: str
    fingers: tuple[float, ...]
    room: float | None
    why: tuple | None


#: The bends made as bits, whether the last went up, which side was held for it.
State = tuple[int, bool | None, str | None]
#: The cheapest way to each state: cost, the state before, the bend that came last and how.
Reached = dict[State, tuple[float, State | None, int, Way | None]]


def in_one(part: Part) -> list[Face]:
    """The faces that stand on a straight edge of one piece; a lip of several pieces is turned up by hand, as one, as a curved edge is."""
    pieces = Counter(shown(face.name) for face in part.faces)
    return [face for face in part.faces if not face.curved and pieces[shown(face.name)] == 1]


def folds(part: Part) -> list[Face]:
    """The bends that a folder makes."""
    return [face for face in in_one(part) if face.spec.kind != "joggle"]


class Search:
    """All that is asked again and again of one part: where its faces lie round each bend, for each set of bends made."""

    def __init__(self, part: Part, tools: Sequence[Tool]) -> None:
        self.part, self.tools = part, tools
        self.faces = in_one(part)
        self.bends = folds(part)
        if len(self.bends) > MOST_BENDS:
            raise BadField(
                Said("{count} bends are more than can be searched through.", count=len(self.bends)),
                "part.runs",
                Said("Make it of two pieces; {most} are taken.", most=MOST_BENDS),
            )
        self.bit = {face.name: 1 << k for k, face in enumerate(self.bends)}
        self.index = {face.name: i for i, face in enumerate(self.faces)}
        self._bent: dict[tuple[str, float], np.ndarray] = {}
        self._above: dict[str, list[Face]] = {}
        self._chains: dict[tuple[str, str], tuple[list[Face], list[Face], int, int]] = {}
        self._met: dict[tuple[int, int, str], int] = {}
        self._asked: dict[tuple[int, int, str], tuple[int, dict[int, Way]]] = {}
        self._tables: dict[tuple[int, int, str], list[tuple[str, int, dict[int, _Hit]]]] = {}
        self._bits: dict[str, list[tuple[str, int]]] = {}
        self._places: dict[tuple, list[Xyz]] = {}
        self._names = ["base", *(face.name for face in self.faces)]
        self._solids = [[*solids(tool, part.thickness)] for tool in tools]
        self._aprons = [apron(tool, part.thickness) for tool in tools]

    @cached_property
    def outlines(self) -> dict[str, np.ndarray]:
        """Each face's outline in its own axes (x, y, 0, 1); the base's in the sheet's."""
        ring = np.array(ring_of(self.part.pieces, self.part.ends))
        ring = ring[:: max(1, len(ring) // MOST_CORNERS)]
        found = {"base": np.column_stack([ring, np.zeros(len(ring)), np.ones(len(ring))])}
        for face in self.faces:
            found[face.name] = np.array([(x, y, 0.0, 1.0) for x, y in face.outline])
        return found

    @cached_property
    def flat_starts(self) -> dict[str, np.ndarray]:
        """From a face's axes at its bend's beginning to its parent's, as 4 by 4."""
        each_own = dict.fromkeys(self._names, _OWN)
        return {face.name: _matrix(bend_start(face, each_own)) for face in self.faces}

    def bent(self, face: Face, share: float) -> np.ndarray:
        """From a face's own axes, beyond its bend, to those where the bend begins."""
        key = (face.name, share)
        if key not in self._bent:
            self._bent[key] = _matrix(bent(_OWN, face, self.part.thickness, share))
        return self._bent[key]

    def above(self, face: Face) -> list[Face]:
        """A face and all that it stands on, from the base outwards."""
        if face.name not in self._above:
            self._above[face.name] = face.chain
        return self._above[face.name]

    def share(self, face: Face, mask: int) -> float:
        bit = self.bit.get(face.name)
        return 0.0 if bit is None else 1.0 if mask & bit else 0.0

    def _around(self, bend: Face) -> list[tuple[str, int]]:
        """Every other face with the bits of the bends that lie between it and a bend."""
        if bend.name not in self._bits:
            self._bits[bend.name] = [(other, self._between(bend, other)[3]) for other in self._names]
        return self._bits[bend.name]

    def _between(self, bend: Face, other: str) -> tuple[list[Face], list[Face], int, int]:
        """The chains of a bend and of another face from the base, how many they share, and the bits of the bends that lie between the two."""
        key = (bend.name, other)
        if key not in self._chains:
            mine = self.above(bend)
            chain = self.above(self._face(other)) if other != "base" else []
            common = 0
            while common < min(len(mine), len(chain)) and mine[common] is chain[common]:
                common += 1
            bits = 0
            for face in (*mine[common:], *chain[common:]):
                bits |= 0 if face is bend else self.bit.get(face.name, 0)
            self._chains[key] = (mine, chain, common, bits)
        return self._chains[key]

    def _seen(self, bend: Face, other: str, mask: int, held: str, swung: float) -> list[Xyz]:
        """The outline of another face round a bend: along it, back towards the clamped side, up as the leg swings. Args: swung: share of the bend made."""
        mine, chain, common, bits = self._between(bend, other)
        key = (bend.name, other, held, swung, mask & bits)
        if key not in self._places:
            self._places[key] = self._placed(bend, other, mask, held, swung, mine, chain, common)
        return self._places[key]

    def _placed(
        self,
        bend: Face,
        other: str,
        mask: int,
        held: str,
        swung: float,
        mine: list[Face],
        chain: list[Face],
        common: int,
    ) -> list[Xyz]:
        moves = [
            step
            for face in chain[common:]
            for step in (self.flat_starts[face.name], self.bent(face, self.share(face, mask)))
        ]
        if common == len(mine):  # beyond the bend: it swings
            moves.insert(0, self.bent(bend, swung))
        else:
            ups = [
                step
                for face in mine[common:-1]
                for step in (self.flat_starts[face.name], self.bent(face, self.share(face, mask)))
            ]
            moves.insert(0, _back(reduce(np.matmul, [*ups, self.flat_starts[bend.name]])))
        sign, back = -1.0, bend.allowance / 2
        if held == "leg":  # in the leg's own axes
            moves.insert(0, _back(self.bent(bend, swung)))
            sign = 1.0
        down = reduce(np.matmul, moves)
        at = self.outlines[other] @ down[:3].T
        at[:, 1] = sign * at[:, 1] + back
        at[:, 2] *= 1.0 if bend.spec.up else -1.0
        return [tuple(place) for place in at.tolist()]

    def _face(self, name: str) -> Face:
        return self.faces[self.index[name]]

    def ways(self, mask: int, k: int) -> list[Way]:
        """Every way to make a bend after those of a mask: each tool, each side clamped; those that cannot say why."""
        return [
            self._tried(k, mask, number, held) for number in range(len(self.tools)) for held in ("base", "leg")
        ]  # fmt: skip

    def best(self, mask: int, k: int) -> Way | None:
        """The cheapest way: a tool that comes first goes before any other, and the base's side before the leg's."""
        for number in range(len(self.tools)):
            for held in ("base", "leg"):
                way = self._tried(k, mask, number, held)
                if math.isfinite(way.cost):
                    return way
        return None

    def _tried(self, k: int, mask: int, number: int, held: str) -> Way:
        """A way to make a bend; bends that change nothing round it do not count."""
        key = (k, number, held)
        if key not in self._asked:
            self._asked[key] = self._matters(k, number, held)
        bits, ways = self._asked[key]
        made = mask & bits
        if made not in ways:
            ways[made] = self._worked_out(k, made, number, held)
        return ways[made]

    def _matters(self, k: int, number: int, held: str) -> tuple[int, dict[int, Way]]:
        """The bits of the bends that change anything round a bend, and what is known already: for a tool that can never make it, everything."""
        tool, bend = self.tools[number], self.bends[k]
        if (why := self._never(bend, tool)) is not None:
            return 0, {0: Way(math.inf, number, held, (), None, why)}
        self._tables[k, number, held] = self._table(bend, number, held, self._share(bend, tool))
        bits = 0
        for _, between, _ in self._tables[k, number, held]:
            bits |= between
        return bits, {}

    @staticmethod
    def _share(bend: Face, tool: Tool) -> float:
        """How far a tool bends; a hem is closed by hand afterwards."""
        return min(1.0, tool.most_deg / math.degrees(bend.spec.angle))

    def _worked_out(self, k: int, mask: int, number: int, held: str) -> Way:
        tool, bend, key = self.tools[number], self.bends[k], (k, number, held)
        live = self._tables[key]
        blocked: list[tuple[float, float, str]] = []
        first = self._met.get(key, 0)  # what was in the way last time is likely to be again
        for i in (first, *range(first), *range(first + 1, len(live))) if live else ():
            other, bits, hits = live[i]
            made = mask & bits
            hit = hits.get(made)
            if hit is None:
                hit = hits[made] = self._hits(bend, other, mask, number, held, self._share(bend, tool))
            if isinstance(hit, str):
                self._met[key] = i
                return Way(math.inf, number, held, (), None, ("meets", other, hit))
            if hit:
                blocked += [(a, b, other) for a, b in hit]
        return self._fitted(bend, number, tool, held, blocked)

    def _table(
        self, bend: Face, number: int, held: str, share: float
    ) -> list[tuple[str, int, dict[int, _Hit]]]:
        """What each other face meets, by the bends between it and this one; a face that never meets anything is left out."""
        found = []
        for other, bits in self._around(bend):
            hits: dict[int, _Hit] = {}
            if bits.bit_count() <= WORKED_OUT:
                some = bits
                while True:  # every set of the bends between
                    hits[some] = self._hits(bend, other, some, number, held, share)
                    if not some:
                        break
                    some = (some - 1) & bits
                if not any(hits.values()):
                    continue
            found.append((other, bits, hits))
        return found

    def _never(self, bend: Face, tool: Tool) -> tuple | None:
        """Why a tool can never make a bend, whatever else is bent."""
        length, angle = bend.root[1] - bend.root[0], math.degrees(bend.spec.angle)
        if length > tool.longest_mm:
            return "long", length, tool
        if angle > tool.most_deg + 0.5 and "hem" not in bend.spec.kind:
            return "steep", tool
        return None

    def _hits(self, bend: Face, other: str, mask: int, number: int, held: str, share: float) -> _Hit:
        """Where a face stands among the pieces of a tool along the line; or the name of the solid part that it meets."""
        first = self._seen(bend, other, mask, held, 0.0)
        swings = self._swings(bend, other, held)
        shapes = (
            [first]
            if not swings
            else [
                first,
                self._seen(bend, other, mask, held, share / 2),
                self._seen(bend, other, mask, held, share),
            ]
        )
        under = self._aprons[number]
        if swings and under is not None and under.reach(first) is not None:
            return under.name
        found: _Hit = []
        for shape in shapes:
            if isinstance(found, str):
                break
            found = self._cut(shape, self._solids[number], found)
        return found

    @staticmethod
    def _cut(shape: Sequence[Xyz], some: Sequence[Solid], found: list[tuple[float, float]]) -> _Hit:
        for solid in some:
            span = solid.reach(shape)
            if span is None:
                continue
            if not solid.pieces:
                return solid.name
            found = [*found, span]
        return found

    def _swings(self, bend: Face, other: str, held: str) -> bool:
        beyond = other != "base" and bend in self.above(self._face(other))
        return beyond == (held == "base")

    def _fitted(
        self, bend: Face, number: int, tool: Tool, held: str, blocked: list[tuple[float, float, str]]
    ) -> Way:
        """The fingers that fit between what stands along the line."""
        around = (AROUND if held == "leg" else 0.0) + OTHER_TOOL * number
        if not blocked:
            return Way(around, number, held, (), None, None)
        no = lambda *why: Way(math.inf, number, held, (), None, why)  # noqa: E731
        x0, x1 = bend.root
        bare, middle = BARE_SHEETS * self.part.thickness, (x0 + x1) / 2
        over = [name for a, b, name in blocked if a < middle < b or (a >= x0 + bare and b <= x1 - bare)]
        if over:
            return no("stands", over[0], tool)
        left = max((b for a, b, _ in blocked if b <= middle), default=-math.inf)
        right = min((a for a, b, _ in blocked if a >= middle), default=math.inf)
        if left > x0 + bare or right < x1 - bare:
            return no("over", next(name for a, b, name in blocked if b == left or a == right), bare)
        room, length = right - left, x1 - x0
        if not tool.in_pieces:
            return Way(around + OUT, number, held, (), round(min(room, length), 1), None)
        if not (math.isfinite(left) and math.isfinite(right)):
            return Way(around + OUT, number, held, (), None, None)  # one side is free: move the sheet along
        least = min(x1 - bare, right) - max(x0 + bare, left)
        some = fingers_for(list(tool.fingers_mm), room - 1.0, min(length, room - 1.0))
        if some is None or sum(some) < least:
            return no("fingers", sum(some or []), room, least)
        return Way(around + OUT, number, held, tuple(some), round(room, 1), None)

    def paths(self) -> Reached:
        """The cheapest way to each set of bends made, by which side was up and which was held last: what comes next may cost more after one of them."""
        reached: Reached = {(0, None, None): (0.0, None, -1, None)}
        by_mask: dict[int, list[State]] = {0: [(0, None, None)]}
        for mask in range(1 << len(self.bends)):
            if mask not in by_mask:
                continue
            for k, bend in enumerate(self.bends):
                if mask >> k & 1 or (way := self.best(mask, k)) is None:
                    continue
                state = (mask | 1 << k, bend.spec.up, way.held)
                for before in by_mask[mask]:
                    total = reached[before][0] + way.cost + 1e-6 * k
                    total += OVER if before[1] not in (None, bend.spec.up) else 0.0
                    total += AROUND / 4 if before[2] not in (None, way.held) else 0.0
                    if state not in reached:
                        by_mask.setdefault(state[0], []).append(state)
                    if state not in reached or total < reached[state][0]:
                        reached[state] = (total, before, k, way)
        return reached


def _matrix(frame: Frame) -> np.ndarray:
    found = np.eye(4)
    found[:3, 0], found[:3, 1], found[:3, 2], found[:3, 3] = frame.x, frame.y, frame.n, frame.origin
    return found


def _back(matrix: np.ndarray) -> np.ndarray:
    """The way back of a movement that turns and shifts."""
    found = np.eye(4)
    found[:3, :3] = matrix[:3, :3].T
    found[:3, 3] = -found[:3, :3] @ matrix[:3, 3]
    return found
