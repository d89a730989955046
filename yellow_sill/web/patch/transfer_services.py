"""Transfer marks of a cut: measured before it, given back after it."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import date
from typing import Any

from django.db.models import Max

from yellow_sill.core.cut.lost import OnPattern, lost_in_cut, on_pattern
from yellow_sill.core.datum.transfer import TransferRequest
from yellow_sill.core.errors import CoreError
from yellow_sill.web.cut.models import Cut, TransferMark
from yellow_sill.web.frame.changes import one_change

from .services import developed, patch_of, stored_values

#: Which field of the form a refusal belongs to.
FIELDS = {
    "marks": "second_at",
    "distances_mm": "first_mm",
    "distances": "first_mm",
    "side": "near",
    "first": "first_at",
    "second": "second_at",
}


def _request(values: Mapping[str, Any]) -> TransferRequest:
    by_tape = values["way"] == "distances"
    first, second = values["first_mm"], values["second_mm"]
    return TransferRequest.read(
        {
            "marks": [
                {"id": values["first_name"], "xy": values["first_at"]},
                {"id": values["second_name"], "xy": values["second_at"]},
            ],
            "distances_mm": [first, second] if by_tape else None,
            "along_mm": None if by_tape else first,
            "across_mm": None if by_tape else second,
            "near": values["near"],
            "apart_mm": values["apart_mm"],
        }
    )


@one_change
def keep_transfer(
    cut: Cut,
    values: Mapping[str, Any],
    *,
    mark: TransferMark | None,
    version: int | None,
    measured_on: date,
    by: str,
) -> TransferMark:
    """Store one, new or changed, after the core has found it.

    Raises: ChangedMeanwhile, BadField.
    """
    told = lost_in_cut(_request(values), cut.outline)
    found = {
        "at": told.at,
        "error_mm": told.error_mm,
        "remarks": [asdict(remark) for remark in told.remarks],
        "measured_on": measured_on,
        "by": by,
    }
    if mark is not None:
        mark.save_as(version, by, **values, **found)
        return mark
    number = (cut.transfer_marks.aggregate(last=Max("number"))["last"] or 0) + 1
    return TransferMark.objects.create(cut=cut, number=number, changed_by=by, **values, **found)


@dataclass(frozen=True, slots=True, kw_only=True)
class MarkedOut:
    """A transfer mark, and where it comes on the flat pattern; None where that cannot be told."""

    mark: TransferMark
    on_pattern: OnPattern | None


def marking_out(cut: Cut) -> list[MarkedOut]:
    """The list as it is given back: from the marks, and on the flat pattern where it can be developed."""
    patch = patch_of(cut)
    try:
        flat = developed(cut, stored_values(patch)).pattern.corners
    except CoreError:
        flat = None
    return [
        MarkedOut(mark=mark, on_pattern=on_pattern(mark.at, flat, patch.mirror_hand) if flat else None)
        for mark in cut.transfer_marks.all()
    ]
