"""What was said of the shell, and its gaps, in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_shell import (
    CavityWordPart,
    CurveWordPart,
    EdgeWordPart,
    GapRoundPart,
    HungWordPart,
    ShellWordsPart,
)
from yellow_sill.web.frame.bundles import Section, Storing, in_panel, part

from .models import CavityWord, CurveWord, EdgeWord, GapRound, HungWord, Vehicle


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    edges = EdgeWord.objects.filter(panel__view__vehicle=vehicle).select_related("panel__view")
    curves = CurveWord.objects.filter(panel__view__vehicle=vehicle).select_related("panel__view")
    told = ShellWordsPart(
        edges=[in_panel(EdgeWordPart, word) for word in edges.order_by("pk")],
        curves=[in_panel(CurveWordPart, word) for word in curves.order_by("pk")],
        cavities=[part(CavityWordPart, word) for word in vehicle.cavity_words.all()],
        hung=[part(HungWordPart, word) for word in vehicle.hung_words.all()],
        gap_rounds=[part(GapRoundPart, each) for each in vehicle.gap_rounds.all()],
    )
    return {"shell": told}


def _store(storing: Storing, bundle: Any) -> None:
    """Raises: BadBundle through what the checks of a bundle refuse before."""
    vehicle, told = storing.vehicle, bundle.shell
    for kind, words in ((EdgeWord, told.edges), (CurveWord, told.curves)):
        for word in words:
            values = word.model_dump(mode="json", exclude={"view", "panel"})
            kind.objects.create(panel=storing.panels[word.view, word.panel], **values)
    for kind, words in ((CavityWord, told.cavities), (HungWord, told.hung)):
        for word in words:
            kind.objects.create(vehicle=vehicle, **word.model_dump(mode="json"))
    for each in told.gap_rounds:
        GapRound.objects.create(vehicle=vehicle, changed_by=storing.by, **each.model_dump())


SECTION = Section(vehicle=_vehicle, store=_store)
