"""What a cut takes with it: studs, slots and ribs, fixed to marks that stay, and given back as marking-out dimensions."""

from collections.abc import Sequence
from dataclasses import dataclass

from shapely.geometry import Point

from ..datum.transfer import Transferred, TransferRequest, transfer
from ..errors import BadField
from ..geometry import bounds_of, outline_polygon
from ..said import Said

#: What can be lost, and the words for it.
LOST_KINDS = {
    "stud": "Stud",
    "nut": "Captive nut",
    "hole": "Hole",
    "slot": "Slot",
    "rib": "Rib or swage",
    "edge": "Bracket edge",
}
#: A mark must stand this far off the cut, so that the disc and the heat leave it alone, mm.
MARK_CLEAR_MM = 5.0


@dataclass(frozen=True, slots=True, kw_only=True)
class OnPattern:
    """Where a lost thing lies on a flat pattern, from the pattern's lower left corner, mm."""

    right_mm: float
    up_mm: float


def lost_in_cut(request: TransferRequest, outline: Sequence[Sequence[float]]) -> Transferred:
    """Fix a thing that a cut takes to two marks that stay.

    Args: request: marks, distances or offset, in the panel's plane, mm; outline: the cut.
    Raises: BadField: what ``transfer`` refuses; a mark that would be cut away; a thing that the cut leaves alone.
    """
    told = transfer(request)
    cut = outline_polygon(outline, "outline")
    for place, mark in zip(("first", "second"), request.marks, strict=True):
        if cut.buffer(MARK_CLEAR_MM).contains(Point(mark.xy)):
            raise BadField(
                Said("{id} lies on metal that goes.", id=mark.id),
                place,
                "Choose a mark outside the cut: a corner, a hole, a punch mark on what stays.",
            )
    if not cut.buffer(1e-6).contains(Point(told.at)):
        raise BadField(
            "By these dimensions it lies outside the cut: it is not lost.",
            "distances",
            "Measure again, or choose the other side of the marks.",
        )
    return told


def on_pattern(
    at: Sequence[float], flat_outline: Sequence[Sequence[float]], mirror_hand: bool = False
) -> OnPattern:
    """Marking-out dimensions on the flat pattern; the mirror hand is the same pattern turned over.

    >>> on_pattern([30, 40], [[10, 20], [110, 20], [110, 80], [10, 80]]), on_pattern([30, 40], [[10, 20], [110, 20], [110, 80], [10, 80]], True)
    (OnPattern(right_mm=20, up_mm=20), OnPattern(right_mm=80, up_mm=20))
    """
    u0, v0, u1, _ = bounds_of(flat_outline)
    return OnPattern(right_mm=u1 - at[0] if mirror_hand else at[0] - u0, up_mm=at[1] - v0)
