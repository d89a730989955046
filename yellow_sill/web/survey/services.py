"""Findings: checked, graded by the core, stored."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date

from django.db import transaction
from django.db.models import Max

from yellow_sill.core.errors import BadField
from yellow_sill.core.geometry import size_of
from yellow_sill.core.shell import LAYERS
from yellow_sill.core.survey.extent import Extent, extent_on_panel
from yellow_sill.core.survey.grading import Evidence, Grading, fault_in, grade_of
from yellow_sill.core.survey.layers import Sheet, SheetHere, sheets_at
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.shells.models import Panel, Vehicle

from .models import EvidenceItem, Finding


class FindingInUse(Exception):
    """A finding that a repair mends cannot be thrown away."""


def read_evidence(rows: Iterable[Mapping]) -> list[Evidence]:
    """Evidence rows from a form or the board, checked.

    Raises: BadField whose ``where`` is the method.
    """
    looks = []
    for row in rows:
        try:
            look = Evidence.read(row)
        except BadField as error:
            raise BadField(error.what, f"{row.get('method', 'evidence')}.{error.where}", error.mend) from None
        if fault := fault_in(look):
            raise BadField(fault, look.method)
        looks.append(look)
    return looks


def preview(panel: Panel, corners: Sequence, evidence: Iterable[Mapping]) -> tuple[Extent | None, Grading]:
    """What the core says of a finding that is still being drawn; too few corners are no fault yet."""
    extent = extent_on_panel(corners, panel.outline, panel.name) if len(corners) >= 3 else None
    return extent, grade_of(read_evidence(evidence), panel.thickness_mm)


@transaction.atomic
def create_finding(
    vehicle: Vehicle,
    panel: Panel,
    *,
    corners: Sequence,
    typed: str = "",
    evidence: Iterable[Mapping] = (),
    title: str = "",
    note: str = "",
    found_on: date,
    by: str,
) -> Finding:
    """Store a new finding under the next free number.

    Raises: BadOutline or BadField.
    """
    looks = read_evidence(evidence)
    extent = extent_on_panel(corners, panel.outline, panel.name)
    grading = grade_of(looks, panel.thickness_mm)
    number = (vehicle.findings.aggregate(last=Max("number"))["last"] or 0) + 1
    finding = Finding.objects.create(
        vehicle=vehicle, panel=panel, number=number, title=title, note=note, found_on=found_on, found_by=by, changed_by=by, **_columns(extent, grading, typed)
    )
    EvidenceItem.objects.bulk_create(_item(finding, look, by) for look in looks)
    return finding


@transaction.atomic
def update_finding(
    finding: Finding,
    *,
    version: int | None,
    panel: Panel,
    corners: Sequence,
    typed: str,
    evidence: Iterable[Mapping],
    title: str,
    note: str,
    found_on: date,
    by: str,
) -> Finding:
    """Store a changed finding; looks that are new or different are added, a method set back to 'not done' is withdrawn.

    Raises: ChangedMeanwhile, BadOutline, BadField.
    """
    stored = Finding.objects.get(pk=finding.pk)
    if version is not None and stored.version != version:
        raise ChangedMeanwhile(stored)
    looks = read_evidence(evidence)
    kept = {item.method: item for item in finding.evidence.all()}  # the latest of each method wins
    finding.evidence.exclude(method__in=[look.method for look in looks]).delete()
    for look in looks:
        held = kept.get(look.method)
        if held is None or (held.result, held.hits, held.tries, held.thickness_mm) != (look.result, look.hits, look.tries, look.thickness_mm):
            _item(finding, look, by).save()
    fresh = EvidenceItem.objects.filter(finding=finding)  # not what the view had read before
    grading = grade_of([item.record() for item in fresh], panel.thickness_mm)
    extent = extent_on_panel(corners, panel.outline, panel.name)
    finding.save_as(version, by, panel=panel, title=title, note=note, found_on=found_on, **_columns(extent, grading, typed))
    return finding


@transaction.atomic
def delete_finding(finding: Finding) -> None:
    """Throw a finding away.

    Raises: FindingInUse while a repair mends it.
    """
    if repair := finding.repairs.first():
        raise FindingInUse(repair.code)
    finding.delete()


def _columns(extent: Extent, grading: Grading, typed: str) -> dict:
    return {
        "outline": extent.outline,
        "outline_typed": typed,
        "area_mm2": extent.area_mm2,
        "bounds_mm": list(extent.bounds_mm),
        "grade": grading.grade.value if grading.grade else "",
        "why": grading.why,
    }


def _item(finding: Finding, look: Evidence, by: str) -> EvidenceItem:
    return EvidenceItem(finding=finding, made_by=by, **look.model_dump())


def mirror_state(finding: Finding) -> tuple[Panel | None, list[Finding]]:
    """The panel on the other side and what was found there."""
    if not finding.panel.mirror_code:
        return None, []
    panel = (
        Panel.objects.filter(view__vehicle=finding.vehicle_id, code=finding.panel.mirror_code)
        .select_related("view")
        .defer("outline", "holes", "view__features", "view__silhouette")
        .order_by("view__place")
        .first()
    )
    found = list(finding.vehicle.findings.filter(panel__code=finding.panel.mirror_code)) if panel else []
    return panel, found


def stack_at(finding: Finding, panels: Iterable[Panel], marks: Iterable) -> list[tuple[str, SheetHere]]:
    """The sheets that lie on each other where a finding is, each with its layer's name."""
    rust: dict[int, list] = {}
    for mark in marks:
        rust.setdefault(mark.panel_id, []).append(mark.outline)
    sheets = [Sheet(code=p.code, layer=p.layer, thickness_mm=p.thickness_mm, outline=p.outline, rust=rust.get(p.pk, ())) for p in panels]
    return [(LAYERS[sheet.layer - 1], sheet) for sheet in sheets_at(finding.outline, sheets)]


_AXIS_WORDS = {"x": "Behind axle", "y": "Right of centre", "z": "Above datum"}


def where_words(finding: Finding, view) -> dict:
    """Size and place of a finding in the shell's own axes, which a mirrored view turns round."""
    u0, v0, u1, v1 = finding.bounds_mm
    if view.u_axis.startswith("-"):
        u0, u1 = -u1, -u0
    if view.v_axis.startswith("-"):
        v0, v1 = -v1, -v0
    return {
        "size": size_of(finding.bounds_mm),
        "where": (u0, u1, v0, v1),
        "u_word": _AXIS_WORDS[view.u_axis[-1]],
        "v_word": _AXIS_WORDS[view.v_axis[-1]],
    }
