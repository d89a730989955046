"""The simple shape round rust: a rectangle that wastes least metal, or the hull; rounded, and ended at the panel's edge."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, TypeVar

import numpy as np
from shapely import (
    area,
    box,
    clip_by_rect,
    contains_properly,
    contains_xy,
    intersection,
    polygons,
    prepare,
    total_bounds,
)
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry import QUARTER_STEPS, polygons_of, widened

if TYPE_CHECKING:
    from .asked import CutRequest

T = TypeVar("T")

#: A cut line counts as running along the panel's edge within this distance.
ON_EDGE_MM = 0.01
#: Cuts are made larger by this share of their radius, so that arcs drawn as straight pieces never bite into the margin: a fillet
#: of up to one and a half steps is drawn as one piece, 1 - cos(0.75 step) of the radius inside the arc.
ARC_SLACK = 1.01 * (1 - math.cos(0.75 * math.pi / 2 / QUARTER_STEPS))
#: A quarter turn as directions are rounded.
_QUARTER = round(math.pi / 2, 9)
#: A panel that is so near a rectangle is taken for one, mm².
LEVEL_MM2 = 1e-3
#: Less margin than this is none.
LEAST_GROW_MM = 1e-3
#: Extents of an outline in axes turned by n angles: cos and sin (n,), low and high corners (2, n).
Extents = tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]


@dataclass(frozen=True)
class Sheet:
    """The panel being cut, with what is asked of it again and again."""

    panel: Polygon
    request: "CutRequest"
    memo: dict

    def __post_init__(self) -> None:
        prepare(self.panel)

    def remembered(self, key: tuple, work: Callable[[], T]) -> T:
        """What was worked out for a panel once is not worked out again."""
        if key not in self.memo:
            self.memo[key] = work()
        return self.memo[key]

    @cached_property
    def edge_zone(self) -> Polygon:
        return self.panel.exterior.buffer(ON_EDGE_MM)

    @cached_property
    def _edges(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        ends = np.asarray(self.panel.exterior.coords)
        return np.diff(ends, axis=0), np.minimum(ends[1:], ends[:-1]), np.maximum(ends[1:], ends[:-1])

    def edges_near(self, least: np.ndarray, most: np.ndarray) -> np.ndarray:
        """The panel's edges whose boxes meet one between two corners, as steps (n, 2)."""
        steps, low, high = self._edges
        return steps[(low < most).all(axis=1) & (high > least).all(axis=1)]

    def grown(self, rust: BaseGeometry) -> BaseGeometry:
        """Rust with its margin; a hair's margin is none, as no buffer can be made of it."""
        return rust.buffer(self.request.margin_mm if self.request.margin_mm > LEAST_GROW_MM else 0.0)

    def clears_edge(self, shape: Polygon) -> bool:
        """Whether a shape lies wholly inside the panel."""
        return self.panel.contains_properly(shape)

    def surely_clears(self, bounds: tuple[float, float, float, float]) -> bool:
        """Whether all within some bounds lies inside the panel."""
        a, b, c, d = self._bounds
        return (
            a < bounds[0]
            and b < bounds[1]
            and bounds[2] < c
            and bounds[3] < d
            and self.clears_edge(box(*bounds))
        )

    @cached_property
    def _bounds(self) -> tuple[float, float, float, float]:
        return self.panel.bounds

    def ended(self, shape: Polygon) -> BaseGeometry:
        """The shape as far as the panel reaches."""
        return shape if shape.is_empty or self.clears_edge(shape) else shape.intersection(self.panel)

    def area_on(self, shapes: np.ndarray) -> np.ndarray:
        """How much of each shape lies on the panel; quickly where the panel is a level rectangle as far as they reach, as beside a straight edge."""
        here = clip_by_rect(self.panel, *total_bounds(shapes))
        if here.is_empty:
            return np.zeros(len(shapes))
        u0, v0, u1, v1 = here.bounds
        if abs((u1 - u0) * (v1 - v0) - here.area) < LEVEL_MM2:
            return area(clip_by_rect(shapes, u0, v0, u1, v1))
        return area(intersection(self.panel, shapes))

    def weld_mm(self, part: Polygon) -> float:
        return (
            part.exterior.length
            if self.clears_edge(part)
            else part.exterior.difference(self.edge_zone).length
        )


