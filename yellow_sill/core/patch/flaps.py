"""Flanges on the flat sheet and bent up: where they overlap, run into each other, are too narrow or follow a curve."""

import math
from itertools import combinations

import numpy as np
from shapely.geometry import LineString, Polygon

from ..geometry import Xy, largest, polygons_of, turn_deg
from ..remarks import Remark
from ..said import Mm, Said
from .bends import joggle_angle_deg
from .edges import PatchRequest, Side

#: Turns smaller than this are treated as one straight edge when reliefs are cut.
STRAIGHT_DEG = 1.0
#: Neighbouring flanges that turn less than this follow a curve and must be stretched or shrunk.
CURVED_DEG = 20.0


def rounded_xy(point: Xy) -> Xy:
    """A place to a tenth of a micrometre, without minus nought."""
    return round(point[0], 4) + 0.0, round(point[1], 4) + 0.0


def narrow(sides: list[Side], request: PatchRequest) -> list[Remark]:
    """Remarks on joggles flatter than asked (FLAT-06), flanges too narrow to grip (FLAT-01) and along a curve (FLAT-05)."""
    joggles = [_flatter(side, request.thickness_mm) for side in sides if side.spec.treatment == "joggle"]
    flanges = [
        remark
        for side in sides
        if side.is_flange
        for remark in (
            _hard_to_grip(side, request.thickness_mm),
            _along_a_curve(side, sides[(side.number + 1) % len(sides)]),
        )
    ]
    return [remark for remark in (*joggles, *flanges) if remark is not None]


def _flatter(side: Side, thickness_mm: float) -> Remark | None:
    made = joggle_angle_deg(thickness_mm, side.radius_mm, side.angle_deg)
    if made >= side.angle_deg - 0.05:
        return None
    text = Said(
        "With a radius of {radius} the joggle on edge {number} is bent through {made:.1f}°, not {asked:g}°.",
        radius=Mm(side.radius_mm),
        number=side.number,
        made=made,
        asked=side.angle_deg,
    )
    mend = "The step is one sheet deep: take a smaller radius for a steeper one."
    return _on_edge("FLAT-06", side, text, mend, side.at(side.length / 2, 0))


def _hard_to_grip(side: Side, thickness_mm: float) -> Remark | None:
    least = 4 * thickness_mm + side.radius_mm
    if side.width_mm >= least:
        return None
    text = Said(
        "The flange on edge {number} is {width_mm} wide; below {least} (4 t + R) a folder cannot grip it.",
        number=side.number,
        width_mm=Mm(side.width_mm),
        least=Mm(least, 1),
    )
    mend = "Make it wider and trim it after bending."
    return _on_edge("FLAT-01", side, text, mend, side.at(side.length / 2, 0))


def _along_a_curve(side: Side, other: Side) -> Remark | None:
    turn = turn_deg(side.a, side.b, other.b)
    if not other.is_flange or not STRAIGHT_DEG <= abs(turn) < CURVED_DEG:
        return None
    text = Said(
        "The flange from edge {number} to {number2} follows a curve: its rim must be {verb}, a folder cannot make it.",
        number=side.number,
        number2=other.number,
        verb="stretched" if turn < 0 else "shrunk",
    )
    return _on_edge("FLAT-05", side, text, "Use a shrinker or stretcher, or cut tabs.", side.b)


def _on_edge(code: str, side: Side, text: str, mend: str, at: Xy) -> Remark:
    return Remark(code=code, where=f"edge {side.number}", what=text, mend=mend, at=rounded_xy(at))


def part_flaps(
    flaps: dict[int, Polygon], sides: list[Side], base: Polygon, warnings: list[Remark], slot_mm: float
) -> dict[int, Polygon]:
    """Part flaps that overlap on the flat sheet: at an inward corner a slot two sheets wide runs along the bisector."""
    n = len(sides)
    for i in list(flaps):
        j = (i + 1) % n
        if (
            j in flaps
            and turn_deg(sides[i].a, sides[j].a, sides[j].b) < -STRAIGHT_DEG
            and flaps[i].intersection(flaps[j]).area > 0.01
        ):
            flaps[i], flaps[j] = _halves(sides[i], sides[j], flaps[i], flaps[j], slot_mm)
    for i, j in combinations(flaps, 2):
        if flaps[i].intersection(flaps[j]).area > 0.01:
            warnings.append(
                _clash(i, j, "overlap on the flat sheet", flaps[i].intersection(flaps[j]).centroid.coords[0])
            )
    for i, flap in flaps.items():
        over = flap.intersection(base.difference(LineString([sides[i].a, sides[i].b]).buffer(0.05)))
        beyond = [p for p in polygons_of(over) if p.area > 0.05]
        if beyond:
            where = rounded_xy(beyond[0].centroid.coords[0])
            text = Said("The flange on edge {i} runs into the piece itself on the flat sheet.", i=i)
            warnings.append(
                Remark(
                    code="FLAT-02",
                    where=f"edge {i}",
                    what=text,
                    mend="Make the flange narrower or weld it on.",
                    at=where,
                )
            )
    return flaps


