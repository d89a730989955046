"""What is known of a panel: its far side, what must be saved from it, what the new part lacks, what is missing."""

from collections.abc import Iterable
from datetime import date

from django.db import transaction

from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.shells.models import Panel

from .models import FarSide, PanelItem


@transaction.atomic
def answer_far_side(panel: Panel, *, version: int | None, answer: str, method: str, answered_on: date, by: str) -> FarSide:
    """Answer the far-side question of a panel. Raises: ChangedMeanwhile."""
    values = {"answer": answer.strip(), "method": method, "answered_on": answered_on}
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


def unanswered(panels: Iterable[Panel]) -> list[Panel]:
    """The panels among these whose far-side question nobody has answered."""
    panels = list(panels)
    answered = set(FarSide.objects.filter(panel__in=panels).values_list("panel_id", flat=True))
    return [panel for panel in panels if panel.pk not in answered]
