from collections import defaultdict
from collections.abc import Iterable

from django import forms
from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import QuerySet, Sum
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.formats.bundle import bundle_schema
from yellow_sill.core.formats.bundle_tables import costs_csv, findings_csv
from yellow_sill.core.repairs.gate import LINES
from yellow_sill.core.repairs.hours import KIND_WORDS, Beside, all_beside, beside, by_kind, clock
from yellow_sill.core.repairs.ribbon import STATES, TO_DO, next_state
from yellow_sill.core.weld.cautions import FIRE_WATCH_MIN
from yellow_sill.web.cut.gate_services import far_sides, nothing_lost, say_nothing_lost
from yellow_sill.web.cut.hours import logged_hours, pace_of, planned_hours
from yellow_sill.web.cut.sheet_services import Sheet, sheets_of
from yellow_sill.web.cut.views.common import repair_context
from yellow_sill.web.frame import days
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.page import names_of
from yellow_sill.web.frame.pictures import photo_path, picture_response, removed
from yellow_sill.web.parts.forms import CostForm
from yellow_sill.web.parts.services import add_cost, sums, with_sums
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.forms import RibbonForm
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.services import GATES, asked_before, move_on_ribbon, ribbon
from yellow_sill.web.shells.access import makers_only, open_to, own_only, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from .bundle import bundle_of, export_vehicle, import_vehicle
from .forms import ENTRIES, BundleForm, NoteForm, PhotoForm, WorkForm
from .models import Photo, WorkEntry
from .record import gather, record_file
from .services import add_entry

#: Lines of one page of a list.
A_PAGE = 40
MOST_BUNDLE_BYTES = 500 * 1024 * 1024


def _beside_row(words: str, row: Beside) -> dict:
    """A line of planned beside actual hours as shown."""
    return {
        "words": words,
        "planned": "–" if row.planned is None else clock(round(row.planned)),
        "spent": clock(row.spent),
        "how": row.words,
    }


def _spent(work: Iterable[tuple[str, int]]) -> dict[str, int]:
    return dict(by_kind(work))


def _where(repair: Repair, key: str) -> str:
    """The page on which a line of what must be ready is done."""
    vehicle, panel = repair.vehicle_id, repair.cuts.first()
    places = {
        "hold": ("hold:hold", [vehicle]),
        "datum": ("datums:rounds", [vehicle]),
        "marks": ("patch:transfer", [vehicle, repair.number]),
    }
    places |= {
        "hot work": ("weld:weld", [vehicle, repair.number]),
        "closing": ("protect:box", [vehicle, repair.number]),
        **dict.fromkeys(("tacked", "welded"), ("datums:rounds", [vehicle])),
    }
    name, args = places.get(key) or (
        ("survey:panel", [vehicle, panel.panel_id]) if panel else ("cut:cut", [vehicle, repair.number])
    )
    return reverse(name, args=args)


def _reason_name(key: str) -> str:
    return f"step-despite-{key.replace(' ', '-')}"


def _reasons(request: HttpRequest) -> dict[str, str]:
    """Why it goes on all the same, by the line that is open; only what was typed."""
    names = {key: _reason_name(key) for key in (*LINES, *GATES)}
    return {key: typed for key, name in names.items() if (typed := request.POST.get(name, "")[:300])}


def _by_kind(entries: QuerySet[WorkEntry]) -> list[tuple[str, int]]:
    """Minutes by kind, added up by the database."""
    return list(entries.order_by().values("kind").annotate(all=Sum("minutes")).values_list("kind", "all"))


