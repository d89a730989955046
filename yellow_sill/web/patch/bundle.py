"""Patches in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_repairs import PatchPart
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.bundles import Section, Storing, part

from .models import Patch


def _cut(cut: Cut) -> dict[str, Any]:
    patch = getattr(cut, "patch", None)
    return {"patch": part(PatchPart, patch) if patch else None}


def _store_cut(storing: Storing, cut: Cut, told: Any) -> None:
    if told.patch:
        Patch.objects.create(cut=cut, changed_by=storing.by, **told.patch.model_dump())


SECTION = Section(cut=_cut, store_cut=_store_cut, along=("cuts__patch",))
