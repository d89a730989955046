"""Correcting a vehicle's shell by hand: panels, holes, brackets. Every change counts in the view's version."""

from collections.abc import Sequence

from django.db.models import ProtectedError

from yellow_sill.core.errors import BadField
from yellow_sill.core.geometry import outline_polygon, ring
from yellow_sill.core.shell.correct import corrected_panel, lies_alone, new_hole
from yellow_sill.web.frame.changes import one_change

from .models import Panel, ShellView


@one_change
def keep_panel(view: ShellView, panel: Panel | None, *, version: int | None, by: str, **values) -> Panel:
    """Store a changed panel, or a new one (``panel`` None).

    Raises: ChangedMeanwhile, BadField, BadOutline.
    """
    others = view.panels.exclude(pk=panel.pk) if panel else view.panels.all()
    checked = corrected_panel(taken=others.values_list("code", flat=True), **values)
    if panel is not None and panel.findings_outside(checked.outline):
        raise BadField(
            "A finding or cut would lie outside the panel.",
            "corners",
            "Move that first, or leave the panel as large as it is.",
        )
    view.save_as(version, by, bounds=_grown(view.bounds, checked.outline))
    panel = panel or Panel(view=view, tone=1)
    panel.named_by_hand = panel.named_by_hand or panel.name != checked.name
    for name in ("code", "name", "mirror_code", "layer", "thickness_mm", "outline"):
        setattr(panel, name, getattr(checked, name))
    panel.save()
    return panel


def is_alone(panel: Panel) -> bool:
    """Whether a panel lies on no other of its view."""
    others = panel.view.panels.exclude(pk=panel.pk).values_list("outline", flat=True)
    return lies_alone(panel.outline, others)


@one_change
def add_hole(view: ShellView, panel: Panel, corners: Sequence, *, version: int | None, by: str) -> None:
    """Raises: ChangedMeanwhile, BadOutline."""
    hole = new_hole(corners, panel.outline, panel.holes)
    view.save_as(version, by)
    panel.holes = [*panel.holes, hole]
    panel.save()


@one_change
def drop_hole(view: ShellView, panel: Panel, place: int, *, version: int | None, by: str) -> None:
    """Close a hole that the vehicle does not have. Raises: ChangedMeanwhile, BadField."""
    if not 0 <= place < len(panel.holes):
        raise BadField("There is no such hole.", "hole", "Reload the page.")
    view.save_as(version, by)
    panel.holes = [hole for i, hole in enumerate(panel.holes) if i != place]
    panel.save()


@one_change
def add_bracket(view: ShellView, layer: int, corners: Sequence, *, version: int | None, by: str) -> None:
    """A bracket, nut plate or tube fixed to the metal, drawn as a dashed outline. Raises: ChangedMeanwhile, BadOutline."""
    outline = ring(outline_polygon(corners, "corners").exterior.coords, 1)
    feature = {"kind": "bracket", "points": outline, "layer": layer if view.layered else 0, "closed": True}
    view.save_as(version, by, features=[*view.features, feature])


@one_change
def drop_bracket(view: ShellView, place: int, *, version: int | None, by: str) -> None:
    """Raises: ChangedMeanwhile, BadField."""
    brackets = [i for i, feature in enumerate(view.features) if feature["kind"] == "bracket"]
    if not 0 <= place < len(brackets):
        raise BadField("There is no such bracket.", "bracket", "Reload the page.")
    view.save_as(
        version, by, features=[feature for i, feature in enumerate(view.features) if i != brackets[place]]
    )


@one_change
def delete_panel(view: ShellView, panel: Panel, *, version: int | None, by: str) -> None:
    """Delete a panel that the vehicle does not have.

    Raises: ChangedMeanwhile; BadField while findings or cuts lie on it.
    """
    view.save_as(version, by)
    try:
        panel.delete()
    except ProtectedError as error:
        count = len(error.protected_objects)
        raise BadField(
            f"{count} finding{'s' if count > 1 else ''} or cuts lie on {panel.code}.",
            "panel",
            "It stays while they do.",
        ) from None


def _grown(bounds: Sequence[float], outline: Sequence[Sequence[float]]) -> list[float]:
    us, vs = [p[0] for p in outline], [p[1] for p in outline]
    return [min(bounds[0], *us), min(bounds[1], *vs), max(bounds[2], *us), max(bounds[3], *vs)]
