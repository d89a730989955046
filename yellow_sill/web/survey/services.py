"""Findings: checked, graded by the core, stored."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db.models import Max, Min

from yellow_sill.core.days import day_words
from yellow_sill.core.errors import BadField
from yellow_sill.core.survey.extent import Extent, extent_on_panel
from yellow_sill.core.survey.grading import (
    Evidence,
    Grading,
    fault_in,
    grade_of,
    overruled,
    with_least_reading,
    with_old_repair,
)
from yellow_sill.core.survey.growth import MOST_FINDINGS, STAGE_WORDS, STAGES
from yellow_sill.core.survey.old_repairs import old_repair
from yellow_sill.web.frame.changes import create_all, delete_all, one_change
from yellow_sill.web.frame.pictures import removed
from yellow_sill.web.shells.models import Panel, Vehicle

from .coverage_services import refresh_cover
from .models import EvidenceItem, Finding, Inspection


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


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """A finding that is checked and graded, and not stored yet: it has no number."""

    finding: Finding
    extent: Extent
    looks: list[Evidence]
    stage: str


def drafted(
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
    stage: str = STAGES[0],
    old: Mapping[str, str] | None = None,
) -> Draft:
    """Check and grade a new finding. Raises: BadOutline or BadField."""
    looks = read_evidence(evidence)
    extent = extent_on_panel(corners, panel.outline, panel.name)
    finding = Finding(
        vehicle=vehicle,
        panel=panel,
        title=title,
        note=note,
        found_on=found_on,
        found_by=by,
        changed_by=by,
        **_old(old),
    )
    _take(finding, extent, typed)
    grading = _grading(finding, looks)
    finding.grade, finding.why = _letter(grading), grading.why
    return Draft(finding=finding, extent=extent, looks=looks, stage=stage)


@one_change
def create_finding(vehicle: Vehicle, panel: Panel, *, by: str, **values: Any) -> Finding:
    """Store a new finding under the next free number, with its first inspection.

    Args: values: see ``drafted``.
    Raises: BadOutline or BadField.
    """
    draft = drafted(vehicle, panel, by=by, **values)
    finding = draft.finding
    finding.number = _next_number(vehicle)
    finding.save()
    _inspect(finding, draft.extent, draft.looks, draft.stage, finding.found_on, by)
    refresh_cover([panel])
    return finding


def _next_number(vehicle: Vehicle, more: int = 1) -> int:
    """The number of the next finding. Raises: BadField where a shell has more findings than the sums take."""
    count = vehicle.findings.count() + more
    if count > MOST_FINDINGS:
        raise BadField(
            f"This shell would have {count} findings; {MOST_FINDINGS} are taken.",
            "findings",
            "Join those that lie side by side.",
        )
    return (vehicle.findings.aggregate(last=Max("number"))["last"] or 0) + 1


def create_findings(vehicle: Vehicle, drafts: Sequence[Draft], *, by: str) -> list[int]:
    """Store many drafts at once, within a change; their panels' cover is the caller's. Returns: their numbers."""
    first = _next_number(vehicle, len(drafts))
    gone = Finding.history.filter(history_type="-", vehicle=vehicle, number__gte=first).order_by("history_id")
    versions = dict(gone.values_list("number", "version"))  # a number given again goes on counting
    for number, draft in enumerate(drafts, start=first):
        draft.finding.number, draft.finding.version = number, 1 + versions.get(number, 0)
    create_all([draft.finding for draft in drafts])
    looks = [
        Inspection(
            finding=draft.finding,
            stage=draft.stage,
            made_on=draft.finding.found_on,
            made_by=by,
            **_went(draft.extent),
        )
        for draft in drafts
    ]
    create_all(looks)
    create_all(
        [
            EvidenceItem(finding=draft.finding, inspection=look, made_by=by, **each.model_dump())
            for draft, look in zip(drafts, looks, strict=True)
            for each in draft.looks
        ]
    )
    return [draft.finding.number for draft in drafts]


@one_change
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
    stage: str = "",
    old: Mapping[str, str] | None = None,
) -> Finding:
    """Correct a finding: its name, panel and note, and the latest inspection with its outline and evidence.

    Raises: ChangedMeanwhile, BadOutline, BadField.
    """
    _require_unchanged(finding, version)
    looks = read_evidence(evidence)
    extent = extent_on_panel(corners, panel.outline, panel.name)
    former, first, latest = finding.panel, finding.inspections.first(), finding.inspections.last()
    _check_order(finding.inspections.exclude(pk=latest.pk).last(), stage or latest.stage, found_on)
    finding.panel = panel
    _take(finding, extent, typed)
    _correct_look(latest, extent, looks, stage or latest.stage, found_on, by)
    if latest.pk == first.pk:
        finding.found_on = found_on
    _save_graded(finding, version, by, title=title, note=note, **_old(old))
    refresh_cover({former, panel})
    return finding


@one_change
def look_again(
    finding: Finding,
    *,
    version: int | None,
    stage: str,
    made_on: date,
    corners: Sequence,
    typed: str,
    evidence: Iterable[Mapping],
    by: str,
) -> Finding:
    """Add an inspection: later, stripped, opened or as cut, with the outline as it is then.

    Raises: ChangedMeanwhile, BadOutline, BadField: a stage or day before the last inspection's.
    """
    _require_unchanged(finding, version)
    _check_order(finding.inspections.last(), stage, made_on)
    looks = read_evidence(evidence)
    extent = extent_on_panel(corners, finding.panel.outline, finding.panel.name)
    _take(finding, extent, typed)
    _inspect(finding, extent, looks, stage, made_on, by)
    _save_graded(finding, version, by)
    refresh_cover([finding.panel])
    return finding


@one_change
def correct_words(finding: Finding, *, title: str, note: str, by: str) -> None:
    """Correct a finding's name and note, and nothing else."""
    finding.save_as(None, by, title=title, note=note)


