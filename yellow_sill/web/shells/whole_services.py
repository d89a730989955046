"""The whole shell as the sums see it: its sheets in space, what a person said of edges, curves, cavities and hung parts."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.dispatch import Signal

from yellow_sill.core.errors import BadField
from yellow_sill.core.said import Said
from yellow_sill.core.shell.cavities import cavities_of, own_cavity
from yellow_sill.core.shell.cavity_records import Cavity, CavitySaid, OwnCavity, lies_on
from yellow_sill.core.shell.curvature import CurveSaid, Zone, zones_of
from yellow_sill.core.shell.edges import EdgeSaid, EdgeStretch, edges_of, runs_by
from yellow_sill.core.shell.lie import Body
from yellow_sill.core.shell.sections import Axis, Met, Section, extent, section, stack_through
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision

from .models import CavityWord, CurveWord, EdgeWord, Panel, ShellView, Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class StoredView:
    """A stored view with its panels, as the core reads it."""

    name: str
    title: str
    u_axis: str
    v_axis: str
    layered: bool
    silhouette: list
    features: list
    panels: list[Panel]


#: Sent where something was said of a panel's edge, or taken back: ``panel``.
edges_said = Signal()


def stored_view(view: ShellView) -> StoredView:
    """A view with all its panels. Args: view: with its panels read."""
    return StoredView(
        name=view.name, title=view.title, u_axis=view.u_axis, v_axis=view.v_axis, layered=view.layered, silhouette=view.silhouette,
        features=view.features, panels=list(view.panels.all()),
    )  # fmt: skip


@by_revision(2, "shells")
def body_of(vehicle: Vehicle) -> Body:
    """Every sheet of a vehicle with its place in space."""
    return Body([stored_view(view) for view in vehicle.views.prefetch_related("panels")])


def section_of(vehicle: Vehicle, axis: Axis, at_mm: float) -> Section:
    """A cut across the shell. Raises: BadField where it passes the shell by."""
    return section(body_of(vehicle), axis, at_mm)


def reach_of(vehicle: Vehicle, axis: Axis) -> tuple[float, float]:
    """From where to where the shell reaches along an axis, mm."""
    return extent(body_of(vehicle), axis)


def stack_of(panel: Panel, at: Sequence[float], vehicle: Vehicle) -> list[Met]:
    """The sheets that lie behind one another at a place of a panel (in its view's own plane), whichever views draw them."""
    return stack_through(body_of(vehicle), panel.view.name, panel.code, panel.view.in_shell([at])[0])


def stretches_of(vehicle: Vehicle, panel: Panel) -> list[EdgeStretch]:
    """What each stretch of a panel's edge is, as drawn and as said."""
    view = next(each for each in body_of(vehicle).views if each.name == panel.view.name)
    said = [
        EdgeSaid(
            at=tuple(word.at), kind=word.kind, meets=word.meets, height_mm=word.height_mm, inside_radius_mm=word.inside_radius_mm, direction=word.direction
        )
        for word in panel.edge_words.all()
    ]  # fmt: skip
    return edges_of(view, panel.code, said)


def curves_of(vehicle: Vehicle, panel: Panel) -> list[Zone]:
    """How a panel is curved, as its form shows and as said."""
    word = CurveWord.objects.filter(panel=panel).first()
    said = word and CurveSaid(kind=word.kind, radius_mm=word.radius_mm, other_radius_mm=word.other_radius_mm)
    return zones_of(body_of(vehicle), panel.view.name, panel.code, said)


@by_revision(2, "shells")
def cavities_here(vehicle: Vehicle) -> list[Cavity]:
    """The vehicle's cavities, as drawn and as said. A cavity of its own whose sheets are gone is left out."""
    words = list(vehicle.cavity_words.all())
    said = [
        CavitySaid(code=word.code, volume_l=word.volume_l, drains=word.drains, stopped=word.stopped)
        for word in words
    ]
    body = body_of(vehicle)
    own = []
    for word in words:
        if word.outer:
            each = OwnCavity(code=word.code, name=word.name, outer=word.outer, inner=word.inner)
            try:
                own_cavity(body, each)
            except BadField:
                continue
            own.append(each)
    return cavities_of(body, said, own)


def undrained(found: Sequence[Cavity]) -> int:
    """How many cavities have openings, but none that lets water out."""
    return sum(each.drained is False for each in found)


@one_change
def say_edge(panel: Panel, stretch: EdgeStretch, *, by: str, **values: Any) -> EdgeWord:
    """Store what a person says of a stretch, in place of what was said of it before."""
    told = EdgeSaid.read({"at": stretch.middle, **values})
    for word in _words_on(panel, stretch):
        word.delete()
    word = EdgeWord.objects.create(panel=panel, **told.model_dump(mode="json"))
    edges_said.send(sender=Panel, panel=panel)
    return word


@one_change
def unsay_edge(panel: Panel, stretch: EdgeStretch, *, by: str) -> int:
    """Take back what was said of a stretch: the drawing counts again. Returns: how many words went."""
    words = _words_on(panel, stretch)
    for word in words:
        word.delete()
    edges_said.send(sender=Panel, panel=panel)
    return len(words)


def _words_on(panel: Panel, stretch: EdgeStretch) -> list[EdgeWord]:
    """What was said of a stretch."""
    return [word for word in panel.edge_words.all() if runs_by(stretch, word.at)]


@one_change
def say_curve(panel: Panel, *, by: str, **values: Any) -> CurveWord:
    """Store how a person says a panel is curved. Raises: BadField."""
    told = CurveSaid.read(values)
    word = CurveWord.objects.filter(panel=panel).first() or CurveWord(panel=panel)
    word.kind, word.radius_mm, word.other_radius_mm = told.kind, told.radius_mm, told.other_radius_mm
    word.save()
    return word


@one_change
def unsay_curve(panel: Panel, *, by: str) -> None:
    """The drawing counts again."""
    for word in CurveWord.objects.filter(panel=panel):
        word.delete()


def _word(vehicle: Vehicle, code: str) -> CavityWord:
    return vehicle.cavity_words.filter(code=code).first() or CavityWord(vehicle=vehicle, code=code)


@one_change
def say_volume(vehicle: Vehicle, code: str, volume_l: float | None, *, by: str) -> None:
    """What a cavity holds, as a person measured or reckoned it; None: what the drawing gives. Raises: BadField."""
    told = CavitySaid.read({"code": code, "volume_l": volume_l})
    word = _word(vehicle, code)
    word.volume_l = told.volume_l
    word.save()


@one_change
def add_drain(vehicle: Vehicle, cavity: Cavity, at: Sequence[float], *, by: str) -> None:
    """A drain that no drawing shows. Raises: BadField where it lies beside the cavity."""
    if not lies_on(cavity, at):
        raise BadField(
            Said("That place is not on {name}.", name=cavity.name), "at", "Tap inside its outline on the board."
        )  # fmt: skip
    word = _word(vehicle, cavity.code)
    word.drains = [*word.drains, [round(float(v), 1) for v in at]]
    word.save()


@one_change
def stop_opening(vehicle: Vehicle, cavity: Cavity, place: int, *, by: str) -> None:
    """An opening that is not there, or stopped up; a drain that a person added is taken away again. Raises: BadField."""
    if not 0 <= place < len(cavity.openings):
        raise BadField("There is no such opening.", "opening", "Reload the page.")
    opening = cavity.openings[place]
    word = _word(vehicle, cavity.code)
    if opening.by_hand:
        word.drains = [at for at in word.drains if [round(v, 1) for v in at] != opening.at]
    else:
        word.stopped = [*word.stopped, opening.at]
    word.save()


@one_change
def open_again(vehicle: Vehicle, code: str, place: int, *, by: str) -> None:
    """An opening that was told to be stopped up is open after all. Raises: BadField."""
    word = _word(vehicle, code)
    if not 0 <= place < len(word.stopped):
        raise BadField("There is no such opening.", "opening", "Reload the page.")
    word.stopped = [at for i, at in enumerate(word.stopped) if i != place]
    word.save()


@one_change
def make_cavity(vehicle: Vehicle, *, name: str, outer: str, inner: str, by: str) -> CavityWord:
    """A cavity of one's own between two sheets. Raises: BadField: sheets that leave it open, or none such."""
    number = 1 + vehicle.cavity_words.exclude(outer="").count()
    while vehicle.cavity_words.filter(code=f"OWN{number}").exists():
        number += 1
    own = OwnCavity.read({"code": f"OWN{number}", "name": name, "outer": outer, "inner": inner})
    own_cavity(body_of(vehicle), own)
    return CavityWord.objects.create(
        vehicle=vehicle, code=own.code, name=own.name, outer=own.outer, inner=own.inner
    )


@one_change
def drop_cavity(vehicle: Vehicle, code: str, *, by: str) -> None:
    """A person's own cavity is none."""
    for word in vehicle.cavity_words.filter(code=code).exclude(outer=""):
        word.delete()
