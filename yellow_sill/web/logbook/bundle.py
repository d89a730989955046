"""The vehicle as a bundle and back: between the stored records and the core's format."""

import secrets

from django.db import DataError, IntegrityError
from django.db.models import Prefetch

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats.bundle import (
    FORMAT,
    BadBundle,
    Bundle,
    CostPart,
    CutPart,
    DatumPointPart,
    DatumReadingPart,
    DatumsPart,
    EvidencePart,
    FarSidePart,
    FindingPart,
    InspectionPart,
    LookedPart,
    NotePart,
    PanelItemPart,
    PanelNotesPart,
    PatchPart,
    PhotoPart,
    ReadingPart,
    RepairPart,
    RoundPart,
    StandSetPart,
    StepPart,
    SurveyPhotoPart,
    TransferPart,
    VehiclePart,
    ViewPart,
    WeldPart,
    WorkPart,
    photos_of,
    read_bundle,
    write_bundle,
)
from yellow_sill.core.formats.bundle_cut import (
    ChoicePart,
    GrowthPart,
    NuggetPart,
    OwnPlanPart,
    RulesPart,
    SurroundingPart,
)
from yellow_sill.core.formats.bundle_hold import (
    DialPart,
    HoldPart,
    HoldSetupPart,
    HoldStatePart,
    WorkOrderPart,
)
from yellow_sill.core.parts.amount import CURRENCIES
from yellow_sill.core.shell.file import PanelPart
from yellow_sill.web.cut.models import (
    Cut,
    CutGrowth,
    NuggetTick,
    OwnPlan,
    PanelChoice,
    Surrounding,
    TransferMark,
)
from yellow_sill.web.datums.models import DatumPoint, Reading, Round, StandSet
from yellow_sill.web.frame.changes import building
from yellow_sill.web.frame.pictures import cleaned_picture, is_plain_jpeg, photo_path
from yellow_sill.web.hold.models import DialReading, HoldSetup, HoldState, WorkOrder
from yellow_sill.web.parts.models import CostLine
from yellow_sill.web.patch.models import Patch
from yellow_sill.web.repairs.models import PlanRules, Repair, RibbonStep
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle
from yellow_sill.web.survey.coverage_services import cover_all
from yellow_sill.web.survey.models import (
    EvidenceItem,
    FarSide,
    Finding,
    GridReading,
    Inspection,
    LookedRegion,
    PanelItem,
    SurveyPhoto,
)
from yellow_sill.web.weld.models import WeldPlan

from .models import Note, Photo, WorkEntry


def _part(kind, record, **more):
    """A part of the bundle from the record's fields of the same names."""
    return kind(**{name: getattr(record, name) for name in kind.model_fields if name not in more}, **more)


def bundle_of(vehicle: Vehicle) -> Bundle:
    """Everything stored about a vehicle."""
    views = vehicle.views.prefetch_related("panels", "looked_regions").order_by("place")
    findings = vehicle.findings.select_related("panel__view").prefetch_related(
        "inspections__evidence", "readings"
    )
    repairs = vehicle.repairs.prefetch_related(
        "findings",
        "steps",
        "cuts__panel__view",
        "cuts__findings",
        "cuts__patch",
        "cuts__weld",
        "cuts__transfer_marks",
        "choices__panel__view",
        "nugget_ticks__panel__view",
        "own_plans__panel__view",
        "growths__panel__view",
        "work_entries",
        "cost_lines",
        "notes",
        "photos",
    )
    return Bundle(
        format=FORMAT,
        vehicle=_part(VehiclePart, vehicle, views=[_view_part(view) for view in views]),
        findings=[_finding_part(finding) for finding in findings],
        panel_notes=[_panel_notes(panel) for panel in _noted_panels(vehicle)],
        datums=_datums_part(vehicle),
        hold_setup=_part(HoldSetupPart, setup)
        if (setup := HoldSetup.objects.filter(vehicle=vehicle).first())
        else None,
        hold=_hold_part(vehicle),
        plan_rules=_part(RulesPart, rules)
        if (rules := PlanRules.objects.filter(vehicle=vehicle).first())
        else None,
        survey_photos=[
            _survey_photo(photo) for photo in vehicle.survey_photos.select_related("panel__view", "finding")
        ],
        repairs=[_repair_part(repair) for repair in repairs],
        work=_work_parts(vehicle.work_entries.filter(repair=None)),
        costs=_cost_parts(vehicle.cost_lines.filter(repair=None)),
    )


def _hold_part(vehicle: Vehicle) -> HoldPart:
    order = WorkOrder.objects.filter(vehicle=vehicle).first()
    return HoldPart(
        states=[_part(HoldStatePart, state) for state in vehicle.hold_states.all()],
        dials=[_part(DialPart, dial) for dial in vehicle.dial_readings.all()],
        order=_part(WorkOrderPart, order) if order else None,
    )


