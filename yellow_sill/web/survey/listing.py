"""The survey as a list: filtered, compared, forecast, taken out and in."""

from dataclasses import dataclass

import django_filters

from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.said import Mm2, Quoted, Said, joined
from yellow_sill.core.shell import LAYERS
from yellow_sill.core.survey.grading import METHOD_WORDS, METHODS, Grade
from yellow_sill.core.survey.growth import GrowthForecast, GrowthRequest, growth_forecast
from yellow_sill.web.shells.models import Panel, Vehicle, sheet_name

from .models import Finding, Inspection

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
