"""What is known of a panel: its far side, what must be saved from it, what the new part lacks, what is missing."""

from datetime import date

from yellow_sill.core.errors import BadField
from yellow_sill.core.geometry import bounds_of, middle_of
from yellow_sill.core.repairs.gate import marked_boxes
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.stages import Lack
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import FarSide, PanelItem


def marked_on(panel: Panel) -> list[tuple[float, float, float, float]]:
    """The boxes round what is marked on a panel: its findings, and the cuts planned in it."""
    outlines = [
        *panel.findings.values_list("outline", flat=True),
        *panel.cuts.values_list("outline", flat=True),
    ]
    return marked_boxes(outlines)


@one_change
def answer_far_side(
    panel: Panel,
    *,
    version: int | None,
    answer: str,
    method: str,
    answered_on: date,
    by: str,
    whole: bool = False,
) -> FarSide:
    """Answer the far-side question of a panel: for the whole of it, or round what is marked on it now.

    Raises: ChangedMeanwhile; BadField where nothing is marked.
    """
    boxes = [] if whole else marked_on(panel)
    if not whole and not boxes:
        raise BadField(
            "Nothing is marked on this panel yet.",
            "where",
            "Choose the whole panel if all of it was looked at, or mark the finding first.",
        )
    values = {
        "answer": answer.strip(),
        "method": method,
        "answered_on": answered_on,
        "whole": whole,
        "boxes": boxes,
    }
    stored = FarSide.objects.filter(panel=panel).first()
    if stored is None:
        return FarSide.objects.create(panel=panel, by=by, changed_by=by, **values)
    if version is None:  # somebody answered since the form was opened without one
        raise ChangedMeanwhile(stored)
    stored.by = by
    stored.save_as(version, by, **values)
    return stored


def add_item(panel: Panel, *, kind: str, text: str, by: str) -> PanelItem:
    return PanelItem.objects.create(panel=panel, kind=kind, text=text.strip(), by=by)


def lacking(vehicle: Vehicle) -> list[Lack]:
    """Fittings that are missing from the vehicle, or that the new part comes without, at their panels; without what is ticked as done."""
    words = {"missing": "missing from the vehicle", "lacking": "the new part lacks it"}
    items = PanelItem.objects.filter(panel__view__vehicle=vehicle, kind__in=words, done=False)
    return [
        Lack(
            key=f"item-{each.pk}", name=each.text[:80], why=f"{words[each.kind]}, {each.panel.code}", view=each.panel.view,
            at=middle_of(bounds_of(each.panel.outline)),
        )
        for each in items.select_related("panel__view").defer("panel__view__features", "panel__view__silhouette")
    ]  # fmt: skip
