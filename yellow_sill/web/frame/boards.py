"""What pages hand to their boards: typed records, which the board's script knows by the same names.

``{{ record|spoken_json:"id" }}`` writes one into its page, messages said in the person's units and terms.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from yellow_sill.core.geometry import middle_of

Point = Sequence[float]
Bounds = Sequence[float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Tag:
    """A number beside the metal, a link: n, grade letter if any, bounds of what it stands for on the drawing, mm."""

    n: int | str
    letter: str
    bounds: Bounds
    at: Point
    selected: bool
    href: str
    name: str

    @classmethod
    def of(
        cls,
        n: int | str,
        bounds: Bounds,
        *,
        name: str,
        href: str = "",
        letter: str = "",
        selected: bool = False,
    ) -> "Tag":
        return cls(
            n=n, letter=letter, bounds=bounds, at=middle_of(bounds), selected=selected, href=href, name=name
        )
