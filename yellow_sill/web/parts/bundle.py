"""Costs in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_record import CostPart
from yellow_sill.web.frame.bundles import Section, Storing, oldest_first, part
from yellow_sill.web.repairs.models import Repair

from .models import CostLine


def _parts(lines: Any) -> list[CostPart]:
    return [part(CostPart, line) for line in oldest_first(lines)]


def _store(storing: Storing, repair: Repair | None, told: list[CostPart]) -> None:
    for line in told:
        CostLine.objects.create(vehicle=storing.vehicle, repair=repair, **line.model_dump())


SECTION = Section(
    vehicle=lambda vehicle: {"costs": _parts(vehicle.cost_lines.filter(repair=None))},
    repair=lambda repair: {"costs": _parts(repair.cost_lines.all())},
    store=lambda storing, bundle: _store(storing, None, bundle.costs),
    store_repair=lambda storing, repair, told: _store(storing, repair, told.costs),
    along=("cost_lines",),
)
