"""What the drawing tells of a cavity for its closing: pockets where water stands, and the openings along it."""

from typing import Any

from ..shell.cavity_records import Cavity
from .closing import OUTSIDE


def pockets_of(cavity: Cavity) -> list[dict[str, Any]]:
    """The pockets of a cavity as ``closing_check`` takes them: those in which the drawing shows standing water, and the way out where there is one.

    Returns: nothing where no opening of the cavity is known: nobody can tell then.
    """
    if cavity.drained is None:
        return []
    found: list[dict[str, Any]] = [
        {
            "name": f"{min(pocket.from_mm, pocket.to_mm):.0f} to {max(pocket.from_mm, pocket.to_mm):.0f} mm",
            "to": [],
            "litres": round(pocket.holds_l, 2),
        }
        for pocket in cavity.pockets
    ]
    unique = list({each["name"]: each for each in found}.values())
    if cavity.drained:
        unique.append({"name": "the rest", "to": [OUTSIDE], "litres": 0.0})
    return unique


def openings_along(cavity: Cavity) -> list[dict[str, Any]]:
    """The openings of a cavity as ``cavity_wax`` takes them: how far from its beginning, and how wide."""
    ends = [u for part in cavity.outline for u, _ in part]
    start = min(ends, default=0.0)
    return [
        {
            "name": f"{opening.face} {number}",
            "at_mm": round(min(max(0.0, opening.at[0] - start), cavity.length_mm), 1),
            "across_mm": round(max(1.0, (opening.area_mm2 / 3.1416) ** 0.5 * 2), 1),
        }
        for number, opening in enumerate(cavity.openings, start=1)
    ][:60]
