"""The strip register in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_strip import StripPartPart
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.bundles import Section, Storing, part
from yellow_sill.web.shells.models import Vehicle

from .models import StripPart


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    rows = vehicle.strip_parts.select_related("view", "cut__repair")
    return {
        "strip": [
            part(
                StripPartPart, each, view=each.view.name if each.view else "",
                repair=each.cut.repair.number if each.cut else 0, cut=each.cut.number if each.cut else 0,
            )
            for each in rows
        ]
    }  # fmt: skip


def _store(storing: Storing, bundle: Any) -> None:
    views = {view.name: view for view in storing.vehicle.views.all()}
    cuts = {
        (cut.repair.number, cut.number): cut
        for cut in Cut.objects.filter(repair__vehicle=storing.vehicle).select_related("repair")
    }
    for each in bundle.strip:
        values = each.model_dump(exclude={"view", "repair", "cut"})
        values |= {"file": storing.names.get(each.file, ""), "at": list(each.at)}
        StripPart.objects.create(
            vehicle=storing.vehicle,
            changed_by=storing.by,
            view=views.get(each.view),
            cut=cuts.get((each.repair, each.cut)),
            **values,
        )


SECTION = Section(vehicle=_vehicle, store=_store)