def _halves(
    first: Side, second: Side, flap0: Polygon, flap1: Polygon, slot_mm: float
) -> tuple[Polygon, Polygon]:
    x, y = second.a
    bx, by = first.out[0] + second.out[0], first.out[1] + second.out[1]
    norm, far = math.hypot(bx, by) or 1.0, 5000.0
    bx, by = bx / norm, by / norm
    tip, tail = (x + bx * far, y + by * far), (x - bx * far, y - by * far)

    def side_of_line(side: Side) -> Polygon:
        px, py = side.at(side.length / 2, 0)
        sign = 1 if (px - x) * -by + (py - y) * bx > 0 else -1
        nx, ny = -by * sign * far, bx * sign * far
        return Polygon([tip, tail, (tail[0] + nx, tail[1] + ny), (tip[0] + nx, tip[1] + ny)])

    slot = LineString([tip, tail]).buffer(slot_mm)
    return tuple(
        largest(flap.intersection(side_of_line(side)).difference(slot))
        for flap, side in ((flap0, first), (flap1, second))
    )


def _clash(i: int, j: int, how: str, at: Xy) -> Remark:
    text = Said("The flanges on edges {i} and {j} {how}.", i=i, j=j, how=how)
    return Remark(
        code="FLAT-04",
        where=Said("edges {i} and {j}", i=i, j=j),
        what=text,
        mend="Make one narrower, bend it less, or weld it on afterwards.",
        at=rounded_xy(at),
    )


def collisions(
    flaps: dict[int, Polygon], sides: list[Side], trims: list[tuple[float, float]], thickness_mm: float
) -> list[Remark]:
    """Flanges that run into one another once bent: their folded planes, a sheet's thickness short of each end, cross."""
    folded = {i: _folded(sides[i], trims[i], thickness_mm) for i in flaps}
    return [
        _clash(i, j, "run into each other when bent", sides[j].a)
        for i, j in combinations(folded, 2)
        if _cross(folded[i], folded[j])
    ]


def _folded(side: Side, trim: tuple[float, float], thickness_mm: float) -> np.ndarray:
    angle = math.radians(side.angle_deg)
    up = 1.0 if side.spec.direction == "up" else -1.0
    rise = np.array([side.out[0] * math.cos(angle), side.out[1] * math.cos(angle), up * math.sin(angle)])
    start, end = trim[0] + thickness_mm * 0.01, side.length - trim[1] - thickness_mm * 0.01
    foot = [np.array([*side.at(s, 0.0), 0.0]) for s in (start, end)]
    low, high = rise * thickness_mm, rise * side.width_mm
    return np.array([foot[0] + low, foot[1] + low, foot[1] + high, foot[0] + high])


def _cross(first: np.ndarray, second: np.ndarray) -> bool:
    """Whether two flat four-cornered faces in space cut through each other."""
    return any(_edges_pierce(a, b) for a, b in ((first, second), (second, first)))


def _edges_pierce(face: np.ndarray, other: np.ndarray) -> bool:
    normal = np.cross(face[1] - face[0], face[3] - face[0])
    height = (other - face[0]) @ normal
    for i in range(4):
        h0, h1 = height[i], height[(i + 1) % 4]
        if h0 * h1 > 0 or h0 == h1:
            continue
        hit = other[i] + (other[(i + 1) % 4] - other[i]) * (h0 / (h0 - h1))
        turns = [np.dot(np.cross(face[(k + 1) % 4] - face[k], hit - face[k]), normal) for k in range(4)]
        if all(turn > -1e-6 * np.dot(normal, normal) for turn in turns):  # equal neighbours meet edge to edge
            return True
    return False
