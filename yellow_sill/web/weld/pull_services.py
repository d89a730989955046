"""How far welding pulls a patch: the found order of its tacks beside what people usually do."""

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.weld.distortion import MOST_TACKS, Distortion, DistortionRequest, distortion
from yellow_sill.core.weld.orders import along_edge, folds_within, orders_beside
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.patch.services import patch_of

from .models import WeldPlan
from .services import plate_of, weld_of


@one_change
def keep_pull(cut: Cut, values: Mapping[str, Any], *, version: int | None, by: str) -> None:
    """Store what a person knows of the pull, after the core has agreed. Raises: CoreError, ChangedMeanwhile."""
    weld = weld_of(cut)
    kept = {name: value for name, value in values.items() if value is not None}
    pulled(weld, kept)
    if weld.pk is None:
        weld.version, weld.changed_by, weld.pull = 1, by, kept
        weld.save()
    else:
        weld.save_as(version, by, pull=kept)


def pulled(weld: WeldPlan, values: Mapping[str, Any]) -> tuple[Distortion, list[list[float]]]:
    """What the orders do to a patch, and the places of its tacks in order along its edge. Args: values: as kept in ``pull``. Raises: CoreError."""
    cut = weld.cut
    tacks = [tack for plan in weld.tack_plans for tack in plan["tacks"]]
    if len(tacks) < 2:
        raise BadField("This patch has no seam of several tacks.", "tacks")
    if len(tacks) > MOST_TACKS:
        raise BadField(f"More than {MOST_TACKS} tacks are not followed.", "tacks", "Take a wider pitch.")
    places, numbers = along_edge(cut.outline, [tack["at"] for tack in tacks])
    plate = plate_of(weld)
    before = [tack["plate_C_before"] for tack in tacks]
    orders = orders_beside([(u, v) for u, v in places], numbers, plate, before)
    features = [
        each["points"] for each in cut.panel.view.features if each["kind"] in ("rib", "crease") and each["layer"] in (0, cut.panel.layer)
    ]  # fmt: skip
    asked = {
        "patch": cut.outline, "tacks": places, "orders": [order.model_dump() for order in orders], "folds": folds_within(features, cut.outline),
        "thickness_mm": plate.thickness_mm, "energy_j": plate.energy_j, "gap_mm": patch_of(cut).gap_mm,
    }  # fmt: skip
    known = {name: value for name, value in values.items() if value is not None}
    return _distorted(DistortionRequest.read(asked | known).model_dump_json()), places


@lru_cache(maxsize=32)
def _distorted(asked: str) -> Distortion:
    """The same orders of the same patch are followed once. Raises: CoreError."""
    return distortion(DistortionRequest.model_validate_json(asked))
