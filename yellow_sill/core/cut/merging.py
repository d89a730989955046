"""Patches joined: those that stand too close, and pairs that are cheaper to weld as one."""

import math
from collections.abc import Mapping
from heapq import heapify, heappop, heappush
from typing import TYPE_CHECKING

import numpy as np
from shapely import STRtree, box, distance
from shapely.geometry import GeometryCollection, MultiPolygon
from shapely.geometry.base import BaseGeometry

from .shapes import Draft, Sheet, drafted, extents_of, turns_of

if TYPE_CHECKING:
    from .asked import CutRequest


def clusters(findings: list[tuple], request: "CutRequest") -> list[tuple[tuple, BaseGeometry]]:
    """Findings whose cuts can only end up nearer than the web, whatever their shape, taken together from the start."""
    shapes = [rust for _, rust in findings]
    reach = 2 * request.margin_mm + request.web_mm - 0.01
    graph = STRtree(shapes).query(shapes, predicate="dwithin", distance=reach)
    root = list(range(len(shapes)))

    def top(i: int) -> int:
        while root[i] != i:
            i = root[i]
        return i

    for i, j in graph.T.tolist():
        root[top(i)] = top(j)
    groups: dict[int, list[int]] = {}
    for i in range(len(shapes)):
        groups.setdefault(top(i), []).append(i)
    return [
        (tuple(findings[i][0] for i in group), MultiPolygon([shapes[i] for i in group]))
        for group in groups.values()
    ]


def merged(drafts: list[Draft], sheet: Sheet) -> list[Draft]:
    """Merge cuts that stand too close, nearest first, then pairs that are cheaper to weld as one."""
    alive = dict(enumerate(drafts))
    web = sheet.request.web_mm
    queue = [(gap, i, j) for i in alive for gap, j in _near(alive[i], {k: alive[k] for k in range(i)}, web)]
    heapify(queue)
    while queue:
        gap, i, j = heappop(queue)
        if i not in alive or j not in alive:
            continue
        a, b = alive[i], alive[j]
        too_near = gap < web
        if not too_near and not _may_save(a, b, gap, sheet):
            continue
        joined = drafted(
            tuple(sorted(a.ids + b.ids, key=str)), MultiPolygon([*a.rust.geoms, *b.rust.geoms]), sheet
        )
        if not too_near and joined.weld_mm >= a.weld_mm + b.weld_mm:
            continue
        del alive[i], alive[j]
        new = max([*alive, i, j]) + 1
        for near, k in _near(joined, alive, web):
            heappush(queue, (near, new, k))
        alive[new] = joined
    return list(alive.values())


def _near(draft: Draft, others: Mapping[int, Draft], web_mm: float) -> list[tuple[float, int]]:
    """(gap, key) of the others that could be merged with a draft: nearer than the web, or so near that one bridge may pay."""
    u0, v0, u1, v1 = draft.bounds
    keys = []
    for key, other in others.items():
        a, b, c, d = other.bounds
        gap = math.hypot(max(0.0, a - u1, u0 - c), max(0.0, b - v1, v0 - d))
        if gap < web_mm or 2 * gap < draft.weld_mm + other.weld_mm:
            keys.append(key)
    return (
        list(zip(distance(draft.shape, [others[key].shape for key in keys]).tolist(), keys, strict=True))
        if keys
        else []
    )


def _may_save(a: Draft, b: Draft, gap_mm: float, sheet: Sheet) -> bool:
    """Whether one cut round both could need less weld than two: a bridge is welded on both sides, a hull is the least outline."""
    if 2 * gap_mm >= a.weld_mm + b.weld_mm:
        return False
    low, high = np.minimum(a.bounds, b.bounds), np.maximum(a.bounds, b.bounds)
    if 2 * max(high[2] - low[0], high[3] - low[1]) >= a.weld_mm + b.weld_mm and sheet.clears_edge(
        box(low[0], low[1], high[2], high[3])
    ):
        return False
    hull = GeometryCollection([a.shape, b.shape]).convex_hull
    if not sheet.clears_edge(hull):
        return True
    if hull.exterior.length >= a.weld_mm + b.weld_mm:
        return False
    if sheet.request.style == "hull" or sheet.request.corner_radius_mm > sheet.request.margin_mm:
        return True
    # any rectangle round both rusts, with its margin, less what the rounded corners save
    hull = MultiPolygon([*a.rust.geoms, *b.rust.geoms]).convex_hull
    _, _, low, high = extents_of(hull, turns_of(np.asarray(hull.exterior.coords)))
    least = (
        2 * float((high - low).sum(0).min())
        + 8 * sheet.request.margin_mm
        - (8 - 2 * math.pi) * sheet.request.corner_radius_mm
    )
    return least < a.weld_mm + b.weld_mm
