"""What is known of a panel: its far side, what must be saved from it, what the new part lacks, what is missing."""

from datetime import date

from yellow_sill.core.errors import BadField
from yellow_sill.core.repairs.gate import marked_boxes
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.shells.models import Panel

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
