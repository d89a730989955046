"""Needs and costs in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_needs import ArrivalCheckPart, NeedPart, NeedQuotePart, NeedStepPart
from yellow_sill.core.formats.bundle_record import CostPart
from yellow_sill.web.frame.bundles import Section, Storing, oldest_first, part
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .bundle_money import money_of, store_first, store_money
from .models import ArrivalCheck, BankLine, CostLine, Need, NeedQuote, NeedStep, PartOrder, Surplus


def _parts(lines: Any) -> list[CostPart]:
    """Lines by themselves; those of receipts are told with them."""
    rows = lines.filter(receipt=None).select_related("need").prefetch_related("payments")
    sold = dict(Surplus.objects.filter(line__in=rows).values_list("line", "number"))
    return [
        part(
            CostPart, line, need=line.need.number if line.need else 0, surplus=sold.get(line.pk, 0),
            paid_by=[each.key for each in line.payments.all()],
        )
        for line in oldest_first(rows)
    ]  # fmt: skip


def _need(need: Need) -> NeedPart:
    return part(
        NeedPart,
        need,
        view=need.view.name if need.view else "",
        repair=need.repair.number if need.repair else 0,
        order=need.order.number if need.order else 0,
        steps=[part(NeedStepPart, step) for step in need.steps.all()],
        quotes=[part(NeedQuotePart, quote) for quote in need.quotes.all()],
        checks=[part(ArrivalCheckPart, check) for check in need.checks.all()],
    )


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    needs = vehicle.needs.select_related("view", "repair", "order").prefetch_related(
        "steps", "quotes", "checks"
    )
    return {
        "costs": _parts(vehicle.cost_lines.filter(repair=None)),
        "needs": [_need(need) for need in needs],
        "money": money_of(vehicle),
    }


def _store(storing: Storing, bundle: Any) -> None:
    vehicle = storing.vehicle
    store_first(storing, bundle.money)
    repairs = {repair.number: repair for repair in vehicle.repairs.all()}
    _store_needs(storing, bundle, repairs)
    needs = {need.number: need for need in vehicle.needs.all()}
    things = {thing.number: thing for thing in vehicle.surplus.all()}
    payments = {line.key: line for line in vehicle.bank_lines.all()}
    _store_costs(storing, None, bundle.costs, needs, things, payments)
    for told in bundle.repairs:
        _store_costs(storing, repairs[told.number], told.costs, needs, things, payments)
    store_money(storing, bundle.money, repairs, needs, payments)


def _store_costs(
    storing: Storing, repair: Repair | None, told: list[CostPart], needs: dict[int, Need], things: dict[int, Surplus], payments: dict[str, BankLine],
) -> None:  # fmt: skip
    for each in told:
        line = CostLine.objects.create(
            vehicle=storing.vehicle,
            repair=repair,
            need=needs.get(each.need),
            **each.model_dump(exclude={"need", "surplus", "paid_by"}),
        )
        if thing := things.get(each.surplus):
            thing.line = line
            thing.save()
        for key in each.paid_by:
            payments[key].line = line
            payments[key].save()


def _store_needs(storing: Storing, bundle: Any, repairs: dict[int, Repair]) -> None:
    views = {view.name: view for view in storing.vehicle.views.all()}
    orders = {order.number: order for order in PartOrder.objects.filter(vehicle=storing.vehicle)}
    for each in bundle.needs:
        values = each.model_dump(exclude={"view", "repair", "order", "steps", "quotes", "checks"})
        values |= {"file": storing.names.get(each.file, ""), "at": list(each.at)}
        need = Need.objects.create(
            vehicle=storing.vehicle,
            changed_by=storing.by,
            view=views.get(each.view),
            repair=repairs.get(each.repair),
            order=orders.get(each.order),
            **values,
        )
        for step in each.steps:
            NeedStep.objects.create(need=need, **step.model_dump())
        for quote in each.quotes:
            NeedQuote.objects.create(need=need, changed_by=storing.by, **quote.model_dump())
        for check in each.checks:
            ArrivalCheck.objects.create(need=need, **check.model_dump())


SECTION = Section(
    vehicle=_vehicle,
    repair=lambda repair: {"costs": _parts(repair.cost_lines.all())},
    store=_store,
)
