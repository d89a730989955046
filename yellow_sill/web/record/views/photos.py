"""Photos on the shell: a heap taken in and sorted by day, each with its place, what it shows and from where."""

from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.core.paginator import Page as PaginatedPage
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.board_json import answer, json_body
from yellow_sill.web.frame.boards import Tag
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.page import Page, show
from yellow_sill.web.frame.pictures import photo_path, thumbnail
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.logbook.services import WrittenMeanwhile
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to, own_only, with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Role, ShellView, Vehicle
from yellow_sill.web.shells.views.common import view_chosen

from ..forms import HeapForm, PhotoSaidForm
from ..photo_services import (
    Asked,
    Taken,
    as_said,
    asked_about,
    drop_photo,
    known_of,
    say_of_photo,
    shown_photos,
    sort_by_day,
    take_in,
)

#: So many photos on a page, so many that are asked about at once, so large beside one another, px.
A_PAGE, MOST_ASKED, SMALL_PX = 24, 8, 360


@dataclass(frozen=True, slots=True, kw_only=True)
class PhotosPage(Page):
    """``asked``: photos that are asked about, ``left``: how many there are; ``chosen``: the photo in hand, ``there``: its file is; ``meanwhile``: what is
    stored of it since, where somebody else changed it."""

    photos: PaginatedPage
    asked: list[Asked]
    left: int
    chosen: Photo | None
    there: bool
    form: PhotoSaidForm
    heap: HeapForm
    error: CoreError | None
    meanwhile: list[tuple[str, Any]]
    repairs: list[Repair]
    repair: int
    stage: str
    stages: tuple[str, ...]
    views: list[ShellView]
    view: ShellView
    svg: str
    tags: list[Tag]


