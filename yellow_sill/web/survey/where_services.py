"""What lies round a finding: its mirror image, the sheets before and behind it, its place in words."""

from collections.abc import Iterable

from yellow_sill.core.geometry import middle_of, size_of
from yellow_sill.core.shell import LAYERS
from yellow_sill.core.shell.planes import beside
from yellow_sill.core.survey.growth import FINAL_STAGES
from yellow_sill.core.survey.layers import Sheet, SheetHere, sheets_at
from yellow_sill.web.shells.models import Panel, ShellView
from yellow_sill.web.shells.whole_services import stack_of

from .models import Finding

#: So many sheets have room beside one another on the page.
MOST_SHEETS = 5


def mirror_state(finding: Finding) -> tuple[Panel | None, list[Finding]]:
    """The panel on the other side and what was found there."""
    if not finding.panel.mirror_code:
        return None, []
    panel = (
        Panel.objects.filter(view__vehicle=finding.vehicle_id, code=finding.panel.mirror_code)
        .select_related("view")
        .defer("outline", "holes", "view__features", "view__silhouette")
        .order_by("view__place")
        .first()
    )
    found = list(finding.vehicle.findings.filter(panel__code=finding.panel.mirror_code)) if panel else []
    return panel, found


def stack_at(finding: Finding, panels: Iterable[Panel], marks: Iterable) -> list[tuple[str, SheetHere]]:
    """The sheets that lie on each other where a finding is, each with its layer's name."""
    rust: dict[int, list] = {}
    for mark in marks:
        rust.setdefault(mark.panel_id, []).append(mark.outline)
    sheets = [
        Sheet(
            code=p.code,
            layer=p.layer,
            thickness_mm=p.thickness_mm,
            outline=p.outline,
            rust=rust.get(p.pk, ()),
        )
        for p in panels
    ]
    return [(LAYERS[sheet.layer - 1], sheet) for sheet in sheets_at(finding.outline, sheets)]


def stack_across(finding: Finding, view: ShellView) -> list[tuple[str, SheetHere]]:
    """The same in a view without layers: the sheets of all views that lie there, each with the view that shows it."""
    found = stack_of(finding.panel, middle_of(finding.bounds_mm), finding.vehicle)
    others = finding.vehicle.findings.filter(panel__code__in=[met.code for met in found]).select_related(
        "panel__view"
    )
    within = max(size_of(finding.bounds_mm))
    rusty = {
        each.panel.code
        for each in others.defer("panel__outline", "panel__view__features", "panel__view__silhouette")
        if beside(each.panel.view.plane, each.bounds_mm, view.plane, finding.bounds_mm, within)
    }
    titles = dict(finding.vehicle.views.values_list("name", "title"))
    stack = [
        (
            titles[met.view],
            SheetHere(
                code=met.code, layer=met.layer, thickness_mm=met.thickness_mm, rusty_here=met.code in rusty
            ),
        )
        for met in found
    ]
    return stack[:MOST_SHEETS]


def behind(
    finding: Finding, stage: str, stack: Iterable[tuple[str, SheetHere]]
) -> list[tuple[str, SheetHere]]:
    """The deeper sheets that opening a finding has laid bare and nobody has surveyed there yet."""
    if stage not in FINAL_STAGES:
        return []
    return [
        (layer, sheet) for layer, sheet in stack if sheet.layer > finding.panel.layer and not sheet.rusty_here
    ]


#: Where a finding lies along an axis: the words on its positive and on its negative side.
_AXIS_WORDS = {
    "x": ("Behind axle", "Before axle"),
    "y": ("Right of centre", "Left of centre"),
    "z": ("Above datum", "Below datum"),
}


def _place(axis: str, low: float, high: float) -> tuple[str, float, float]:
    """Word and distances of a stretch along an axis, nearest first; one that lies on both sides keeps its sign."""
    ahead, back = _AXIS_WORDS[axis]
    return (back, -high, -low) if high <= 0 and low < 0 else (ahead, low, high)


def where_words(finding: Finding, view) -> dict:
    """Size and place of a finding in the shell's own axes, which a mirrored view turns round."""
    u0, v0, u1, v1 = view.plane.bounds_in_shell(finding.bounds_mm)
    along, up = view.plane.axes
    u_word, u_near, u_far = _place(along, u0, u1)
    v_word, v_near, v_far = _place(up, v0, v1)
    return {
        "size": size_of(finding.bounds_mm),
        "where": (u_near, u_far, v_near, v_far),
        "u_word": u_word,
        "v_word": v_word,
    }
