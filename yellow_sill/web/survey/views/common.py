"""What every page with the survey's board needs."""

from django.http import HttpRequest

from yellow_sill.core.days import day_words
from yellow_sill.core.shell import LAYERS
from yellow_sill.core.survey.grading import Grade
from yellow_sill.web.frame import units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import ShellView, Vehicle
from yellow_sill.web.shells.view_bar import view_bar

from ..coverage_services import cover_of, unknown_paths
from ..models import Finding

#: Other views shown small below the board.
INSETS = 2


def layer_asked(request: HttpRequest) -> int:
    name = request.GET.get("layer", "")
    return LAYERS.index(name) + 1 if name in LAYERS else 1


def _tag(finding: Finding, chosen: Finding | None) -> Tag:
    return Tag.of(
        finding.number,
        finding.bounds_mm,
        letter=finding.grade or "?",
        selected=finding == chosen,
        href=finding.get_absolute_url(),
        name=f"Finding {finding.number}, {finding.grade_word}",
    )


#: What the board needs of each finding; outlines of panels are long.
LIGHT = (
    "vehicle_id",
    "number",
    "title",
    "grade",
    "outline",
    "bounds_mm",
    "changed_at",
    "panel__name",
    "panel__named_by_hand",
    "panel__layer",
    "panel__view_id",
)


def board_context(vehicle: Vehicle, view: ShellView, layer: int, chosen: Finding | None = None) -> dict:
    """What the board needs: the drawing, the findings on it, the buttons."""
    views = list(vehicle.views.defer("features", "silhouette"))
    marks = list(
        vehicle.findings.values_list(
            "pk", "panel_id", "panel__view_id", "panel__layer", "grade", "outline", named=True
        )
    )
    shown = vehicle.findings.filter(panel__view=view)
    if view.layered:
        shown = shown.filter(panel__layer=layer)
    here = list(shown.select_related("panel").only(*LIGHT))
    pks = {f.pk for f in here}
    ghosts = [m for m in marks if m.panel__view_id == view.pk and m.pk not in pks]
    others = [
        {
            "view": other,
            "svg": shell_svg(other, 1),
            "findings": [
                m
                for m in marks
                if m.panel__view_id == other.pk and (m.panel__layer == 1 or not other.layered)
            ],
        }
        for other in [each for each in views if each.pk != view.pk][:INSETS]
    ]
    counts = {grade.value: sum(1 for m in marks if m.grade == grade.value) for grade in Grade}
    return {
        "current_stage": "survey",
        "finding": chosen,
        "view": view,
        "layer": layer,
        "layer_name": LAYERS[layer - 1],
        "views": [
            (button, picture, sum(1 for m in marks if m.panel__view_id in keys))
            for button, picture, keys in view_bar(views, view)
        ],
        "layers": LAYERS if view.layered else (),
        "svg": shell_svg(view, layer),
        "findings": here,
        "ghosts": ghosts,
        "marks": marks,
        "others": others,
        "tags": [_tag(f, chosen) for f in here],
        "cover": cover_of(vehicle),
        "unknown": unknown_paths(view, layer),
        "counts": [(grade, counts[grade.value]) for grade in Grade],
        "cells": [
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("Findings", f"{len(here)} of {len(marks)}"),
            ("Layer", LAYERS[layer - 1] if view.layered else "all"),
            ("Drawn", day_words(max((f.changed_at for f in here), default=vehicle.changed_at))),
            ("Units", units.unit.get()),
        ],
    }


def panels_of(view: ShellView, layer: int):
    panels = view.panels.order_by("code")
    return panels.filter(layer=layer) if view.layered else panels
