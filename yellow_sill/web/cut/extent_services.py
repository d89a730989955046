"""What a repair takes in: a finding or a panel added while it is open, clearances changed, a cut taken out, all of it deleted while nothing is done."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import Max

from yellow_sill.core.cut.extent import cut_for, taken_of
from yellow_sill.core.errors import BadField
from yellow_sill.core.said import Said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import require_open
from yellow_sill.web.shells.models import Panel
from yellow_sill.web.survey.models import Finding

from .layer_services import as_cut_finding, stacks_of
from .models import Cut
from .services import checked_with, cuts_of, drafted, propose_cuts, proposed, redrawn


@dataclass(frozen=True, slots=True)
class Addable:
    """Something that can be added to a repair: its key in the form, and words."""

    key: str
    words: str


def addable(repair: Repair) -> list[Addable]:
    """Panels that the repair's cuts go through without a cut of their own, then findings of the vehicle that no open repair mends."""
    if repair.state != "opened":
        return []
    panels = [
        Addable(
            f"p{panel.pk}",
            Said("{code}: {panel}, where the cuts go through it", code=panel.code, panel=panel.name),
        )
        for panel, _ in _crossed_panels(repair)
    ]
    free = (
        Finding.objects.filter(vehicle=repair.vehicle)
        .exclude(repairs=repair)
        .select_related("panel")
        .order_by("number")
    )
    return panels + [
        Addable(f"f{finding.pk}", f"Finding {finding.number}, {finding.panel.code}: {finding.head}")
        for finding in free
    ]


def _crossed_panels(repair: Repair) -> list[tuple[Panel, list]]:
    cuts = list(repair.cuts.without_drawings())
    views = {cut.panel.view_id: cut.panel.view for cut in cuts}
    found = []
    for pk, view in views.items():
        here = [cut for cut in cuts if cut.panel.view_id == pk]
        for panel in view.panels.exclude(pk__in={cut.panel_id for cut in here}):
            over = [cut for cut in here if not view.layered or cut.panel.layer == panel.layer]
            parts = taken_of(panel.outline, [cut.outline for cut in over])
            if parts:
                found.append((panel, parts))
    return found


@one_change
def add_to_repair(repair: Repair, key: str, *, by: str) -> str:
    """Add a finding or a panel to an open repair; what is drawn already stays as it is.

    A finding in or near a cut of its panel joins that cut (which then says that it has grown); elsewhere it gets a cut of its own.
    Returns: what was done, in words. Raises: BadField: not open any more, no such thing; BadOutline.
    """
    require_open(repair)
    number = whole_number(key[1:])
    if key.startswith("f"):
        finding = (
            Finding.objects.filter(vehicle=repair.vehicle, pk=number)
            .exclude(repairs=repair)
            .select_related("panel__view")
            .first()
        )
        if finding is not None:
            return _add_finding(repair, finding, by)
    for panel, parts in _crossed_panels(repair) if key.startswith("p") else ():
        if panel.pk == number:
            _add_cuts(repair, panel, [(part, part) for part in parts], [], by)
            return f"{panel.code} has a cut of its own now."
    raise BadField("Nothing was chosen that can be added.", "add", "Choose a finding or a panel of the list.")


def _add_finding(repair: Repair, finding: Finding, by: str) -> str:
    everything = cuts_of(repair)
    cuts = [cut for cut in everything if cut.panel_id == finding.panel_id]
    place = cut_for(finding.outline, [cut.outline for cut in cuts], repair.margin_mm, repair.web_mm)
    if place is not None:
        nearest = cuts[place]
        nearest._prefetched_objects_cache["findings"] = [*nearest.findings.all(), finding]
        store = checked_with(repair, [], everything)
        nearest._prefetched_objects_cache.clear()
        repair.findings.add(finding)
        nearest.findings.add(finding)
        store()
        return f"Finding {finding.number} belongs to cut {nearest.number} now. Look whether the line still holds it."
    finding.panel.view.vehicle = repair.vehicle
    told = proposed(repair, [(finding.panel, [as_cut_finding(finding)])])
    lines = [(cut.corners, cut.outline) for cut in told.sheets[0].cuts]
    made = _add_cuts(repair, finding.panel, lines, [finding], by)
    return (
        f"Finding {finding.number} has cut {made[0].number} of its own."
        if made
        else f"Finding {finding.number} is added."
    )