def _log_context(request: HttpRequest, repair: Repair, reasons: dict[str, str], asked: bool) -> dict:
    """What the page shows; ``reasons``: typed beside the open lines; ``asked``: a step was refused."""
    vehicle = repair.vehicle
    part = lambda rows, name: Paginator(rows, A_PAGE).get_page(request.GET.get(name))  # noqa: E731
    steps, costs = list(repair.steps.all()), part(repair.cost_lines.all(), "costs")
    minutes = _by_kind(repair.work_entries.all())
    planned, spent = planned_hours(vehicle).get(repair.number, {}), _spent(minutes)
    following = next_state(repair.state)
    lines, gate = asked_before(repair, following, days.today()) if following else ([], None)
    return repair_context(repair, "log", [], None) | {
        "ribbon": ribbon(repair, steps),
        "sheets": _sheets(repair),
        "steps": steps,
        "following": following,
        "far_sides": far_sides(repair) if following == "cut" else (),
        "gate": gate,
        "ready_lines": [
            {
                "line": line,
                "url": _where(repair, line.key),
                "name": _reason_name(line.key),
                "typed": reasons.get(line.key, ""),
                "asked": asked,
            }
            for line in lines
        ],
        "nothing_lost": nothing_lost(repair) if following == "cut" else "",
        "to_do": TO_DO.get(following or ""),
        "earlier": STATES[: STATES.index(repair.state)],
        "work": part(repair.work_entries.all(), "work"),
        "beside": [_beside_row(KIND_WORDS[row.kind], row) for row in beside(planned, spent)],
        "beside_all": _beside_row("All", all_beside(planned, spent)),
        "is_planned": bool(planned),
        "by_choice": repair.choices.exists(),
        "hours_total": clock(sum(spent.values())),
        "cost_page": costs,
        "costs": with_sums(vehicle, costs.object_list),
        "cost_sums": sums(vehicle, repair.cost_lines.all()),
        "notes": part(repair.notes.all(), "notes"),
        "photo_page": (photos := part(repair.photos.order_by("-taken_on", "-pk"), "photos")),
        "photos": [(photo, photo_path(photo.file).is_file()) for photo in photos],
        "waits": reverse("logbook:waited", args=[vehicle.pk, repair.number]),
        "waits_label": f"{repair.code} {repair.title}, {vehicle}",
        "here": reverse("logbook:log", args=[vehicle.pk, repair.number]),
        "fire_watch_min": FIRE_WATCH_MIN,
        "today": days.today(),
    }


def _sheets(repair: Repair) -> list[Sheet]:
    """The sheets of a repair where they are not all as far as the ribbon says."""
    try:
        found = sheets_of(repair)
    except CoreError:
        return []
    return found if len({each.told.state for each in found}) > 1 else []


#: The field of a form that a refusal of a service belongs to.
FIELDS = {
    "hours": "typed",
    "photo": "photo",
    "made_on": "made_on",
    "note": "note",
    "state": "state",
    "despite": "despite",
}


@with_repair
@open_to(Role.HELPER, what=(*ENTRIES, "lost"))
def log(request: HttpRequest, repair: Repair) -> HttpResponse:
    """Hours, costs, notes, photos and the ribbon of one repair; ``what`` in the form says which of them."""
    by = request.user.get_username()
    what = request.POST.get("what", "")
    forms = _forms(request, repair, what)
    here = redirect(f"{reverse('logbook:log', args=[repair.vehicle_id, repair.number])}#{what}")
    if what == "lost":
        say_nothing_lost(repair, undo="undo" in request.POST, by=by, today=days.today())
        return redirect(f"{reverse('logbook:log', args=[repair.vehicle_id, repair.number])}#step")
    form = forms.get(what)
    status, conflict = 200, None
    if request.method == "POST" and form is not None:
        status = 422
        if form.is_valid():
            values = form.cleaned_data
            try:
                _store(request, repair, what, values)
                return here
            except CoreError as error:
                field = FIELDS.get(error.where)
                form.add_error(field if field in form.fields else None, error.message)
            except ChangedMeanwhile as error:
                status = 409
                repair = error.stored
                wanted = request.POST.get("step-state", "")
                conflict = both_of(request, form, error, rows=[("State", wanted, repair.state)])
    context = _log_context(request, repair, _reasons(request), what == "step")
    context |= {f"{name}_form": each for name, each in forms.items()} | {
        "conflict": conflict,
        "stored": repair,
    }
    return render(request, "logbook/log.html", context, status=status)


def _forms(request: HttpRequest, repair: Repair, what: str) -> dict[str, forms.Form]:
    """The forms of the page; the one that was sent is filled. Args: what: which."""
    return {
        "work": WorkForm(request.POST if what == "work" else None, prefix="work"),
        "cost": CostForm(
            request.POST if what == "cost" else None, prefix="cost", initial={"bought_on": days.today()}
        ),
        "note": NoteForm(request.POST if what == "note" else None, prefix="note"),
        "photo": PhotoForm(
            request.POST if what == "photo" else None,
            request.FILES if what == "photo" else None,
            prefix="photo",
        ),
        "step": RibbonForm(
            request.POST if what == "step" else None,
            prefix="step",
            initial={"made_on": days.today(), "version": repair.version},
        ),
    }


def _store(request: HttpRequest, repair: Repair, what: str, values: dict) -> None:
    """Store what a form says. Args: what: which. Raises: CoreError, ChangedMeanwhile."""
    by = request.user.get_username()
    if what in ENTRIES:
        add_entry(repair, what, values, by=by)
    elif what == "cost":
        add_cost(repair.vehicle, repair, values, by=by)
    else:
        move_on_ribbon(
            repair,
            values["state"],
            version=values["version"],
            made_on=values["made_on"],
            note=values["note"],
            by=by,
            today=days.today(),
            despite=_reasons(request) or values["despite"],
        )


