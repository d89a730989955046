"""Photos of findings and panels: kept, traced, turned into millimetres, laid on the panel."""

from dataclasses import dataclass
from datetime import date
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.errors import BadField
from yellow_sill.core.survey.rectify import Rectified, RectifyRequest, picture_points, placed, rectify
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import kept, read_upload
from yellow_sill.web.shells.models import Panel

from .models import Finding, SurveyPhoto

#: What a person clicks and types on a photo; fields of ``SurveyPhoto`` of the same names.
TRACE_FIELDS = ("reference", "trace", "marks", "size_mm", "distances_mm", "on_panel", "seen_from")
#: How far the two points may differ in distance before it is told, mm.
MARKS_APART_MM = 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Traced:
    """What a photo gives: the hole in millimetres and, once two points and the side it shows are known, where it lies on the panel."""

    rectified: Rectified
    outline: list[list[float]] | None
    marks_off_mm: float | None


def add_survey_photo(
    panel: Panel, finding: Finding | None, upload: UploadedFile, *, caption: str, taken_on: date, by: str
) -> SurveyPhoto:
    """Store an uploaded photo of a panel or of a finding on it.

    Raises: BadField: too large, not a picture, damaged.
    """
    data, width, height = read_upload(upload)
    more = {
        "vehicle": panel.view.vehicle,
        "panel": panel,
        "finding": finding,
        "width": width,
        "height": height,
    }
    return kept(
        data,
        lambda name: SurveyPhoto.objects.create(file=name, caption=caption, taken_on=taken_on, by=by, **more),
    )


def traced(values: dict[str, Any]) -> Traced:
    """Millimetres from what was clicked and typed.

    Args: values: reference, trace, marks (pixels), size_mm or distances_mm, on_panel (mm in the view's plane), seen_from.
    Raises: BadField, BadOutline.
    """
    wanted = {name: values.get(name) or None for name in ("size_mm", "distances_mm")}
    if len(values["reference"]) != 4:
        raise BadField(
            f"{len(values['reference'])} of 4 corners of the card are clicked.",
            "reference",
            "Click its corners in order.",
        )
    if len(values["trace"]) < 3:
        raise BadField("The hole is not traced yet.", "trace", "Choose 'Hole' above and click round it.")
    result = rectify(
        RectifyRequest.read({"reference": values["reference"], "trace": values["trace"], **wanted})
    )
    marks, goal, seen_from = (
        values.get("marks") or [],
        values.get("on_panel") or [],
        values.get("seen_from") or "",
    )
    if len(marks) < 2 or len(goal) < 2 or not seen_from:
        return Traced(rectified=result, outline=None, marks_off_mm=None)
    outline, off = placed(
        result.outline_mm,
        picture_points(values["reference"], wanted["size_mm"], wanted["distances_mm"], marks[:2]),
        goal[:2],
        seen_from,
    )
    return Traced(rectified=result, outline=outline, marks_off_mm=off)


def stored_trace(photo: SurveyPhoto) -> dict[str, Any]:
    return {name: getattr(photo, name) for name in TRACE_FIELDS}


@one_change
def keep_trace(photo: SurveyPhoto, values: dict[str, Any]) -> None:
    """Keep what was clicked, finished or not: a trace is an annotation also without a card."""
    for name in TRACE_FIELDS:
        if name in values:
            setattr(photo, name, values[name])
    photo.save()
