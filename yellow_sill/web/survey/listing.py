"""The survey as a list: filtered, compared, forecast, taken out and in."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Any

import django_filters
from django.db import transaction

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
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.said import Mm2, Quoted, Said, joined
from yellow_sill.core.shell import LAYERS
from yellow_sill.core.survey.grading import METHOD_WORDS, METHODS, Grade
from yellow_sill.core.survey.growth import GrowthForecast, GrowthRequest, growth_forecast
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Panel, Vehicle, sheet_name

from .models import Finding, Inspection, SurveyImport
from .services import correct_words, create_finding, delete_finding, look_again, take_look_back

SIDES = {"L-": "left", "R-": "right", "C": "centre"}
NO_REPAIR = "no repair"


class FindingFilter(django_filters.FilterSet):
    """The list's filters; each may be left open."""

    side = django_filters.ChoiceFilter(
        choices=list(SIDES.items()), method="on_side", empty_label="both sides", label="Side"
    )
    panel = django_filters.ChoiceFilter(field_name="panel__code", empty_label="every panel", label="Panel")
    layer = django_filters.ChoiceFilter(
        field_name="panel__layer",
        choices=[(place, name) for place, name in enumerate(LAYERS, start=1)],
        empty_label="every layer",
        label="Layer",
    )
    grade = django_filters.ChoiceFilter(
        choices=[(grade.value, grade.word) for grade in Grade], empty_label="every grade", label="Grade"
    )
    method = django_filters.ChoiceFilter(
        choices=[(m, METHOD_WORDS[m]) for m in METHODS],
        method="looked_by",
        empty_label="every method",
        label="Looked by",
    )
    state = django_filters.ChoiceFilter(
        choices=[(NO_REPAIR, "no repair yet"), *((state, state) for state in STATES)],
        method="in_state",
        empty_label="every state",
        label="Repair",
    )

    class Meta:
        model = Finding
        fields: list[str] = []

    def __init__(self, *args, vehicle: Vehicle, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        codes = vehicle.findings.values_list("panel__code", flat=True).distinct().order_by("panel__code")
        self.filters["panel"].extra["choices"] = [(code, code) for code in codes]

    def on_side(self, found, _name, value):
        if value == "C":
            return found.exclude(panel__code__startswith="L-").exclude(panel__code__startswith="R-")
        return found.filter(panel__code__startswith=value)

    def looked_by(self, found, _name, value):
        return found.filter(evidence__method=value).distinct()

    def in_state(self, found, _name, value):
        return (
            found.filter(repairs=None)
            if value == NO_REPAIR
            else found.filter(repairs__state=value).distinct()
        )


def forecast(vehicle: Vehicle) -> GrowthForecast:
    """How far the vehicle's rust will likely go, from its own inspections."""
    looks: dict[int, list[dict]] = {}
    stored = Inspection.objects.filter(finding__vehicle=vehicle).order_by("finding__number", "made_on", "pk")
    for number, stage, area, perimeter in stored.values_list(
        "finding__number", "stage", "area_mm2", "perimeter_mm"
    ):
        looks.setdefault(number, []).append({"stage": stage, "area_mm2": area, "perimeter_mm": perimeter})
    return growth_forecast(
        GrowthRequest.read(
            {"findings": [{"id": number, "extents": extents} for number, extents in looks.items()]}
        )
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Pair:
    """A panel and its mirror, with what was found on each."""

    name: str
    left: Panel
    right: Panel
    on_left: list[Finding]
    on_right: list[Finding]


def side_by_side(vehicle: Vehicle) -> list[Pair]:
    """Every mirrored panel with a finding on either side, left beside right."""
    found: dict[str, list[Finding]] = {}
    for finding in vehicle.findings.select_related("panel").defer("panel__outline", "panel__holes"):
        found.setdefault(finding.panel.code, []).append(finding)
    panels: dict[str, Panel] = {}
    for panel in (
        Panel.objects.filter(view__vehicle=vehicle)
        .select_related("cover", "view")
        .defer("outline", "holes", "view__features", "view__silhouette", "cover__unknown")
    ):
        panels.setdefault(panel.code, panel)
    pairs = []
    for code, panel in panels.items():
        mirror = panels.get(panel.mirror_code)
        if code.startswith("L-") and mirror and (found.get(code) or found.get(mirror.code)):
            name = (
                panel.name.values["part"]
                if isinstance(panel.name, Said) and "part" in panel.name.values
                else panel.name
            )
            pairs.append(
                Pair(
                    name=name,
                    left=panel,
                    right=mirror,
                    on_left=found.get(code, []),
                    on_right=found.get(mirror.code, []),
                )
            )
    return sorted(pairs, key=lambda pair: (pair.left.layer, pair.left.code))


def report_rows(vehicle: Vehicle) -> tuple[dict[int, list], int]:
    """The findings of each view as the report tells them, by the view's key, and how many there are. Light: there may be hundreds."""
    mended: dict[int, list[str]] = {}
    for finding, number, state in vehicle.findings.exclude(repairs=None).values_list(
        "pk", "repairs__number", "repairs__state"
    ):
        mended.setdefault(finding, []).append(f"R-{number:02d}: {state}.")
    fields = (
        "pk",
        "number",
        "title",
        "grade",
        "why",
        "area_mm2",
        "outline",
        "panel__name",
        "panel__named_by_hand",
        "panel__code",
        "panel__layer",
        "panel__view_id",
    )
    by_view: dict[int, list] = {}
    found = list(vehicle.findings.values_list(*fields, named=True))
    for each in found:
        word = Grade(each.grade).word if each.grade else "Not graded"
        told = Said(
            "{head}, {panel}, {layer}, {area}. {why}",
            head=Quoted(each.title) if each.title else sheet_name(each),
            panel=each.panel__code,
            layer=Said(LAYERS[each.panel__layer - 1]),
            area=Mm2(each.area_mm2, 1, large=True),
            why=each.why,
        )
        told = joined([told, *mended.get(each.pk, [])])
        by_view.setdefault(each.panel__view_id, []).append(
            ReportRow(
                pk=each.pk, grade=each.grade, outline=each.outline, head=f"{each.number} {word}", told=told
            )
        )
    return by_view, len(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportRow:
    pk: int
    grade: str
    outline: list
    head: str
    told: str


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
    made, changed = [], []
    with transaction.atomic():
        for row in told.new:
            try:
                made.append(_make(vehicle, panels, row, by, today).number)
            except CoreError as error:
                refused.append(RefusedRow(row=row.row, why=error.message))
        for each in told.changed:
            try:
                changed.append(_change(vehicle, each, by, today))
            except CoreError as error:
                refused.append(RefusedRow(row=each.row.row, why=error.message))
        if refused:
            transaction.set_rollback(True)
            return Imported(
                matched=told, made=0, changed=0, refused=sorted(refused, key=lambda each: each.row)
            )
        stored = (
            SurveyImport.objects.create(vehicle=vehicle, by=by, made=made, changed=changed)
            if made or changed
            else None
        )
    return Imported(matched=told, made=len(made), changed=len(changed), refused=[], stored=stored)


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
    for finding in stored.vehicle.findings.filter(number__in=stored.made):
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


def _make(vehicle: Vehicle, panels: dict, row: FindingRow, by: str, today: date) -> Finding:
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
    return create_finding(
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
