"""What a piece of stock must be, and what an offcut is worth."""

from collections.abc import Mapping, Sequence
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from shapely import affinity
from shapely.geometry import Polygon

from ..errors import BadField
from ..geometry import Xy, bounds_of, outline_polygon

#: A sheet longer or wider than this does not come into a garage, mm; a piece narrower than the least holds no pattern.
MOST_MM, LEAST_MM = 6000.0, 20.0


def require_stock(values: Mapping[str, Any]) -> None:
    """That a piece has one size: length and width, or an outline. Args: values: ``length_mm``, ``width_mm``, ``outline``. Raises: BadField, BadOutline."""
    length, width, outline = values.get("length_mm"), values.get("width_mm"), values.get("outline")
    if outline and (length or width):
        raise BadField(
            "It has a length and width, and an outline.",
            "outline",
            "A sheet has the first, an offcut the second.",
        )
    if outline:
        outline_polygon(outline, "outline")
        u0, v0, u1, v1 = bounds_of(outline)
        length, width = u1 - u0, v1 - v0
    if not length or not width:
        raise BadField(
            "It has no size.",
            "width_mm" if length else "length_mm",
            "Give length and width, or the outline of an offcut.",
        )
    for name, size in (("length_mm", length), ("width_mm", width)):
        if not LEAST_MM <= size <= MOST_MM:
            raise BadField(
                "No sheet has that size.",
                "outline" if outline else name,
                "Between 20 mm and 6 m; check the figure.",
            )


def offcut_outline(
    rest: Sequence[Xy], piece: Sequence[Xy], price: Decimal | None
) -> tuple[list[list[float]], Decimal | None]:
    """An offcut as it goes into stock: its outline from its lower left corner, and its share of the piece's price by area.

    Args: rest, piece: outlines, mm; price: of the whole piece.
    """
    u0, v0, _, _ = bounds_of(rest)
    shape, whole = Polygon(rest), Polygon(piece)
    moved = affinity.translate(shape, -u0, -v0)
    outline = [[round(u, 2), round(v, 2)] for u, v in moved.exterior.coords[:-1]]
    share = None
    if price is not None:
        share = (price * Decimal(str(round(shape.area / whole.area, 6)))).quantize(
            Decimal("0.01"), ROUND_HALF_UP
        )
    return outline, share


#: A pattern is larger than what it closes by so much (flanges, laps), and of a sheet so much becomes patterns; rules of thumb.
FLANGES, YIELD = 1.25, 0.65


def steel_lacking(
    cuts: Sequence[tuple[float, float]], stock: Sequence[tuple[float, float]]
) -> list[tuple[float, float]]:
    """Sheet metal that must be bought: (thickness mm, area m²), thin ones first.

    Args: cuts: thickness, mm, and area, mm², of each piece to be made; stock: the same of each sheet that lies there.
    Source: area with flanges over the usual yield, beside the stock of the same thickness; docs/methods.md section 4.

    >>> steel_lacking([(1.0, 200_000)], [(1.0, 100_000), (2.0, 900_000)])
    [(1.0, 0.28)]
    """
    asked: dict[float, float] = {}
    for thickness, area in cuts:
        asked[round(thickness, 2)] = asked.get(round(thickness, 2), 0.0) + area * FLANGES / YIELD
    for thickness, area in stock:
        if round(thickness, 2) in asked:
            asked[round(thickness, 2)] -= area
    return [
        (thickness, round(area / 1e6, 2)) for thickness, area in sorted(asked.items()) if area / 1e6 >= 0.005
    ]
