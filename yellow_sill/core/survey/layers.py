"""The sheets that lie on each other at one spot."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from shapely.geometry import Polygon

#: A sheet belongs to the spot when it lies behind this share of it; less is a neighbour's edge.
LEAST_SHARE = 0.3


@dataclass(frozen=True, slots=True, kw_only=True)
class Sheet:
    """One sheet of a view; outlines in mm. ``rust`` are the outlines of what was found on it."""

    code: str
    layer: int
    thickness_mm: float
    outline: Sequence[Sequence[float]]
    rust: Sequence[Sequence[Sequence[float]]] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetHere:
    code: str
    layer: int
    thickness_mm: float
    rusty_here: bool


def sheets_at(spot: Sequence[Sequence[float]], sheets: Iterable[Sheet]) -> list[SheetHere]:
    """The sheets behind a spot from the outside in, one a layer: the one that covers most of it.

    Windows and lightening holes do not count as openings: the sheet round them belongs to the spot.
    """
    place = Polygon(spot)
    best: dict[int, tuple[float, SheetHere]] = {}
    for sheet in sheets:
        share = place.intersection(Polygon(sheet.outline)).area / place.area
        if share >= LEAST_SHARE and share > best.get(sheet.layer, (0.0,))[0]:
            rusty = any(Polygon(rust).intersects(place) for rust in sheet.rust)
            best[sheet.layer] = (
                share,
                SheetHere(
                    code=sheet.code, layer=sheet.layer, thickness_mm=sheet.thickness_mm, rusty_here=rusty
                ),
            )
    return [best[layer][1] for layer in sorted(best)]
