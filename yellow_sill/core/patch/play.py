"""A part folding, bend by bend, as outlines in space for a screen to draw."""

import math
from dataclasses import dataclass

import numpy as np

from ..said import Said
from .faces import Face, Part
from .fold_order import FoldOrder, FoldOrderRequest, fold_order
from .folded import base_surface, frames, straight_surface, surface
from .layout import laid_out
from .part import Hole, PartRequest, shown
from .tools import EDGE, IRONS, Tool

#: Each bend is shown in so many pictures.
PICTURES = 4
#: A hole's rim has so many corners.
RIM_CORNERS = 16
Xyz = list[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Shape:
    """One flat outline in space, mm, and the face that it is a piece of; ``bend``: whether it is a strip of the bend; ``hole``: or a hole in the face."""

    face: str
    bend: bool
    outline: list[Xyz]
    hole: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Stage:
    """One bend of the play: its name and words, and the pictures while it closes."""

    bend: str
    words: str
    pictures: list[list[Shape]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Play:
    """A part folding: how it lies flat, then bend by bend; the order it was worked out from."""

    flat: list[Shape]
    stages: list[Stage]
    order: FoldOrder


def play(request: PartRequest, tools: list[Tool] | None = None, *, mirror_hand: bool = False) -> Play:
    """The part folding in the order that can be made; what cannot, and what no folder makes, comes last.

    Args: mirror_hand: shown as the other hand, x turned round.
    Raises: as ``pattern`` and ``fold_order``.
    """
    part = laid_out(request)
    order = fold_order(FoldOrderRequest(part=request, tools=tools or [Tool(), IRONS, EDGE]))
    steps = [name for name in order.otherwise if part.face(name).spec.kind == "joggle"]
    told = {
        name: _by_hand(part.face(name)) for name in steps
    }  # a joggle goes before what would stand in its tool's way
    told |= {step.bend: step.words for step in order.steps}
    told |= {name: _by_hand(part.face(name)) for name in order.otherwise if name not in steps}
    told |= {each.bend: each.why for each in order.blocked}
    share = {face.name: 0.0 for face in part.faces}
    sign = -1.0 if mirror_hand else 1.0
    flat = _shapes(part, share, sign)
    together: dict[
        str, list[str]
    ] = {}  # the pieces of one curved edge close at once, and so does a joggle's step
    for name in told:
        stands = part.face(name).spec.kind == "joggle"
        together.setdefault(shown(name).split(".")[0] if stands else shown(name), []).append(name)
    stages = []
    for label, names in together.items():
        pictures = []
        for k in range(1, PICTURES + 1):
            share |= dict.fromkeys(names, k / PICTURES)
            pictures.append(_shapes(part, share, sign))
        stages.append(Stage(bend=label, words=told[names[0]], pictures=pictures))
    return Play(flat=flat, stages=stages, order=order)


def _by_hand(face: Face) -> str:
    """What makes a bend that no folder makes."""
    name = shown(face.name)
    if face.spec.kind == "joggle":
        return Said("{name}: with the joggling tool, before the rest.", name=name)
    return Said("{name}: turn it up a little at a time, its rim worked at the marks.", name=name)


def _shapes(part: Part, share: dict[str, float], sign: float) -> list[Shape]:
    found = [Shape(face="base", bend=False, outline=_rounded(base_surface(part), sign))]
    found += [
        _hole("base", [np.array([x, y, 0.0]) for x, y in _round(hole, 0.0)], sign) for hole in part.holes
    ]
    parts = frames(part, share)
    for face in part.faces:
        surfaces = (
            surface(part, face, share)
            if face.curved
            else straight_surface(part, face, parts, share[face.name])
        )
        last = len(surfaces) - 1
        for i, outline in enumerate(surfaces):
            if len(outline):
                bend = face.curved or i < last
                found.append(Shape(face=face.name, bend=bend, outline=_rounded(outline, sign)))
        if not face.curved:
            frame = parts[face.name]
            found += [
                _hole(face.name, [frame.at(x, y) for x, y in _round(hole, face.setback)], sign)
                for hole in face.spec.holes
            ]
    return found


def _round(hole: Hole, setback: float) -> list[tuple[float, float]]:
    """A hole's rim on its face: a slot with round ends, along its own way."""
    radius, turn = hole.diameter_mm / 2, math.radians(hole.angle_deg)
    half = max(0.0, (hole.length_mm or 0.0) - hole.diameter_mm) / 2
    x, y = hole.at[0], hole.at[1] - setback
    rim = []
    for k in range(RIM_CORNERS):
        a = 2 * math.pi * k / RIM_CORNERS
        u, v = radius * math.cos(a) + (half if math.cos(a) >= 0 else -half), radius * math.sin(a)
        rim.append((x + u * math.cos(turn) - v * math.sin(turn), y + u * math.sin(turn) + v * math.cos(turn)))
    return rim


def _hole(face: str, rim: list[np.ndarray], sign: float) -> Shape:
    return Shape(face=face, bend=False, outline=_rounded(np.array(rim), sign), hole=True)


def _rounded(outline: np.ndarray, sign: float) -> list[Xyz]:
    return [[round(float(x) * sign, 1) + 0.0, round(float(y), 1), round(float(z), 1)] for x, y, z in outline]
