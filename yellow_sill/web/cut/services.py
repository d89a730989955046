"""Cut lines: proposed, checked, moved and drawn anew."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, replace
from datetime import date

from django.dispatch import Signal

from yellow_sill.core.cut.asked import WORTH_TURNING_PCT, CutFinding, CutPanel
from yellow_sill.core.cut.check import CheckedCut, check_cut
from yellow_sill.core.cut.replan import Replanned, ReplanRequest, replanned
from yellow_sill.core.cut.stretches import lengths_of
from yellow_sill.core.cut.through import LayerSheet, Through, ThroughRequest, cuts_through
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.outlines import area_of
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.rule_services import rules_of, told_rules
from yellow_sill.web.shells.models import Panel
from yellow_sill.web.survey.models import Finding

from .around_services import around_of
from .layer_services import as_cut_finding, beside, closed_in_front, cuts_behind, holes_in, stacks_of
from .models import Cut, CutGrowth
from .stretch_services import stretches_of

#: Sent when a cut's line changes: a later stage works out what follows from it and answers with what stores that, or with None.
#: What it raises refuses the line.
cut_redrawn = Signal()


def drafted(
    repair: Repair,
    number: int,
    panel: Panel,
    corners: list,
    outline: list,
    findings: Sequence[Finding],
    *,
    by: str,
) -> Cut:
    """A cut that is not stored yet. It has a key of its own for the time being, so that it can be checked with the others."""
    cut = Cut(
        pk=-number, repair=repair, number=number, panel=panel, proposed_corners=corners, corners=corners, outline=outline, weld_length_mm=0.0,
        area_mm2=area_of(outline), changed_by=by,
    )  # fmt: skip
    cut._prefetched_objects_cache = {"findings": list(findings), "transfer_marks": []}
    return cut


def proposed_cuts(repair: Repair, findings: Sequence[Finding] | None = None, *, by: str) -> list[Cut]:
    """The cuts that a repair's rules propose, panel by panel, checked and not stored. Raises: BadOutline.

    Args: findings: what a repair that is not stored yet will mend.
    """
    cuts: list[Cut] = []
    for stack in stacks_of(repair, findings):
        told = proposed(repair, [(panel, stack.cut_findings(panel)) for panel in stack.panels])
        for panel, sheet in zip(stack.panels, told.sheets, strict=True):
            for each in sheet.cuts:
                held = [
                    finding for finding in stack.findings.get(panel.pk, []) if finding.number in each.findings
                ]
                cuts.append(drafted(repair, len(cuts) + 1, panel, each.corners, each.outline, held, by=by))
    _checks(repair, cuts, None)
    return cuts


def store_cuts(repair: Repair, drafts: Sequence[Cut]) -> None:
    """Store cuts that were drafted and checked, with their findings. Call inside a change."""
    for cut in drafts:
        held = cut._prefetched_objects_cache.pop("findings")
        cut._prefetched_objects_cache.clear()
        cut.pk, cut.repair, cut._state.adding = None, repair, True
        cut.save()
        cut.findings.set(held)


@one_change
def propose_cuts(repair: Repair, *, by: str) -> None:
    """Throw the repair's cuts away and propose them afresh. Patches and weld plans go with them."""
    cuts = proposed_cuts(repair, by=by)
    repair.cuts.all().delete()
    store_cuts(repair, cuts)


def checked_with(
    repair: Repair, drafts: Sequence[Cut], kept: Sequence[Cut] | None = None
) -> Callable[[], None]:
    """Check a repair's cuts together with some that are not stored yet, and answer with what stores all that is new.

    Args: kept: those of its cuts that stay, where others go. Raises: BadOutline.
    """
    stay = cuts_of(repair) if kept is None else list(kept)
    told = [each for each in _checks(repair, [*stay, *drafts], None) if each[0].pk > 0]

    def store() -> None:
        store_cuts(repair, drafts)
        _store_checks(told)

    return store


