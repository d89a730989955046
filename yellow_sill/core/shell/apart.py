"""A side taken apart: its layers drawn one beneath another, pulled out along y, so that what lies behind is seen."""

from collections.abc import Sequence
from dataclasses import dataclass

from .model import LAYERS

#: Each layer is drawn so much of the body's height under the one before it.
DOWN = 1.12


@dataclass(frozen=True, slots=True, kw_only=True)
class Pulled:
    """A layer of a side: its number and name, by how much it is moved on the drawing, and where its name stands, mm."""

    layer: int
    name: str
    by: tuple[float, float]
    named_at: tuple[float, float]


def pulled_apart(bounds: Sequence[float]) -> tuple[list[Pulled], list[float]]:
    """Where the layers of a side are drawn.

    Args: bounds: of the view, mm.
    Returns: the layers from the outermost, and the bounds of all of them together.
    """
    u0, v0, u1, v1 = bounds
    down = DOWN * (v1 - v0)
    layers = [
        Pulled(
            layer=i + 1,
            name=name,
            by=(0.0, round(-i * down, 1)),
            named_at=(u0, round(v1 - i * down, 1)),
        )
        for i, name in enumerate(LAYERS)
    ]
    return layers, [u0, v0 - (len(LAYERS) - 1) * down, u1, v1]
