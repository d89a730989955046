"""Receipts, bank, budget, suppliers, orders, surplus and customer's sheets in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_money import (
    BankLinePart,
    BudgetPart,
    MoneyPart,
    OrderPart,
    PaperPart,
    ReceiptLinePart,
    ReceiptPart,
    StatementPart,
    SupplierPart,
    SurplusPart,
    TermsPart,
)
from yellow_sill.web.frame.bundles import Storing, oldest_first, part
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import (
    BankLine,
    BankStatement,
    Budget,
    CustomerPaper,
    Need,
    PartOrder,
    Receipt,
    Supplier,
    Surplus,
    Terms,
)
from .receipt_services import receipt_told, store_lines

#: What hangs on the vehicle alone: the field of the part, its kind, the record.
PLAIN: tuple[tuple[str, Any, Any], ...] = (
    ("budgets", BudgetPart, Budget), ("suppliers", SupplierPart, Supplier), ("orders", OrderPart, PartOrder), ("surplus", SurplusPart, Surplus),
    ("papers", PaperPart, CustomerPaper),
)  # fmt: skip


def money_of(vehicle: Vehicle) -> MoneyPart:
    """All of it."""
    terms = Terms.objects.filter(vehicle=vehicle).first()
    receipts = vehicle.receipts.select_related("mirrors").prefetch_related(
        "lines__repair", "lines__need", "payments"
    )
    statements = vehicle.statements.prefetch_related("lines")
    plain = {
        name: [part(kind, each) for each in record.objects.filter(vehicle=vehicle).order_by("number")]
        for name, kind, record in PLAIN
    }
    return MoneyPart(
        receipts=[_receipt(each) for each in sorted(receipts, key=lambda each: each.number)],
        statements=[part(StatementPart, each, rows=[], lines=_booked(each)) for each in statements],
        terms=part(TermsPart, terms) if terms else None, **plain,
    )  # fmt: skip


def _booked(stored: BankStatement) -> list[BankLinePart]:
    """The payments of a statement that paid something here; the rest of somebody's purse goes to nobody."""
    return [
        part(BankLinePart, line)
        for line in oldest_first(stored.lines.all())
        if line.state == BankLine.State.BOOKED
    ]


def _receipt(stored: Receipt) -> ReceiptPart:
    lines = [
        part(ReceiptLinePart, line, repair=line.repair.number if line.repair else 0, need=line.need.number if line.need else 0)
        for line in oldest_first(stored.lines.all())
    ]  # fmt: skip
    return part(
        ReceiptPart, stored, mirrors=stored.mirrors.number if stored.mirrors else 0, lines=lines, paid_by=[each.key for each in stored.payments.all()]
    )  # fmt: skip


def store_first(storing: Storing, told: MoneyPart) -> None:
    """What needs and lines of cost name: orders, things to sell, payments; and what names nothing."""
    vehicle = storing.vehicle
    for name, _, record in PLAIN:
        for each in getattr(told, name):
            values = each.model_dump(mode="json" if name in ("papers", "suppliers") else "python")
            if "file" in values:
                values["file"] = storing.names.get(each.file, "")
            record.objects.create(vehicle=vehicle, changed_by=storing.by, **values)
    if told.terms:
        Terms.objects.create(vehicle=vehicle, changed_by=storing.by, **told.terms.model_dump())
    for each in told.statements:
        stored = BankStatement.objects.create(
            vehicle=vehicle, changed_by=storing.by, **each.model_dump(exclude={"lines"})
        )
        for line in each.lines:
            BankLine.objects.create(vehicle=vehicle, statement=stored, **line.model_dump())


def store_money(
    storing: Storing,
    told: MoneyPart,
    repairs: dict[int, Repair],
    needs: dict[int, Need],
    payments: dict[str, BankLine],
) -> None:
    """Receipts with their lines, which take their shares anew."""
    made: dict[int, Receipt] = {}
    for each in told.receipts:
        values = each.model_dump(exclude={"lines", "paid_by", "mirrors"}) | {
            "file": storing.names.get(each.file, "")
        }
        stored = Receipt.objects.create(
            vehicle=storing.vehicle, changed_by=storing.by, mirrors=made.get(each.mirrors), **values
        )
        made[each.number] = stored
        lines = [
            line.model_dump(exclude={"repair", "need"})
            | {"repair_id": repair.pk if (repair := repairs.get(line.repair)) else None, "need_id": need.pk if (need := needs.get(line.need)) else None}
            for line in each.lines
        ]  # fmt: skip
        store_lines(stored, lines, receipt_told(values, lines), each.by)
        for key in each.paid_by:
            payments[key].receipt = stored
            payments[key].save()
