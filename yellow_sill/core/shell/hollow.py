"""A hollow between sheets: its region in a view and how deep it is there; its openings; where water stands in it."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from shapely import contains_xy, prepare
from shapely.geometry.base import BaseGeometry

from ..geometry import polygons_of, ring
from .form import DrawnView, drawn_line, plane_of
from .reach import ends

#: Volumes are summed on places this far apart along the view, and this far up it; water is followed in columns as wide as the first, mm.
CELL_MM, RISE_MM = 24.0, 6.0
#: Sheets nearer to each other than this are flanges that touch, not a hollow, mm.
TOUCH_MM = 4.0
#: Water that stands less deep than this dries, mm (rule of thumb).
DRIES_MM = 3.0


@dataclass(frozen=True, slots=True)
class Hole:
    """A hole in a sheet: its middle and lower edge in shell axes, its size, mm and mm²; the layer it is drawn on."""

    u: float
    v: float
    low: float
    area: float
    layer: int = 0

    @classmethod
    def of(cls, outline: np.ndarray, layer: int = 0) -> "Hole":
        """Source: the shoelace formula."""
        (u, v), (u1, v1) = outline.T, np.roll(outline, -1, axis=0).T
        low, high = outline.min(axis=0), outline.max(axis=0)
        middle = (low + high) / 2
        area = abs(float((u * v1 - u1 * v).sum())) / 2
        return cls(float(middle[0]), float(middle[1]), float(low[1]), area, layer)


def holes_of(view: DrawnView) -> list[Hole]:
    """Holes that a view shows as lines. Source of their sizes: the shoelace formula."""
    told = [drawn_line(feature) for feature in view.features]
    holes = [(outline, layer) for kind, outline, layer in told if kind == "hole" and len(outline) > 2]
    if not holes:
        return []
    sizes = np.array([len(outline) for outline, _ in holes])
    starts = np.concatenate([[0], np.cumsum(sizes)[:-1]])
    at = np.concatenate([np.asarray(outline, float) for outline, _ in holes]) * np.array(
        plane_of(view).signs, float
    )
    after = np.arange(1, len(at) + 1)
    after[starts + sizes - 1] = starts
    crossed = at[:, 0] * at[after, 1] - at[after, 0] * at[:, 1]
    area = np.abs(np.add.reduceat(crossed, starts)) / 2
    low, high = np.minimum.reduceat(at, starts), np.maximum.reduceat(at, starts)
    middle = (low + high) / 2
    return [
        Hole(float(u), float(v), float(bottom), float(size), layer)
        for (u, v), bottom, size, (_, layer) in zip(middle, low[:, 1], area, holes, strict=True)
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Pocket:
    """Where water stands: from where to where along the view, how deep at most, how much, and its outline."""

    from_mm: float
    to_mm: float
    deep_mm: float
    holds_l: float
    outline: list[list[float]]


@dataclass(frozen=True, slots=True)
class Columns:
    """A hollow column by column along the view: middles, lowest and highest places, mean depth, mm."""

    at: np.ndarray
    floor: np.ndarray
    roof: np.ndarray
    wide: np.ndarray

    def floor_at(self, u: float) -> float:
        return float(np.interp(u, self.at, self.floor))


def _middles(start: float, end: float, step: float) -> np.ndarray:
    """The middles of even pieces of a length, each about a step."""
    count = max(1, round((end - start) / step))
    return start + (np.arange(count) + 0.5) * (end - start) / count


def places(shape: BaseGeometry) -> tuple[np.ndarray, np.ndarray]:
    """Places spread evenly over a shape: u and v, mm."""
    u0, v0, u1, v1 = shape.bounds
    u, v = np.meshgrid(_middles(u0, u1, CELL_MM), _middles(v0, v1, RISE_MM), indexing="ij")
    prepare(shape)
    inside = contains_xy(shape, u.ravel(), v.ravel())
    return u.ravel()[inside], v.ravel()[inside]


def litres(deep: np.ndarray, area_mm2: float) -> float:
    """What a region of an area holds that is so deep at places spread evenly over it."""
    return round(float(deep.mean()) * area_mm2 / 1e6, 1) if len(deep) else 0.0


@dataclass(frozen=True, eq=False)
class Hollow:
    """A region of a view, places spread evenly over it (u, v), and how deep the hollow is at each, mm."""

    shape: BaseGeometry
    u: np.ndarray
    v: np.ndarray
    deep: np.ndarray

    @cached_property
    def outline(self) -> list[list[list[float]]]:
        return [ring(part.exterior.coords, 1) for part in polygons_of(self.shape)]

    @property
    def length_mm(self) -> float:
        return round(float(self.shape.bounds[2] - self.shape.bounds[0]), 0)

    @property
    def volume_l(self) -> float:
        return litres(self.deep, self.shape.area)

    @cached_property
    def columns(self) -> Columns:
        wet = self.deep > TOUCH_MM
        at, column = np.unique(self.u[wet], return_inverse=True)
        if not len(at):
            return Columns(at, at, at, at)
        low, high = np.full(len(at), np.inf), np.full(len(at), -np.inf)
        np.minimum.at(low, column, self.v[wet])
        np.maximum.at(high, column, self.v[wet])
        wide = np.bincount(column, self.deep[wet]) / np.bincount(column)
        least, most = ends(self.outline, 0, at)
        low, high = low - RISE_MM / 2, high + RISE_MM / 2
        low = np.where(np.abs(least - low) < RISE_MM, least, low)
        high = np.where(np.abs(most - high) < RISE_MM, most, high)
        return Columns(at, low, high, wide)

    def holds(self, u: Any, v: Any) -> Any:
        """Whether places lie in it."""
        return contains_xy(self.shape, u, v)

    def pockets(self, ways_out: Iterable[tuple[float, float]]) -> list[Pocket]:
        """Where water stands once it has risen to its lowest way out.

        Args: ways_out: place along the view and height of each, mm; at least one.
        Source: least greatest height over all ways to an outlet, as in priority flooding, along one line.
        """
        lines = self.columns
        if len(lines.at) < 2:
            return []
        level = np.full(len(lines.at), np.inf)
        for u, height in ways_out:
            place = int(np.argmin(np.abs(lines.at - u)))
            onwards = np.maximum.accumulate(lines.floor[place:])
            back = np.maximum.accumulate(lines.floor[: place + 1][::-1])[::-1]
            level[place:] = np.minimum(level[place:], np.maximum(onwards, height))
            level[: place + 1] = np.minimum(level[: place + 1], np.maximum(back, height))
        deep = np.clip(np.minimum(level, lines.roof) - lines.floor, 0, None)
        wet = np.flatnonzero(np.diff(np.concatenate([[0], (deep > DRIES_MM).astype(int), [0]])))
        return [self._pocket(slice(start, end), deep) for start, end in zip(wet[::2], wet[1::2], strict=True)]

    def _pocket(self, run: slice, deep: np.ndarray) -> Pocket:
        lines = self.columns
        lower = list(zip(lines.at[run].tolist(), lines.floor[run].tolist(), strict=True))
        upper = list(zip(lines.at[run].tolist(), (lines.floor + deep)[run].tolist(), strict=True))
        return Pocket(
            from_mm=round(float(lines.at[run][0]), 0),
            to_mm=round(float(lines.at[run][-1]), 0),
            deep_mm=round(float(deep[run].max()), 0),
            holds_l=round(float((deep[run] * lines.wide[run]).sum()) * CELL_MM / 1e6, 1),
            outline=[[round(a, 1), round(b, 1)] for a, b in (*lower, *reversed(upper))],
        )
