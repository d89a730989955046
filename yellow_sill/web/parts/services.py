"""Cost lines and what they add up to."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.db.models import Max, QuerySet, Sum
from django.db.models.functions import Substr

from yellow_sill.core.parts.amount import Money
from yellow_sill.core.parts.lines import Sum as MoneySum
from yellow_sill.core.parts.lines import from_minor, running
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import KINDS, CostLine


@one_change
def add_cost(vehicle: Vehicle, repair: Repair | None, values: Mapping[str, Any], *, by: str) -> CostLine:
    return CostLine.objects.create(vehicle=vehicle, repair=repair, by=by, changed_by=by, **values)


def book(
    vehicle: Vehicle, repair: Repair | None, item: str, price: Decimal, supplier: str, day: date, by: str
) -> None:
    """Enter steel that a repair took from stock, its price with tax."""
    what = {"bought_on": day, "supplier": supplier[:80], "item": item[:120], "kind": "steel"}
    sums = {"quantity": Decimal(1), "unit_price": price, "tax_rate": Decimal(20), "tax_included": True}
    add_cost(vehicle, repair, what | sums, by=by)


@one_change
def change_cost(line: CostLine, values: Mapping[str, Any], *, version: int | None, by: str) -> None:
    """Raises: ChangedMeanwhile."""
    line.save_as(version, by, **values)


@dataclass(frozen=True, slots=True, kw_only=True)
class CostSums:
    """What was spent: in all, by kind and by supplier, dearest first."""

    total: MoneySum
    by_kind: list[tuple[str, MoneySum]]
    by_supplier: list[tuple[str, MoneySum]]


def total_of(vehicle: Vehicle, lines: QuerySet[CostLine]) -> MoneySum:
    """Net, tax and gross of some lines. Added up in whole pence by the database."""
    whole = lines.order_by().aggregate(net=Sum("net_minor"), gross=Sum("gross_minor"))
    return from_minor(whole["net"] or 0, whole["gross"] or 0, vehicle.currency)


def sums(vehicle: Vehicle, lines: QuerySet[CostLine]) -> CostSums:
    """Total and totals by kind and supplier, dearest first."""
    words, currency = dict(KINDS), vehicle.currency
    plain = lines.order_by()

    def by(column: str) -> list[tuple[str, MoneySum]]:
        rows = (
            plain.values(column)
            .annotate(net=Sum("net_minor"), gross=Sum("gross_minor"))
            .order_by("-gross", column)
        )
        return [
            (words.get(row[column], row[column]), from_minor(row["net"], row["gross"], currency))
            for row in rows
        ]

    return CostSums(
        total=total_of(vehicle, plain),
        by_kind=by("kind"),
        by_supplier=by("supplier"),
    )


def spent_over_time(vehicle: Vehicle) -> list[tuple[date, Money]]:
    """Running totals with tax, a step a month."""
    rows = (
        vehicle.cost_lines.order_by()
        .annotate(month=Substr("bought_on", 1, 7))
        .values("month")
        .annotate(day=Max("bought_on"), gross=Sum("gross_minor"))
    )
    return running(
        ((row["day"], Money.from_minor(row["gross"], vehicle.currency)) for row in rows), vehicle.currency
    )


def with_sums(vehicle: Vehicle, lines: Iterable[CostLine]) -> list[tuple[CostLine, MoneySum]]:
    """Each line with its net, tax and gross."""
    return [(line, from_minor(line.net_minor, line.gross_minor, vehicle.currency)) for line in lines]