@one_change
def take_look_back(finding: Finding, inspection_pk: int, *, by: str) -> None:
    """Take one look back; the outline is that of the latest one left, and the grade follows. The only look stays."""
    if finding.inspections.count() < 2:
        return
    finding.inspections.filter(pk=inspection_pk).delete()
    latest = finding.inspections.last()
    _take(finding, extent_on_panel(latest.outline, finding.panel.outline, finding.panel.name), "")
    _save_graded(finding, None, by)
    refresh_cover([finding.panel])


@one_change
def overrule(finding: Finding, *, version: int | None, to: str, reason: str, by: str) -> Finding:
    """Put a person's own grade in place of the core's, or take it back (``to`` empty).

    Raises: ChangedMeanwhile, BadField.
    """
    _require_unchanged(finding, version)
    finding.overruled_to, finding.overruled_reason = to, reason.strip() if to else ""
    _save_graded(finding, version, by)
    return finding


def _require_unchanged(finding: Finding, version: int | None) -> None:
    Finding.objects.get(pk=finding.pk).require_version(version)


def _check_order(before: Inspection | None, stage: str, made_on: date) -> None:
    if stage not in STAGES:
        raise BadField(
            "There is no such stage.", "stage", f"Choose one of: {', '.join(STAGE_WORDS.values())}."
        )
    if before is None:
        return
    if STAGES.index(stage) < STAGES.index(before.stage):
        text = f"It was looked at before: {STAGE_WORDS[before.stage].lower()}."
        raise BadField(text, "stage", "A later look has the same stage or a later one.")
    if made_on < before.made_on:
        raise BadField(
            f"The look before was on {day_words(before.made_on)}.",
            "found_on",
            "Give that day or a later one.",
        )


def _take(finding: Finding, extent: Extent, typed: str) -> None:
    finding.outline, finding.outline_typed = extent.outline, typed
    finding.area_mm2, finding.bounds_mm = extent.area_mm2, list(extent.bounds_mm)


