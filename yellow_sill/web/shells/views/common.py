"""What pages with a drawing of the shell share."""

from django.http import HttpRequest

from ..models import ShellView, Vehicle


def view_chosen(
    request: HttpRequest, vehicle: Vehicle, own: int | None = None
) -> tuple[list[ShellView], ShellView]:
    """A vehicle's views, and the one that ``view`` in the address names, else the own one (its key), else the first."""
    views = list(vehicle.views.defer("features", "silhouette"))
    asked = request.GET.get("view", "")
    return views, next(
        (each for each in views if each.name == asked or (not asked and each.pk == own)), views[0]
    )
