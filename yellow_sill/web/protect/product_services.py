"""The products a garage owns, and how warm it has been."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.protect.products import STARTING_SET, Product, require_product
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.once import once
from yellow_sill.web.shells.models import Vehicle

from .models import GarageWarmth, OwnProduct

FIELDS = tuple(Product.model_fields)


def as_core(product: OwnProduct) -> Product:
    """A product as the core takes it. Raises: BadField."""
    return Product.read({name: getattr(product, name) for name in FIELDS})


@once
def own_products(vehicle: Vehicle) -> list[Product]:
    """What the garage owns, oldest first: of two of a kind the later one counts."""
    return [as_core(each) for each in vehicle.products.all()]


def products_at_hand(vehicle: Vehicle) -> list[Product]:
    """What the garage owns, and the usual product of each kind that it does not own."""
    owned = own_products(vehicle)
    kinds = {each.kind for each in owned}
    return [*owned, *(each for each in STARTING_SET if each.kind not in kinds)]


@one_change
def keep_product(
    vehicle: Vehicle, values: Mapping[str, Any], *, stored: OwnProduct | None, version: int | None, by: str
) -> OwnProduct:  # fmt: skip
    """Store a product, a new one where ``stored`` is None. Raises: BadField: what no tin can say; ChangedMeanwhile."""
    require_product(Product.read({name: values[name] for name in FIELDS}))
    if stored is not None:
        stored.save_as(version, by, **values)
        return stored
    number = OwnProduct.next_number(vehicle=vehicle)
    return OwnProduct.objects.create(vehicle=vehicle, number=number, changed_by=by, **values)


@one_change
def drop_product(product: OwnProduct, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    product.require_version(version)
    product.delete()


@once
def warmth_of(vehicle: Vehicle) -> list[dict[str, Any]]:
    """How warm the garage has been, as the core takes it."""
    return [{"since": each.since, "at_c": each.at_c} for each in vehicle.warmths.all()]


@one_change
def say_warmth(vehicle: Vehicle, at_c: float, *, since: datetime, now: datetime, by: str) -> GarageWarmth:
    """Write down how warm the garage is from a moment on. Raises: BadField for a moment to come."""
    if since > now:
        raise BadField(
            "That moment has not come yet.", "since", "Give the day and time from which it was so."
        )
    return GarageWarmth.objects.create(vehicle=vehicle, at_c=at_c, since=since, by=by)


@one_change
def unsay_warmth(vehicle: Vehicle, key: int) -> None:
    """Raises: BadField where there is no such line."""
    if not vehicle.warmths.filter(pk=key).exists():
        raise BadField("That line is not there any more.", "warmth", "Reload the page.")
    vehicle.warmths.get(pk=key).delete()
