"""Patches, offer-ups and the bench in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_bench import BenchPart, PlanPart, StockPart, SumPart
from yellow_sill.core.formats.bundle_repairs import FitOfferPart, PatchPart
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.bundles import Section, Storing, oldest_first, part
from yellow_sill.web.shells.models import Vehicle

from .models import BenchSum, BenchWork, CuttingPlan, FitOffer, Patch, StockSheet


def _cut(cut: Cut) -> dict[str, Any]:
    patch = getattr(cut, "patch", None)
    work = getattr(cut, "bench_work", None)
    return {
        "patch": part(PatchPart, patch) if patch else None,
        "bench_work": _work(work) if work else None,
        "fit_offers": [part(FitOfferPart, each) for each in oldest_first(cut.fit_offers.all())],
    }


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    told = BenchPart(
        stock=[part(StockPart, each) for each in vehicle.stock_sheets.all()],
        plans=[part(PlanPart, each) for each in vehicle.cutting_plans.all()],
        sums=[part(SumPart, each) for each in vehicle.bench_sums.all()],
    )
    return {"bench": told}


def _store(storing: Storing, bundle: Any) -> None:
    told = bundle.bench
    for kind, rows in ((StockSheet, told.stock), (CuttingPlan, told.plans), (BenchSum, told.sums)):
        for row in rows:
            kind.objects.create(vehicle=storing.vehicle, changed_by=storing.by, **row.model_dump())


def _work(work: BenchWork) -> dict[str, Any]:
    """What was done on the bench; its ticks as a list."""
    ticks = [{"step": step, **tick} for step, tick in work.ticks.items()]
    return {"ticks": ticks, "measured_mm": work.measured_mm, "typed": work.typed, "of": work.of}


def _store_cut(storing: Storing, cut: Cut, told: Any) -> None:
    if told.patch:
        Patch.objects.create(cut=cut, changed_by=storing.by, **told.patch.model_dump(mode="json"))
    for offer in told.fit_offers:
        values = offer.model_dump()
        values["gaps"] = [{**gap, "at": list(gap["at"])} for gap in values["gaps"]]
        FitOffer.objects.create(cut=cut, changed_by=storing.by, **values)
    if told.bench_work:
        values = told.bench_work.model_dump(mode="json")
        values["ticks"] = {tick.pop("step"): tick for tick in values["ticks"]}
        BenchWork.objects.create(cut=cut, changed_by=storing.by, **values)


SECTION = Section(
    vehicle=_vehicle,
    store=_store,
    cut=_cut,
    store_cut=_store_cut,
    along=("cuts__patch", "cuts__bench_work", "cuts__fit_offers"),
)
