"""Needs and costs in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_needs import NeedPart, NeedQuotePart, NeedStepPart
from yellow_sill.core.formats.bundle_record import CostPart
from yellow_sill.web.frame.bundles import Section, Storing, oldest_first, part
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import CostLine, Need, NeedQuote, NeedStep


def _parts(lines: Any) -> list[CostPart]:
    return [part(CostPart, line) for line in oldest_first(lines)]


def _need(need: Need) -> NeedPart:
    return part(
        NeedPart,
        need,
        view=need.view.name if need.view else "",
        repair=need.repair.number if need.repair else 0,
        steps=[part(NeedStepPart, step) for step in need.steps.all()],
        quotes=[part(NeedQuotePart, quote) for quote in need.quotes.all()],
    )


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    needs = vehicle.needs.select_related("view", "repair").prefetch_related("steps", "quotes")
    return {"costs": _parts(vehicle.cost_lines.filter(repair=None)), "needs": [_need(need) for need in needs]}


def _store(storing: Storing, repair: Repair | None, told: list[CostPart]) -> None:
    for line in told:
        CostLine.objects.create(vehicle=storing.vehicle, repair=repair, **line.model_dump())


def _store_needs(storing: Storing, bundle: Any) -> None:
    _store(storing, None, bundle.costs)
    views = {view.name: view for view in storing.vehicle.views.all()}
    repairs = {repair.number: repair for repair in storing.vehicle.repairs.all()}
    for each in bundle.needs:
        values = each.model_dump(exclude={"view", "repair", "steps", "quotes"})
        values |= {"file": storing.names.get(each.file, ""), "at": list(each.at)}
        need = Need.objects.create(
            vehicle=storing.vehicle,
            changed_by=storing.by,
            view=views.get(each.view),
            repair=repairs.get(each.repair),
            **values,
        )
        for step in each.steps:
            NeedStep.objects.create(need=need, **step.model_dump())
        for quote in each.quotes:
            NeedQuote.objects.create(need=need, changed_by=storing.by, **quote.model_dump())


SECTION = Section(
    vehicle=_vehicle,
    repair=lambda repair: {"costs": _parts(repair.cost_lines.all())},
    store=_store_needs,
    store_repair=lambda storing, repair, told: _store(storing, repair, told.costs),
    along=("cost_lines",),
)
