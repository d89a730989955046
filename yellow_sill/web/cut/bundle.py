"""Cuts, what is round them, the ways they were chosen from and what was released, in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_cut import (
    ChoicePart,
    GrowthPart,
    NuggetPart,
    OwnPlanPart,
    SurroundingPart,
)
from yellow_sill.core.formats.bundle_repairs import CutPart, SheetStepPart, TransferPart
from yellow_sill.web.frame.bundles import Section, Storing, gathered, hooks, in_panel, oldest_first, part
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import Cut, CutGrowth, NuggetTick, OwnPlan, PanelChoice, SheetStep, Surrounding, TransferMark

_PLACE = {"view", "panel"}
#: A cut's own columns in its part.
_COLUMNS = {field.name for field in Cut._meta.concrete_fields} - _PLACE


def _repair(repair: Repair) -> dict[str, Any]:
    return {
        "cuts": [in_panel(CutPart, cut, **gathered("cut", cut)) for cut in repair.cuts.all()],
        "choices": [in_panel(ChoicePart, choice) for choice in repair.choices.all()],
        "growths": [in_panel(GrowthPart, growth) for growth in repair.growths.all()],
        "own_plans": [in_panel(OwnPlanPart, plan) for plan in repair.own_plans.all()],
        "nuggets": [in_panel(NuggetPart, tick) for tick in repair.nugget_ticks.all()],
    }


def _cut(cut: Cut) -> dict[str, Any]:
    return {
        "findings": [finding.number for finding in cut.findings.all()],
        "transfer_marks": [part(TransferPart, mark) for mark in cut.transfer_marks.all()],
        "sheet_steps": [part(SheetStepPart, step) for step in oldest_first(cut.sheet_steps.all())],
    }


def _noted(vehicle: Vehicle) -> set[int]:
    return set(Surrounding.objects.filter(panel__view__vehicle=vehicle).values_list("panel_id", flat=True))


def _store_panel(storing: Storing, panel: Panel, notes: Any) -> None:
    for own in notes.surroundings:
        Surrounding.objects.create(panel=panel, changed_by=storing.by, **own.model_dump(mode="json"))


def _store_repair(storing: Storing, repair: Repair, told: Any) -> None:
    for cut in told.cuts:
        _store_cut(storing, repair, cut)
    at = lambda each: storing.panels[each.view, each.panel]  # noqa: E731
    for choice in told.choices:
        values = choice.model_dump(exclude=_PLACE)
        PanelChoice.objects.create(repair=repair, panel=at(choice), changed_by=storing.by, **values)
    for growth in told.growths:
        values = growth.model_dump(mode="json", exclude={*_PLACE, "made_on"})
        CutGrowth.objects.create(repair=repair, panel=at(growth), made_on=growth.made_on, **values)
    NuggetTick.objects.bulk_create(
        NuggetTick(repair=repair, panel=at(each), **each.model_dump(exclude=_PLACE)) for each in told.nuggets
    )
    for plan in told.own_plans:
        values = plan.model_dump(mode="json", exclude=_PLACE)
        OwnPlan.objects.create(repair=repair, panel=at(plan), changed_by=storing.by, **values)


def _store_cut(storing: Storing, repair: Repair, told: CutPart) -> None:
    values = told.model_dump(mode="json", include=_COLUMNS)
    cut = Cut.objects.create(
        repair=repair, panel=storing.panels[told.view, told.panel], changed_by=storing.by, **values
    )
    cut.findings.set([storing.findings[number] for number in told.findings])
    for mark in told.transfer_marks:
        values = mark.model_dump(mode="json", exclude={"measured_on"})
        TransferMark.objects.create(cut=cut, changed_by=storing.by, measured_on=mark.measured_on, **values)
    for step in told.sheet_steps:
        SheetStep.objects.create(cut=cut, **step.model_dump())
    for store in hooks("store_cut"):
        store(storing, cut, told)


SECTION = Section(
    repair=_repair,
    cut=_cut,
    panel=lambda panel: {"surroundings": [part(SurroundingPart, own) for own in panel.surroundings.all()]},
    noted=_noted,
    store_panel=_store_panel,
    store_repair=_store_repair,
    along=(
        "cuts__panel__view",
        "cuts__findings",
        "cuts__transfer_marks",
        "cuts__sheet_steps",
        "choices__panel__view",
        "nugget_ticks__panel__view",
        "own_plans__panel__view",
        "growths__panel__view",
    ),
)