@with_vehicle
@open_to(Role.HELPER, what=("heap", "sort", "say", "to"))
def photos(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All photos; ``photo`` in the address opens one, ``view`` chooses the drawing, ``repair`` and ``stage`` choose which."""
    key = whole_number(request.GET.get("photo", ""))
    chosen = vehicle.photos.select_related("repair").filter(pk=key).first() if key is not None else None
    if key is not None and chosen is None:
        raise Http404("That photo is not here any more.")
    views, view = view_chosen(request, vehicle, chosen.view_id if chosen else None)
    repairs = list(vehicle.repairs.all())
    says = request.POST.get("what") == "say"
    initial = PhotoSaidForm.of(chosen, view.pk) if chosen else {}
    form = PhotoSaidForm(request.POST if says else None, repairs=repairs, initial=initial)
    error, meanwhile, status = None, [], 200
    if request.method == "POST":
        try:
            if done := _done(request, vehicle, chosen, view, form):
                return done
            status = 422
        except CoreError as refused:
            status = 422
            if says and refused.where in form.fields:
                form.add_error(refused.where, refused.message)
            else:
                error = refused
        except WrittenMeanwhile:
            status = 409
            now = PhotoSaidForm.of(chosen, view.pk) if chosen else {}
            meanwhile = [(str(form.fields[name].label), value) for name, value in now.items() if name != "at"]
    return _page(
        request, vehicle, chosen, view, status, views=views, form=form, error=error, meanwhile=meanwhile, repairs=repairs
    )  # fmt: skip


def _done(
    request: HttpRequest, vehicle: Vehicle, chosen: Photo | None, view: ShellView, form: PhotoSaidForm
) -> HttpResponse | None:
    """Do what was sent; None where its form shows why not. Raises: CoreError, WrittenMeanwhile."""
    what, by = request.POST.get("what", ""), request.user.get_username()
    page = reverse("record:photos", args=[vehicle.pk])
    if what == "heap":
        return _heap(request, vehicle, by)
    if what == "sort":
        messages.success(request, units.said(sort_by_day(vehicle, today=days.today(), by=by)))
        return redirect(page)
    if what == "to":
        photo = get_object_or_404(vehicle.photos, pk=whole_number(request.POST.get("photo", "")) or 0)
        repair = vehicle.repairs.filter(number=whole_number(request.POST.get("repair", "")) or 0).first()
        stage = request.POST.get("stage", "")
        say_of_photo(
            photo, {"repair": repair, "stage": stage if repair and stage in STATES else ""}, was=None
        )
        return redirect(page)
    if chosen is None:
        return redirect(page)
    if what == "drop":
        own_only(request, chosen.by)
        drop_photo(chosen)
        messages.success(request, "The photo is out of the record; Changes brings it back.")
        return redirect(page)
    if not form.is_valid():
        return None
    values = form.values()
    if values["at"]:
        values["view"] = view
    elif chosen.at and chosen.view_id != view.pk:
        del values["at"]  # its place is in another view than the one that is drawn: it stays
    say_of_photo(chosen, values, was=form.cleaned_data["was"])
    messages.success(request, "What it shows is written down.")
    return redirect(f"{page}?photo={chosen.pk}")


def _heap(request: HttpRequest, vehicle: Vehicle, by: str) -> HttpResponse:
    """Photos are taken in; a script sends them one by one and is answered, a form all at once."""
    told = take_in(vehicle, [*request.FILES.getlist("photos"), *request.FILES.getlist("folder")], by=by)
    if request.headers.get("Accept") == "application/json":
        return answer(_plain(told))
    for name, error in told.refused:
        messages.warning(request, f"{name}: {units.said(error.what)} {units.said(error.mend)}".strip())
    messages.success(request, f"{units.said(told.words)}.")
    if told.new:
        messages.success(request, units.said(sort_by_day(vehicle, today=days.today(), by=by)))
    return redirect("record:photos", vehicle.pk)


def _plain(told: Taken) -> dict[str, Any]:
    return {
        "new": told.new, "known": told.known, "knew_where": told.knew_where,
        "refused": [{"name": name, "what": error.what, "mend": error.mend} for name, error in told.refused],
    }  # fmt: skip


def _page(
    request: HttpRequest, vehicle: Vehicle, chosen: Photo | None, view: ShellView, status: int, **more: Any
) -> HttpResponse:
    repair, stage = whole_number(request.GET.get("repair", "")) or 0, request.GET.get("stage", "")
    rows = shown_photos(vehicle, repair=repair, stage=stage)
    left, asked = asked_about(vehicle, days.today(), MOST_ASKED) if chosen is None else (0, [])
    here = reverse("record:photos", args=[vehicle.pk])
    placed = [photo for photo in shown_photos(vehicle, repair=repair, stage=stage, view=view.pk) if photo.at]
    page = PhotosPage(
        current_stage="record", chosen=chosen, there=bool(chosen and photo_path(chosen.file).is_file()), asked=asked, left=left, heap=HeapForm(),
        photos=Paginator(rows, A_PAGE).get_page(request.GET.get("page")), repair=repair, stage=stage, stages=STATES, view=view, svg=shell_svg(view, 1),
        tags=[
            Tag.of(n, [*photo.at, *photo.at], name=f"{n}: {photo.caption or 'photo'}", href=f"{here}?photo={photo.pk}", selected=photo == chosen)
            for n, photo in enumerate(placed, start=1)
        ],
        cells=[
            ("Vehicle", vehicle.model), ("Body no.", vehicle.body_no or "–"), ("Photos", rows.count()),
            ("To sort", vehicle.photos.filter(sorted_by="").count()), ("View", view.title), ("Units", units.unit.get()),
        ],
        **more,
    )  # fmt: skip
    if chosen and not page.form.is_bound:
        page.form.initial["was"] = as_said(chosen)
    return show(request, "record/photos.html", page, status=status)


@require_POST
@with_vehicle
@open_to(Role.HELPER)
def known(request: HttpRequest, vehicle: Vehicle) -> JsonResponse:
    """Which of a heap's files are here already, by their marks."""
    try:
        marks = json_body(request).get("marks")
    except CoreError as error:
        return error_json(error)
    return answer(
        {"known": known_of(vehicle, [str(each) for each in marks] if isinstance(marks, list) else [])}
    )


@require_GET
@with_vehicle
def small(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """A photo as small as a list shows it."""
    data = thumbnail(get_object_or_404(vehicle.photos, pk=pk).file, SMALL_PX)
    if data is None:
        raise Http404("The file of this photo is missing.")
    return HttpResponse(data, content_type="image/jpeg", headers={"Cache-Control": "private, max-age=86400"})
