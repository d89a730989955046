"""Laying things down for both sides at once; shapes are given for the vehicle's right, y positive."""

from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .sheet import DrawingSheet

SIGN = {"L": -1, "R": 1}


class Pair:
    """Both hands of what is drawn. ``axis`` says which coordinate is y: 0 in end views, 1 in plans."""

    def __init__(self, sheet: DrawingSheet, axis: int) -> None:
        self.sheet, self.axis = sheet, axis

    def _turned(self, sign: int) -> tuple[int, int]:
        return (sign, 1) if self.axis == 0 else (1, sign)

    def panel(self, code: str, name: str, layer: str, shape, thickness_mm: float, tone: int = 1) -> None:
        shape = shape if isinstance(shape, BaseGeometry) else Polygon(shape)
        for side, sign in SIGN.items():
            self.sheet.handed(
                side,
                code,
                name,
                layer,
                affinity.scale(shape, *self._turned(sign), origin=(0, 0)),
                thickness_mm,
                tone,
            )

    def line(self, kind: str, points, layer: str = "", closed: bool = False) -> None:
        for sign in SIGN.values():
            fu, fv = self._turned(sign)
            self.sheet.line(kind, [(fu * u, fv * v) for u, v in points], layer, closed)

    def hole(self, points, layer: str = "inner") -> None:
        self.line("hole", points, layer, True)

    def weld_row(self, points, pitch: float, layer: str) -> None:
        for sign in SIGN.values():
            fu, fv = self._turned(sign)
            self.sheet.weld_row([(fu * u, fv * v) for u, v in points], pitch, layer)


def mirrored(points) -> list:
    """A half outline (y, z[, radius]) from low to high, and back down the other side."""
    return [*points, *[(-p[0], *p[1:]) for p in reversed(points)]]
