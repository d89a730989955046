"""How a row of spot welds comes apart: drilled, drilled through or ground, and how deep."""

from collections.abc import Sequence
from dataclasses import dataclass

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
    sizes = [*PILOTS_MM, cutter]
    if not stays:
        method, side, depth, words = (
            "drill through",
            "either side",
            total,
            Said(
                "Nothing stays: drill through {total} with a {nugget} drill.",
                total=Mm(total),
                nugget=Mm(nugget),
            ),
        )
        sizes = [PILOTS_MM[0], nugget]
    elif here and row.drill_here:
        method, side, depth = "drill", "this side", here
        words = Said(
            "Drill {here} deep from this side, {sizes} mm, until the top lets go; {stays} stays whole.",
            here=Mm(here),
            sizes=_sizes(sizes),
            stays=drawn_name(stays[0]),
        )
    elif behind and row.drill_behind:
        method, side, depth = "drill", "behind", behind
        words = Said(
            "Drill {behind} deep from behind, {sizes} mm; {stays} stays whole.",
            behind=Mm(behind),
            sizes=_sizes(sizes),
            stays=drawn_name(stays[-1]),
        )
    elif here:
        method, side, depth, sizes = "grind", "this side", here, []
        words = Said(
            "No drill reaches: grind the nugget's top down {here}; stop when a ring shows round it.",
            here=Mm(here),
        )
    else:
        method, side, depth, sizes = "drill through", "this side", total, [PILOTS_MM[0], nugget]
        words = Said(
            "What goes lies behind: drill through {total}, {nugget} wide; each hole in {stays} is plug-welded when the new sheet is in.",
            total=Mm(total),
            nugget=Mm(nugget),
            stays=drawn_name(stays[0]),
        )
    chisel = method != "drill through"
    if chisel:
        words += " Chisel only then, from the side that is scrap."
    minutes = count * (MINUTES[method] + (CHISEL_MIN if chisel else 0.0))
    return Release(
        method=method,
        side=side,
        diameters_mm=sizes,
        depth_mm=round(depth, 2),
        chisel=chisel,
        minutes=round(minutes, 1),
        stays=stays,
        words=words,
    )


def _sizes(sizes: Sequence[float]) -> str:
    return ", ".join(f"{size:g}" for size in sizes)
