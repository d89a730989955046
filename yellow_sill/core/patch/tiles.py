"""Full-size pattern sheets: dividing a pattern over pages that are glued together by their marks."""

import math
from dataclasses import dataclass

from ..said import Listed, Said

PAPERS_MM = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
MARGIN_MM = 10.0  #: what most printers leave white
OVERLAP_MM = 10.0  #: glued over the neighbour
FOOT_MM = 24.0  #: title strip at the foot of each sheet
CHECK_MM = 100.0  #: side of the square to measure before anything is cut
MOST_SHEETS = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class Tile:
    """One sheet: its row (from the top) and column (from the left), and the part of the pattern on it, mm."""

    row: int
    column: int
    x0: float
    y0: float
    x1: float
    y1: float

    @property
    def name(self) -> str:
        return f"{chr(65 + self.row)}{self.column + 1}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Tiling:
    """All sheets of a pattern. ``landscape`` sheets have the paper turned."""

    paper: str
    width_mm: float
    height_mm: float
    rows: int
    columns: int
    tiles: tuple[Tile, ...]


def tiling(bounds_mm: tuple[float, float, float, float], paper: str) -> Tiling:
    """Divide a pattern over sheets, the way of the paper that needs fewer.

    Args: bounds_mm: x0, y0, x1, y1 of the pattern; paper: a key of PAPERS_MM.
    Returns: the sheets, from the top left; neighbours share OVERLAP_MM.
    Raises: BadField for an unknown paper, or more than MOST_SHEETS sheets.
    """
    from ..errors import BadField

    if paper not in PAPERS_MM:
        raise BadField(
            Said("No paper '{paper}' is kept.", paper=paper),
            "paper",
            Said("Choose one of: {papers_mm}.", papers_mm=Listed(tuple(PAPERS_MM))),
        )
    x0, y0, x1, y1 = bounds_mm
    options = []
    for width, height in (PAPERS_MM[paper], PAPERS_MM[paper][::-1]):
        across, up = width - 2 * MARGIN_MM, height - 2 * MARGIN_MM - FOOT_MM
        columns = max(1, math.ceil((x1 - x0 - OVERLAP_MM) / (across - OVERLAP_MM)))
        rows = max(1, math.ceil((y1 - y0 - OVERLAP_MM) / (up - OVERLAP_MM)))
        options.append((rows * columns, width, height, across, up, columns, rows))
    count, width, height, across, up, columns, rows = min(options, key=lambda option: option[0])
    if count > MOST_SHEETS:
        raise BadField(
            Said("The pattern would take {count} sheets.", count=count),
            "paper",
            "Take the DXF or SVG to a plotter instead.",
        )
    tiles = []
    left = x0 - (across + (columns - 1) * (across - OVERLAP_MM) - (x1 - x0)) / 2
    top = y1 + (up + (rows - 1) * (up - OVERLAP_MM) - (y1 - y0)) / 2
    for row in range(rows):
        for column in range(columns):
            tx, ty = left + column * (across - OVERLAP_MM), top - row * (up - OVERLAP_MM)
            tiles.append(Tile(row=row, column=column, x0=tx, y0=ty - up, x1=tx + across, y1=ty))
    return Tiling(
        paper=paper, width_mm=width, height_mm=height, rows=rows, columns=columns, tiles=tuple(tiles)
    )
