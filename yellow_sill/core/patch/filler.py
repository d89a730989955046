"""A filler strip where a patch was trimmed too far: its own pattern, and the line to which the patch is cut back."""

from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import LineString, Polygon

from ..geometry import Xy, largest
from ..said import Mm, Said

#: A strip narrower than this melts away between two seams, mm (rule of thumb).
LEAST_STRIP_MM = 12.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Filler:
    """A filler strip.

    Attributes:
        outline: the strip's pattern in the opening, mm; cut_back: the line to which the patch is cut back; cut_back_mm: how far that is from the opening.
        width_mm: of the strip.
    """

    name: str
    outline: list[Xy]
    cut_back: list[Xy]
    cut_back_mm: float
    width_mm: float
    words: Said | str


def filler_of(opening: Polygon, path: Sequence[Xy], gap_mm: float, wanted_mm: float, name: str) -> Filler:
    """The strip for a stretch of the opening's edge that gapes.

    The patch is cut back to one even line, as far as it gapes and at least so far that the strip is not lost in the heat of its two seams; both seams keep
    the gap that is wanted.

    Args: opening: its outline; path: the stretch, mm; gap_mm: the widest gap there; wanted_mm: at each seam.
    """
    line = LineString(path)
    back = max(gap_mm, LEAST_STRIP_MM + 2 * wanted_mm)
    inner = line.buffer(back - wanted_mm, cap_style="flat")
    outer = line.buffer(wanted_mm, cap_style="flat") if wanted_mm > 0 else None
    band = inner.difference(outer) if outer is not None else inner
    strip = largest(band.intersection(opening))
    inside = [
        side
        for side in (line.parallel_offset(back, "left"), line.parallel_offset(back, "right"))
        if not side.is_empty
    ]
    cut = max(inside, key=lambda side: side.intersection(opening).length, default=line)
    width = round(back - 2 * wanted_mm, 1)
    words = Said(
        "Strip {name}: {width} wide, {length} long. Cut the patch back to {back} from the old edge there first.",
        name=name, width=Mm(width, 1), length=Mm(line.length, 0), back=Mm(back, 1),
    )  # fmt: skip
    return Filler(
        name=name,
        outline=[(round(u, 2), round(v, 2)) for u, v in strip.exterior.coords[:-1]],
        cut_back=[(round(u, 2), round(v, 2)) for u, v in cut.coords],
        cut_back_mm=round(back, 1),
        width_mm=width,
        words=words,
    )
