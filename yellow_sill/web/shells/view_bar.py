"""The row of views over a board: the views of the group that is open, and one button for each other group, so that it stays one row."""

from collections.abc import Iterable
from dataclasses import dataclass

from django.utils.safestring import SafeString

from .drawing import silhouette_svg
from .models import ShellView

#: What is looked at, and the views that show it; a view in none of them stands in the first.
GROUPS = {
    "Outside": ("left", "right", "front", "rear", "top"),
    "Inside": ("inside-left", "inside-right", "floor"),
    "Rooms": ("bulkhead", "boot", "engine-bay"),
    "Doors": ("lids", "door-left", "door-right", "rear-door-left", "rear-door-right"),
    "Under": ("underside", "chassis"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Folded:
    """A group that is not open: its first view, under the group's word."""

    pk: int
    name: str
    short: str


def group_of(view: ShellView) -> str:
    return next((group for group, names in GROUPS.items() if view.name in names), "Outside")


def view_bar(
    views: Iterable[ShellView], current: ShellView | None
) -> list[tuple[ShellView | Folded, SafeString, tuple[int, ...]]]:
    """The buttons in the order of the groups: view or folded group, its silhouette, the keys of the views it stands for.

    A group of one view is that view. Args: views: light ones serve; current: the one on the board, None on the turntable.
    """
    found: dict[str, list[ShellView]] = {group: [] for group in GROUPS}
    for view in views:
        found[group_of(view)].append(view)
    opened = group_of(current) if current is not None else "Outside"
    bar: list[tuple[ShellView | Folded, SafeString, tuple[int, ...]]] = []
    for group, within in found.items():
        if group == opened or len(within) == 1:
            bar += [(view, silhouette_svg(view), (view.pk,)) for view in within]
        elif within:
            first = within[0]
            bar.append(
                (
                    Folded(pk=first.pk, name=first.name, short=group),
                    silhouette_svg(first),
                    tuple(view.pk for view in within),
                )
            )
    return bar
