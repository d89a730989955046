"""The sides seen from inside: the inner faces, and the inner webs of the members, which only show here."""

from collections.abc import Iterable
from dataclasses import dataclass

from .lie import BOXES, stem
from .model import LAYERS, Feature, Panel, View
from .sheet import DrawingSheet
from .stations import Stretch

INNER = len(LAYERS)


def _turned(points: Iterable[Iterable[float]]) -> list[list[float]]:
    return [[-u + 0.0, v] for u, v in points]


def _as_seen_here(panel: Panel) -> Panel:
    """A sheet from behind; a box shows its inner web."""
    web = stem(panel.code) in BOXES
    word, _, side = panel.name.rpartition(", ")
    return Panel(
        code=f"{panel.code}I" if web else panel.code,
        name=f"{word}, inner web, {side}" if web else panel.name,
        mirror_code=f"{panel.mirror_code}I" if web else panel.mirror_code,
        layer=panel.layer,
        thickness_mm=panel.thickness_mm,
        tone=panel.tone,
        outline=_turned(panel.outline),
        holes=[_turned(hole) for hole in panel.holes],
    )


def inside_view(outside: View) -> View:
    """A side of the body as somebody in the middle of it sees it: the sheets of its inner layer.

    Args: outside: the view of the left or the right side, layered.
    Returns: ``inside-left`` or ``inside-right``; the same codes are the same sheets seen from the other side.
    """
    u0, v0, u1, v1 = outside.bounds
    features = [
        Feature(kind=each.kind, points=_turned(each.points), closed=each.closed, layer=INNER)
        for each in outside.features
        if each.layer == INNER
        or (each.kind == "weld" and each.layer == INNER - 1)  # these rows go through both
    ]
    beyond = [
        Feature(kind="beyond", points=_turned(ring), closed=True)
        for part in outside.silhouette
        for ring in part
    ]
    return View(
        name=f"inside-{outside.name}",
        title=f"Inside, {outside.name}",
        u_axis="x" if outside.u_axis == "-x" else "-x",
        v_axis="z",
        bounds=[-u1, v0, -u0, v1],
        silhouette=[[_turned(ring) for ring in part] for part in outside.silhouette],
        layered=False,
        panels=[_as_seen_here(panel) for panel in outside.panels if panel.layer == INNER],
        features=[*beyond, *features],
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Rooms:
    """Rooms of a body from within: bulkhead, what lies behind the seats (with its title), engine bay."""

    bulkhead: DrawingSheet
    boot: DrawingSheet
    boot_title: str
    engine_bay: DrawingSheet
    #: Whether the boot lies before the bulkhead: then it is seen from the front.
    boot_ahead: bool = False

    def views(self, end: Stretch, plan: Stretch) -> list[View]:
        """The finished views. Args: end, plan: from the reference body to the vehicle, seen along the body and from above."""
        return [
            self.bulkhead.view("bulkhead", "Bulkhead", ("-y", "z"), end, (-1, 1), layered=False),
            self.boot.view(
                "boot",
                self.boot_title,
                ("-y", "z") if self.boot_ahead else ("y", "z"),
                end,
                (-1, 1) if self.boot_ahead else (1, 1),
                layered=False,
            ),
            self.engine_bay.view("engine-bay", "Engine bay", ("x", "y"), plan, (1, 1), layered=False),
        ]
