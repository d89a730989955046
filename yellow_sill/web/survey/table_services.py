"""Findings as a table: taken out, laid beside what is here, taken in whole or not at all, taken back."""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.formats.csv import csv_text
from yellow_sill.core.formats.survey_match import ChangedRow, KnownFinding, Matched, matched
from yellow_sill.core.formats.survey_tables import (
    COLUMNS,
    FindingRow,
    RefusedRow,
    corners_cell,
    evidence_cell,
    read_findings,
)
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.survey.coverage_services import covers_of, store_covers

from .models import SurveyImport
from .services import (
    Draft,
    correct_words,
    create_findings,
    delete_finding,
    delete_plain,
    drafted,
    look_again,
    take_look_back,
)


def survey_rows(vehicle: Vehicle) -> list[dict[str, Any]]:
    """The findings as the open table holds them: as they are now, with their latest look."""
    rows = []
    for f in (
        vehicle.findings.select_related("panel__view")
        .prefetch_related("inspections", "evidence")
        .defer("panel__view__features", "panel__view__silhouette")
    ):
        latest = f.inspections.last()
        rows.append(
            {
                "finding": f.number,
                "view": f.panel.view.name,
                "panel": f.panel.code,
                "name": f.title,
                "stage": latest.stage if latest else "seen",
                "day": (latest.made_on if latest else f.found_on).isoformat(),
                "corners": corners_cell(f.panel.view.in_shell(f.outline)),
                "evidence": evidence_cell(item.record() for item in f.evidence.all()),
                "old_repair": f.get_old_kind_display() if f.old_kind else "",
                "note": f.note,
                "grade": f.grade,
                "why": f.why,
                "area_cm2": round(f.area_mm2 / 100, 1),
            }
        )
    return rows


def survey_csv(vehicle: Vehicle) -> str:
    return csv_text(COLUMNS, ([row[name] for name in COLUMNS] for row in survey_rows(vehicle)))


def survey_json(vehicle: Vehicle) -> str:
    return json.dumps({"findings": survey_rows(vehicle)}, ensure_ascii=False, indent=1)


@dataclass(frozen=True, slots=True, kw_only=True)
class Imported:
    """What came of a table: what it brings, findings made and changed, the rows that stopped it; None of it stored where ``matched`` asks."""

    matched: Matched
    made: int
    changed: int
    refused: list[RefusedRow]
    stored: SurveyImport | None = None


def import_findings(
    vehicle: Vehicle, text: str, *, by: str, today: date, confirmed: bool = False
) -> Imported:
    """Take in a table of findings: all of its rows, or none; findings that are there already are matched, and nothing is doubled.

    Args: confirmed: a person has seen what is new and changed; without it a table that tells of findings here is only laid beside them.
    Raises: BadField where the file as a whole cannot be read.
    """
    rows, refused = read_findings(text, today)
    told = matched(rows, _known(vehicle))
    if refused or (told.asks and not confirmed):
        return Imported(matched=told, made=0, changed=0, refused=refused)
    panels = {
        (p.view.name, p.code): p
        for p in Panel.objects.filter(view__vehicle=vehicle).select_related("view").defer("view__features")
    }
    drafts: list[Draft] = []
    for row in told.new:  # judged before anything is stored
        try:
            drafts.append(_draft(vehicle, panels, row, by, today))
        except CoreError as error:
            refused.append(RefusedRow(row=row.row, why=error.message))
    if refused:
        return Imported(matched=told, made=0, changed=0, refused=refused)
    covers = _covers_with(drafts)
    try:
        stored, changed = _stored(vehicle, drafts, covers, told.changed, by=by, today=today)
    except _Refused as error:
        return Imported(matched=told, made=0, changed=0, refused=error.rows)
    return Imported(matched=told, made=len(drafts), changed=changed, refused=[], stored=stored)


class _Refused(Exception):
    """Rows that cannot be stored: none of the table is."""

    def __init__(self, rows: list[RefusedRow]) -> None:
        super().__init__(rows)
        self.rows = sorted(rows, key=lambda each: each.row)


def _covers_with(drafts: Sequence[Draft]) -> list[tuple[Panel, dict]]:
    """The cover of the panels that drafts lie on, as it will be with them."""
    outlines: dict[int, list] = {}
    panels: dict[int, Panel] = {}
    for draft in drafts:
        panel = draft.finding.panel
        panels[panel.pk] = panel
        outlines.setdefault(panel.pk, []).append(draft.extent.outline)
    return [cover for key, panel in panels.items() for cover in covers_of([panel], more=outlines[key])]


