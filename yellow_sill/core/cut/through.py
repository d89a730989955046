"""Cuts through sheets that lie behind one another, each with its own outline: every outer one opens the way to those behind."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field
from shapely.geometry import Polygon

from ..errors import BadField
from ..geometry import outline_polygon
from ..records import Record
from ..remarks import Remark
from ..said import Said
from .around import STEP_MM, Around, NamedOutline
from .asked import CORNER_RADIUS_MM, MARGIN_MM, WEB_MM, CutFinding, CutPanel, CutRequest, Millimetres
from .lines import Cut, cut_lines

MOST_SHEETS = 6
_SETTINGS = ("margin_mm", "corner_radius_mm", "web_mm", "step_mm", "style", "worth_turning_pct")


class LayerSheet(Record):
    """One sheet: its name, its outline in the plane of the view, its rust (none where it is only opened for what lies behind), what its cuts meet."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    panel: CutPanel
    findings: Annotated[list[CutFinding], Field(max_length=200)] = []
    around: Around = Around()


class ThroughRequest(Record):
    """Sheets from the outermost inwards, all in one plane, and the clearances that ``cutlines`` takes."""

    sheets: Annotated[list[LayerSheet], Field(min_length=1, max_length=MOST_SHEETS)]
    margin_mm: Millimetres = MARGIN_MM
    corner_radius_mm: Millimetres = CORNER_RADIUS_MM
    web_mm: Millimetres = WEB_MM
    step_mm: Millimetres = STEP_MM
    style: Literal["rectangle", "hull"] = "rectangle"
    worth_turning_pct: Annotated[float, Field(ge=0, le=50)] = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SheetCuts:
    """The cuts of one sheet, with remarks."""

    name: str
    cuts: list[Cut]
    warnings: list[Remark]


@dataclass(frozen=True, slots=True, kw_only=True)
class Through:
    """Sheets in the order they were given."""

    sheets: list[SheetCuts]


def cuts_through(request: ThroughRequest, memos: dict[str, dict] | None = None) -> Through:
    """Propose the cuts of sheets behind one another, the innermost first: what it needs decides the windows of the outer ones.

    Args: request: see ThroughRequest; memos: what ``cut_lines`` remembers, by sheet, for who asks again with another web.
    Returns: the cuts of each sheet; an outer sheet's window holds every cut of the sheet behind it, ``step_mm`` bigger all round as far as the
        outer sheet reaches.
    Raises: BadOutline, BadField: no rust at all, two sheets of one name, an outline that cannot be used.
    """
    names = [sheet.name for sheet in request.sheets]
    for i, name in enumerate(names):
        if name in names[:i]:
            raise BadField(
                Said("Two sheets bear the name {name}.", name=name), f"sheets[{i}].name", "Give each its own."
            )
    if not any(sheet.findings for sheet in request.sheets):
        raise BadField("No sheet has any rust.", "sheets", "Give the rust that is to be cut out.")
    settings = {name: getattr(request, name) for name in _SETTINGS}
    memos = {} if memos is None else memos
    told: list[SheetCuts] = []
    windows: list[NamedOutline] = []
    for sheet in reversed(request.sheets):
        panel = outline_polygon(sheet.panel.outline, f"sheets {sheet.name}: panel.outline")
        over = [window for window in windows if Polygon(window.outline).intersection(panel).area > 0]
        cuts, warnings = [], []
        if sheet.findings or over:
            plan = cut_lines(
                CutRequest(
                    panel=sheet.panel, findings=sheet.findings, around=sheet.around, windows=over, **settings
                ),
                memos.setdefault(sheet.name, {}),
            )
            cuts, warnings = plan.cuts, plan.warnings
        told.insert(0, SheetCuts(name=sheet.name, cuts=cuts, warnings=warnings))
        windows = [window for window in windows if window not in over] + windows_of(
            sheet.name, [cut.outline for cut in cuts]
        )
    return Through(sheets=told)


def windows_of(name: str, outlines: Sequence[Sequence[Sequence[float]]]) -> list[NamedOutline]:
    """Cuts of a sheet as the sheet before it sees them."""
    return [
        NamedOutline(name=name, outline=[(float(u), float(v)) for u, v in outline]) for outline in outlines
    ]
