"""The draughtsman's sheet: panels and lines are laid on it in reference millimetres, then it becomes a View."""

from collections.abc import Sequence

import numpy as np
from shapely import GEOSException, set_precision, total_bounds, transform
from shapely.geometry import LineString, MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from ..geometry import largest, ring, sound
from .curves import walk
from .model import LAYERS, Feature, Panel, View
from .stations import Stretch

_OTHER = {"L": "R", "R": "L"}
_SIDE_WORD = {"L": "left", "R": "right"}

#: Panel outlines are stored to a tenth of a millimetre.
PANEL_GRID_MM = 0.1


def _on_grid(shape: BaseGeometry) -> BaseGeometry:
    """The panel with its corners on the grid, still valid. Where the exact way fails the corners are rounded and mended."""
    try:
        return largest(set_precision(sound(shape), PANEL_GRID_MM))
    except GEOSException:
        part = largest(sound(shape))
        rounded = Polygon(ring(part.exterior.coords, 1), [ring(hole.coords, 1) for hole in part.interiors])
        return largest(sound(rounded))


#: Sheets of a drawing that lie this near to each other are one in its outline, mm.
_TOUCH_MM = 1.5


def joined(shapes: Sequence[BaseGeometry]) -> BaseGeometry:
    """Sheets taken together as one outline, over the slits between neighbours."""
    grown = unary_union([shape.buffer(_TOUCH_MM, join_style="mitre") for shape in shapes])
    return grown.buffer(-_TOUCH_MM, join_style="mitre")


class DrawingSheet:
    """Collects one view. All coordinates are those of the reference body; ``view`` stretches them to a vehicle."""

    def __init__(self) -> None:
        self.panels: list[tuple[dict, BaseGeometry]] = []
        self.features: list[tuple[str, int, bool, list]] = []
        self.silhouette: BaseGeometry | None = None

    def panel(
        self,
        code: str,
        name: str,
        layer: str,
        shape,
        thickness_mm: float,
        tone: int = 1,
        mirror_code: str = "",
    ) -> None:
        """Lay one sheet down; of a shape in several parts the largest counts."""
        shape = shape if isinstance(shape, BaseGeometry) else Polygon(shape)
        record = {
            "code": code,
            "name": name,
            "mirror_code": mirror_code,
            "layer": LAYERS.index(layer) + 1,
            "thickness_mm": thickness_mm,
            "tone": tone,
        }
        self.panels.append((record, largest(shape.buffer(0))))

    def handed(
        self, side: str, code: str, name: str, layer: str, shape, thickness_mm: float, tone: int = 1
    ) -> None:
        """Lay down a panel that exists on both sides, for the side ``L`` or ``R``."""
        self.panel(
            f"{side}-{code}",
            f"{name}, {_SIDE_WORD[side]}",
            layer,
            shape,
            thickness_mm,
            tone,
            f"{_OTHER[side]}-{code}",
        )

    def other_hand(self) -> "DrawingSheet":
        """The same drawing for the other side, of a body whose two sides are alike: only codes and names change hands."""
        other = DrawingSheet()
        other.features, other.silhouette = list(self.features), self.silhouette
        for record, shape in self.panels:
            side, _, code = record["code"].partition("-")
            if code and side in _OTHER:
                name = record["name"].removesuffix(f", {_SIDE_WORD[side]}")
                record = {
                    **record,
                    "code": f"{_OTHER[side]}-{code}",
                    "name": f"{name}, {_SIDE_WORD[_OTHER[side]]}",
                    "mirror_code": f"{side}-{code}",
                }
            other.panels.append((record, shape))
        return other

    def joined(self) -> BaseGeometry:
        """Everything that is laid down, as one outline."""
        return joined([shape for _, shape in self.panels])

    def line(self, kind: str, points: Sequence, layer: str = "", closed: bool = False) -> None:
        self.features.append((kind, LAYERS.index(layer) + 1 if layer else 0, closed, list(points)))

    def clipped(self, kind: str, points: Sequence, region: BaseGeometry, layer: str = "") -> None:
        """A line as far as it lies inside a region."""
        inside = LineString(points).intersection(region)
        for part in getattr(inside, "geoms", [inside]):
            if part.geom_type == "LineString" and part.length > 8:
                self.line(kind, part.coords, layer)

    def weld_row(self, points: Sequence, pitch: float, layer: str, inset: float = 14) -> None:
        self.line("weld", walk(points, pitch, inset), layer)

    def view(
        self,
        name: str,
        title: str,
        axes: tuple[str, str],
        stretch: Stretch,
        flip: tuple[int, int],
        layered: bool,
    ) -> View:
        """The finished view of one vehicle.

        Args:
            stretch: from the reference body to this vehicle, in the sheet's own u and v.
            flip: 1 or -1 for u and v, applied last: the right side is the left one mirrored.
        """

        def place(points) -> list:
            at = np.asarray(points, float)
            moved = np.column_stack([flip[0] * stretch.u(at[:, 0]), flip[1] * stretch.v(at[:, 1])])
            return np.round(moved, 1).tolist()

        def placed(shape: BaseGeometry) -> BaseGeometry:
            return transform(
                shape,
                lambda at: np.column_stack([flip[0] * stretch.u(at[:, 0]), flip[1] * stretch.v(at[:, 1])]),
            )

        shapes = [(record, _on_grid(placed(shape))) for record, shape in self.panels]
        panels = [
            Panel(
                **record,
                outline=ring(shape.exterior.coords, 1),
                holes=[ring(hole.coords, 1) for hole in shape.interiors],
            )
            for record, shape in shapes
        ]
        features = [Feature(kind=k, layer=n, closed=c, points=place(p)) for k, n, c, p in self.features]
        outer = placed(self.silhouette)
        outer = outer if isinstance(outer, MultiPolygon) else MultiPolygon([outer])
        return View(
            name=name,
            title=title,
            u_axis=axes[0],
            v_axis=axes[1],
            layered=layered,
            bounds=np.round(total_bounds([shape for _, shape in shapes]), 1).tolist(),
            silhouette=[
                [ring(r.coords, 1) for r in (part.exterior, *part.interiors)] for part in outer.geoms
            ],
            panels=panels,
            features=features,
        )