def _add_cuts(
    repair: Repair, panel: Panel, lines: Sequence[tuple[list, list]], findings: list[Finding], by: str
) -> list[Cut]:
    """Add cuts of a panel, each with its corners and outline, and the findings to them and to the repair."""
    last = repair.cuts.aggregate(last=Max("number"))["last"] or 0
    cuts = [
        drafted(repair, number, panel, corners, outline, findings, by=by)
        for number, (corners, outline) in enumerate(lines, start=last + 1)
    ]
    store = checked_with(repair, cuts)
    repair.findings.add(*findings)
    store()
    return cuts


@one_change
def propose_anew(repair: Repair, *, by: str) -> None:
    """Propose the cuts of an open repair that has none. Raises: BadField: not open any more, or there are cuts, which a stale page does not know of."""
    require_open(repair)
    if repair.cuts.exists():
        raise BadField(
            f"{repair.code} has cuts already, with what was made for them.",
            "cut",
            "Take them out one by one under 'What this repair takes in'.",
        )
    propose_cuts(repair, by=by)


@one_change
def change_clearances(repair: Repair, *, version: int | None, by: str, **clearances: float) -> None:
    """Give an open repair another margin, corner radius or web. Lines that are drawn stay; each is checked anew and has a new proposal to go back to.

    Args: version: the repair's, as the person had it open; clearances: margin_mm, corner_radius_mm, web_mm.
    Raises: BadField: not open any more; ChangedMeanwhile; BadOutline where a line cannot take the radius.
    """
    require_open(repair)
    for name, value in clearances.items():
        setattr(repair, name, value)
    cuts = cuts_of(repair)
    fresh = _proposed_anew(repair, cuts)
    store = checked_with(repair, [], cuts)
    follow = [store for cut in cuts for store in redrawn(cut)]
    repair.save_as(version, by, **clearances)
    for cut, corners in fresh:
        cut.proposed_corners = corners
        cut.save(update_fields=["proposed_corners"])
    store()
    for store in follow:
        store()


def _proposed_anew(repair: Repair, cuts: Sequence[Cut]) -> list[tuple[Cut, list]]:
    """Cuts for whose findings the rules propose a line now, with its corners."""
    found = []
    for stack in stacks_of(repair):
        told = proposed(repair, [(panel, stack.cut_findings(panel)) for panel in stack.panels])
        for panel, sheet in zip(stack.panels, told.sheets, strict=True):
            for cut in cuts:
                held = {finding.number for finding in cut.findings.all()}
                corners = next((new.corners for new in sheet.cuts if set(new.findings) == held), None)
                if cut.panel_id == panel.pk and held and corners:
                    found.append((cut, corners))
    return found


@one_change
def take_cut_out(cut: Cut) -> str:
    """Take one cut out of an open repair, with its pattern, weld plan and marks; findings that no other cut holds leave the repair, not the survey.

    Raises: BadField: not open any more, or the repair's last cut.
    """
    repair = cut.repair
    require_open(repair)
    if repair.cuts.count() < 2:
        raise BadField("It is the repair's only cut.", "cut", "Delete the repair instead, below.")
    held = list(cut.findings.all())
    number = cut.number
    store = checked_with(repair, [], [each for each in cuts_of(repair) if each.pk != cut.pk])
    cut.delete()
    for finding in held:
        if not repair.cuts.filter(findings=finding).exists():
            repair.findings.remove(finding)
    store()
    return f"Cut {number} is out of {repair.code}."
