"""What was worked out beside what was measured, and one weight with one dial."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.hold.words import node_name
from yellow_sill.web.frame import days
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import open_to, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from ..board_services import change_words, measured_rows, places
from ..forms import DialForm
from ..measure_services import keep_dial, measured_change, set_softness, telling_pair
from ..services import has_structure, request_of
from .common import cells, kept_facts, none_yet

#: Where a weight is hung and a dial stood first: out at the end of a rail.
FIRST_NODES = ("FRL", "XAL", "FML", "BKL")


@with_vehicle
@open_to(Role.HELPER, but=("planned",))
def measured(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Two rounds against the states of their days; a POST keeps a dial's reading or sets the shell back to as planned."""
    if not has_structure(vehicle):
        return none_yet(request)
    try:
        setup, facts = kept_facts(vehicle)
        asked = request_of(facts)
    except CoreError as error:
        return none_yet(request, error)
    first = next((name for name in FIRST_NODES if name in asked.nodes), next(iter(asked.nodes)))
    form = DialForm(
        request.POST if request.method == "POST" and "planned" not in request.POST else None,
        places=places(asked),
        initial={"node": first, "kg": 20},
    )
    if request.method == "POST":
        if "planned" in request.POST:
            set_softness(vehicle, 1.0, by=request.user.get_username(), today=days.today())
            messages.success(request, "The shell is taken for as soft as planned again.")
            return redirect(reverse("hold:measured", args=[vehicle.pk]))
        if form.is_valid():
            try:
                told = keep_dial(
                    vehicle, **form.cleaned_data, by=request.user.get_username(), today=days.today()
                )
            except CoreError as error:
                form.refuse(error)
            else:
                messages.success(request, told.sentences[0])
                return redirect(reverse("hold:measured", args=[vehicle.pk]))
    context = {
        "current_stage": "hold",
        "form": form,
        "setup": setup,
        "dials": [(dial, node_name(dial.node)) for dial in vehicle.dial_readings.all()][::-1],
    }
    context |= _rounds(request, vehicle)
    context["cells"] = cells(
        vehicle, ("Rounds", len(context["rounds"])), ("Softness", f"{setup.softness:.2f}")
    )
    return render(request, "hold/measured.html", context, status=422 if form.errors else 200)


def _rounds(request: HttpRequest, vehicle: Vehicle) -> dict:
    rounds = list(vehicle.rounds.filter(readings__isnull=False).distinct())
    context = {"rounds": rounds}
    if len(rounds) < 2:
        return context
    by_number = {each.number: each for each in rounds}
    first, last = telling_pair(vehicle, rounds)
    after = by_number.get(whole_number(request.GET.get("after", "")), last)
    before = by_number.get(whole_number(request.GET.get("before", "")), first if after != first else last)
    context |= {"before": before, "after": after}
    try:
        told, first, second = measured_change(vehicle, before, after)
    except CoreError as error:
        return context | {"compare_error": error}
    points = {point.code: point.name for point in vehicle.datum_points.all()}
    return context | {
        "told": told,
        "rows": measured_rows(told, points),
        "change": change_words(first, second),
    }
