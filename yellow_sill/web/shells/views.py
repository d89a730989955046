from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.core.shell import build_shell

from .drawing import path_d, shell_svg
from .forms import VehicleForm
from .models import Vehicle
from .services import create_vehicle


@require_GET
def vehicles(request: HttpRequest) -> HttpResponse:
    """All vehicles of this owner."""
    found = Vehicle.objects.filter(owner=request.user)
    rows = []
    for vehicle in found:
        view = vehicle.views.defer("features").first()
        rows.append({"vehicle": vehicle, "view": view, "svg": shell_svg(view, 1)})
    return render(request, "shells/vehicles.html", {"rows": rows})


def new(request: HttpRequest) -> HttpResponse:
    """A vehicle from a body type and taped dimensions."""
    form = VehicleForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        values = form.cleaned_data
        plate = {name: values[name] for name in ("make", "model", "year", "body_no", "currency", "body_type")}
        typed = {name: request.POST.get(name, "") for name in form.dimensions()}
        try:
            vehicle = create_vehicle(owner=request.user, dimensions_mm=form.dimensions(), typed=typed, **plate)
            messages.success(request, f"{vehicle} is drawn. Look the shell over and draw the first finding.")
            return redirect(vehicle)
        except CoreError as error:
            form.refuse(error)
    return render(request, "shells/new.html", {"form": form}, status=422 if form.errors else 200)


@require_POST
def preview(request: HttpRequest) -> JsonResponse:
    """The side view of dimensions that are being typed."""
    form = VehicleForm(request.POST)
    form.is_valid()
    faults = {name: errors[0] for name, errors in form.errors.items() if name in [field.name for field in form.dimension_fields()]}
    if faults:
        return JsonResponse({"error": {"what": next(iter(faults.values())), "mend": "", "where": next(iter(faults))}}, status=422)
    view = build_shell(form.cleaned_data.get("body_type", form.body.name), form.dimensions()).views[0]
    panels = [
        {"tone": panel.tone, "d": path_d(panel.outline, True) + "".join(path_d(hole, True) for hole in panel.holes)}
        for panel in view.panels
        if panel.layer == 1
    ]
    lines = [{"kind": f.kind, "d": path_d(f.points, f.closed)} for f in view.features if f.layer in (0, 1) and f.kind not in ("weld", "under")]
    outline = "".join(path_d(ring, True) for part in view.silhouette for ring in part)
    return JsonResponse({"bounds": view.bounds, "panels": panels, "lines": lines, "outline": outline})
