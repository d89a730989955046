"""Sides of a patch as a person sees them: straight runs and rounded corners, not hundreds of short edges."""

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..geometry import turn_deg
from .edges import EdgeTreatment

#: Edges shorter than this that turn against a neighbour belong to a rounded corner or a curve.
SHORT_MM = 12.0
#: A turn sharper than this always ends a side.
CORNER_DEG = 30.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Side:
    """A run of edges that gets one treatment. ``curved`` sides cannot be folded."""

    name: str
    edges: tuple[int, ...]
    length_mm: float
    middle: tuple[float, float]
    curved: bool


def sides_of(outline: Sequence[Sequence[float]]) -> list[Side]:
    """Divide an outline into sides.

    An edge of at least SHORT_MM is a straight side; runs of shorter ones between are rounded corners or curves.
    Neighbouring long edges that turn by less than CORNER_DEG at a shared corner stay separate sides, since each bends on its own.

    Args: outline: corners in mm, counter-clockwise.
    Returns: the sides in the order of their first edge, named A, B, C ... for straight ones, a-b for a curve between two.
    """
    n = len(outline)
    points = [(float(u), float(v)) for u, v in outline]
    lengths = [math.dist(points[i], points[(i + 1) % n]) for i in range(n)]
    straight = [length >= SHORT_MM for length in lengths]
    if not any(straight):
        return [_side("round", range(n), points, lengths, curved=True)]
    first = next(i for i in range(n) if straight[i])
    groups: list[list[int]] = []
    for step in range(n):
        i = (first + step) % n
        joins = groups and not straight[i] and not straight[groups[-1][-1]]
        sharp = abs(turn_deg(points[i - 1], points[i], points[(i + 1) % n])) > CORNER_DEG
        if joins and not sharp:
            groups[-1].append(i)
        else:
            groups.append([i])
    names = iter(_letters())
    sides = []
    for group in groups:
        curved = not straight[group[0]] and len(group) > 1
        sides.append(_side("" if curved else next(names), group, points, lengths, curved))
    count = len(sides)
    return [
        side
        if side.name
        else Side(
            name=_between(sides, k, count),
            edges=side.edges,
            length_mm=side.length_mm,
            middle=side.middle,
            curved=True,
        )
        for k, side in enumerate(sides)
    ]


def _between(sides: list[Side], k: int, count: int) -> str:
    before = next((sides[(k - d) % count].name for d in range(1, count) if sides[(k - d) % count].name), "")
    after = next((sides[(k + d) % count].name for d in range(1, count) if sides[(k + d) % count].name), "")
    return f"{before}-{after}".lower()


def _letters():
    for i in range(1000):
        yield chr(65 + i % 26) + (str(i // 26) if i >= 26 else "")


def _side(name: str, edges, points, lengths, curved: bool) -> Side:
    edges = tuple(edges)
    total = sum(lengths[i] for i in edges)
    left = total / 2
    for i in edges:
        if left <= lengths[i] or i == edges[-1]:
            a, b = points[i], points[(i + 1) % len(points)]
            share = min(1.0, left / lengths[i]) if lengths[i] else 0.0
            middle = (round(a[0] + (b[0] - a[0]) * share, 2), round(a[1] + (b[1] - a[1]) * share, 2))
            break
        left -= lengths[i]
    return Side(name=name, edges=edges, length_mm=round(total, 2), middle=middle, curved=curved)


def treatments(
    sides: Sequence[Side], chosen: Mapping[str, Mapping[str, Any]], free: Collection[int] = ()
) -> list[EdgeTreatment]:
    """Edge treatments for ``develop`` from what was chosen per side.

    A rounded corner takes the treatment of its neighbours where both have the same lap or joggle, else it is a butt edge; what nobody chose is
    free along the panel's own edge.

    Args: sides: of the outline; chosen: by side name, the fields of EdgeTreatment without ``edge``; free: edges along the panel's own edge.
    Raises: BadField for a value out of range.
    """
    result = []
    for k, side in enumerate(sides):
        usual = lambda edge: {"treatment": "free" if edge in free else "butt"}  # noqa: E731
        spec = dict(chosen.get(side.name) or {})
        if side.curved and side.name not in chosen:
            before, after = (chosen.get(sides[(k + d) % len(sides)].name) for d in (-1, 1))
            same = before and after and before == after and before.get("treatment") in ("lap", "joggle")
            spec = dict(before or {}) if same else {}
        result += [EdgeTreatment.read({"edge": edge, **(spec or usual(edge))}) for edge in side.edges]
    return result
