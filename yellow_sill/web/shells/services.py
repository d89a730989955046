"""Vehicles and their shells: made from a body type, stored panel by panel."""

from dataclasses import asdict

from django.db import transaction

from yellow_sill.core.shell import Shell, build_shell

from .models import Panel, ShellView, Vehicle


def create_vehicle(*, owner, body_type: str, dimensions_mm: dict[str, float], typed: dict[str, str] | None = None, **plate) -> Vehicle:
    """Draw a shell and store it as a new vehicle.

    Raises: BadField, naming the dimension that does not fit.
    """
    shell = build_shell(body_type, dimensions_mm)
    with transaction.atomic():
        vehicle = Vehicle.objects.create(
            owner=owner, body_type=body_type, dimensions_mm=shell.dimensions_mm, dimensions_typed=typed or {}, changed_by=owner.get_username(), **plate
        )
        store_shell(vehicle, shell)
    return vehicle


def store_shell(vehicle: Vehicle, shell: Shell) -> None:
    """Store the views and panels of a drawn shell."""
    for place, view in enumerate(shell.views):
        stored = ShellView.objects.create(
            vehicle=vehicle,
            name=view.name,
            title=view.title,
            place=place,
            u_axis=view.u_axis,
            v_axis=view.v_axis,
            bounds=view.bounds,
            layered=view.layered,
            silhouette=view.silhouette,
            features=[asdict(feature) for feature in view.features],
        )
        Panel.objects.bulk_create(Panel(view=stored, **asdict(panel)) for panel in view.panels)
