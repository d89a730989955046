"""What a cut is asked with: the panel, the rust on it, and the person's margins, radii and webs."""

from typing import Annotated, Literal

from pydantic import Field

from ..records import Corners, Record
from .around import STEP_MM, Around, NamedOutline

MARGIN_MM = 12.0  #: bright full-thickness metal beyond the rust; rule of thumb, docs/methods.md section 3


CORNER_RADIUS_MM = 10.0  #: a rounded corner fits and welds better and does not start a crack


WEB_MM = 40.0  #: a strip narrower than this between two patches is joined to them


#: What the screens ask: a rectangle is turned out of level only to save more than this share of metal; square to the sill fits better.
WORTH_TURNING_PCT = 2.0


#: Most findings of one call.
MOST_FINDINGS, MOST_WINDOWS = 500, 100


Millimetres = Annotated[float, Field(ge=0, le=500)]


Thickness = Annotated[float, Field(gt=0, le=20)]


class CutPanel(Record):
    """The panel to be cut: outline in the view's plane, mm."""

    outline: Corners
    thickness_mm: Thickness


class CutFinding(Record):
    """One finding: where the rust is, on which layer."""

    id: Annotated[int | str, Field(union_mode="left_to_right")]
    layer: Annotated[int | str, Field(union_mode="left_to_right")]
    outline: Corners


class CutRequest(Record):
    """Input of ``cutlines``.

    ``around``: what the cuts meet; ``layer_order``: layers from the outermost inwards: the window of an outer one holds the cuts of the next,
    ``step_mm`` bigger all round; ``windows``: cuts of another sheet behind these, by its name, that the (innermost) layer is opened for likewise.
    """

    panel: CutPanel
    findings: Annotated[list[CutFinding], Field(max_length=MOST_FINDINGS)]
    margin_mm: Millimetres = MARGIN_MM
    corner_radius_mm: Millimetres = CORNER_RADIUS_MM
    web_mm: Millimetres = WEB_MM
    style: Literal["rectangle", "hull"] = "rectangle"
    around: Around = Around()
    layer_order: Annotated[list[int | str], Field(max_length=8)] = []
    step_mm: Millimetres = STEP_MM
    windows: Annotated[list[NamedOutline], Field(max_length=MOST_WINDOWS)] = []
    worth_turning_pct: Annotated[float, Field(ge=0, le=50)] = 0.0
