from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of
from yellow_sill.core.repairs.ribbon import STATES, share_done
from yellow_sill.web.frame import units
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.frame.stages import benches, told
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import ShellView, Vehicle
from yellow_sill.web.survey.models import finding_address

from ..forms import OpenRepairForm
from ..models import Repair
from ..rule_services import CLEARANCES, rules_of
from ..services import MendedAlready, open_repair, require_unmended

#: So many views stand small beneath the large one, and as many more as have repairs in them.
INSETS = 5
#: What the choice of findings needs of each; outlines of panels are long.
LIGHT = (
    "pk",
    "number",
    "title",
    "grade",
    "outline",
    "bounds_mm",
    "panel__name",
    "panel__named_by_hand",
    "panel__view_id",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """A view with its drawing, the cuts in it and a tag for each repair there."""

    view: ShellView
    svg: str
    cuts: list
    tags: list[Tag]


@dataclass(frozen=True, slots=True, kw_only=True)
class RepairsPage(Page):
    """``repairs``: each with the places of the ribbon, where it is on it and what share is done; ``main``: the view drawn large."""

    repairs: list[tuple[Repair, range, int, float]]
    open_count: int
    places: list[Place]
    main: Place
    others: list[Place]
    benches: list[tuple[str, str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundInView:
    """A view with the findings in it, and how many of them are ticked."""

    view: ShellView
    svg: str
    findings: list
    hits: int


@dataclass(frozen=True, slots=True, kw_only=True)
class NewRepairPage(Page):
    """``place``: the view with most of the findings that are ticked; ``choices``: all findings, the ticked first."""

    form: OpenRepairForm
    place: FoundInView
    tags: list[Tag]
    has_findings: bool
    choices: list
    ticked: set[int | None]
    ask_again: bool


def repair_places(vehicle: Vehicle, repairs: list[Repair]) -> list[Place]:
    """Every view, those with most repairs first."""
    views = list(vehicle.views.defer("features", "silhouette"))
    by_number, cuts = {repair.number: repair for repair in repairs}, {}
    for piece in (piece for say in told("pieces") for piece in say(vehicle)) if repairs else ():
        cuts.setdefault(piece.view_id, []).append((by_number[piece.repair], piece))
    places = []
    for view in views:
        here, tags, seen = cuts.get(view.pk, []), [], set()
        for repair, cut in here:
            if repair.pk not in seen:
                words = f"{repair.code}, {repair.title}, {repair.state}"
                href = repair.get_absolute_url()
                tags.append(Tag.of(repair.code, bounds_of(cut.outline), href=href, name=words))
                seen.add(repair.pk)
        places.append(Place(view=view, svg=shell_svg(view, 1), cuts=[cut for _, cut in here], tags=tags))
    return sorted(places, key=lambda place: (-len(place.tags), place.view.place))


@require_GET
@with_vehicle
def repairs(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All repairs, on the shell and as a list."""
    found = list(vehicle.repairs.all())
    places = repair_places(vehicle, found)
    main = next((place for place in places if place.view.name == request.GET.get("view")), places[0])
    others = [place for place in places if place is not main]
    open_count = sum(1 for repair in found if repair.state != STATES[-1])
    page = RepairsPage(
        current_stage="repairs",
        repairs=[
            (repair, range(len(STATES)), STATES.index(repair.state), share_done(repair.state))
            for repair in found
        ],
        open_count=open_count,
        places=places,
        main=main,
        others=[place for i, place in enumerate(others) if i < INSETS or place.tags],
        benches=[(words, reverse(page, args=[vehicle.pk])) for words, page in benches()],
        cells=[
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("Repairs", len(found)),
            ("Open", open_count),
            ("View", main.view.title.removesuffix(" side")),
            ("Units", units.unit.get()),
        ],
    )
    return show(request, "repairs/repairs.html", page)


@with_vehicle
def new(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Open a repair from findings."""
    findings = vehicle.findings.select_related("panel").defer("panel__outline", "panel__holes")
    first = findings.filter(number__in=[whole_number(number) for number in request.GET.getlist("finding")])
    own = rules_of(vehicle)
    initial = {"findings": [f.number for f in first], "title": first[0].head if first else ""} | {
        name: getattr(own, name) for name in CLEARANCES
    }
    form = OpenRepairForm(request.POST or None, findings=findings, initial=initial)
    ask_again = "again" in request.POST
    if request.method == "POST" and form.is_valid():
        values = dict(form.cleaned_data)
        chosen = list(
            vehicle.findings.select_related("panel").filter(pk__in=[f.pk for f in values.pop("findings")])
        )
        try:
            if "again" not in request.POST:
                require_unmended(chosen)
            made = open_repair(vehicle, chosen, by=request.user.get_username(), **values)
            messages.success(
                request,
                f"{made.code} is open. The cut below is proposed; move its corners if you know better.",
            )
            return redirect(made)
        except MendedAlready as error:
            ask_again = True
            form.add_error("findings", str(error))
        except CoreError as error:
            form.add_error(None, error.message)
    ticked = {
        whole_number(number)
        for number in (request.POST.getlist("findings") if request.method == "POST" else initial["findings"])
    }
    page = _new_page(vehicle, form, ticked, ask_again)
    return show(request, "repairs/new.html", page, status=422 if form.errors else 200)


def _new_page(
    vehicle: Vehicle, form: OpenRepairForm, ticked: set[int | None], ask_again: bool
) -> NewRepairPage:
    """The findings that a repair may be for, by view. Args: ticked: numbers of findings."""
    choices = list(vehicle.findings.values_list(*LIGHT, named=True))
    choices.sort(key=lambda f: f.number not in ticked)  # what was asked for is seen without scrolling
    found = []
    for place in repair_places(vehicle, []):
        here = [f for f in choices if f.panel__view_id == place.view.pk]
        hits = sum(1 for f in here if f.number in ticked)
        found.append(FoundInView(view=place.view, svg=place.svg, findings=here, hits=hits))
    best = max(found, key=lambda each: (each.hits, len(each.findings), -each.view.place))
    return NewRepairPage(
        current_stage="repairs",
        form=form,
        place=best,
        tags=[
            Tag.of(
                f.number,
                f.bounds_mm,
                letter=f.grade or "?",
                selected=f.number in ticked,
                href=finding_address(vehicle.pk, f.number),
                name=f"Finding {f.number}",
            )
            for f in best.findings
        ],
        has_findings=bool(choices),
        choices=choices,
        ticked=ticked,
        ask_again=ask_again,
        cells=[
            ("Vehicle", vehicle.model),
            ("Body no.", vehicle.body_no or "–"),
            ("View", best.view.title.removesuffix(" side")),
            ("Findings", len(best.findings)),
            ("Ticked", best.hits),
            ("Units", units.unit.get()),
        ],
    )
