"""Repairs and the rules they are planned by, in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_cut import RulesPart
from yellow_sill.core.formats.bundle_repairs import RepairPart, StepPart
from yellow_sill.web.frame.bundles import Section, Storing, gathered, hooks, part, sections
from yellow_sill.web.shells.models import Vehicle

from .models import PlanRules, Repair, RibbonStep

#: A repair's own columns in its part.
COLUMNS = {"number", "title", "style", "margin_mm", "corner_radius_mm", "web_mm"}


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    rules = PlanRules.objects.filter(vehicle=vehicle).first()
    along = [name for section in sections() for name in section.along]
    repairs = vehicle.repairs.prefetch_related(*along)
    return {
        "plan_rules": part(RulesPart, rules) if rules else None,
        "repairs": [part(RepairPart, repair, **gathered("repair", repair)) for repair in repairs],
    }


def _repair(repair: Repair) -> dict[str, Any]:
    return {
        "nothing_lost": repair.nothing_lost or None,
        "findings": [finding.number for finding in repair.findings.all()],
        "steps": [part(StepPart, step) for step in repair.steps.all()],
    }


def _store(storing: Storing, bundle: Any) -> None:
    if bundle.plan_rules:
        rules = bundle.plan_rules.model_dump()
        PlanRules.objects.create(vehicle=storing.vehicle, changed_by=storing.by, **rules)
    for told in bundle.repairs:
        last = told.steps[-1]
        repair = Repair.objects.create(
            vehicle=storing.vehicle,
            state=last.state,
            state_on=last.made_on,
            changed_by=storing.by,
            nothing_lost=told.nothing_lost.model_dump(mode="json") if told.nothing_lost else {},
            **told.model_dump(include=COLUMNS),
        )
        repair.findings.set([storing.findings[number] for number in told.findings])
        RibbonStep.objects.bulk_create(RibbonStep(repair=repair, **step.model_dump()) for step in told.steps)
        for store in hooks("store_repair"):
            store(storing, repair, told)


SECTION = Section(vehicle=_vehicle, repair=_repair, store=_store, along=("findings", "steps"))
