"""What another person's bundle says of the panels of their shell, for somebody who takes parts from it."""

from collections.abc import Sequence
from dataclasses import dataclass

from shapely import area, intersection, union_all

from ..errors import BadOutline
from ..geometry import outline_polygon
from ..survey.grading import Grade
from .bundle_parts import Bundle
from .bundle_survey import FindingPart

#: Grades from good to bad; a panel with one of the last three wants metal.
GRADES = ("", "O", "S", "P", "T", "F", "H")
BAD = ("T", "F", "H")
#: So much of a panel must have been looked at before it is called sound as far as somebody looked.
LEAST_LOOKED = 0.8


@dataclass(frozen=True, slots=True, kw_only=True)
class DonorPanel:
    """A panel of a donor: code, name, worst grade that was found ("": none was), the share of its area with findings and of what was looked at (0 to 1),
    thickness, repairs that cut it, and what that comes to: bad, worn, sound, not known."""

    code: str
    name: str
    grade: str
    found: float
    looked: float
    thickness_mm: float
    repairs: int
    verdict: str


def donor_panels(bundle: Bundle) -> list[DonorPanel]:
    """Every panel of a donor's shell, once, as its owner found it.

    Args: bundle: as it was read. Returns: bad: thin, holed or filled somewhere, or cut by a repair; worn: surface rust or pits; sound: nothing was
    found and four fifths of it were looked at; anything else nobody knows. A panel that several views show is told by the one where it is largest.
    """
    found: dict[str, list[FindingPart]] = {}
    for finding in bundle.findings:
        found.setdefault(finding.panel, []).append(finding)
    cut: dict[str, set[int]] = {}
    for repair in bundle.repairs:
        for each in repair.cuts:
            cut.setdefault(each.panel, set()).add(repair.number)
    told: dict[str, tuple[float, DonorPanel]] = {}
    for view in bundle.vehicle.views:
        for panel in view.panels:
            try:
                shape = outline_polygon(panel.outline, panel.code)
            except BadOutline:
                continue
            if panel.code in told and told[panel.code][0] >= shape.area:
                continue
            looked = [region.outline for region in view.looked if region.layer == panel.layer]
            mine = [each for each in found.get(panel.code, ()) if each.view == view.name]
            grade = _worst(found.get(panel.code, ()))
            seen = _share([*looked, *(each.outline for each in mine)], shape)
            repairs = len(cut.get(panel.code, ()))
            told[panel.code] = (
                shape.area,
                DonorPanel(
                    code=panel.code, name=panel.name, grade=grade, found=_share([each.outline for each in mine], shape), looked=seen,
                    thickness_mm=panel.thickness_mm, repairs=repairs, verdict=_verdict(grade, seen, repairs, bool(found.get(panel.code))),
                ),
            )  # fmt: skip
    return [panel for _, panel in told.values()]


def _worst(findings: Sequence[FindingPart]) -> str:
    return max((each.overruled_to or each.grade for each in findings), key=GRADES.index, default="")


def _verdict(grade: str, looked: float, repairs: int, any_found: bool) -> str:
    if grade in BAD or repairs:
        return "bad"
    if grade in ("S", "P"):
        return "worn"
    return "sound" if looked >= LEAST_LOOKED and (not any_found or grade == Grade.SOUND) else "not known"


def _share(outlines: Sequence, shape) -> float:
    shapes = []
    for outline in outlines:
        try:
            shapes.append(outline_polygon(outline, "outline"))
        except BadOutline:
            continue
    whole = area(intersection(union_all(shapes), shape)) / shape.area if shapes and shape.area else 0.0
    return round(min(1.0, float(whole)), 3)
