"""Filling one piece of stock: pattern after pattern at the place farthest back that is free, orders tried and kept by the area placed."""

import random
from collections.abc import Sequence
from dataclasses import dataclass, field

from ..geometry import Xy
from .nest_shapes import SCALE, Path, Region, Turned, cut_out, no_fit, shifted


@dataclass
class Layout:
    """Patterns on one piece: each in the way it lies, with its place."""

    places: list[tuple[Turned, Xy]] = field(default_factory=list)

    @property
    def area(self) -> float:
        return sum(way.shape.area for way, _ in self.places)

    @property
    def parts(self) -> set[int]:
        return {way.part for way, _ in self.places}

    @property
    def reach(self) -> float:
        """How far along the piece the grown patterns reach, mm."""
        return max((at[0] + way.grown.bounds[2] for way, at in self.places), default=0.0)


class Filler:
    """One piece of stock and the patterns that may go on it; remembers which pattern may not lie where beside which."""

    def __init__(self, region: Region, ways: dict[int, list[Turned]]) -> None:
        self.region, self.ways = region, ways
        self._inside: dict[tuple, list[Path]] = {}
        self._beside: dict[tuple, list[Path]] = {}

    def fits(self, part: int) -> bool:
        return any(self.inside(way) for way in self.ways[part])

    def inside(self, way: Turned) -> list[Path]:
        if way.key not in self._inside:
            self._inside[way.key] = self.region.places(way)
        return self._inside[way.key]

    def beside(self, fixed: Turned, way: Turned) -> list[Path]:
        key = (fixed.key, way.key)
        if key not in self._beside:
            self._beside[key] = no_fit(fixed, way)
        return self._beside[key]

    def fill(self, order: Sequence[int]) -> Layout:
        """Place the patterns of an order, each where it reaches least far along, then least far across; what finds no place is left out."""
        layout = Layout()
        for part in order:
            best: tuple[float, float, float, Turned, Xy] | None = None
            for way in self.ways[part]:
                free = cut_out(
                    self.inside(way),
                    [path for fixed, at in layout.places for path in shifted(self.beside(fixed, way), at)],
                )
                for u, v in (corner for path in free for corner in path):
                    at = (u / SCALE, v / SCALE)
                    reach, height = at[0] + way.grown.bounds[2], at[1] + way.grown.bounds[3]
                    key = (round(reach, 3), round(height, 3), way.turned_deg)
                    if best is None or key < best[:3]:
                        best = (*key, way, at)
            if best is not None:
                layout.places.append((best[3], best[4]))
        return layout

    def best(self, parts: Sequence[int], rounds: int, seed: int) -> Layout:
        """The layout that places the most area, and of those the one that reaches least far.

        Args: parts: which patterns; rounds: how many orders are tried: by area, by length, by width, then neighbours of the best so far.
        """
        chance = random.Random(seed)  # noqa: S311 - the same seed gives the same layout
        by_area = sorted(parts, key=lambda part: (-self.ways[part][0].shape.area, part))
        by_length = sorted(parts, key=lambda part: (-max(self.ways[part][0].size), part))
        by_width = sorted(parts, key=lambda part: (-min(self.ways[part][0].size), part))
        best_order, best = by_area, self.fill(by_area)
        whole = sum(self.ways[part][0].shape.area for part in parts)
        for turn in range(1, rounds):
            if turn in (1, 2):
                order = by_length if turn == 1 else by_width
            else:
                order = best_order[:]
                for _ in range(1 + chance.randrange(3)):
                    i, j = chance.randrange(len(order)), chance.randrange(len(order))
                    order.insert(j, order.pop(i))
            tried = self.fill(order)
            if (round(tried.area, 1), -tried.reach) > (round(best.area, 1), -best.reach):
                best_order, best = order, tried
            if len(parts) == 1 or (best.area >= whole - 1 and best.reach <= whole_reach(self.region, whole)):
                break
        return best


def whole_reach(region: Region, area_mm2: float) -> float:
    """How far patterns of some area reach at least, mm from the piece's beginning."""
    u0, v0, _, v1 = region.shape.bounds
    return u0 + area_mm2 / (v1 - v0)