@dataclass(frozen=True, slots=True)
class Draft:
    """A cut in the making."""

    ids: tuple
    rust: MultiPolygon
    corners: Polygon
    parts: tuple[Polygon, ...]
    shape: BaseGeometry
    bounds: tuple[float, float, float, float]
    weld_mm: float


def drafted(ids: tuple, rust: BaseGeometry, sheet: Sheet) -> Draft:
    """The best simple shape round the rust of one group."""
    return Draft(ids, rust, *sheet.remembered(("shape", rust.wkb), lambda: _shaped(rust, sheet)))


def _shaped(rust: BaseGeometry, sheet: Sheet) -> tuple:
    """What a draft is made of beside its findings: corners, parts, shape, bounds, weld."""
    hull = rust.convex_hull
    if sheet.request.style == "hull":
        corners, parts = _fit(
            lambda grow_mm: hull.buffer(grow_mm, join_style="mitre", mitre_limit=20), rust, sheet
        )
    else:
        corners, parts = _best_rectangle(hull, rust, sheet)
    shape = parts[0] if len(parts) == 1 else MultiPolygon(parts)
    return corners, tuple(parts), shape, shape.bounds, sum(sheet.weld_mm(part) for part in parts)


def _best_rectangle(hull: Polygon, rust: BaseGeometry, sheet: Sheet) -> tuple[Polygon, list[Polygon]]:
    """The rectangle that wastes least metal: level, along an edge of the hull or, where the panel ends it, along that edge.

    The smallest rectangle round a convex polygon lies along one of its edges (Freeman and Shapira 1975), with a margin all
    round too: log((w + 2 m)(h + 2 m)) is concave between two such directions. It stays level where turning
    saves no more than ``worth_turning_pct`` of the metal.
    """
    margin = sheet.request.margin_mm
    extents = extents_of(hull, turns_of(np.asarray(hull.exterior.coords)))
    _, _, low, high = extents
    reach = math.sqrt(2) * (float((high - low).max()) + margin)
    metal = np.prod(high - low + 2 * margin, axis=0)
    if not sheet.surely_clears(widened(hull.bounds, reach)):
        extents, metal = _ended_rectangles(hull, extents, metal, sheet)
    best = (
        0
        if metal[0] <= metal.min() * (1 + sheet.request.worth_turning_pct / 100 + 1e-9)
        else int(metal.argmin())
    )
    c, s, (u0, v0), (u1, v1) = (extent[..., best].tolist() for extent in extents)

    def grown(by_mm: float) -> Polygon:
        a, b, d, e = u0 - by_mm, v0 - by_mm, u1 + by_mm, v1 + by_mm
        return (
            Polygon([(x * c - y * s, x * s + y * c) for x, y in ((a, b), (d, b), (d, e), (a, e))])
            if a < d and b < e
            else Polygon()
        )

    return _fit(grown, rust, sheet)


