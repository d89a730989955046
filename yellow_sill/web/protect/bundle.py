"""Products, the garage's warmth, faces with their coats and closing boxes in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_protect import (
    BoxPart,
    CoatPart,
    FacePart,
    ProductPart,
    ProtectionPart,
    WarmthPart,
)
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.bundles import Section, Storing, oldest_first, part
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .models import BoxWord, Coat, Face, GarageWarmth, OwnProduct


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    told = ProtectionPart(
        products=[part(ProductPart, each) for each in vehicle.products.all()],
        warmth=[part(WarmthPart, each) for each in vehicle.warmths.all()],
    )
    return {"protection": told}


def _store(storing: Storing, bundle: Any) -> None:
    told = bundle.protection
    for product in told.products:
        values = product.model_dump()
        OwnProduct.objects.create(vehicle=storing.vehicle, changed_by=storing.by, **values)
    for warmth in told.warmth:
        GarageWarmth.objects.create(vehicle=storing.vehicle, **warmth.model_dump())


def _repair(repair: Repair) -> dict[str, Any]:
    word = BoxWord.objects.filter(repair=repair).first()
    return {"box": part(BoxPart, word) if word else None}


def _store_repair(storing: Storing, repair: Repair, told: Any) -> None:
    if told.box:
        BoxWord.objects.create(repair=repair, changed_by=storing.by, **told.box.model_dump(mode="json"))


def _cut(cut: Cut) -> dict[str, Any]:
    return {
        "faces": [
            part(FacePart, face, coats=[part(CoatPart, coat) for coat in oldest_first(face.coats.all())])
            for face in oldest_first(cut.faces.all())
        ]
    }


def _store_cut(storing: Storing, cut: Cut, told: Any) -> None:
    for face in told.faces:
        stored = Face.objects.create(cut=cut, changed_by=storing.by, **face.model_dump(exclude={"coats"}))
        for coat in face.coats:
            product = coat.product.model_dump(mode="json")
            Coat.objects.create(face=stored, product=product, **coat.model_dump(exclude={"product"}))


SECTION = Section(
    vehicle=_vehicle, store=_store, repair=_repair, store_repair=_store_repair, cut=_cut, store_cut=_store_cut, along=("cuts__faces__coats",)
)  # fmt: skip
