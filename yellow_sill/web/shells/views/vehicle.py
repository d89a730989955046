"""Vehicles: listed, drawn from a body type or a file."""

from functools import cache
from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.shell import BODY_TYPES, build_shell
from yellow_sill.core.shell.file import MOST_BYTES, read_shell, shell_schema, write_shell
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.files import attachment
from yellow_sill.web.keeping.services import is_householder

from ..access import makers_only, may_make, role_of, with_vehicle
from ..drawing import path_d, shell_svg
from ..forms import PhotoForm, ShellFileForm, VehicleForm
from ..models import Role, Vehicle
from ..services import create_vehicle, shell_of, traced_on_photo, vehicle_from_file


@require_GET
def vehicles(request: HttpRequest) -> HttpResponse:
    """All vehicles that this person owns or that were opened to them."""
    found = Vehicle.objects.seen_by(request.user)
    rows = []
    for vehicle in found:
        view = vehicle.views.defer("features").first()
        role = role_of(vehicle, request.user)
        rows.append(
            {
                "vehicle": vehicle,
                "view": view,
                "svg": shell_svg(view, 1),
                "role": "" if role == Role.OWNER else Role(role).label,
            }
        )
    page = {"rows": rows, "may_make": may_make(request.user), "householder": is_householder(request.user)}
    return render(request, "shells/vehicles.html", page)


@makers_only
def new(request: HttpRequest) -> HttpResponse:
    """A vehicle from a body type and taped dimensions."""
    form = VehicleForm(request.POST or None, initial=_carried_over(request))
    if request.method == "POST" and form.is_valid():
        values = form.cleaned_data
        plate = {
            name: values[name]
            for name in ("make", "model", "year", "body_no", "currency", "body_type", "steering")
        }
        typed = {name: request.POST.get(name, "") for name in form.dimensions()}
        try:
            vehicle = create_vehicle(
                owner=request.user, dimensions_mm=form.dimensions(), typed=typed, **plate
            )
            messages.success(request, f"{vehicle} is drawn. Look the shell over and draw the first finding.")
            return redirect(vehicle)
        except CoreError as error:
            form.refuse(error)
    bodies = [(kind, _small(kind.name), kind.name == form.body.name) for kind in BODY_TYPES.values()]
    context = {"form": form, "bodies": bodies, "file_form": ShellFileForm(auto_id="file_%s")}
    return render(request, "shells/new.html", context, status=422 if form.errors else 200)


@makers_only
def from_photo(request: HttpRequest) -> HttpResponse:
    """A vehicle's dimensions traced on a photo of its side; the photo stays in the browser."""
    form, traced = PhotoForm(request.POST or None), None
    if request.method == "POST" and form.is_valid():
        values = form.cleaned_data
        try:
            traced = traced_on_photo(values["places"], values["lengths"], values["body_type"])
        except CoreError as error:
            form.refuse(error)
    address = (
        traced
        and f"{reverse('shells:new')}?{urlencode({'body_type': traced.body_type, **_typed(traced.sizes_mm)})}"
    )
    context = {
        "form": form,
        "traced": traced,
        "address": address,
        "label": traced and BODY_TYPES[traced.body_type].label,
    }
    if traced:
        names = {dimension.name: dimension.label for dimension in BODY_TYPES[traced.body_type].dimensions}
        context["rows"] = [
            (
                names[name],
                traced.told_mm.get(name),
                traced.sigma_mm.get(name),
                traced.sizes_mm[name],
                name in traced.held,
            )
            for name in names
        ]
    return render(request, "shells/from_photo.html", context, status=422 if form.errors else 200)


def _typed(sizes: dict[str, float]) -> dict[str, str]:
    """Sizes as a form takes them, whatever unit the person reads."""
    return {name: f"{size:g} mm" for name, size in sizes.items()}