def _ended_rectangles(
    hull: Polygon, extents: Extents, metal: np.ndarray, sheet: Sheet
) -> tuple[Extents, np.ndarray]:
    """Rectangles near the panel's edge and the metal each takes: only what lies on the panel, less the rounded corners there."""
    corners = _corners(extents, sheet.request.margin_mm)
    rectangles = polygons(corners)
    inside = contains_properly(sheet.panel, rectangles)
    if inside.all():
        return extents, metal
    along = sheet.edges_near(corners.min(axis=(0, 1)), corners.max(axis=(0, 1)))
    if len(along):
        more = extents_of(hull, _quarter_turns(along))
        corners_more = _corners(more, sheet.request.margin_mm)
        rectangles_more = polygons(corners_more)
        u0, v0, u1, v1 = (np.concatenate(pair, axis=-1) for pair in zip(extents, more, strict=True))
        extents = u0, v0, u1, v1
        corners, rectangles = (
            np.concatenate([corners, corners_more]),
            np.concatenate([rectangles, rectangles_more]),
        )
        inside = np.concatenate([inside, contains_properly(sheet.panel, rectangles_more)])
    rounded_off = (
        contains_xy(sheet.panel, corners[..., 0], corners[..., 1]).sum(1)
        * (1 - math.pi / 4)
        * sheet.request.corner_radius_mm**2
    )
    metal = area(rectangles)
    metal[~inside] = sheet.area_on(rectangles[~inside])
    return extents, metal - rounded_off


def turns_of(points: np.ndarray) -> np.ndarray:
    """Level and the directions of a ring's edges, within a quarter turn, each once."""
    return _quarter_turns(np.concatenate([[[1.0, 0.0]], np.diff(points, axis=0)]))


def _quarter_turns(steps: np.ndarray) -> np.ndarray:
    """The directions of steps (n, 2) within a quarter turn, from level upwards, each once: a rectangle lies the same way after a quarter turn."""
    turns = np.arctan2(steps[:, 1], steps[:, 0]) % (np.pi / 2)
    _, first = np.unique(np.round(turns, 9) % _QUARTER, return_index=True)
    return turns[first]


def extents_of(hull: Polygon, turns: np.ndarray) -> Extents:
    """Extents of a convex outline in axes turned by n angles."""
    points = np.asarray(hull.exterior.coords)
    cos, sin = np.cos(turns), np.sin(turns)
    u, v = (
        np.outer(points[:, 0], cos) + np.outer(points[:, 1], sin),
        np.outer(points[:, 1], cos) - np.outer(points[:, 0], sin),
    )
    return cos, sin, np.stack([u.min(0), v.min(0)]), np.stack([u.max(0), v.max(0)])


def _corners(extents: Extents, by_mm: float) -> np.ndarray:
    """Corners (n, 4, 2) of the rectangles with these extents, their edges moved out."""
    cos, sin, low, high = extents
    (u0, v0), (u1, v1) = low - by_mm, high + by_mm
    u, v = np.stack([u0, u1, u1, u0], axis=1), np.stack([v0, v0, v1, v1], axis=1)
    return np.stack([u * cos[:, None] - v * sin[:, None], u * sin[:, None] + v * cos[:, None]], axis=-1)


def _fit(
    shape: Callable[[float], Polygon], rust: BaseGeometry, sheet: Sheet
) -> tuple[Polygon, list[Polygon]]:
    """Move the edges of a convex shape outwards until, rounded, it holds the grown rust; then end it at the panel's edge.

    With a margin of at least the radius the rounded shape always holds it: a disc of the margin fits into each corner.
    """
    radius, margin = sheet.request.corner_radius_mm, sheet.request.margin_mm
    if sheet.request.style == "hull" or radius > 0.9 * margin:
        margin += ARC_SLACK * radius

    def rounded_at(grow_mm: float) -> BaseGeometry:
        inner = shape(grow_mm - radius)
        return sheet.ended(inner.buffer(radius, quad_segs=QUARTER_STEPS) if radius else inner)

    cut = rounded_at(margin)
    if radius > margin and not cut.covers(sheet.ended(sheet.grown(rust))):
        margin = radius * (1 + ARC_SLACK)
        cut = rounded_at(margin)
    pieces = polygons_of(cut)
    if len(pieces) > 1:
        grown = sheet.grown(rust)
        pieces = [part for part in pieces if part.intersection(grown).area > 1e-6]
    return shape(margin), pieces
