"""Finding something again by its words."""

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_GET

from yellow_sill.core.record.finder import Found
from yellow_sill.web.frame import units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import ShellView, Vehicle

from ..find_services import Hit, find_in
from .common import tags_of, view_for


@dataclass(frozen=True, slots=True, kw_only=True)
class FindPage(Page):
    """``typed``: what is looked for; ``kind``: the one kind that is shown, empty for all; ``found``: how many of each kind; the drawing with their places."""

    typed: str
    kind: str
    found: Found | None
    hits: list[Hit]
    elsewhere: int
    view: ShellView
    svg: str
    tags: list[Tag]


@require_GET
@with_vehicle
def find(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What answers to ``q``, of one ``kind`` where it is named."""
    typed, kind = request.GET.get("q", "").strip()[:200], request.GET.get("kind", "")
    found, hits = find_in(vehicle, typed, [kind] if kind else []) if typed else (None, [])
    view = view_for(vehicle, request.GET.get("view", ""), [hit.place for hit in hits])
    tags = tags_of(hits, view)
    page = FindPage(
        current_stage="record",
        typed=typed,
        kind=kind,
        found=found,
        hits=hits,
        elsewhere=sum(hit.place is not None for hit in hits) - len(tags),
        view=view,
        svg=shell_svg(view, 1),
        tags=tags,
        cells=[
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("Found", found.count if found else "–"),
            ("Shown", len(hits)),
            ("View", view.title),
            ("Units", units.unit.get()),
        ],
    )
    return show(request, "record/find.html", page)
