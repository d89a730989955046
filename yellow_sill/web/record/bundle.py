"""What the record keeps of its own, in a bundle."""

from typing import Any

from yellow_sill.web.frame.bundles import Section, Storing
from yellow_sill.web.shells.models import Vehicle

from .models import PanelRank


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    return {"ranks": dict(vehicle.panel_ranks.order_by("code").values_list("code", "rank"))}


def _store(storing: Storing, bundle: Any) -> None:
    PanelRank.objects.bulk_create(
        [PanelRank(vehicle=storing.vehicle, code=code, rank=rank) for code, rank in bundle.ranks.items()]
    )


SECTION = Section(vehicle=_vehicle, store=_store)