def _inspect(
    finding: Finding, extent: Extent, looks: Sequence[Evidence], stage: str, made_on: date, by: str
) -> None:
    made = Inspection.objects.create(
        finding=finding, stage=stage, made_on=made_on, made_by=by, **_went(extent)
    )
    _tell_evidence(made, looks, by)


def _correct_look(
    look: Inspection, extent: Extent, looks: Sequence[Evidence], stage: str, made_on: date, by: str
) -> None:
    """A look is corrected where it stands: whoever looked stays, and so does evidence of which nothing was changed."""
    said = {"stage": stage, "made_on": made_on, **_went(extent)}
    if any(getattr(look, name) != value for name, value in said.items()):
        for name, value in said.items():
            setattr(look, name, value)
        look.save()
    fresh = list(looks)
    for item in look.evidence.all():
        if item.record() in fresh:
            fresh.remove(item.record())
        else:
            item.delete()
    _tell_evidence(look, fresh, by)


def _went(extent: Extent) -> dict:
    return {
        "outline": extent.outline,
        "area_mm2": extent.area_mm2,
        "perimeter_mm": extent.perimeter_mm,
    }


def _tell_evidence(look: Inspection, looks: Sequence[Evidence], by: str) -> None:
    for each in looks:
        EvidenceItem.objects.create(finding=look.finding, inspection=look, made_by=by, **each.model_dump())


def _grading(finding: Finding, looks: Sequence[Evidence]) -> Grading:
    """The core's grade, or the person's own; an old repair that must go is never sound."""
    grading = grade_of(looks, finding.panel.thickness_mm)
    least = finding.readings.aggregate(least=Min("thickness_mm"))["least"] if finding.pk else None
    if least is not None:
        grading = with_least_reading(grading, least, finding.panel.thickness_mm)
    if finding.old_kind and finding.old_verdict != "keep":
        grading = with_old_repair(
            grading, old_repair(finding.old_kind, finding.old_test, finding.old_verdict).why
        )
    return (
        overruled(grading, finding.overruled_to, finding.overruled_reason)
        if finding.overruled_to
        else grading
    )


def _letter(grading: Grading) -> str:
    return grading.grade.value if grading.grade else ""


def _save_graded(finding: Finding, version: int | None, by: str, **fields) -> None:
    for name, value in fields.items():
        setattr(finding, name, value)
    looks = [
        item.record() for item in EvidenceItem.objects.filter(finding=finding)
    ]  # not what the view had read before
    grading = _grading(finding, looks)
    finding.save_as(version, by, grade=_letter(grading), why=grading.why)


def regrade(finding: Finding, *, by: str) -> None:
    """Grade a finding anew after its readings changed."""
    _save_graded(finding, None, by)


def _old(old: Mapping[str, str] | None) -> dict[str, str]:
    """The columns of a previous repair, judged by the core. Raises: BadField."""
    if not old or not old.get("old_kind"):
        return {"old_kind": "", "old_test": "", "old_verdict": ""}
    judged = old_repair(old["old_kind"], old.get("old_test") or "none", old.get("old_verdict") or "")
    return {"old_kind": judged.kind, "old_test": judged.test, "old_verdict": judged.verdict}


def delete_plain(findings: Sequence[Finding]) -> None:
    """Delete findings on which nothing hangs but looks and their evidence, within a change; their panels' cover is the caller's."""
    for kind in (EvidenceItem, Inspection):
        delete_all(list(kind.objects.filter(finding__in=findings)))
    delete_all(findings)


@one_change
def delete_finding(finding: Finding) -> None:
    """Throw a finding away.

    Raises: FindingInUse while a repair mends it.
    """
    if repair := finding.repairs.first():
        raise FindingInUse(repair.code)
    panel = finding.panel
    for photo in finding.photos.all():
        removed(photo)
    finding.delete()
    refresh_cover([panel])
