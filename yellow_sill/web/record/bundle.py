"""What the record keeps of its own, in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_record import DonorPart, PhotoPairPart
from yellow_sill.web.frame.bundles import Section, Storing, part
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.shells.models import Vehicle

from .models import Donor, PanelRank, PhotoPair


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    pairs = vehicle.photo_pairs.select_related("before", "after")
    return {
        "ranks": dict(vehicle.panel_ranks.order_by("code").values_list("code", "rank")),
        "donors": [part(DonorPart, donor) for donor in vehicle.donors.all()],
        "photo_pairs": [
            part(PhotoPairPart, pair, before=pair.before.file, after=pair.after.file) for pair in pairs
        ],
    }


def _store(storing: Storing, bundle: Any) -> None:
    PanelRank.objects.bulk_create(
        [PanelRank(vehicle=storing.vehicle, code=code, rank=rank) for code, rank in bundle.ranks.items()]
    )
    for donor in bundle.donors:
        Donor.objects.create(vehicle=storing.vehicle, **donor.model_dump())
    photos = {photo.file: photo for photo in Photo.objects.filter(vehicle=storing.vehicle)}
    for pair in bundle.photo_pairs:
        both = {name: photos[storing.names[getattr(pair, name)]] for name in ("before", "after")}
        PhotoPair.objects.create(vehicle=storing.vehicle, points=pair.points, by=pair.by, **both)


SECTION = Section(vehicle=_vehicle, store=_store)
