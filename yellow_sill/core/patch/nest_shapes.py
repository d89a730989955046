"""Shapes of a nest: patterns turned and grown by half the kerf, where one may lie beside another and inside a piece of stock."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import pyclipper
from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..geometry import Xy, polygons_of

#: The clipper counts in whole thousandths of a millimetre; so many of them are no more than rounding.
SCALE, HAIR = 1000.0, 2
#: Of outlines with more corners than this, those nearer than COARSE_MM to a straight line are left out; the outline is grown by as much.
MANY_CORNERS, COARSE_MM = 40, 0.05
#: A rest's outline is drawn so roughly, mm, and keeps as much off the cuts.
ROUGH_MM = 0.4
Path = list[tuple[int, int]]


@dataclass(frozen=True)
class Turned:
    """A pattern in one of the ways it may lie. ``grown``: with half the kerf round it; both with the pattern's own origin turned too."""

    part: int
    turned_deg: float
    flipped: bool
    shape: Polygon
    grown: Polygon

    @property
    def key(self) -> tuple[int, float, bool]:
        return self.part, self.turned_deg, self.flipped

    @cached_property
    def path(self) -> Path:
        return whole(self.grown.exterior.coords[:-1])

    @cached_property
    def size(self) -> tuple[float, float]:
        u0, v0, u1, v1 = self.grown.bounds
        return u1 - u0, v1 - v0


def whole(points: Iterable[Xy]) -> Path:
    """Corners in the clipper's whole numbers."""
    return [(round(u * SCALE), round(v * SCALE)) for u, v in points]


def grown(shape: Polygon, by_mm: float) -> Polygon:
    """A pattern with half a kerf round it, never less, corners kept sharp up to twice the width.

    Args: by_mm: half the kerf, mm, at least 0.
    """
    more = COARSE_MM if len(shape.exterior.coords) > MANY_CORNERS else 0.0
    plump = shape.buffer(by_mm + more, join_style="mitre", mitre_limit=2)
    shapes = polygons_of(plump.simplify(more))
    return Polygon(max(shapes, key=lambda each: each.area).exterior)


def turned(
    part: int, outline: Polygon, kerf_mm: float, angles: Iterable[float], flips: Iterable[bool]
) -> list[Turned]:
    """A pattern in every way it may lie, equal ones once. Args: angles: degrees; flips: whether it is turned over first."""
    ways: list[Turned] = []
    seen: set[tuple[Xy, ...]] = set()
    for flipped in flips:
        side = affinity.scale(outline, xfact=-1, origin=(0, 0)) if flipped else outline
        for angle in angles:
            shape = affinity.rotate(side, angle, origin=(0, 0))
            u0, v0, _, _ = shape.bounds
            same = tuple(sorted((round(u - u0, 1), round(v - v0, 1)) for u, v in shape.exterior.coords[:-1]))
            if same not in seen:
                seen.add(same)
                ways.append(Turned(part, float(angle), flipped, shape, grown(shape, kerf_mm / 2)))
    return ways


def no_fit(fixed: Turned, moving: Turned) -> list[Path]:
    """Where the moving pattern's origin may not lie, the fixed one's at 0: the difference of the two sets, its outer rims.

    Source: Minkowski sum of the fixed outline and the mirrored moving one; pockets that it encloses are not used.
    """
    mirrored = [(-u, -v) for u, v in moving.path]
    swept = pyclipper.MinkowskiSum(mirrored, fixed.path, True)
    rims = [
        path for path in pyclipper.SimplifyPolygons(swept, pyclipper.PFT_NONZERO) if pyclipper.Area(path) > 0
    ]
    if not rims:
        return []
    return [max(rims, key=pyclipper.Area)]


