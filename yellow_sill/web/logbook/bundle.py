"""The vehicle as a bundle and back: between the stored records and the core's format."""

import secrets

from django.db import transaction

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.bundle import (
    FORMAT,
    BadBundle,
    Bundle,
    CostPart,
    CutPart,
    EvidencePart,
    FindingPart,
    NotePart,
    PanelPart,
    PatchPart,
    PhotoPart,
    RepairPart,
    StepPart,
    VehiclePart,
    ViewPart,
    WeldPart,
    WorkPart,
    read_bundle,
    write_bundle,
)
from yellow_sill.core.money.amount import CURRENCIES
from yellow_sill.web.parts.models import CostLine
from yellow_sill.web.repairs.models import Cut, Patch, Repair, RibbonStep, WeldPlan
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle
from yellow_sill.web.survey.models import EvidenceItem, Finding

from .models import Note, Photo, WorkEntry
from .services import cleaned_picture, photo_path


def _part(kind, record, **more):
    """A part of the bundle from the record's fields of the same names."""
    return kind(**{name: getattr(record, name) for name in kind.model_fields if name not in more}, **more)


def bundle_of(vehicle: Vehicle) -> Bundle:
    """Everything stored about a vehicle."""
    views = vehicle.views.prefetch_related("panels").order_by("place")
    findings = vehicle.findings.select_related("panel__view").prefetch_related("evidence")
    repairs = vehicle.repairs.prefetch_related(
        "findings", "steps", "cuts__panel__view", "cuts__findings", "cuts__patch", "cuts__weld", "work_entries", "cost_lines", "notes", "photos"
    )
    return Bundle(
        format=FORMAT,
        vehicle=_part(VehiclePart, vehicle, views=[_part(ViewPart, view, panels=[_part(PanelPart, p) for p in view.panels.all()]) for view in views]),
        findings=[
            _part(FindingPart, f, view=f.panel.view.name, panel=f.panel.code, evidence=[_part(EvidencePart, e) for e in f.evidence.all()]) for f in findings
        ],
        repairs=[_repair_part(repair) for repair in repairs],
        work=_work_parts(vehicle.work_entries.filter(repair=None)),
        costs=_cost_parts(vehicle.cost_lines.filter(repair=None)),
    )


def _repair_part(repair: Repair) -> RepairPart:
    return _part(
        RepairPart,
        repair,
        findings=[finding.number for finding in repair.findings.all()],
        steps=[_part(StepPart, step) for step in repair.steps.all()],
        cuts=[_cut_part(cut) for cut in repair.cuts.all()],
        work=_work_parts(repair.work_entries.all()),
        costs=_cost_parts(repair.cost_lines.all()),
        notes=[_part(NotePart, note) for note in _oldest_first(repair.notes.all())],
        photos=[_part(PhotoPart, photo) for photo in repair.photos.all()],
    )


def _cut_part(cut: Cut) -> CutPart:
    patch, weld = getattr(cut, "patch", None), getattr(cut, "weld", None)
    return _part(
        CutPart,
        cut,
        view=cut.panel.view.name,
        panel=cut.panel.code,
        findings=[finding.number for finding in cut.findings.all()],
        patch=_part(PatchPart, patch) if patch else None,
        weld=_part(WeldPart, weld) if weld else None,
    )


def _oldest_first(records):
    return sorted(records, key=lambda record: record.pk)


def _work_parts(entries) -> list[WorkPart]:
    return [_part(WorkPart, entry) for entry in _oldest_first(entries)]


def _cost_parts(lines) -> list[CostPart]:
    return [_part(CostPart, line) for line in _oldest_first(lines)]


def export_vehicle(vehicle: Vehicle) -> bytes:
    """The vehicle as a zip.

    Raises: BadBundle where a photo is missing on this machine.
    """
    bundle = bundle_of(vehicle)
    photos = {}
    for repair in bundle.repairs:
        for photo in repair.photos:
            try:
                photos[photo.file] = photo_path(photo.file).read_bytes()
            except OSError:
                what = f"A photo of R-{repair.number:02d} ('{photo.caption or photo.file}') is missing on this machine."
                raise BadBundle(what, "photos", "Restore the latest backup, or delete that photo, then export again.") from None
    return write_bundle(bundle, photos)


