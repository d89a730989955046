"""Weld plans in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_repairs import WeldPart
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.bundles import Section, Storing, part

from .models import WeldPlan


def _cut(cut: Cut) -> dict[str, Any]:
    weld = getattr(cut, "weld", None)
    return {"weld": part(WeldPart, weld) if weld else None}


def _store_cut(storing: Storing, cut: Cut, told: Any) -> None:
    if told.weld:
        WeldPlan.objects.create(
            cut=cut,
            changed_by=storing.by,
            **told.weld.model_dump() | {"events": told.weld.model_dump(mode="json")["events"]},
        )


SECTION = Section(cut=_cut, store_cut=_store_cut, along=("cuts__weld",))