@dataclass
class Region:
    """A piece of stock within its margin, grown by half a kerf: where patterns' grown outlines may lie."""

    shape: Polygon

    @cached_property
    def is_box(self) -> bool:
        u0, v0, u1, v1 = self.shape.bounds
        return self.shape.area > (u1 - u0) * (v1 - v0) - 1e-6

    def places(self, moving: Turned) -> list[Path]:
        """Where the moving pattern's origin may lie: outer rims, holes turned the other way; empty where it does not fit."""
        u0, v0, u1, v1 = self.shape.bounds
        a0, b0, a1, b1 = moving.grown.bounds
        if a1 - a0 > u1 - u0 + 1e-9 or b1 - b0 > v1 - v0 + 1e-9:
            return []
        box = [(u0 - a0, v0 - b0), (u1 - a1, v0 - b0), (u1 - a1, v1 - b1), (u0 - a0, v1 - b1)]
        if self.is_box:
            return [_widened(whole(box))]
        mirrored = [(-u, -v) for u, v in moving.path]
        swept = pyclipper.MinkowskiSum(mirrored, whole(self.shape.exterior.coords[:-1]), True)
        within = [
            (u - a, v - b)
            for (u, v), (a, b) in ((at, moving.path[0]) for at in whole(self.shape.exterior.coords[:-1]))
        ]
        return cut_out([within], swept)


def _widened(path: Path) -> Path:
    """A box of places a hair wider all round, so that a pattern that just fits between others still has one."""
    us, vs = [u for u, _ in path], [v for _, v in path]
    u0, v0, u1, v1 = min(us) - HAIR, min(vs) - HAIR, max(us) + HAIR, max(vs) + HAIR
    return [(u0, v0), (u1, v0), (u1, v1), (u0, v1)]


def cut_out(places: list[Path], forbidden: list[Path]) -> list[Path]:
    """Places less what is forbidden, paths in whole numbers."""
    if not places or not forbidden:
        return places
    clipper = pyclipper.Pyclipper()
    clipper.AddPaths(places, pyclipper.PT_SUBJECT, True)
    try:
        clipper.AddPaths(forbidden, pyclipper.PT_CLIP, True)
    except pyclipper.ClipperException:
        return places
    return clipper.Execute(pyclipper.CT_DIFFERENCE, pyclipper.PFT_NONZERO, pyclipper.PFT_NONZERO)


def shifted(paths: Iterable[Path], by: Xy) -> list[Path]:
    """Paths moved by a place in mm."""
    du, dv = round(by[0] * SCALE), round(by[1] * SCALE)
    return [[(u + du, v + dv) for u, v in path] for path in paths]


def rests(piece: Polygon, taken: Iterable[Polygon], kerf_mm: float, keep_mm: float) -> list[Polygon]:
    """What can go back to stock: every part of the rest that is nowhere narrower than ``keep_mm``, largest first.

    Args: piece: the piece's outline; taken: the patterns' outlines on it; kerf_mm, keep_mm: mm.
    """
    gone = unary_union([each.buffer(kerf_mm + ROUGH_MM, join_style="mitre", mitre_limit=2) for each in taken])
    left = piece.difference(gone)
    wide = left.buffer(-keep_mm / 2, join_style="mitre").buffer(
        keep_mm / 2, join_style="mitre", mitre_limit=1.5
    )
    kept = wide.intersection(left)
    shapes = [
        Polygon(each.simplify(ROUGH_MM).exterior) for each in _whole_ones(kept) if each.area > keep_mm**2
    ]
    return sorted(shapes, key=lambda each: -each.area)


def _whole_ones(shape: BaseGeometry) -> list[Polygon]:
    """Polygons without holes: one with a hole is parted through the hole, as a saw would reach it."""
    told: list[Polygon] = []
    for each in polygons_of(shape):
        if not each.interiors:
            told.append(each)
            continue
        u0, v0, u1, v1 = each.bounds
        middle = Polygon(each.interiors[0]).representative_point()
        halves = [
            each.intersection(Polygon([(u0, v), (u1, v), (u1, w), (u0, w)]))
            for v, w in ((v0, middle.y), (middle.y, v1))
        ]
        told += [part for half in halves for part in _whole_ones(half)]
    return told


def angles_of(grain: str, turn_deg: int) -> list[float]:
    """The angles at which a pattern may lie, degrees: all multiples of the turn where its grain is free."""
    if grain == "any":
        return [float(angle) for angle in np.arange(0, 360, turn_deg)]
    return [0.0, 180.0] if grain == "along" else [90.0, 270.0]
