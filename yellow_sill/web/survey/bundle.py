"""The survey in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_shell import LookedPart
from yellow_sill.core.formats.bundle_survey import (
    EvidencePart,
    FarSidePart,
    FindingPart,
    InspectionPart,
    PanelItemPart,
    ReadingPart,
    SurveyPhotoPart,
)
from yellow_sill.web.frame.bundles import Section, Storing, in_panel, part
from yellow_sill.web.shells.models import Panel, Vehicle

from .coverage_services import cover_all
from .models import (
    EvidenceItem,
    FarSide,
    Finding,
    GridReading,
    Inspection,
    LookedRegion,
    PanelItem,
    SurveyPhoto,
)


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    findings = vehicle.findings.select_related("panel__view").prefetch_related(
        "inspections__evidence", "readings"
    )
    photos = vehicle.survey_photos.select_related("panel__view", "finding")
    return {
        "findings": [_finding(finding) for finding in findings],
        "survey_photos": [
            in_panel(SurveyPhotoPart, photo, finding=photo.finding.number if photo.finding else None)
            for photo in photos
        ],
    }


def _finding(finding: Finding) -> FindingPart:
    return in_panel(
        FindingPart,
        finding,
        inspections=[
            part(InspectionPart, look, evidence=[part(EvidencePart, each) for each in look.evidence.all()])
            for look in finding.inspections.all()
        ],
        readings=[part(ReadingPart, reading) for reading in finding.readings.all()],
    )


def _panel(panel: Panel) -> dict[str, Any]:
    far_side = FarSide.objects.filter(panel=panel).first()
    return {
        "far_side": part(FarSidePart, far_side) if far_side else None,
        "items": [part(PanelItemPart, item) for item in panel.items.all()],
    }


def _noted(vehicle: Vehicle) -> set[int]:
    panels = Panel.objects.filter(view__vehicle=vehicle).exclude(far_side=None, items=None)
    return set(panels.values_list("pk", flat=True))


def _store(storing: Storing, bundle: Any) -> None:
    for each in bundle.findings:
        _store_finding(storing, each)
    for photo in bundle.survey_photos:
        values = photo.model_dump(exclude={"view", "panel", "finding", "file", "taken_on"}, mode="json")
        width, height = storing.sizes[photo.file]
        SurveyPhoto.objects.create(
            vehicle=storing.vehicle,
            panel=storing.panels[photo.view, photo.panel],
            finding=storing.findings.get(photo.finding),
            file=storing.names[photo.file],
            width=width,
            height=height,
            taken_on=photo.taken_on,
            **values,
        )
    cover_all(storing.vehicle)


def _store_finding(storing: Storing, each: FindingPart) -> None:
    values = each.model_dump(exclude={"view", "panel", "inspections", "readings", "outline"})
    stored = Finding.objects.create(
        vehicle=storing.vehicle,
        panel=storing.panels[each.view, each.panel],
        outline=[list(p) for p in each.outline],
        changed_by=storing.by,
        **values,
    )
    storing.findings[each.number] = stored
    for look in each.inspections:
        made = Inspection.objects.create(
            finding=stored,
            outline=[list(p) for p in look.outline],
            **look.model_dump(exclude={"outline", "evidence"}),
        )
        EvidenceItem.objects.bulk_create(
            EvidenceItem(finding=stored, inspection=made, **seen.model_dump()) for seen in look.evidence
        )
    GridReading.objects.bulk_create(
        GridReading(finding=stored, **reading.model_dump()) for reading in each.readings
    )


def _store_view(storing: Storing, view: Any, told: Any) -> None:
    LookedRegion.objects.bulk_create(
        LookedRegion(view=view, **region.model_dump(mode="json")) for region in told.looked
    )


def _store_panel(storing: Storing, panel: Panel, notes: Any) -> None:
    if notes.far_side:
        FarSide.objects.create(panel=panel, changed_by=storing.by, **notes.far_side.model_dump())
    PanelItem.objects.bulk_create(PanelItem(panel=panel, **item.model_dump()) for item in notes.items)


SECTION = Section(
    vehicle=_vehicle,
    view=lambda view: {"looked": [part(LookedPart, region) for region in view.looked_regions.all()]},
    panel=_panel,
    noted=_noted,
    store=_store,
    store_view=_store_view,
    store_panel=_store_panel,
)
