"""A vehicle's rates and rules: what planning counts with, each with its default and what it means."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.web.frame.meanwhile import both_of
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import Vehicle

from ..forms import RulesForm
from ..rule_services import AROUND_CLEARANCES, CLEARANCES, keep_rules, rules_of, told_rules


@with_vehicle
def rules(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """Shown and kept on one page."""
    stored, told = rules_of(vehicle), told_rules(vehicle)
    initial = {
        f"{group}-{name}": f"{value:g}"
        for group, *_ in RulesForm.GROUPS
        for name, value in told[group].items()
    }
    initial |= {name: getattr(stored, name) for name in (*CLEARANCES, *AROUND_CLEARANCES)} | {
        "processes": told["processes"],
        "version": stored.version,
    }
    form, conflict, status = RulesForm(request.POST or None, initial=initial), None, 200
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                keep_rules(
                    vehicle,
                    form.values(),
                    version=form.cleaned_data["version"],
                    by=request.user.get_username(),
                )
                messages.success(
                    request,
                    "Kept: planning counts with these from now on. Repairs that are open keep their own clearances.",
                )
                return redirect(reverse("repairs:rules", args=[vehicle.pk]))
            except ChangedMeanwhile as changed:
                stored, status = changed.stored, 409
                conflict = both_of(request, form, changed)
                if not conflict:
                    return redirect(reverse("repairs:rules", args=[vehicle.pk]))
    context = {"current_stage": "repairs", "form": form, "stored": stored, "conflict": conflict}
    context |= {group: form.group(group) for group, *_ in RulesForm.GROUPS}
    return render(request, "repairs/rules.html", context, status=status)
