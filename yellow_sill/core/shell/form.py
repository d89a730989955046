"""The form of a body in space, read off its drawings: how wide it is at a place of its side, how high at a place of its plan."""

from collections.abc import Sequence
from functools import cached_property
from typing import Any, Protocol

import numpy as np

from .body_lines import half_width
from .planes import Plane
from .reach import STATIONS, Reach

#: Half a body without a plan, mm.
HALF_MM = 780.0
#: Lids and bonnets are bowed across like this, mm (rule of thumb); a roof's bow is its front view's own.
BOW_RADIUS_MM = 9000.0


class DrawnView(Protocol):
    """A view as a shell file, a drawn shell or a stored vehicle has it."""

    @property
    def name(self) -> str: ...
    @property
    def title(self) -> str: ...
    @property
    def u_axis(self) -> str: ...
    @property
    def v_axis(self) -> str: ...
    @property
    def layered(self) -> bool: ...
    @property
    def silhouette(self) -> Any: ...
    @property
    def panels(self) -> Any: ...
    @property
    def features(self) -> Any: ...


def drawn_line(feature: Any) -> tuple[str, Sequence, int]:
    """Kind, points and layer of a line of a view, as a record or as stored."""
    if isinstance(feature, dict):
        return feature["kind"], feature["points"], feature["layer"]
    return feature.kind, feature.points, feature.layer


def plane_of(view: DrawnView) -> Plane:
    return Plane(view.u_axis, view.v_axis)


class Form:
    """A body's skin: read off the silhouettes of its views from the left, from above or below, and from the front."""

    def __init__(self, views: Sequence[DrawnView]) -> None:
        self.views = {view.name: view for view in views}

    def _rings(self, *names: str) -> list[list[list[float]]]:
        """The outer rings of a view's silhouette, in shell axes; of the first view that there is."""
        view = next((self.views[name] for name in names if name in self.views), None)
        return [plane_of(view).in_shell(part[0]) for part in view.silhouette] if view is not None else []

    @cached_property
    def side(self) -> Reach | None:
        """z over x."""
        rings = self._rings("left", "right")
        return Reach(rings) if rings else None

    @cached_property
    def _plan(self) -> tuple[np.ndarray, np.ndarray] | None:
        """Half the width over x."""
        found = [Reach(rings) for name in ("top", "underside") if (rings := self._rings(name))]
        if not found:
            return None
        at = np.linspace(min(each.start for each in found), max(each.end for each in found), STATIONS)
        halves = [
            np.where(
                (at >= each.start) & (at <= each.end),
                np.maximum(np.abs(each.least(at)), np.abs(each.most(at))),
                0.0,
            )
            for each in found
        ]
        return at, np.max(halves, axis=0)

    @cached_property
    def _heights(self) -> tuple[np.ndarray, np.ndarray]:
        """Half the width over z, at the widest place along the body."""
        front = self.views.get("front")
        rings = self._rings("front")
        told = half_width(front.silhouette if front is not None else None)
        ends = (
            (min(p[1] for ring in rings for p in ring), max(p[1] for ring in rings for p in ring))
            if rings
            else (200.0, 1400.0)
        )
        at = np.linspace(*ends, STATIONS)
        return at, np.array([told(float(z)) for z in at])

    @cached_property
    def widest_mm(self) -> float:
        """Half the width at the widest."""
        return float(self._plan[1].max()) if self._plan is not None else HALF_MM

    def plan_half(self, x: Any) -> Any:
        """Half the body's width at x, whatever the height, mm."""
        if self._plan is None:
            return np.full_like(np.asarray(x, float), HALF_MM)
        return np.interp(x, *self._plan)

    def half(self, x: Any, z: Any) -> Any:
        """How far from the centre line the skin lies at a place of the side, mm. Args: x, z: mm, arrays of one shape."""
        share = np.interp(z, *self._heights) / max(1.0, float(self._heights[1].max()))
        return self.plan_half(x) * share

    def top(self, x: Any, y: Any) -> Any:
        """How high the skin lies at a place seen from above, mm. Args: x, y: mm, arrays of one shape."""
        x, y = np.asarray(x, float), np.abs(np.asarray(y, float))
        low, high = self._heights[0][0], self._heights[0][-1]
        crest = self.side.most(x) if self.side is not None else np.full_like(x, high)
        wide = np.maximum.accumulate(self._heights[1][::-1])  # from the roof downwards, ever wider
        share = y * self.widest_mm / np.maximum(1.0, self.plan_half(x))
        scaled = wide * self.widest_mm / max(1.0, float(wide.max()))
        around = np.interp(share, scaled, self._heights[0][::-1], left=high, right=low)
        return np.minimum(crest - y**2 / (2 * BOW_RADIUS_MM), around)