def proposed(repair: Repair, sheets: Sequence[tuple[Panel, list[CutFinding]]]) -> Through:
    """The cuts that a repair's rules propose in sheets behind one another, the outermost first, each with its findings. Raises: BadOutline."""
    return cuts_through(
        ThroughRequest(
            sheets=[
                LayerSheet(
                    name=panel.code, panel=CutPanel(outline=panel.outline, thickness_mm=panel.thickness_mm), findings=findings, around=around_of(panel)
                )
                for panel, findings in sheets
            ],
            margin_mm=repair.margin_mm, corner_radius_mm=repair.corner_radius_mm, web_mm=repair.web_mm, step_mm=rules_of(repair.vehicle).step_mm,
            worth_turning_pct=WORTH_TURNING_PCT, style=repair.style,
        )
    )  # fmt: skip


def store_checked(repair: Repair, view_id: int | None = None) -> None:
    """Keep with each cut of a repair, or those in one view, what the check says of it now: one that moves is another's window or neighbour."""
    _store_checks(_checks(repair, cuts_of(repair), view_id))


def _checks(repair: Repair, cuts: Sequence[Cut], view_id: int | None) -> list[tuple[Cut, dict]]:
    """What the check says now of cuts, worked out one after the other: those of which it says something new, with it."""
    told = []
    for cut in cuts:
        if view_id and cut.panel.view_id != view_id:
            continue
        cut.repair = repair
        found = _checked_values(check(cut, cut.corners, cuts))
        if any(getattr(cut, name) != value for name, value in found.items()):
            told.append((cut, found))
        for name, value in found.items():
            setattr(cut, name, value)
    return told


def _checked_values(checked: CheckedCut) -> dict:
    """What a cut keeps of its check."""
    return {
        "outline": checked.outline,
        "remarks": [
            asdict(remark) | {"at": list(remark.at) if remark.at else None} for remark in checked.remarks
        ],
        "weld_length_mm": checked.weld_length_mm,
        "area_mm2": checked.area_mm2,
    }


@one_change
def _store_checks(told: Sequence[tuple[Cut, dict]]) -> None:
    for cut, found in told:
        cut.save(update_fields=list(found))


def check(cut: Cut, corners: Sequence[Sequence[float]], cuts: Sequence[Cut] | None = None) -> CheckedCut:
    """Check corners for a cut against its rust, what is round it, the repair's other cuts of that panel and those behind.

    Args: cuts: the repair's cuts, where they are at hand. Raises: BadOutline.
    """
    repair = cut.repair
    if cuts is None:
        cuts = cuts_of(repair)
    cut.panel.view.vehicle = repair.vehicle
    checked = check_cut(
        corners,
        cut.panel.outline,
        [as_cut_finding(finding) for finding in cut.findings.all()],
        [other.outline for other in cuts if other.pk != cut.pk and other.panel_id == cut.panel_id],
        margin_mm=repair.margin_mm,
        radius_mm=repair.corner_radius_mm,
        web_mm=repair.web_mm,
        around=around_of(cut.panel, list(cut.transfer_marks.all())),
        behind=cuts_behind(cut, cuts),
        step_mm=rules_of(repair.vehicle).step_mm,
        in_front=closed_in_front(cut, cuts),
        beside=beside(cut, cuts),
        holes=holes_in(cut.panel),
        sheet=cut.panel.code,
    )
    found = stretches_of(cut, checked.outline)
    welded = lengths_of(found)["joint"] if any(each.by_hand for each in found) else checked.weld_length_mm
    return replace(checked, stretches=found, weld_length_mm=welded)


@one_change
def move_cut(cut: Cut, corners: Sequence[Sequence[float]], *, version: int | None, by: str) -> CheckedCut:
    """Store a moved cut line, and what follows from it for the others and their welds.

    Raises: ChangedMeanwhile, BadOutline.
    """
    repair, view_id = cut.repair, cut.panel.view_id
    cuts = cuts_of(repair)
    checked = check(cut, corners, cuts)
    values = {"corners": [[float(x), float(y)] for x, y in corners]} | _checked_values(checked)
    stores = []
    for each in cuts:
        each.repair = repair
        if each.pk == cut.pk:
            for name, value in values.items():
                setattr(each, name, value)
            stores = redrawn(each)
    others = _checks(repair, cuts, view_id)
    cut.save_as(version, by, **values)
    for store in stores:
        store()
    _store_checks(others)
    return checked


