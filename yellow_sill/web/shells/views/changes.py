from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import units
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.typed import whole_number

from ..access import open_to, own_only, with_vehicle
from ..change_services import changes, made_by, record_asked, take_back
from ..models import Role, Vehicle


@require_GET
@with_vehicle
def revision(request: HttpRequest, vehicle: Vehicle) -> JsonResponse:
    """The number of the last change: an open page asks whether it is still the one it shows."""
    return answer({"revision": vehicle.revision})


@with_vehicle
@open_to(Role.HELPER)
def history(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """What was changed, by whom and when; a change can be taken back."""
    asked = request.POST.get("of") or request.GET.get("of", "")
    record = record_asked(vehicle, asked)
    here = reverse("shells:changes", args=[vehicle.pk]) + (f"?of={asked}" if record else "")
    if request.method == "POST":
        number = whole_number(request.POST.get("revision", ""))
        own_only(request, made_by(vehicle, number or 0))
        try:
            messages.success(
                request, units.said(take_back(vehicle, number or 0, by=request.user.get_username()))
            )
        except CoreError as error:
            messages.warning(request, units.said(error.message))
        return redirect(here)
    context = {
        "of": asked if record else "",
        "unknown": bool(asked) and record is None,
        "changes": changes(vehicle, record) if record or not asked else [],
    }
    return render(request, "shells/changes.html", context)
