"""Lines of cost, changed and deleted."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from yellow_sill.web.cut.views.common import repair_context
from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair

from ..forms import CostForm
from ..services import change_cost


@with_repair
def cost(request: HttpRequest, repair: Repair, pk: int) -> HttpResponse:
    """Change one line of cost, or delete it."""
    line = get_object_or_404(repair.cost_lines, pk=pk)
    if line.receipt_id is not None:
        return redirect("parts:receipt", repair.vehicle_id, line.receipt.number)
    back = redirect(f"{reverse('logbook:log', args=[repair.vehicle_id, repair.number])}#cost")
    if request.method == "POST" and "delete" in request.POST:
        line.delete()
        messages.success(request, f"'{line.item}' is deleted.")
        return back
    form = CostForm(request.POST or None, instance=line)
    version, conflict = line.version, None
    if request.method == "POST":
        typed = request.POST.get("version", "")
        if form.is_valid():
            try:
                fresh = repair.cost_lines.get(pk=pk)
                change_cost(
                    fresh, form.cleaned_data, version=whole_number(typed), by=request.user.get_username()
                )
                return back
            except ChangedMeanwhile as error:
                version = error.stored.version
                conflict = both_of(request, form, error)
                if not conflict:
                    return back
        else:
            version = typed
    context = repair_context(repair, "log", [], None) | {
        "form": form,
        "line": line,
        "version": version,
        "conflict": conflict,
        "stored": repair.cost_lines.get(pk=pk),
    }
    return render(
        request, "parts/cost.html", context, status=409 if conflict else 422 if form.errors else 200
    )
