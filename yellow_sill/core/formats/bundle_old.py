"""Bundles of the first build, brought into today's shape before they are read: it knew one look at a finding and no notes of panels."""

from typing import Any

from shapely.errors import ShapelyError
from shapely.geometry import Polygon

from ..survey.growth import STAGES
from ..survey.thickness import PITCH_MM

#: What the first build did not know of a finding.
UNKNOWN_THEN = {
    "old_kind": "",
    "old_test": "",
    "old_verdict": "",
    "overruled_to": "",
    "overruled_reason": "",
    "grid_pitch_mm": PITCH_MM,
}


def brought_up(told: Any) -> Any:
    """A bundle's values in today's shape. Those of every build but the first come back as they are; what is no bundle too.

    Args: told: plain JSON values; they are not changed.
    """
    if not isinstance(told, dict) or "panel_notes" in told or not isinstance(told.get("vehicle"), dict):
        return told
    views = told["vehicle"].get("views")
    findings = told.get("findings")
    return told | {
        "vehicle": told["vehicle"] | {"views": _each(views, lambda view: {"looked": []} | view)},
        "findings": _each(findings, _finding),
        "panel_notes": [],
        "survey_photos": [],
    }


def _each(values: Any, change: Any) -> Any:
    return (
        [change(each) if isinstance(each, dict) else each for each in values]
        if isinstance(values, list)
        else values
    )


def _finding(told: dict[str, Any]) -> dict[str, Any]:
    """Its outline and evidence become those of its first and only look."""
    kept = {name: value for name, value in told.items() if name != "evidence"}
    outline = told.get("outline")
    look = {
        "stage": STAGES[0],
        "made_on": told.get("found_on"),
        "made_by": told.get("found_by"),
        "outline": outline,
        "area_mm2": told.get("area_mm2"),
        "perimeter_mm": _perimeter(outline),
        "evidence": told.get("evidence", []),
    }
    return UNKNOWN_THEN | {"readings": [], "inspections": [look]} | kept


def _perimeter(outline: Any) -> float:
    """Round the outline, mm; 0 for one that is none, which is told when it is read."""
    try:
        return round(float(Polygon(outline).length), 2)
    except (TypeError, ValueError, ShapelyError):
        return 0.0