def _view_part(view: ShellView) -> ViewPart:
    looked = [_part(LookedPart, region) for region in view.looked_regions.all()]
    return _part(
        ViewPart, view, panels=[_part(PanelPart, panel) for panel in view.panels.all()], looked=looked
    )


def _finding_part(finding: Finding) -> FindingPart:
    return _part(
        FindingPart,
        finding,
        view=finding.panel.view.name,
        panel=finding.panel.code,
        inspections=[
            _part(InspectionPart, look, evidence=[_part(EvidencePart, each) for each in look.evidence.all()])
            for look in finding.inspections.all()
        ],
        readings=[_part(ReadingPart, reading) for reading in finding.readings.all()],
    )


def _noted_panels(vehicle: Vehicle):
    noted = Panel.objects.filter(view__vehicle=vehicle).exclude(far_side=None, items=None, surroundings=None)
    return (
        noted.select_related("view", "far_side")
        .prefetch_related("items", "surroundings")
        .order_by("view__place", "layer", "code")
        .distinct()
    )


def _panel_notes(panel: Panel) -> PanelNotesPart:
    far_side = getattr(panel, "far_side", None)
    return PanelNotesPart(
        view=panel.view.name,
        panel=panel.code,
        far_side=_part(FarSidePart, far_side) if far_side else None,
        items=[_part(PanelItemPart, item) for item in panel.items.all()],
        surroundings=[_part(SurroundingPart, own) for own in panel.surroundings.all()],
    )


def _survey_photo(photo: SurveyPhoto) -> SurveyPhotoPart:
    number = photo.finding.number if photo.finding else None
    return _part(SurveyPhotoPart, photo, view=photo.panel.view.name, panel=photo.panel.code, finding=number)


def _datums_part(vehicle: Vehicle) -> DatumsPart:
    rounds = vehicle.rounds.prefetch_related(
        Prefetch("readings", Reading.objects.select_related("first", "second", "third"))
    )
    stands = StandSet.objects.filter(vehicle=vehicle).first()
    return DatumsPart(
        points=[_part(DatumPointPart, point) for point in vehicle.datum_points.all()],
        rounds=[
            _part(
                RoundPart,
                each,
                readings=[_part(DatumReadingPart, reading) for reading in each.readings.all()],
            )
            for each in rounds
        ],
        stand_set=_part(StandSetPart, stands) if stands else None,
    )


