"""Cost lines and what they add up to."""

from collections.abc import Iterable, Mapping
from typing import Any

from django.db import transaction

from yellow_sill.core.money.lines import Line, Sum, line_sum, total, totals_by
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import KINDS, CostLine


@transaction.atomic
def add_cost(vehicle: Vehicle, repair: Repair | None, values: Mapping[str, Any], *, by: str) -> CostLine:
    return CostLine.objects.create(vehicle=vehicle, repair=repair, by=by, changed_by=by, **values)


@transaction.atomic
def change_cost(line: CostLine, values: Mapping[str, Any], *, version: int | None, by: str) -> None:
    """Raises: ChangedMeanwhile."""
    line.save_as(version, by, **values)


def core_lines(vehicle: Vehicle, lines: Iterable[CostLine]) -> list[Line]:
    return [line.line(vehicle.currency) for line in lines]


def sums(vehicle: Vehicle, lines: Iterable[CostLine]) -> dict[str, Any]:
    """Total and totals by kind and supplier."""
    core = core_lines(vehicle, lines)
    words = dict(KINDS)
    return {
        "total": total(core, vehicle.currency),
        "by_kind": [(words.get(kind, kind), amount) for kind, amount in totals_by(core, lambda line: line.kind, vehicle.currency)],
        "by_supplier": totals_by(core, lambda line: line.supplier, vehicle.currency),
    }


def with_sums(vehicle: Vehicle, lines: Iterable[CostLine]) -> list[tuple[CostLine, Sum]]:
    """Each line with its net, tax and gross."""
    return [(line, line_sum(line.line(vehicle.currency))) for line in lines]
