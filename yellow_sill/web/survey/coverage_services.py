"""What was looked at: regions stored, and each panel's cover worked out anew when they change."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import date

from yellow_sill.core.errors import BadField
from yellow_sill.core.outlines import touch
from yellow_sill.core.shell import LAYERS
from yellow_sill.core.survey.coverage import best_views, panel_cover, region_outline, share_of
from yellow_sill.core.survey.grading import METHOD_WORDS
from yellow_sill.core.survey.where_next import LookHere, Sheet, look_next
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.shells.drawing import path_d
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle

from .models import Finding, LookedRegion, PanelCover


@dataclass(frozen=True, slots=True, kw_only=True)
class Cover:
    """Shares looked at, 0 to 1, as the core's ``share_of`` counts them."""

    whole: float
    layers: list[tuple[str, float]]
    next_places: list[tuple[LookHere, Panel]]


def refresh_cover(panels: Iterable[Panel]) -> None:
    """Work out the cover of some panels from the regions and findings on them, and store it. Call inside a change."""
    store_covers(covers_of(panels))


def covers_of(
    panels: Iterable[Panel],
    *,
    more: Sequence[Sequence] = (),
    without: int | None = None,
    gone: Collection[int] = (),
) -> list[tuple[Panel, dict]]:
    """The cover of some panels from the regions and findings on them.

    Args: more: outlines of regions that are not stored yet; without: the key of a region that goes;
        gone: the keys of findings that go.
    """
    found = []
    for panel in panels:
        regions = LookedRegion.objects.filter(view_id=panel.view_id).exclude(pk=without)
        if panel.view.layered:
            regions = regions.filter(layer=panel.layer)
        looked = [
            *more,
            *regions.values_list("outline", flat=True),
            *(outline for key, outline in panel.findings.values_list("pk", "outline") if key not in gone),
        ]
        cover = panel_cover(panel.code, panel.layer, panel.outline, panel.holes, looked)
        values = {"area_mm2": cover.area_mm2, "looked_mm2": cover.looked_mm2, "unknown": cover.unknown}
        found.append((panel, values))
    return found


def store_covers(covers: Iterable[tuple[Panel, dict]]) -> None:
    for panel, values in covers:
        PanelCover.objects.update_or_create(panel=panel, defaults=values)


@one_change
def cover_all(vehicle: Vehicle) -> None:
    """The cover of every panel that has none yet: of a vehicle just made, brought in, or corrected."""
    refresh_cover(Panel.objects.filter(view__vehicle=vehicle, cover=None).select_related("view"))


@one_change
def mark_looked(
    view: ShellView, layer: int, corners: Sequence, *, method: str, made_on: date, by: str
) -> LookedRegion:
    """Store a region as looked at.

    Args: corners: two opposite ones, or an outline, in the view's plane.
    Raises: BadOutline; BadField for an unknown method or a region beside all panels.
    """
    if method not in METHOD_WORDS:
        raise BadField(
            "Say how it was looked at.", "method", f"Choose one of: {', '.join(METHOD_WORDS.values())}."
        )
    outline = region_outline(corners)
    panels = view.panels.all()
    touched = [
        panel
        for panel in (panels.filter(layer=layer) if view.layered else panels)
        if touch(panel.outline, outline)
    ]
    if not touched:
        raise BadField(
            "There is no metal of this layer in that region.",
            "region",
            "Draw it over the panel that you looked at.",
        )
    covers = covers_of(touched, more=[outline])
    made = LookedRegion.objects.create(
        view=view, layer=layer, outline=outline, method=method, made_on=made_on, made_by=by
    )
    store_covers(covers)
    return made


def mark_panel(panel: Panel, *, method: str, made_on: date, by: str) -> LookedRegion:
    """The whole of one panel as looked at. Raises: BadField."""
    return mark_looked(panel.view, panel.layer, panel.outline, method=method, made_on=made_on, by=by)


@one_change
def take_back(vehicle: Vehicle) -> LookedRegion | None:
    """Undo the region marked last."""
    region = LookedRegion.objects.filter(view__vehicle=vehicle).select_related("view").last()
    if region:
        view, layer = region.view, region.layer
        panels = view.panels.filter(layer=layer) if view.layered else view.panels.all()
        covers = covers_of(panels, without=region.pk)
        region.delete()
        store_covers(covers)
    return region


@by_revision(8, "survey", "shells")
def cover_of(vehicle: Vehicle, most: int = 3) -> Cover:
    """How much of the shell was looked at, and where to look next."""
    panels = list(
        Panel.objects.filter(view__vehicle=vehicle)
        .select_related("cover")
        .only(
            "code",
            "name",
            "named_by_hand",
            "layer",
            "mirror_code",
            "view_id",
            "cover__area_mm2",
            "cover__looked_mm2",
        )
    )
    covers = [(panel, panel.cover) for panel in panels if hasattr(panel, "cover")]
    grades: dict[str, list[str]] = {}
    for code, grade in Finding.objects.filter(vehicle=vehicle).values_list("panel__code", "grade"):
        grades.setdefault(code, []).append(grade)
    best = {cover.panel.code: cover for cover in best_views((panel.code, cover) for panel, cover in covers)}
    sheets = [
        Sheet(
            code=code,
            name=cover.panel.name,
            share=cover.looked_mm2 / cover.area_mm2,
            mirror_grades=tuple(grades.get(cover.panel.mirror_code, ())),
        )
        for code, cover in best.items()
    ]
    layers = [
        (name, share_of(cover for cover in best.values() if cover.panel.layer == place))
        for place, name in enumerate(LAYERS, start=1)
    ]
    ranked = [(place, best[place.code].panel) for place in look_next(vehicle.body_type, sheets, most)]
    return Cover(whole=share_of(best.values()), layers=layers, next_places=ranked)


def unknown_paths(view: ShellView, layer: int) -> str:
    """What nobody has looked at, as one SVG path in the view's millimetres."""
    covers = PanelCover.objects.filter(panel__view=view)
    if view.layered:
        covers = covers.filter(panel__layer=layer)
    return "".join(
        path_d(ring, True)
        for unknown in covers.values_list("unknown", flat=True)
        for part in unknown
        for ring in part
    )
