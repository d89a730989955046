"""Patches in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_repairs import PatchPart
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.bundles import Section, Storing, part

from .models import BenchWork, Patch


def _cut(cut: Cut) -> dict[str, Any]:
    patch = getattr(cut, "patch", None)
    work = getattr(cut, "bench_work", None)
    return {
        "patch": part(PatchPart, patch) if patch else None,
        "bench_work": _work(work) if work else None,
    }


def _work(work: BenchWork) -> dict[str, Any]:
    """What was done on the bench; its ticks as a list."""
    ticks = [{"step": step, **tick} for step, tick in work.ticks.items()]
    return {"ticks": ticks, "measured_mm": work.measured_mm, "typed": work.typed, "of": work.of}


def _store_cut(storing: Storing, cut: Cut, told: Any) -> None:
    if told.patch:
        Patch.objects.create(cut=cut, changed_by=storing.by, **told.patch.model_dump(mode="json"))
    if told.bench_work:
        values = told.bench_work.model_dump(mode="json")
        values["ticks"] = {tick.pop("step"): tick for tick in values["ticks"]}
        BenchWork.objects.create(cut=cut, changed_by=storing.by, **values)


SECTION = Section(cut=_cut, store_cut=_store_cut, along=("cuts__patch", "cuts__bench_work"))
