"""The opening as it was templated: typed, taped from two marks, or traced from a photo of a card; kept in place of the cut's line."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.patch.own_line import own_line_remarks
from yellow_sill.core.patch.taped import TapedRequest, points_typed, taped
from yellow_sill.core.remarks import Remark
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame import units
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.survey.models import SurveyPhoto
from yellow_sill.web.survey.photo_services import stored_trace, traced

from .models import Patch
from .services import developed, patch_of, stored_values


@dataclass(frozen=True, slots=True, kw_only=True)
class OwnLine:
    """An opening read: its outline in the view's plane, mm, and what to look at."""

    outline: list[list[float]]
    remarks: list[Remark]


def traces_of(cut: Cut) -> list[tuple[SurveyPhoto, list[list[float]]]]:
    """Photos of the cut's panel whose traced line has its place on the panel."""
    found = []
    for photo in SurveyPhoto.objects.filter(panel=cut.panel).order_by("-pk"):
        try:
            outline = traced(stored_trace(photo)).outline
        except CoreError:
            continue  # it is not traced yet
        if outline:
            found.append((photo, outline))
    return found


def read_line(cut: Cut, values: Mapping[str, Any]) -> OwnLine:
    """The opening that was typed, taped or chosen. Args: values: of OpeningForm. Raises: CoreError, its place the field's name."""
    given = [name for name in ("corners", "taped", "photo") if values.get(name)]
    if len(given) != 1:
        raise BadField("Type corners, or taped points, or choose a photo: one of them.", "corners")
    remarks: list[Remark] = []
    if given == ["taped"]:
        try:
            told = taped(
                TapedRequest.read(
                    {
                        "marks": _marks(values),
                        "side": values["side"],
                        **points_typed(values["taped"], units.unit.get()),
                    }
                )
            )
        except CoreError as error:
            error.where = "first" if error.where == "marks" else "taped"
            raise
        outline, remarks = [list(at) for at in told.outline], told.remarks
    elif given == ["photo"]:
        line = {str(photo.pk): line for photo, line in traces_of(cut)}.get(str(values["photo"]))
        if line is None:
            raise BadField(
                "That photo has no traced line on this panel.", "photo", "Trace it, and tap its two points."
            )
        outline = line
    else:
        outline = values["corners"]
    return OwnLine(outline=outline, remarks=[*remarks, *own_line_remarks(outline, cut.outline)])


def _marks(values: Mapping[str, Any]) -> list[list[float]]:
    """Raises: BadField where one is lacking."""
    for name in ("first", "second"):
        if not values.get(name):
            raise BadField("Taped points need both marks.", name, "Type where it lies, such as 2500, 300.")
    return [values["first"][0], values["second"][0]]


@one_change
def keep_line(cut: Cut, outline: Sequence[Sequence[float]], *, version: int | None, by: str) -> None:
    """Keep an opening for the patch; empty takes the cut's own line again. Raises: ChangedMeanwhile, CoreError."""
    patch = patch_of(cut)
    values = stored_values(patch) | {"opening": [[round(u, 2), round(v, 2)] for u, v in outline]}
    if outline:
        own_line_remarks(outline, cut.outline)
    developed(cut, values)
    if patch.pk is None:
        Patch.objects.create(cut=cut, changed_by=by, **values)
    else:
        patch.save_as(version, by, opening=values["opening"])
