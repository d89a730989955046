"""Sheets of a repair that lie behind one another: the outer ones are opened for the cuts of those behind."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from yellow_sill.core.cut.asked import CutFinding
from yellow_sill.core.cut.crossed import Lying
from yellow_sill.core.cut.stacks import RustySheet, holes_on, next_behind, stacked
from yellow_sill.core.outlines import touching
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Panel
from yellow_sill.web.survey.models import Finding

from .models import Cut


@dataclass(frozen=True, slots=True, kw_only=True)
class Stack:
    """A panel and the sheets behind it, outermost first, with the findings of each that a repair mends (by the panel's key)."""

    panels: tuple[Panel, ...]
    findings: dict[int, list[Finding]]

    @property
    def front(self) -> Panel:
        return self.panels[0]

    @property
    def behind(self) -> tuple[Panel, ...]:
        return self.panels[1:]

    def cut_findings(self, panel: Panel) -> list[CutFinding]:
        return [as_cut_finding(finding) for finding in self.findings.get(panel.pk, [])]


def as_cut_finding(finding: Finding) -> CutFinding:
    return CutFinding(id=finding.number, layer=finding.panel.layer, outline=finding.outline)


def stacks_of(repair: Repair, findings: Sequence[Finding] | None = None) -> list[Stack]:
    """The panels of a repair, those whose rust lies behind another's taken together.

    Args: findings: what a repair that is not stored yet will mend.

    Which lie behind one another, ``stacked`` of the core says. Layers between them are opened too.
    """
    by_panel: dict[int, list[Finding]] = {}
    panels: dict[int, Panel] = {}
    keys = None if findings is None else [finding.pk for finding in findings]
    mended = repair.findings.all() if keys is None else Finding.objects.filter(pk__in=keys)
    drawn = mended.select_related("panel__view")
    for finding in drawn.defer("panel__view__features", "panel__view__silhouette").order_by("number"):
        panels[finding.panel_id] = finding.panel
        finding.panel.view.vehicle = repair.vehicle
        by_panel.setdefault(finding.panel_id, []).append(finding)
    left = sorted(panels.values(), key=lambda panel: (panel.layer, by_panel[panel.pk][0].number))
    sheets = [
        RustySheet(
            view=panel.view_id,
            layer=panel.layer if panel.view.layered else None,
            rust=[finding.outline for finding in by_panel[panel.pk]],
        )
        for panel in left
    ]
    return [
        Stack(panels=_with_those_between([left[i] for i in together], by_panel), findings=by_panel)
        for together in stacked(sheets, repair.margin_mm, repair.web_mm)
    ]


def _with_those_between(panels: Sequence[Panel], by_panel: dict[int, list[Finding]]) -> tuple[Panel, ...]:
    """Sheets without rust of this repair that lie between: over the rust of one behind, under the outermost."""
    if len(panels) < 2:
        return tuple(panels)
    deep = panels[-1]
    taken = {panel.layer for panel in panels}
    between = list(
        deep.view.panels.filter(layer__gt=panels[0].layer, layer__lt=deep.layer).exclude(layer__in=taken)
    )
    rust = [finding.outline for finding in by_panel[deep.pk]]
    found = [between[i] for i in touching(rust, [panel.outline for panel in between])]
    for panel in found:
        panel.view = deep.view
    return tuple(sorted([*panels, *found], key=lambda panel: panel.layer))


def cuts_behind(cut: Cut, cuts: Sequence[Cut]) -> list[list[list[float]]]:
    """Outlines of the repair's cuts in the next sheets behind a cut that lie over against it."""
    deeper = [
        other
        for other in cuts
        if other.panel.view_id == cut.panel.view_id
        and other.panel.view.layered
        and other.panel.layer > cut.panel.layer
    ]
    over = next_behind(cut.outline, [(other.panel.layer, other.outline) for other in deeper])
    return [deeper[i].outline for i in over]


def closed_in_front(cut: Cut, cuts: Sequence[Cut]) -> list[tuple[str, list, list, bool]]:
    """Panels of the view before a cut's that the repair cuts nothing out of there: name, outline, holes, whether another view of the sheet is cut."""
    panel = cut.panel
    if not panel.view.layered or panel.layer == 1:
        return []
    before = panel.view.panels.filter(layer__lt=panel.layer).exclude(
        pk__in={other.panel_id for other in cuts}
    )
    elsewhere = {other.panel.code for other in cuts}
    return [
        (name, outline, holes, code in elsewhere)
        for code, name, outline, holes in before.values_list("code", "name", "outline", "holes")
    ]


def beside(cut: Cut, cuts: Sequence[Cut]) -> list[Lying]:
    """Other panels of a cut's view and layer, without their holes and what the repair cuts out of them."""
    panel = cut.panel
    same = {"layer": panel.layer} if panel.view.layered else {}
    others = (
        panel.view.panels.filter(**same).exclude(pk=panel.pk).values_list("pk", "name", "outline", "holes")
    )
    taken: dict[int, list] = {}
    for each in cuts:
        taken.setdefault(each.panel_id, []).append(each.outline)
    return [
        Lying(name=name, outline=outline, without=[*holes, *taken.get(pk, [])], cut_too=pk in taken)
        for pk, name, outline, holes in others
    ]


def holes_in(panel: Panel) -> list[list[list[float]]]:
    """Outlines of the holes and slots of a panel: its own, and those that the drawing shows on it."""
    return [*panel.holes, *_drawn_holes(panel.pk, panel.view.drawing)]


@lru_cache(maxsize=256)
def _drawn_holes(panel_id: int, _drawing: tuple) -> Sequence[Sequence[Sequence[float]]]:
    panel = Panel.objects.select_related("view").get(pk=panel_id)
    layered = panel.view.layered
    holes = [feature for feature in panel.view.features if feature["kind"] == "hole" and feature["closed"]]
    drawn = [feature["points"] for feature in holes if not layered or feature["layer"] in (0, panel.layer)]
    return holes_on(panel.outline, drawn)
