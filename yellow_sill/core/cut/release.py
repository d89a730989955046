"""How a row of spot welds comes apart: drilled, drilled through or ground, and how deep."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..said import Mm, Said, drawn_name
from .rows import Sheet, SpotRow

#: A nugget is about 5 √t wide (t of the thinner sheet, mm); the cutter is wider by this much, in the sizes that are sold.
NUGGET, CUTTER_MORE_MM, CUTTERS_MM = 5.0, 2.0, (6.5, 8.0, 10.0)


#: Steps before the cutter.
PILOTS_MM = (3.0, 5.0)


#: Minutes for one nugget by method; rules of thumb, docs/methods.md section 3.
MINUTES = {"drill": 1.5, "drill through": 1.2, "grind": 2.0}


CHISEL_MIN = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Release:
    """How a row comes apart: method, side, tool diameters in order, how deep (mm), minutes, and in words."""

    method: str
    side: str
    diameters_mm: list[float]
    depth_mm: float
    chisel: bool
    minutes: float
    stays: list[str]
    words: str


def nugget_mm(sheets: Sequence[Sheet]) -> float:
    """Width of a spot weld between sheets, 5 √t of the thinner of the two outermost, mm."""
    return round(NUGGET * float(np.sqrt(min(sheet.thickness_mm for sheet in sheets[:2]))), 1)


def release_of(row: SpotRow, count: int) -> Release:
    """How nuggets of a row come apart.

    Drill where the sheet beneath stays, grind the top where no drill reaches, drill through where nothing or only the top stays.
    """
    nugget = nugget_mm(row.sheets)
    cutter = next((size for size in CUTTERS_MM if size >= nugget + CUTTER_MORE_MM), CUTTERS_MM[-1])
    stays = [sheet.name for sheet in row.sheets if sheet.stays]
    first, last = (
        next(i for i, sheet in enumerate(order) if sheet.stays) if stays else None
        for order in (row.sheets, row.sheets[::-1])
    )
    here = sum(sheet.thickness_mm for sheet in row.sheets[:first]) if first else 0.0
    behind = sum(sheet.thickness_mm for sheet in row.sheets[::-1][:last]) if last else 0.0
    total = sum(sheet.thickness_mm for sheet in row.sheets)
    way = _way(row, stays, here, behind, total, nugget, [*PILOTS_MM, cutter])
    chisel = way.method != "drill through"
    words = way.words
    if chisel:
        words += " Chisel only then, from the side that is scrap."
    minutes = count * (MINUTES[way.method] + (CHISEL_MIN if chisel else 0.0))
    return Release(
        method=way.method,
        side=way.side,
        diameters_mm=list(way.sizes),
        depth_mm=round(way.depth_mm, 2),
        chisel=chisel,
        minutes=round(minutes, 1),
        stays=stays,
        words=words,
    )


class _Way(NamedTuple):
    """One way to let go: which tool, from where, how deep, with what sizes (mm), and in words."""

    method: str
    side: str
    depth_mm: float
    sizes: Sequence[float]
    words: Said


def _way(
    row: SpotRow,
    stays: Sequence[str],
    here: float,
    behind: float,
    total: float,
    nugget: float,
    sizes: Sequence[float],
) -> _Way:
    """The way for a row. Args: here, behind: metal before the sheet that stays, from either side; total: of all sheets; nugget: mm."""
    if not stays:
        words = Said(
            "Nothing stays: drill through {total} with a {nugget} drill.",
            total=Mm(total),
            nugget=Mm(nugget),
        )
        return _Way("drill through", "either side", total, [PILOTS_MM[0], nugget], words)
    if here and row.drill_here:
        words = Said(
            "Drill {here} deep from this side, {sizes} mm, until the top lets go; {stays} stays whole.",
            here=Mm(here),
            sizes=_sizes(sizes),
            stays=drawn_name(stays[0]),
        )
        return _Way("drill", "this side", here, sizes, words)
    if behind and row.drill_behind:
        words = Said(
            "Drill {behind} deep from behind, {sizes} mm; {stays} stays whole.",
            behind=Mm(behind),
            sizes=_sizes(sizes),
            stays=drawn_name(stays[-1]),
        )
        return _Way("drill", "behind", behind, sizes, words)
    if here:
        words = Said(
            "No drill reaches: grind the nugget's top down {here}; stop when a ring shows round it.",
            here=Mm(here),
        )
        return _Way("grind", "this side", here, [], words)
    words = Said(
        "What goes lies behind: drill through {total}, {nugget} wide; each hole in {stays} is plug-welded when the new sheet is in.",
        total=Mm(total),
        nugget=Mm(nugget),
        stays=drawn_name(stays[0]),
    )
    return _Way("drill through", "this side", total, [PILOTS_MM[0], nugget], words)


def _sizes(sizes: Sequence[float]) -> str:
    return ", ".join(f"{size:g}" for size in sizes)