def _repair_part(repair: Repair) -> RepairPart:
    return _part(
        RepairPart,
        repair,
        nothing_lost=repair.nothing_lost or None,
        findings=[finding.number for finding in repair.findings.all()],
        steps=[_part(StepPart, step) for step in repair.steps.all()],
        cuts=[_cut_part(cut) for cut in repair.cuts.all()],
        choices=[
            _part(ChoicePart, c, view=c.panel.view.name, panel=c.panel.code) for c in repair.choices.all()
        ],
        growths=[
            _part(GrowthPart, g, view=g.panel.view.name, panel=g.panel.code) for g in repair.growths.all()
        ],
        own_plans=[
            _part(OwnPlanPart, plan, view=plan.panel.view.name, panel=plan.panel.code)
            for plan in repair.own_plans.all()
        ],
        nuggets=[
            _part(NuggetPart, n, view=n.panel.view.name, panel=n.panel.code)
            for n in repair.nugget_ticks.all()
        ],
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
        transfer_marks=[_part(TransferPart, mark) for mark in cut.transfer_marks.all()],
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
    for owner, photo in photos_of(bundle):
        try:
            photos[photo.file] = photo_path(photo.file).read_bytes()
        except OSError:
            what = f"A photo of {owner} ('{photo.caption or photo.file}') is missing on this machine."
            raise BadBundle(
                what, "photos", "Restore the latest backup, or delete that photo, then export again."
            ) from None
    return write_bundle(bundle, photos)


def import_vehicle(data: bytes, owner) -> Vehicle:
    """Store the vehicle of a bundle as a new one of this owner; all of it or nothing.

    Raises: BadBundle.
    """
    bundle, photos = read_bundle(data)
    if bundle.vehicle.currency not in CURRENCIES:
        raise BadBundle(
            f"No currency '{bundle.vehicle.currency}' is known.", "vehicle.json: vehicle.currency"
        )
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
        with building():
            return _store(bundle, owner, names, photos)
    except BaseException as error:
        for path in written:
            path.unlink(missing_ok=True)
        if isinstance(
            error, (IntegrityError, DataError, OverflowError, ArithmeticError)
        ):  # two of one number, or a figure that no column holds
            raise BadBundle(
                "This bundle contradicts itself: it cannot be stored as it is.",
                "vehicle.json",
                "Export it again from where it came.",
            ) from error
        raise


def _checked_picture(picture: bytes, name: str) -> tuple[bytes, int, int]:
    try:
        cleaned, width, height = cleaned_picture(picture)
    except BadField as error:
        raise BadBundle(error.what, f"photos/{name}", error.mend) from None
    return (picture if is_plain_jpeg(picture) else cleaned), width, height


def _store(bundle: Bundle, owner, names: dict[str, str], photos: dict) -> Vehicle:
    by = owner.get_username()
    vehicle = Vehicle.objects.create(
        owner=owner, changed_by=by, **bundle.vehicle.model_dump(exclude={"views"})
    )
    panels: dict[tuple[str, str], Panel] = {}
    for place, view in enumerate(bundle.vehicle.views):
        stored = ShellView.objects.create(
            vehicle=vehicle, place=place, **view.model_dump(mode="json", exclude={"panels", "looked"})
        )
        for panel in Panel.objects.bulk_create(
            Panel(view=stored, **panel.model_dump(mode="json")) for panel in view.panels
        ):
            panels[view.name, panel.code] = panel
    findings: dict[int, Finding] = {}
    for part in bundle.findings:
        values = part.model_dump(exclude={"view", "panel", "inspections", "readings", "outline"})
        findings[part.number] = stored = Finding.objects.create(
            vehicle=vehicle,
            panel=panels[part.view, part.panel],
            outline=[list(p) for p in part.outline],
            changed_by=by,
            **values,
        )
        for look in part.inspections:
            made = Inspection.objects.create(
                finding=stored,
                outline=[list(p) for p in look.outline],
                **look.model_dump(exclude={"outline", "evidence"}),
            )
            EvidenceItem.objects.bulk_create(
                EvidenceItem(finding=stored, inspection=made, **each.model_dump()) for each in look.evidence
            )
        GridReading.objects.bulk_create(
            GridReading(finding=stored, **reading.model_dump()) for reading in part.readings
        )
    _store_survey(vehicle, bundle, panels, findings, by, names, photos)
    _store_datums(vehicle, bundle.datums, by)
    _store_hold(vehicle, bundle, by)
    if bundle.plan_rules:
        PlanRules.objects.create(vehicle=vehicle, changed_by=by, **bundle.plan_rules.model_dump())
    for part in bundle.repairs:
        _store_repair(vehicle, part, panels, findings, by, names, photos)
    WorkEntry.objects.bulk_create(WorkEntry(vehicle=vehicle, **entry.model_dump()) for entry in bundle.work)
    _store_costs(vehicle, None, bundle.costs)
    return vehicle


def _store_hold(vehicle: Vehicle, bundle: Bundle, by: str) -> None:
    """How the shell stands and stood, dials read, the order of work."""
    if bundle.hold_setup:
        HoldSetup.objects.create(vehicle=vehicle, changed_by=by, **bundle.hold_setup.model_dump(mode="json"))
    HoldState.objects.bulk_create(
        HoldState(
            vehicle=vehicle, made_on=state.made_on, by=state.by, setup=state.setup.model_dump(mode="json")
        )
        for state in bundle.hold.states
    )
    DialReading.objects.bulk_create(
        DialReading(vehicle=vehicle, **dial.model_dump()) for dial in bundle.hold.dials
    )
    if order := bundle.hold.order:
        steps = [step.model_dump(mode="json") for step in order.steps]
        WorkOrder.objects.create(
            vehicle=vehicle, changed_by=by, steps=steps, accepted_on=order.accepted_on, despite=order.despite
        )


def _store_survey(
    vehicle: Vehicle, bundle: Bundle, panels: dict, findings: dict, by: str, names: dict, photos: dict
) -> None:
    """What was looked at, what is known of the panels, the photos of the survey."""
    views = {view.name: view for view in vehicle.views.all()}
    for view in bundle.vehicle.views:
        LookedRegion.objects.bulk_create(
            LookedRegion(view=views[view.name], **region.model_dump(mode="json")) for region in view.looked
        )
    for notes in bundle.panel_notes:
        panel = panels[notes.view, notes.panel]
        if notes.far_side:
            FarSide.objects.create(panel=panel, changed_by=by, **notes.far_side.model_dump())
        PanelItem.objects.bulk_create(PanelItem(panel=panel, **item.model_dump()) for item in notes.items)
        for own in notes.surroundings:
            Surrounding.objects.create(panel=panel, changed_by=by, **own.model_dump(mode="json"))
    for part in bundle.survey_photos:
        values = part.model_dump(exclude={"view", "panel", "finding", "file", "taken_on"}, mode="json")
        _, width, height = photos[part.file]
        more = {"file": names[part.file], "width": width, "height": height, "taken_on": part.taken_on}
        finding = findings.get(part.finding)
        SurveyPhoto.objects.create(
            vehicle=vehicle, panel=panels[part.view, part.panel], finding=finding, **values, **more
        )
    cover_all(vehicle)


def _reading(round_: Round, part: DatumReadingPart, points: dict[str, DatumPoint]) -> Reading:
    ends = dict(zip(("first", "second", "third"), (points[code] for code in part.codes), strict=False))
    return Reading(round=round_, **ends, **part.model_dump(exclude={"codes"}))


def _store_datums(vehicle: Vehicle, part: DatumsPart, by: str) -> None:
    """The datum book, the rounds and the stands."""
    points = {
        point.code: DatumPoint.objects.create(
            vehicle=vehicle, place=place, changed_by=by, **point.model_dump()
        )
        for place, point in enumerate(part.points)
    }
    for each in part.rounds:
        values = each.model_dump(exclude={"readings", "plan"})
        stored = Round.objects.create(
            vehicle=vehicle, plan=[[kind, list(codes)] for kind, codes in each.plan], changed_by=by, **values
        )
        Reading.objects.bulk_create(_reading(stored, reading, points) for reading in each.readings)
    if part.stand_set:
        StandSet.objects.create(vehicle=vehicle, changed_by=by, **part.stand_set.model_dump())


def _store_costs(vehicle: Vehicle, repair: Repair | None, parts: list[CostPart]) -> None:
    for part in parts:
        CostLine.objects.create(vehicle=vehicle, repair=repair, **part.model_dump())


def _store_repair(
    vehicle: Vehicle, part: RepairPart, panels: dict, findings: dict, by: str, names: dict, photos: dict
) -> None:
    columns = part.model_dump(include={"number", "title", "style", "margin_mm", "corner_radius_mm", "web_mm"})
    last = part.steps[-1]
    columns["nothing_lost"] = part.nothing_lost.model_dump(mode="json") if part.nothing_lost else {}
    repair = Repair.objects.create(
        vehicle=vehicle, state=last.state, state_on=last.made_on, changed_by=by, **columns
    )
    repair.findings.set([findings[number] for number in part.findings])
    RibbonStep.objects.bulk_create(RibbonStep(repair=repair, **step.model_dump()) for step in part.steps)
    for cut_part in part.cuts:
        values = cut_part.model_dump(
            mode="json", exclude={"view", "panel", "findings", "patch", "weld", "transfer_marks"}
        )
        cut = Cut.objects.create(
            repair=repair, panel=panels[cut_part.view, cut_part.panel], changed_by=by, **values
        )
        cut.findings.set([findings[number] for number in cut_part.findings])
        if cut_part.patch:
            Patch.objects.create(cut=cut, changed_by=by, **cut_part.patch.model_dump())
        for mark in cut_part.transfer_marks:
            TransferMark.objects.create(
                cut=cut,
                changed_by=by,
                measured_on=mark.measured_on,
                **mark.model_dump(mode="json", exclude={"measured_on"}),
            )
        if cut_part.weld:
            WeldPlan.objects.create(cut=cut, changed_by=by, **cut_part.weld.model_dump())
    for choice in part.choices:
        panel = panels[choice.view, choice.panel]
        PanelChoice.objects.create(
            repair=repair, panel=panel, changed_by=by, **choice.model_dump(exclude={"view", "panel"})
        )
    for growth in part.growths:
        panel = panels[growth.view, growth.panel]
        values = growth.model_dump(mode="json", exclude={"view", "panel", "made_on"})
        CutGrowth.objects.create(repair=repair, panel=panel, made_on=growth.made_on, **values)
    NuggetTick.objects.bulk_create(
        NuggetTick(
            repair=repair, panel=panels[each.view, each.panel], **each.model_dump(exclude={"view", "panel"})
        )
        for each in part.nuggets
    )
    for plan in part.own_plans:
        outlines = plan.model_dump(mode="json")["outlines"]
        OwnPlan.objects.create(
            repair=repair,
            panel=panels[plan.view, plan.panel],
            name=plan.name,
            outlines=outlines,
            changed_by=by,
        )
    WorkEntry.objects.bulk_create(
        WorkEntry(vehicle=vehicle, repair=repair, **entry.model_dump()) for entry in part.work
    )
    _store_costs(vehicle, repair, part.costs)
    Note.objects.bulk_create(Note(repair=repair, **note.model_dump()) for note in part.notes)
    Photo.objects.bulk_create(
        Photo(
            repair=repair,
            width=photos[photo.file][1],
            height=photos[photo.file][2],
            **{**photo.model_dump(), "file": names[photo.file]},
        )
        for photo in part.photos
    )
