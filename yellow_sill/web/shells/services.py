"""Vehicles and their shells: made from a body type, stored panel by panel."""

from dataclasses import asdict
from typing import Any, cast

from django.db.models import Max
from django.dispatch import Signal

from yellow_sill.core.shell import Shell, build_shell, drawn_views
from yellow_sill.core.shell.file import FORMAT, PanelPart, ShellFile, ViewPart
from yellow_sill.core.shell.from_photo import PhotoRequest, Traced, from_photo
from yellow_sill.core.shell.model import View
from yellow_sill.web.frame.changes import building, create_all, one_change

from .models import Panel, ShellView, Vehicle

#: Sent with ``vehicle`` once a new vehicle's shell is drawn and stored, not when a whole vehicle comes from a bundle.
shell_stored = Signal()


def create_vehicle(
    *, owner, body_type: str, dimensions_mm: dict[str, float], typed: dict[str, str] | None = None, **plate
) -> Vehicle:
    """Draw a shell and store it as a new vehicle.

    Raises: BadField, naming the dimension that does not fit.
    """
    shell = build_shell(body_type, dimensions_mm, plate.get("steering", ""))
    with building():
        vehicle = Vehicle.objects.create(
            owner=owner,
            body_type=body_type,
            dimensions_mm=shell.dimensions_mm,
            dimensions_typed=typed or {},
            changed_by=owner.get_username(),
            **plate,
        )
        store_shell(vehicle, shell)
        shell_stored.send(sender=Vehicle, vehicle=vehicle)
    return vehicle


def traced_on_photo(
    places: dict[str, tuple[float, float]], lengths: list[dict[str, Any]], body_type: str
) -> Traced:
    """Dimensions told by places on a side photo. Raises: BadField."""
    return from_photo(PhotoRequest.read({"places": places, "lengths": lengths, "body_type": body_type}))


def vehicle_from_file(*, owner, shell: ShellFile, **plate) -> Vehicle:
    """A new vehicle with the shell of a file."""
    with building():
        vehicle = Vehicle.objects.create(
            owner=owner,
            body_type=shell.body_type,
            dimensions_mm=shell.dimensions_mm,
            changed_by=owner.get_username(),
            **plate,
        )
        for place, view in enumerate(shell.views):
            stored = ShellView.objects.create(
                vehicle=vehicle, place=place, **view.model_dump(mode="json", exclude={"panels"})
            )
            Panel.objects.bulk_create(
                Panel(view=stored, **panel.model_dump(mode="json")) for panel in view.panels
            )
        shell_stored.send(sender=Vehicle, vehicle=vehicle)
    return vehicle


def shell_of(vehicle: Vehicle) -> ShellFile:
    """The vehicle's shell as it is now, corrections and all."""
    views = []
    for view in vehicle.views.prefetch_related("panels"):
        panels = [
            PanelPart(**{name: getattr(panel, name) for name in PanelPart.model_fields})
            for panel in view.panels.all()
        ]
        views.append(
            ViewPart(
                **{name: getattr(view, name) for name in ViewPart.model_fields if name != "panels"},
                panels=panels,
            )
        )
    return ShellFile(
        format=cast(Any, FORMAT),
        body_type=vehicle.body_type,
        dimensions_mm=vehicle.dimensions_mm,
        views=views,
    )


def views_missing(vehicle: Vehicle) -> list[str]:
    """Titles of views that its body type is drawn in by now and that this vehicle, made before, has not."""
    there = set(vehicle.views.values_list("name", flat=True))
    return [title for name, title in drawn_views(vehicle.body_type) if name not in there]


@one_change
def draw_missing_views(vehicle: Vehicle, *, by: str) -> list[str]:
    """Add the views that a vehicle has not; those it has stay as they are, corrections and all.

    Returns: their titles. Raises: BadField for a body that is not drawn from its dimensions any more.
    """
    there = set(vehicle.views.values_list("name", flat=True))
    drawn = build_shell(vehicle.body_type, vehicle.dimensions_mm, vehicle.steering).views
    missing = [view for view in drawn if view.name not in there]
    first = 1 + (vehicle.views.aggregate(last=Max("place"))["last"] or 0)
    for place, view in enumerate(missing, start=first):
        _store_view(vehicle, view, place, by)
    shell_stored.send(sender=Vehicle, vehicle=vehicle)
    return [view.title for view in missing]


def store_shell(vehicle: Vehicle, shell: Shell) -> None:
    """Store the views and panels of a drawn shell."""
    for place, view in enumerate(shell.views):
        _store_view(vehicle, view, place)


def _store_view(vehicle: Vehicle, view: View, place: int, by: str = "") -> None:
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
        changed_by=by,
    )
    create_all([Panel(view=stored, **asdict(panel)) for panel in view.panels])
