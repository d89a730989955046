"""Coverage: what has been looked at. What nobody has looked at is not sound, it is unknown."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field
from shapely import difference, intersection, union_all
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from ..geometry import outline_polygon, polygons_of, ring, sound
from ..records import Corners, Record

#: Slivers of the unknown narrower than this are left out: no probe is finer.
SLIVER_MM = 2.0
#: Overlays are worked out on this grid, which keeps hundreds of overlapping outlines from failing.
GRID_MM = 0.01
MOST_REGIONS = 2000


class CoverPanel(Record):
    """One sheet and the outlines looked at on it (regions may reach beyond it)."""

    code: Annotated[str, Field(min_length=1, max_length=40)]
    layer: Annotated[int, Field(ge=1, le=4)] = 1
    outline: Corners
    holes: list[Corners] = []
    looked: Annotated[list[Corners], Field(max_length=MOST_REGIONS)] = []


class CoverageRequest(Record):
    """Input of ``coverage``."""

    panels: Annotated[list[CoverPanel], Field(min_length=1, max_length=1000)]


@dataclass(frozen=True, slots=True, kw_only=True)
class PanelCover:
    """One panel: its area, how much was looked at, and the polygons still unknown (each an outer ring and its holes)."""

    code: str
    layer: int
    area_mm2: float
    looked_mm2: float
    share: float
    unknown: list[list[list[list[float]]]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Coverage:
    share: float
    layers: dict[str, float]
    panels: list[PanelCover]


def coverage(request: CoverageRequest) -> Coverage:
    """How much of each panel, each layer and the whole was looked at, by area.

    Raises: BadOutline, naming the outline that cannot be used.
    """
    panels = []
    for i, panel in enumerate(request.panels):
        looked = [outline_polygon(each, f"panels[{i}].looked[{k}]") for k, each in enumerate(panel.looked)]
        outline_polygon(panel.outline, f"panels[{i}].outline")
        panels.append(panel_cover(panel.code, panel.layer, panel.outline, panel.holes, looked))
    layers = {
        str(layer): share_of(p for p in panels if p.layer == layer)
        for layer in sorted({p.layer for p in panels})
    }
    return Coverage(share=share_of(panels), layers=layers, panels=panels)


def panel_cover(
    code: str, layer: int, outline: Sequence, holes: Sequence, looked: Sequence[BaseGeometry | Sequence]
) -> PanelCover:
    """The cover of one panel. Args: looked: polygons, or their corners, in the same view, clipped here to the panel."""
    sheet = sound(Polygon(outline, holes))
    seen = (
        _areas(
            intersection(
                sheet,
                union_all(
                    [sound(shape if isinstance(shape, BaseGeometry) else Polygon(shape)) for shape in looked],
                    grid_size=GRID_MM,
                ),
                grid_size=GRID_MM,
            )
        )
        if looked
        else Polygon()
    )
    kept: BaseGeometry = sheet
    if not seen.is_empty:
        unknown = _areas(difference(sheet, seen, grid_size=GRID_MM))
        kept = unknown.buffer(-SLIVER_MM / 2, quad_segs=2).buffer(
            SLIVER_MM / 2, quad_segs=2
        )  # an opening stays inside
    return PanelCover(
        code=code,
        layer=layer,
        area_mm2=round(sheet.area, 1),
        looked_mm2=round(seen.area, 1),
        share=round(seen.area / sheet.area, 4),
        unknown=[[ring(r.coords, 1) for r in (part.exterior, *part.interiors)] for part in polygons_of(kept)],
    )


def _areas(shape: BaseGeometry) -> MultiPolygon:
    """Only the polygons of a shape; outlines that touch leave lines behind."""
    return MultiPolygon(polygons_of(shape))


def best_views(covers: Iterable[tuple[str, Any]]) -> list[Any]:
    """One cover a sheet: a sheet drawn in several views counts by the view in which most of it was looked at.

    Args: covers: panel code and cover (anything with looked_mm2 and area_mm2).
    """
    best: dict[str, Any] = {}
    for code, cover in covers:
        held = best.get(code)
        if held is None or cover.looked_mm2 / cover.area_mm2 > held.looked_mm2 / held.area_mm2:
            best[code] = cover
    return list(best.values())


def share_of(panels) -> float:
    """Share looked at of some panels together, 0 to 1."""
    total = looked = 0.0
    for panel in panels:
        total, looked = total + panel.area_mm2, looked + panel.looked_mm2
    return round(looked / total, 4) if total else 0.0


def region_outline(corners: Sequence[Sequence[float]], where: str = "region") -> list[list[float]]:
    """A region as drawn: two opposite corners of a rectangle, or an outline.

    Raises: BadOutline.

    >>> region_outline([[10, 20], [40, 60]])
    [[10.0, 20.0], [40.0, 20.0], [40.0, 60.0], [10.0, 60.0]]
    """
    if len(corners) == 2:
        (a, b), (c, d) = corners
        corners = [
            [min(a, c), min(b, d)],
            [max(a, c), min(b, d)],
            [max(a, c), max(b, d)],
            [min(a, c), max(b, d)],
        ]
    return ring(outline_polygon(corners, where).exterior.coords)
