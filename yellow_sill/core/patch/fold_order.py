"""In which order to fold, so that nothing that is bent already meets the tool."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ..records import Record
from ..said import Listed, Mm, Said
from .faces import Face
from .folding import AROUND, OTHER_TOOL, Reached, Search, State, Way, folds
from .layout import laid_out
from .part import PartRequest
from .tools import EDGE, IRONS, Tool


class FoldOrderRequest(Record):
    """A part and the tools at hand, the first preferred."""

    part: PartRequest
    tools: Annotated[list[Tool], Field(min_length=1, max_length=4)] = [Tool(), IRONS, EDGE]


@dataclass(frozen=True, slots=True, kw_only=True)
class FoldStep:
    """One bend made.

    Attributes:
        bend, tool; angle_deg, direction: seen on the base's upper side; turned_over: whether that side lies down in the tool.
        held: the side that is clamped: ``base`` or ``leg``; fingers_mm: to leave in; room_mm: what
            they have, None where nothing is near.
        words: in one line.
    """

    bend: str
    tool: str
    angle_deg: float
    direction: str
    turned_over: bool
    held: str
    fingers_mm: list[float]
    room_mm: float | None
    words: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FoldBlocked:
    """A bend that cannot be made, why, and what would make it possible."""

    bend: str
    why: str
    mends: list[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class FoldOrder:
    """The steps in order; what cannot be made; bends that no folder makes (joggles, curved edges), before or after the steps; words."""

    steps: list[FoldStep]
    blocked: list[FoldBlocked]
    otherwise: list[str]
    turns_over: int
    words: str


def fold_order(request: FoldOrderRequest) -> FoldOrder:
    """The order of folding with the fewest turns of the sheet, exactly, over every set of bends made so far.

    At each step the faces of the part, bent so far, are laid round the bend line and cut with the tool's solids (fingers, beam, bed, apron; irons; bar and
    table), before and after the leg swings. Fingers may be left out where something stands; the rest must reach the whole line but for a few sheets.

    Args: request: the part and the tools.
    Raises: BadField, BadOutline as ``pattern``; more than 12 bends to fold.
    Source: shortest path over subsets; docs/methods.md section 4.
    """
    part = laid_out(request.part)
    search = Search(part, request.tools)
    folded = {face.name for face in folds(part)}
    otherwise = [face.name for face in part.faces if face.name not in folded]
    reached = search.paths()
    last = min(reached, key=lambda state: (-state[0].bit_count(), reached[state][0]))
    done, steps = last[0], _steps(search, reached, last)
    blocked = [_blocked(search, done, k) for k in range(len(search.bends)) if not done >> k & 1]
    turns = sum(a.turned_over != b.turned_over for a, b in zip(steps, steps[1:], strict=False))
    return FoldOrder(
        steps=steps,
        blocked=blocked,
        otherwise=otherwise,
        turns_over=turns,
        words=_words(steps, blocked, turns, len(search.bends)),
    )


def _words(steps: Sequence[FoldStep], blocked: Sequence[FoldBlocked], turns: int, count: int) -> str:
    if not count:
        return Said("Nothing is to be folded in a tool.")
    if blocked:
        return Said(
            "{made} of {count} bends can be made; {names} cannot.",
            made=len(steps),
            count=count,
            names=Listed(tuple(each.bend for each in blocked)),
        )
    return Said("{count} bends, the sheet is turned over {turns} times.", count=count, turns=turns)


def _why(why: tuple | None) -> str:
    """Why a bend cannot be made one way, in words."""
    if why is None:
        return Said("it can be made")
    kind, *what = why
    if kind == "long":
        return Said(
            "it is {length} long, {most} can be folded", length=Mm(what[0], 0), most=Mm(what[1].longest_mm, 0)
        )
    if kind == "steep":
        return Said("it bends through {most:g}° at most", most=what[0].most_deg)
    if kind == "meets":
        return Said("{face} meets the {solid}", face=what[0], solid=Said(what[1]))
    if kind == "stands":
        return Said("{face} stands where it must hold", face=what[0])
    if kind == "over":
        return Said("{face} stands more than {bare} into the line", face=what[0], bare=Mm(what[1], 0))
    words = "the fingers make up {have} in a room of {room}, and {least} are needed"
    return Said(words, have=Mm(what[0], 0), room=Mm(what[1], 0), least=Mm(what[2], 0))


def _steps(search: Search, reached: Reached, last: State) -> list[FoldStep]:
    found: list[FoldStep] = []
    state: State | None = last
    while state is not None:
        _, before, k, way = reached[state]
        if way is not None:
            found.insert(0, _step(search, search.bends[k], way))
        state = before
    return found


def _step(search: Search, bend: Face, way: Way) -> FoldStep:
    tool, spec = search.tools[way.tool], bend.spec
    angle = round(math.degrees(spec.angle), 1)
    told = [
        Said("{bend}: {angle:g}° {way}", bend=bend.name, angle=angle, way=Said("up" if spec.up else "down"))
    ]
    told.append(Said("in the {tool}", tool=Said(tool.kind)))
    told.append(Said("hold the leg, swing the rest") if way.held == "leg" else Said("hold the base's side"))
    if way.fingers:
        told.append(
            Said(
                "leave in the fingers {fingers}",
                fingers=Listed(tuple(f"{each:g}" for each in way.fingers)),
            )
        )
    elif way.room is not None and not tool.in_pieces:
        told.append(Said("with a piece no longer than {room}", room=Mm(way.room, 0)))
    elif way.cost > (AROUND if way.held == "leg" else 0.0) + OTHER_TOOL * way.tool and tool.in_pieces:
        told.append(Said("take the fingers out beyond its one end"))
    if "hem" in spec.kind:
        told.append(Said("as far as it goes, then flat with the mallet"))
    return FoldStep(
        bend=bend.name, tool=tool.kind, angle_deg=angle, direction="up" if spec.up else "down", turned_over=not spec.up, held=way.held,
        fingers_mm=list(way.fingers), room_mm=way.room, words=Said("{parts}.", parts=Listed(tuple(told))),
    )  # fmt: skip


def _blocked(search: Search, done: int, k: int) -> FoldBlocked:
    """Why a bend cannot be made after the others, and what would help."""
    ways = search.ways(done, k)
    why = Said(
        "{reasons}.",
        reasons=Listed(
            tuple(
                dict.fromkeys(
                    Said(
                        "{tool}, holding the {side}: {why}",
                        tool=Said(search.tools[way.tool].kind),
                        side=Said(way.held),
                        why=_why(way.why),
                    )
                    for way in ways
                )
            )
        ),
    )
    mends: list[str] = []
    for j, other in enumerate(search.bends):
        if done >> j & 1 and search.best(done & ~(1 << j), k) is not None:
            mends.append(
                Said(
                    "Make {other} a piece of its own and weld it on after {bend}.",
                    other=other.name,
                    bend=search.bends[k].name,
                )
            )
    bend = search.bends[k]
    longest = max(tool.longest_mm for tool in search.tools)
    if bend.root[1] - bend.root[0] > longest:
        mends.append(
            Said(
                "Split the part across {bend}, weld the halves, or take a folder of {length}.",
                bend=bend.name,
                length=Mm(bend.root[1] - bend.root[0], 0),
            )
        )
    if any(way.why is not None and "beam" in way.why for way in ways):
        mends.append(Said("Take fingers taller than what stands beside {bend}.", bend=bend.name))
    if not mends:
        mends.append(Said("Make {bend} a piece of its own and weld it on.", bend=bend.name))
    return FoldBlocked(bend=bend.name, why=why, mends=mends)