def follow_stretches(cut: Cut) -> None:
    """Work out anew what follows from what a cut's stretches are: its check, its welds. Raises: CoreError."""
    store_checked(cut.repair, cut.panel.view_id)
    for store in redrawn(Cut.objects.get(pk=cut.pk)):
        store()


def redrawn(cut: Cut) -> list[Callable[[], None]]:
    """What later stages work out anew from a cut's line, each as something that stores it. Raises what refuses the line."""
    return [store for _, store in cut_redrawn.send(sender=Cut, cut=cut) if store is not None]


def cuts_of(repair: Repair) -> list[Cut]:
    """The cuts with their panels and views, without the views' drawings."""
    return list(repair.cuts.without_drawings().prefetch_related("findings"))


#: A line may be drawn anew while the metal is open, not once the piece is made to it.
REPLANNED = ("opened", "cut")


def replan_of(cut: Cut, cuts: Sequence[Cut] | None = None) -> Replanned | None:
    """The cut beside what its findings are known to be now; None where nothing can be drawn anew any more.

    Args: cuts: the repair's cuts, where they are at hand.
    """
    repair = cut.repair
    if repair.state not in REPLANNED:
        return None
    findings = list(cut.findings.all())
    if cuts is None:
        cuts = cuts_of(repair)
    behind = cuts_behind(cut, cuts)
    if not findings and not behind:
        return None
    rules = told_rules(repair.vehicle)
    windows = [[(u, v) for u, v in outline] for outline in behind]
    return replanned(
        ReplanRequest(
            panel=CutPanel(outline=cut.panel.outline, thickness_mm=cut.panel.thickness_mm), planned=cut.outline,
            findings=[as_cut_finding(finding) for finding in findings], behind=windows, step_mm=rules_of(repair.vehicle).step_mm,
            cut_already=repair.state == "cut", margin_mm=repair.margin_mm, corner_radius_mm=repair.corner_radius_mm, style=repair.style,
            worth_turning_pct=WORTH_TURNING_PCT, rates=rules["rates"], prices=rules["prices"],
        )
    )  # fmt: skip


def grown_cuts(repair: Repair, cuts: Sequence[Cut] | None) -> dict[int, Replanned]:
    """The cuts that no longer hold what is known now, by number, with the new line. Args: cuts: the repair's, where they are at hand."""
    if repair.state not in REPLANNED:
        return {}
    if cuts is None:
        cuts = cuts_of(repair)
    told = {}
    for cut in cuts:
        cut.repair = repair
        try:
            if (new := replan_of(cut, cuts)) and new.outgrown:
                told[cut.number] = new
        except CoreError:  # the board of that cut says what is wrong with it
            continue
    return told


@one_change
def take_new_line(cut: Cut, *, version: int | None, by: str, today: date) -> CutGrowth:
    """Draw an outgrown cut anew, and keep what that adds. Raises: ChangedMeanwhile; BadField where it is not outgrown; BadOutline."""
    told = replan_of(cut)
    if told is None or not told.outgrown:
        raise BadField(
            "This line still holds all rust with its margin.", "cut", "Nothing is to be drawn anew."
        )
    planned = cut.outline
    move_cut(cut, told.corners, version=version, by=by)
    return CutGrowth.objects.create(
        repair=cut.repair, panel=cut.panel, cut_number=cut.number, planned=planned, outline=cut.outline, added_weld_mm=told.added_weld_mm,
        added_area_mm2=told.added_area_mm2, added_min=told.added_min, added_money=told.added_money, words=told.words, made_on=today, by=by,
    )  # fmt: skip