def _carried_over(request: HttpRequest) -> dict[str, str]:
    """What was typed before another body type was chosen; sizes that were only the other body's usual ones are not the person's."""
    asked = {name: value for name, value in request.GET.items() if value}
    before = BODY_TYPES.get(request.GET.getlist("body_type")[0]) if "body_type" in request.GET else None
    if before is None or before.name == asked.get("body_type"):
        return asked
    shown = VehicleForm(initial={"body_type": before.name})
    return {
        name: value
        for name, value in asked.items()
        if name not in shown.usual() or value != shown.usual()[name]
    }


@cache
def _small(body_type: str) -> SafeString:
    """The outline of a body type, for its button."""
    view = build_shell(body_type, {}).views[0]
    u0, v0, u1, v1 = view.bounds
    d = "".join(path_d(ring[:: max(1, len(ring) // 90)], True) for part in view.silhouette for ring in part)
    box = f"{u0 - 60:g} {-v1 - 60:g} {u1 - u0 + 120:g} {v1 - v0 + 120:g}"
    return mark_safe(  # noqa: S308 - numbers only
        f'<svg class="sil" viewBox="{box}" width="66" height="32" aria-hidden="true"><path d="{d}" fill-rule="evenodd"/></svg>'
    )


@require_POST
@makers_only
def from_file(request: HttpRequest) -> HttpResponse:
    """A vehicle from a saved shell."""
    form = ShellFileForm(request.POST, request.FILES, auto_id="file_%s")
    if form.is_valid():
        values = form.cleaned_data
        try:
            if values["shell"].size > MOST_BYTES:
                raise BadField("This file is larger than 20 MB.", "shell", "Choose the .json that was saved.")
            shell = read_shell(values["shell"].read().decode("utf-8", "replace"))
            vehicle = vehicle_from_file(
                owner=request.user, shell=shell, make=values["make"], model=values["model"]
            )
            messages.success(request, f"{vehicle} has the shell of the file.")
            return redirect(vehicle)
        except CoreError as error:
            form.add_error(
                "shell",
                f"{error.where}: {error.message}" if error.where.startswith("views") else error.message,
            )
    return render(request, "shells/from_file.html", {"file_form": form}, status=422)


@require_GET
@with_vehicle
def shell_file(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The vehicle's shell as a file."""
    return attachment(write_shell(shell_of(vehicle)), "shell.json", "application/json")


@require_GET
def schema(request: HttpRequest) -> JsonResponse:
    """The published JSON Schema of shell files."""
    return JsonResponse(shell_schema())


@require_POST
@makers_only
def preview(request: HttpRequest) -> JsonResponse:
    """The side view of dimensions that are being typed, and what each may be beside the others."""
    form = VehicleForm(request.POST)
    form.is_valid()
    said = {"ranges": form.ranges_said()}
    names = [dimension.name for dimension in form.body.dimensions]
    for name in names:
        if name in form.errors:
            return answer(
                said
                | {
                    "error": {
                        "what": f"{form.label_of(name)}: {form.errors[name][0]}",
                        "mend": "",
                        "where": name,
                    }
                },
                status=422,
            )
    try:
        view = build_shell(form.body.name, form.dimensions()).views[0]
    except CoreError as error:
        return answer(
            said | {"error": {"what": error.message, "mend": error.mend, "where": error.where}}, status=422
        )
    panels = [
        {"tone": 3, "d": path_d(feature.points, True)} for feature in view.features if feature.kind == "under"
    ]
    panels += [
        {
            "tone": panel.tone,
            "d": path_d(panel.outline, True) + "".join(path_d(hole, True) for hole in panel.holes),
        }
        for panel in view.panels
        if panel.layer == 1
    ]
    lines = [
        {"kind": f.kind, "d": path_d(f.points, f.closed)}
        for f in view.features
        if f.layer in (0, 1) and f.kind not in ("weld", "under")
    ]
    outline = "".join(path_d(ring, True) for part in view.silhouette for ring in part)
    return answer(said | {"bounds": view.bounds, "panels": panels, "lines": lines, "outline": outline})
