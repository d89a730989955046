"""What the pages of one repair share."""

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils.functional import SimpleLazyObject

from yellow_sill.web.frame.stages import tabs
from yellow_sill.web.repairs.models import Repair

from ..gate_services import shown_along
from ..models import Cut
from ..services import grown_cuts


def chosen_cut(request: HttpRequest, repair: Repair, *along: str) -> tuple[list[Cut], Cut]:
    """All cuts of a repair and the one that ``?cut=`` names, the first by default. Args: along: relations to read with them."""
    cuts = list(repair.cuts.without_drawings().select_related(*along).prefetch_related("findings"))
    wanted = request.GET.get("cut", "")
    cut = next((cut for cut in cuts if str(cut.number) == wanted), cuts[0] if cuts else None)
    for each in cuts:
        each.repair = repair
    return cuts, cut


def one_cut(repair: Repair, number: int, *along: str) -> Cut:
    """A cut by its number. Args: along: relations to read with it."""
    cuts = Cut.objects.without_drawings().select_related(*along)
    cut = get_object_or_404(cuts, repair=repair, number=number)
    cut.repair = repair
    return cut


def borne_by(repair: Repair, cuts: list[Cut]) -> list[tuple[str, list[str]]]:
    """What to mind of the sheets that a repair cuts, each caution once with the codes that carry it."""
    told: dict[str, list[str]] = {}
    panels = [cut.panel for cut in cuts] or [
        finding.panel for finding in repair.findings.select_related("panel")
    ]
    for panel in sorted(set(panels), key=lambda each: each.code):
        if panel.caution:
            told.setdefault(panel.caution, []).append(panel.code)
    return list(told.items())


def repair_context(repair: Repair, tab: str, cuts: list[Cut], cut: Cut | None) -> dict:
    # worked out only where a page shows them
    told = {
        "along": SimpleLazyObject(lambda: shown_along(repair)),
        "borne": SimpleLazyObject(lambda: borne_by(repair, cuts)),
        "grown_cuts": SimpleLazyObject(lambda: grown_cuts(repair, cuts or None)),
    }
    return {
        "current_stage": "repairs",
        "repair": repair,
        "tab": tab,
        "tabs": tabs(),
        "cuts": cuts,
        "cut": cut,
    } | told