@require_GET
@with_vehicle
def photo(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    return picture_response(get_object_or_404(Photo, pk=pk, vehicle=vehicle).file)


@require_POST
@with_repair
@open_to(Role.HELPER)
def delete_photo(request: HttpRequest, repair: Repair, pk: int) -> HttpResponse:
    photo = get_object_or_404(repair.photos, pk=pk)
    own_only(request, photo.by)
    removed(photo)
    return redirect(f"{reverse('logbook:log', args=[repair.vehicle_id, repair.number])}#photo")


@require_GET
@with_repair
def record(request: HttpRequest, repair: Repair) -> HttpResponse:
    """One printable page."""
    return render(
        request, "logbook/record.html", repair_context(repair, "record", [], None) | names_of(gather(repair))
    )


@require_GET
@with_repair
def record_file_view(request: HttpRequest, repair: Repair) -> HttpResponse:
    return attachment(record_file(repair), f"{repair.code}-record.pdf", "application/pdf")


@require_GET
@with_vehicle
def logbook(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All that was written down, newest first, and the bundle to hand over."""
    work = _by_kind(vehicle.work_entries.all())
    repairs, planned, spent = list(vehicle.repairs.all()), planned_hours(vehicle), defaultdict(list)
    by_repair = vehicle.work_entries.order_by().values("repair", "kind").annotate(all=Sum("minutes"))
    for pk, *entry in by_repair.values_list("repair", "kind", "all"):
        spent[pk].append(entry)
    entries = Paginator(vehicle.work_entries.select_related("repair"), A_PAGE).get_page(
        request.GET.get("work")
    )
    costs = Paginator(vehicle.cost_lines.select_related("repair"), A_PAGE).get_page(request.GET.get("costs"))
    context = {
        "current_stage": "logbook",
        "work_form": WorkForm(initial={"kind": "survey"}),
        "entries": entries,
        "costs": costs,
        "cost_rows": with_sums(vehicle, costs.object_list),
        "beside": [
            (
                repair,
                _beside_row(
                    repair.code, all_beside(planned.get(repair.number, {}), _spent(spent[repair.pk]))
                ),
            )
            for repair in repairs
        ],
        "hours": [(KIND_WORDS[kind], spent, clock(spent)) for kind, spent in by_kind(work)],
        "hours_total": clock(sum(spent for _, spent in work)),
        "cost_sums": sums(vehicle, vehicle.cost_lines.all()),
        "line_count": costs.paginator.count,
        "factors": [
            (KIND_WORDS[kind], each, kind in pace_of(vehicle))
            for kind, each in logged_hours(vehicle).items()
            if each.jobs
        ],
    }
    return render(request, "logbook/logbook.html", context)


@require_GET
@with_vehicle
def export(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The whole vehicle as one zip."""
    try:
        data = export_vehicle(vehicle)
    except CoreError as error:
        messages.error(request, error.message)
        return redirect("logbook:logbook", vehicle.pk)
    name = "".join(
        c if c.isalnum() else "-" for c in f"{vehicle.make}-{vehicle.model}-{vehicle.body_no}".lower()
    ).strip("-")
    return attachment(data, f"{name}.zip", "application/zip")


@require_GET
@with_vehicle
def table(request: HttpRequest, vehicle: Vehicle, table: str) -> HttpResponse:
    """Findings or costs as CSV, the same as in the bundle."""
    bundle = bundle_of(vehicle)
    if table not in ("findings", "costs"):
        raise Http404
    text = findings_csv(bundle) if table == "findings" else costs_csv(bundle, vehicle.currency)
    return attachment("\ufeff" + text, f"{table}.csv", "text/csv; charset=utf-8")


@makers_only
def import_bundle(request: HttpRequest) -> HttpResponse:
    """A vehicle from a bundle."""
    form = BundleForm(request.POST, request.FILES) if request.method == "POST" else BundleForm()
    error = None
    if request.method == "POST" and form.is_valid():
        upload = form.cleaned_data["bundle"]
        if upload.size > MOST_BUNDLE_BYTES:
            form.add_error(
                "bundle", f"This file has {upload.size / 1024 / 1024:.0f} MB; a bundle may have 500 MB."
            )
        else:
            try:
                vehicle = import_vehicle(upload.file, request.user)
                messages.success(request, f"{vehicle} is here, with all its findings and repairs.")
                return redirect(vehicle)
            except CoreError as refused:
                error = refused
    return render(
        request,
        "logbook/import.html",
        {"form": form, "error": error},
        status=422 if form.errors or error else 200,
    )


@require_GET
def schema(request: HttpRequest) -> JsonResponse:
    """The published format of vehicle.json."""
    return JsonResponse(bundle_schema())
