"""The metal map: every sheet by what it is today."""

from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.record.metal import RANKS, WHAT, MetalMap, PieceOf, SheetTold
from yellow_sill.web.frame import units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.page import Page, names_of
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import ShellView, Vehicle
from yellow_sill.web.survey.coverage_services import unknown_paths

from ..metal_services import map_of, rank_sheet

#: How wide the bar of all metal is drawn, px.
BAR_PX = 340.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Share:
    """A part of the bar of all metal: what, its share in hundredths, from where, how wide, px."""

    what: str
    percent: float
    x: float
    width: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MapPage(Page):
    """``told``: the map; ``bar``: all metal as one bar; ``pieces``: of this view; ``chosen``: the sheet that was tapped."""

    told: MetalMap
    bar: list[Share]
    ranks: list[tuple[str, str, float | None]]
    pieces: list[PieceOf]
    old: list
    every: list[PieceOf]
    views: list[ShellView]
    view: ShellView
    layer: int
    svg: str
    unknown: str
    tags: list[Tag]
    chosen: SheetTold | None
    all_ranks: list[tuple[str, str]]


@with_vehicle
def metal(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The map of one view and layer; a POST says how much a sheet's look counts."""
    error = None
    if request.method == "POST":
        code, rank = request.POST.get("code", ""), request.POST.get("rank", "")
        try:
            rank_sheet(vehicle, code, rank, by=request.user.get_username())
            messages.success(request, f"{code} {RANKS[rank]}.")
            return redirect(f"{reverse('record:metal', args=[vehicle.pk])}?{request.GET.urlencode()}")
        except CoreError as refused:
            error = refused
    page = _page(request, vehicle)
    return render(
        request, "record/metal.html", names_of(page) | {"error": error}, status=422 if error else 200
    )


def _page(request: HttpRequest, vehicle: Vehicle) -> MapPage:
    asked, told = map_of(vehicle)
    views = list(vehicle.views.defer("features", "silhouette"))
    view = next((each for each in views if each.name == request.GET.get("view")), views[0])
    layer = min(3, max(1, whole_number(request.GET.get("layer", "")) or 1)) if view.layered else 1
    shown = {panel.code for panel in view.panels.all() if not view.layered or panel.layer == layer}
    mine = [each for each in asked.pieces if each.view == view.name and each.code in shown]
    code = request.GET.get("sheet", "")
    return MapPage(
        current_stage="record", told=told, bar=_bar(told), pieces=mine, old=[each for each in asked.old if each.view == view.name and each.code in shown],
        ranks=[(rank, RANKS[rank], share) for rank, share in told.by_rank.items()], every=list(asked.pieces), views=views, view=view, layer=layer,
        svg=shell_svg(view, layer), unknown=unknown_paths(view, layer), tags=_tags(mine, vehicle),
        chosen=next((each for each in told.sheets if each.code == code), None), all_ranks=list(RANKS.items()),
        cells=[
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Sheets", len(told.sheets)), ("Pieces", len(asked.pieces)),
            ("View", view.title), ("Units", units.unit.get()),
        ],
    )  # fmt: skip


def _bar(told: MetalMap) -> list[Share]:
    found, x = [], 0.0
    for what in WHAT:
        if share := told.shares[what]:
            found.append(
                Share(what=what, percent=round(100 * share, 1), x=round(x, 1), width=round(BAR_PX * share, 1))
            )
            x += BAR_PX * share
    return found


def _tags(pieces: list[PieceOf], vehicle: Vehicle) -> list[Tag]:
    return [
        Tag.of(
            f"R-{each.repair:02d}", bounds_of(each.outline), name=f"R-{each.repair:02d} {each.code}: {each.state}",
            href=reverse("logbook:record", args=[vehicle.pk, each.repair]),
        )
        for each in pieces
    ]  # fmt: skip