@one_change
def _stored(
    vehicle: Vehicle,
    drafts: Sequence[Draft],
    covers: Sequence[tuple[Panel, dict]],
    rows: Sequence[ChangedRow],
    *,
    by: str,
    today: date,
) -> tuple[SurveyImport | None, int]:
    """All rows of a table in one change. Returns: what can be taken back, and how many findings were changed. Raises: _Refused."""
    made = create_findings(vehicle, drafts, by=by)
    store_covers(covers)
    changed, refused = [], []
    for each in rows:
        try:
            changed.append(_change(vehicle, each, by, today))
        except CoreError as error:
            refused.append(RefusedRow(row=each.row.row, why=error.message))
    if refused:
        raise _Refused(refused)
    if not made and not changed:
        return None, 0
    return SurveyImport.objects.create(vehicle=vehicle, by=by, made=made, changed=changed), len(changed)


def _known(vehicle: Vehicle) -> list[KnownFinding]:
    """The vehicle's findings as the table would tell them."""
    return [
        KnownFinding(
            number=row["finding"], view=row["view"], panel=row["panel"], name=row["name"], stage=row["stage"], day=row["day"],
            corners=[[float(value) for value in corner.split()] for corner in row["corners"].split(" | ")], evidence=row["evidence"], note=row["note"],
        )
        for row in survey_rows(vehicle)
    ]  # fmt: skip


def _change(vehicle: Vehicle, each: ChangedRow, by: str, today: date) -> dict[str, Any]:
    """Words are corrected; another outline, stage, day or evidence is a further look. Returns what it was before."""
    finding, row = vehicle.findings.get(number=each.known.number), each.row
    before = {"number": finding.number, "title": finding.title, "note": finding.note, "inspection": None}
    if set(each.columns) & {"corners", "stage", "day", "evidence"}:
        there = {part.strip() for part in each.known.evidence.split("|")}
        fresh = [look.model_dump() for look in row.evidence if evidence_cell([look]) not in there]
        corners = finding.panel.view.in_shell(row.corners)
        look_again(
            finding,
            version=None,
            stage=row.stage,
            made_on=row.day or today,
            corners=corners,
            typed="",
            evidence=fresh,
            by=by,
        )
        before["inspection"] = finding.inspections.last().pk
    if set(each.columns) & {"name", "note"}:
        correct_words(finding, title=row.name, note=row.note, by=by)
    return before


@one_change
def undo_import(stored: SurveyImport, *, by: str) -> None:
    """Take a table back: findings that it made go, what it changed is as before.

    Raises: FindingInUse where a repair mends one by now; BadField where it was taken back already.
    """
    if stored.undone:
        raise BadField("This table was taken back already.", "import", "")
    made = list(
        stored.vehicle.findings.filter(number__in=stored.made).prefetch_related(
            "repairs", "readings", "photos"
        )
    )
    for finding in made:
        if finding.repairs.all():
            delete_finding(finding)  # it says why not
    plain = [finding for finding in made if not finding.readings.all() and not finding.photos.all()]
    gone = {finding.pk for finding in plain}
    panels = Panel.objects.filter(findings__in=plain).distinct().select_related("view")
    covers = covers_of(panels, gone=gone)
    delete_plain(plain)
    store_covers(covers)
    for finding in made:
        if finding.pk not in gone:
            delete_finding(finding)
    for before in stored.changed:
        finding = stored.vehicle.findings.filter(number=before["number"]).first()
        if finding is None:
            continue
        if before["inspection"]:
            take_look_back(finding, before["inspection"], by=by)
        correct_words(finding, title=before["title"], note=before["note"], by=by)
    stored.undone = True
    stored.save(update_fields=["undone"])


def _draft(vehicle: Vehicle, panels: dict, row: FindingRow, by: str, today: date) -> Draft:
    panel = panels.get((row.view, row.panel))
    if panel is None:
        views = {view for view, _ in panels}
        raise CoreError(
            f"There is no panel {row.panel} in the view '{row.view}'."
            if row.view in views
            else f"There is no view '{row.view}'.",
            "panel",
            "",
        )
    looks: Iterable[dict] = [look.model_dump() for look in row.evidence]
    return drafted(
        vehicle,
        panel,
        corners=panel.view.in_shell(row.corners),
        evidence=looks,
        title=row.name,
        note=row.note,
        found_on=row.day or today,
        stage=row.stage,
        by=by,
    )
