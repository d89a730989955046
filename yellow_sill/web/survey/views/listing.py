"""The survey as a list: filters, left beside right, the report, tables out and in."""

from django import forms
from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import days, units
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.frame.tables import table_text
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import Vehicle

from ..coverage_services import cover_of
from ..listing import FindingFilter, forecast, report_rows, side_by_side
from ..models import PanelItem, SurveyImport
from ..report import report_file
from ..services import FindingInUse
from ..table_services import Imported, import_findings, survey_csv, survey_json, undo_import

A_PAGE = 40


class TableForm(forms.Form):
    table = forms.FileField(label="CSV or JSON", error_messages={"required": "Choose a file first."})


def _tabs(chosen: str) -> dict:
    return {"current_stage": "survey", "survey_tab": chosen}


@require_GET
@with_vehicle
def listing(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """All findings, filtered; the forecast and the cover beside them."""
    found = (
        vehicle.findings.select_related("panel")
        .prefetch_related("repairs", "evidence")
        .defer("outline", "outline_typed", "panel__outline", "panel__holes")
    )
    filtered = FindingFilter(request.GET, queryset=found, vehicle=vehicle)
    page = Paginator(filtered.qs, A_PAGE).get_page(request.GET.get("page"))
    kept = request.GET.copy()
    kept.pop("page", None)
    context = {
        "filter": filtered,
        "page": page,
        "kept": kept.urlencode(),
        "forecast": forecast(vehicle),
        "cover": cover_of(vehicle),
        "table_form": TableForm(),
    }
    context["last_import"] = vehicle.survey_imports.filter(undone=False).last()
    return render(request, "survey/list.html", _tabs("list") | context)


@require_GET
@with_vehicle
def compare(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Left beside right."""
    seen = vehicle.findings.filter(panel__view__name__in=("left", "right"))
    marks = list(seen.values_list("pk", "panel__view_id", "grade", "outline", named=True))
    sides = []
    for view in vehicle.views.filter(name__in=("left", "right")).defer("features", "silhouette"):
        sides.append(
            {
                "view": view,
                "svg": shell_svg(view, 1),
                "findings": [mark for mark in marks if mark.panel__view_id == view.pk],
            }
        )
    return render(
        request,
        "survey/compare.html",
        _tabs("compare") | {"pairs": side_by_side(vehicle), "sides": sides, "cover": cover_of(vehicle, 6)},
    )


@require_GET
@with_vehicle
def report(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The whole survey on paper."""
    by_view, count = report_rows(vehicle)
    views = [
        {"view": view, "svg": shell_svg(view, 1), "findings": by_view.get(view.pk, [])}
        for view in vehicle.views.defer("features", "silhouette")
    ]
    items = PanelItem.objects.filter(panel__view__vehicle=vehicle).select_related("panel")
    context = {
        "drawn": views,
        "count": count,
        "forecast": forecast(vehicle),
        "cover": cover_of(vehicle, 8),
        "items": items,
        "today": days.today(),
    }
    return render(request, "survey/report.html", _tabs("report") | context)


@require_GET
@with_vehicle
def report_pdf(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    return attachment(report_file(vehicle), "survey-report.pdf", "application/pdf")


@require_GET
@with_vehicle
def table(request: HttpRequest, vehicle: Vehicle, form: str) -> HttpResponse:
    """The findings as CSV or JSON, in the form that can be taken in again."""
    if form == "csv":
        return attachment("\ufeff" + survey_csv(vehicle), "survey.csv", "text/csv; charset=utf-8")
    if form == "json":
        return attachment(survey_json(vehicle), "survey.json", "application/json")
    raise Http404


@with_vehicle
def take_in(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Findings from a table: all rows or none, each refused one with its reason; those that are there already are shown and asked about."""
    confirmed = request.method == "POST" and "confirmed" in request.POST
    form, result, text = (
        TableForm(None if confirmed else request.POST or None, request.FILES or None),
        None,
        request.POST.get("text", ""),
    )
    if confirmed or (request.method == "POST" and form.is_valid()):
        try:
            text = text if confirmed else table_text(form.cleaned_data["table"])
            result = import_findings(
                vehicle,
                text,
                by=request.user.get_username(),
                today=days.today(),
                confirmed=confirmed,
            )
            if not result.refused and (confirmed or not result.matched.asks):
                messages.success(request, _import_words(result))
                return redirect("survey:list", vehicle.pk)
        except CoreError as error:
            form.add_error("table", error.message) if not confirmed else messages.warning(
                request, units.said(error.message)
            )
    context = _tabs("list") | {
        "table_form": form,
        "refused": result.refused if result else [],
        "matched": result.matched if result else None,
        "text": text,
    }
    return render(
        request,
        "survey/take_in.html",
        context,
        status=422 if (form.is_bound and form.errors) or context["refused"] else 200,
    )


def _import_words(result: Imported) -> str:
    made = f"{result.made} finding{'s' if result.made != 1 else ''} taken in."
    changed = f" {result.changed} changed." if result.changed else ""
    same = f" {len(result.matched.same)} were here already, as they are." if result.matched.same else ""
    return f"{made}{changed}{same}"


@require_POST
@with_vehicle
def take_back(request: HttpRequest, vehicle: Vehicle, pk: int) -> HttpResponse:
    """Take a table back that was taken in."""
    stored = get_object_or_404(SurveyImport, vehicle=vehicle, pk=pk)
    try:
        undo_import(stored, by=request.user.get_username())
    except FindingInUse as error:
        messages.warning(
            request, f"A finding of this table is mended by {error} by now: take it out of there first."
        )
    except CoreError as error:
        messages.warning(request, units.said(error.message))
    else:
        messages.success(
            request, "The table is taken back: what it made is gone, what it changed is as before."
        )
    return redirect("survey:list", vehicle.pk)