def import_vehicle(data: bytes, owner) -> Vehicle:
    """Store the vehicle of a bundle as a new one of this owner; all of it or nothing.

    Raises: BadBundle.
    """
    bundle, photos = read_bundle(data)
    if bundle.vehicle.currency not in CURRENCIES:
        raise BadBundle(f"No currency '{bundle.vehicle.currency}' is known.", "vehicle.json: vehicle.currency")
    written: list = []
    names: dict[str, str] = {}
    try:
        for old, picture in photos.items():
            # Our own export is stored byte for byte; whatever is not a plain JPEG of ours is written afresh.
            kept = _checked_picture(picture, old)
            names[old] = old if not photo_path(old).exists() else f"{secrets.token_hex(16)}.jpg"
            path = photo_path(names[old])
            path.parent.mkdir(parents=True, exist_ok=True)
            written.append(path)
            path.write_bytes(kept[0])
            photos[old] = kept
        with transaction.atomic():
            return _store(bundle, owner, names, photos)
    except BaseException:
        for path in written:
            path.unlink(missing_ok=True)
        raise


def _checked_picture(picture: bytes, name: str) -> tuple[bytes, int, int]:
    try:
        cleaned, width, height = cleaned_picture(picture)
    except BadField as error:
        raise BadBundle(error.what, f"photos/{name}", error.mend) from None
    plain_jpeg = picture[:3] == b"\xff\xd8\xff" and b"Exif\0" not in picture[:65536] and b"http://ns.adobe.com" not in picture[:65536]
    return (picture if plain_jpeg else cleaned), width, height


def _store(bundle: Bundle, owner, names: dict[str, str], photos: dict) -> Vehicle:
    by = owner.get_username()
    vehicle = Vehicle.objects.create(owner=owner, changed_by=by, **bundle.vehicle.model_dump(exclude={"views"}))
    panels: dict[tuple[str, str], Panel] = {}
    for place, view in enumerate(bundle.vehicle.views):
        stored = ShellView.objects.create(vehicle=vehicle, place=place, **view.model_dump(mode="json", exclude={"panels"}))
        for panel in Panel.objects.bulk_create(Panel(view=stored, **panel.model_dump(mode="json")) for panel in view.panels):
            panels[view.name, panel.code] = panel
    findings: dict[int, Finding] = {}
    for part in bundle.findings:
        values = part.model_dump(exclude={"view", "panel", "evidence", "outline"})
        findings[part.number] = Finding.objects.create(
            vehicle=vehicle, panel=panels[part.view, part.panel], outline=[list(p) for p in part.outline], changed_by=by, **values
        )
        EvidenceItem.objects.bulk_create(EvidenceItem(finding=findings[part.number], **look.model_dump()) for look in part.evidence)
    for part in bundle.repairs:
        _store_repair(vehicle, part, panels, findings, by, names, photos)
    WorkEntry.objects.bulk_create(WorkEntry(vehicle=vehicle, **entry.model_dump()) for entry in bundle.work)
    _store_costs(vehicle, None, bundle.costs)
    return vehicle


def _store_costs(vehicle: Vehicle, repair: Repair | None, parts: list[CostPart]) -> None:
    for part in parts:
        CostLine.objects.create(vehicle=vehicle, repair=repair, **part.model_dump())


def _store_repair(vehicle: Vehicle, part: RepairPart, panels: dict, findings: dict, by: str, names: dict, photos: dict) -> None:
    columns = part.model_dump(include={"number", "title", "style", "margin_mm", "corner_radius_mm", "web_mm"})
    last = part.steps[-1]
    repair = Repair.objects.create(vehicle=vehicle, state=last.state, state_on=last.made_on, changed_by=by, **columns)
    repair.findings.set([findings[number] for number in part.findings])
    RibbonStep.objects.bulk_create(RibbonStep(repair=repair, **step.model_dump()) for step in part.steps)
    for cut_part in part.cuts:
        values = cut_part.model_dump(mode="json", exclude={"view", "panel", "findings", "patch", "weld"})
        cut = Cut.objects.create(repair=repair, panel=panels[cut_part.view, cut_part.panel], changed_by=by, **values)
        cut.findings.set([findings[number] for number in cut_part.findings])
        if cut_part.patch:
            Patch.objects.create(cut=cut, changed_by=by, **cut_part.patch.model_dump())
        if cut_part.weld:
            WeldPlan.objects.create(cut=cut, changed_by=by, **cut_part.weld.model_dump())
    WorkEntry.objects.bulk_create(WorkEntry(vehicle=vehicle, repair=repair, **entry.model_dump()) for entry in part.work)
    _store_costs(vehicle, repair, part.costs)
    Note.objects.bulk_create(Note(repair=repair, **note.model_dump()) for note in part.notes)
    Photo.objects.bulk_create(
        Photo(repair=repair, width=photos[photo.file][1], height=photos[photo.file][2], **{**photo.model_dump(), "file": names[photo.file]})
        for photo in part.photos
    )
