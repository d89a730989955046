"""The people of a garage: their accounts, and what each may do with which vehicle."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.contrib.auth import get_user_model
from django.db import IntegrityError, transaction

from yellow_sill.core.errors import BadField
from yellow_sill.web.accounts.door import end_all

from .models import Access, Role, Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class Opened:
    """A vehicle beside a person: the role they have on it, 0 for none."""

    vehicle: Vehicle
    role: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Person:
    """An account beside one's own: whether it is shut, whether a password was ever chosen, what it may do with one's vehicles."""

    key: int
    name: str
    shut: bool
    has_come: bool
    opened: tuple[Opened, ...]


def people(owner: Any) -> list[Person]:
    """Everybody else in this house, by name, beside the vehicles that ``owner`` owns."""
    vehicles = list(Vehicle.objects.filter(owner=owner.pk))
    roles = {
        (each.user_id, each.vehicle_id): each.role for each in Access.objects.filter(vehicle__in=vehicles)
    }
    return [
        Person(
            key=user.pk,
            name=user.get_username(),
            shut=not user.is_active,
            has_come=user.has_usable_password(),
            opened=tuple(Opened(vehicle=each, role=roles.get((user.pk, each.pk), 0)) for each in vehicles),
        )
        for user in get_user_model().objects.exclude(pk=owner.pk).order_by("username")
    ]


def add_person(name: str) -> Any:
    """An account without a password: its owner chooses one. Raises: BadField where somebody else made one of this name just now."""
    try:
        with transaction.atomic():
            return get_user_model().objects.create_user(name)
    except IntegrityError:
        raise BadField(f"There is an account for {name} already.", "name") from None


def open_vehicles(owner: Any, user: Any, roles: Mapping[int, int]) -> None:
    """Say what somebody may do with one's vehicles. Args: roles: by the key of the vehicle, 0 for none; others stay as they are."""
    if user.pk == owner.pk:
        raise BadField("You own your vehicles already.", "user")
    with transaction.atomic():
        for vehicle in Vehicle.objects.filter(owner=owner.pk, pk__in=roles):
            if roles[vehicle.pk] in Role.values:
                Access.objects.update_or_create(
                    vehicle=vehicle, user=user, defaults={"role": roles[vehicle.pk]}
                )
            else:
                Access.objects.filter(vehicle=vehicle, user=user).delete()


def shut_out(user: Any, shut: bool) -> None:
    """Keep somebody out, signed out everywhere at once, or let them in again; what they recorded stays under their name."""
    user.is_active = not shut
    user.save(update_fields=["is_active"])
    if shut:
        end_all(user)
