"""Correcting a drawn shell by hand: what may be changed, and what the person must mend first."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from shapely.geometry import Polygon

from ..errors import BadField, BadOutline
from ..geometry import outline_polygon, ring
from ..said import Listed, Mm, Said
from .model import LAYERS

_CODE = re.compile(r"^[A-Z0-9][A-Z0-9-]{0,19}$")
LEAST_MM, MOST_MM = 0.4, 6.0
EDGE_MM = 2.0  #: metal that must stay between a hole and the panel's edge


@dataclass(frozen=True, slots=True, kw_only=True)
class CorrectedPanel:
    code: str
    name: str
    mirror_code: str
    layer: int
    thickness_mm: float
    outline: list[list[float]]


def corrected_panel(
    *,
    code: str,
    name: str,
    mirror_code: str,
    layer: int,
    thickness_mm: float,
    corners: Sequence[Sequence[float]],
    taken: Iterable[str],
) -> CorrectedPanel:
    """A panel as a person drew or changed it, checked.

    Args: corners: mm in the view's plane; taken: codes of the other panels of the view.
    Raises: BadField, BadOutline.
    """
    code, mirror_code = code.strip().upper(), mirror_code.strip().upper()
    if not _CODE.match(code):
        raise BadField(
            Said("'{code}' is no panel code.", code=code[:20]),
            "code",
            "Use letters, figures and dashes, such as L-BRACE.",
        )
    if code in set(taken):
        raise BadField(
            Said("There is a panel {code} in this view already.", code=code), "code", "Choose another code."
        )
    if mirror_code and not _CODE.match(mirror_code):
        raise BadField(
            Said("'{mirror_code}' is no panel code.", mirror_code=mirror_code[:20]),
            "mirror_code",
            "Leave it empty for a panel on the centre line.",
        )
    if mirror_code == code:
        raise BadField(
            "A panel is not its own mirror.",
            "mirror_code",
            "Give the code on the other side, or leave it empty.",
        )
    if not name.strip():
        raise BadField("The panel has no name.", "name", "Write what it is, such as 'Battery tray'.")
    if not 1 <= layer <= len(LAYERS):
        raise BadField(
            "There is no such layer.", "layer", Said("Choose one of: {layers}.", layers=Listed(tuple(LAYERS)))
        )
    if not LEAST_MM <= thickness_mm <= MOST_MM:
        raise BadField(
            Said("{thickness_mm} is no sheet of a shell.", thickness_mm=Mm(thickness_mm)),
            "thickness_mm",
            Said("Give {least_mm} to {most_mm}.", least_mm=Mm(LEAST_MM, bare=True), most_mm=Mm(MOST_MM)),
        )
    outline = ring(outline_polygon(corners, "corners").exterior.coords, 1)
    return CorrectedPanel(
        code=code,
        name=name.strip()[:80],
        mirror_code=mirror_code,
        layer=layer,
        thickness_mm=thickness_mm,
        outline=outline,
    )


#: A sheet farther than this from every other one of its view lies on nothing, mm.
ALONE_MM = 60.0


def lies_alone(corners: Sequence[Sequence[float]], others: Iterable[Sequence[Sequence[float]]]) -> bool:
    """Whether a sheet lies on no other and meets none. Args: corners: of the sheet; others: outlines of the view's other sheets, mm."""
    sheet = Polygon(corners)
    return not any(sheet.dwithin(Polygon(outline), ALONE_MM) for outline in others)


def new_hole(
    corners: Sequence[Sequence[float]],
    outline: Sequence[Sequence[float]],
    holes: Iterable[Sequence[Sequence[float]]],
) -> list[list[float]]:
    """A hole in a panel, checked: inside it, clear of its edge and of the other holes.

    Raises: BadOutline, with the place.
    """
    hole, panel = outline_polygon(corners, "hole"), Polygon(outline)
    if not panel.buffer(-EDGE_MM).covers(hole):
        far = hole.difference(panel.buffer(-EDGE_MM)).representative_point()
        raise BadOutline(
            "The hole reaches the panel's edge.",
            "corners",
            "Keep it inside, or move the panel's own corners.",
            (far.x, far.y),
        )
    for other in holes:
        if Polygon(other).intersects(hole):
            raise BadOutline(
                "The hole meets another hole.",
                "corners",
                "Delete that one first.",
                hole.representative_point().coords[0],
            )
    return ring(hole.exterior.coords, 1)
