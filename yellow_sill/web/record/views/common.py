"""What the pages of the record share: a drawing with numbers at the places of what is told."""

from collections.abc import Iterable, Sequence

from yellow_sill.core.geometry import bounds_of
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.shells.models import ShellView, Vehicle

from ..find_services import Hit, Place


def view_for(vehicle: Vehicle, asked: str, places: Iterable[Place | None]) -> ShellView:
    """The view that was asked for, else the one that most of some places are in, else the first."""
    views = list(vehicle.views.defer("features", "silhouette"))
    counted: dict[int, int] = {}
    for place in places:
        if place is not None:
            counted[place.view] = counted.get(place.view, 0) + 1
    best = max(counted, key=lambda pk: counted[pk], default=None)
    return next(
        (view for view in views if view.name == asked),
        next((view for view in views if view.pk == best), views[0]),
    )


def tags_of(hits: Sequence[Hit], view: ShellView) -> list[Tag]:
    """The numbers of what lies in a view."""
    return [
        Tag.of(hit.n, bounds_of(hit.place.outline), href=hit.url, name=f"{hit.n}: {hit.entry.head}", selected=hit.n == 1)
        for hit in hits if hit.place is not None and hit.place.view == view.pk
    ]  # fmt: skip
