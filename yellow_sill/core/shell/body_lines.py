"""The skins of a shell as thin lines in space: side panels leaning in as the front view shows, the underside at its floor."""

from collections.abc import Callable, Sequence

import numpy as np
from shapely import LineString, polygons

from ..outlines import Outline
from .reach import ends

#: Body lines are simplified to this; the height of the underside's lines; half a body without a front view, mm.
SIMPLE_MM, FLOOR_MM, HALF_MM = 8.0, 240, 780.0
#: The silhouette is read at so many heights; below this share of its height the sill's width holds, less what it tucks in.
HEIGHTS, LOW_SHARE, SILL_AT, TUCK = 60, 0.35, 0.25, 0.94

Line = list[list[float]]


def half_width(front: Sequence[Sequence[Outline]] | None) -> Callable[[float], float]:
    """How wide half the body is at a height, mm, from the silhouette of its front: parts, each a ring and its holes."""
    if front is None:
        return lambda _: HALF_MM
    outline = max((part[0] for part in front), key=lambda part: float(polygons(part).area))
    low, high = (float(end) for end in (np.min(outline, axis=0)[1], np.max(outline, axis=0)[1]))
    heights = np.linspace(low + 1, high - 1, HEIGHTS)
    first, last = ends([outline], 1, heights)
    widths = np.nan_to_num(np.maximum(np.abs(first), np.abs(last)))
    sill = float(np.interp(low + SILL_AT * (high - low), heights, widths))
    told = [
        max(width, TUCK * sill) if z < low + LOW_SHARE * (high - low) else width
        for z, width in zip(heights, widths, strict=True)
    ]
    return lambda z: float(np.interp(z, heights, told))


def side_line(outline: Outline, left: bool, half_at: Callable[[float], float]) -> Line:
    """A side's panel in space."""
    sign, along = (-1, 1) if left else (1, -1)
    return [[round(along * u), round(sign * half_at(v)), round(v)] for u, v in _simple(outline)]


def floor_line(outline: Outline) -> Line:
    """A panel of the underside in space."""
    return [[round(u), round(-v), FLOOR_MM] for u, v in _simple(outline)]


def _simple(outline: Outline) -> list[tuple[float, float]]:
    return list(LineString([*outline, outline[0]]).simplify(SIMPLE_MM).coords)
