"""The bench card on the tablet and on paper."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.web.cut.views.common import chosen_cut, repair_context
from yellow_sill.web.frame import units
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to
from yellow_sill.web.shells.models import Role

from ..card_services import begin_anew, card_of, keep_sizes, shown_sizes, tick_step
from ..forms import SizesForm


@with_repair
@open_to(Role.HELPER)
def card(request: HttpRequest, repair: Repair) -> HttpResponse:
    """The card of a cut's stored pattern; a POST ticks a step, keeps the sizes or begins anew."""
    cuts, cut = chosen_cut(request, repair, "patch")
    context = repair_context(repair, "patch", cuts, cut)
    if cut is None:
        return render(request, "patch/card.html", context)
    here, by = (
        f"{reverse('patch:card', args=[repair.vehicle_id, repair.number])}?cut={cut.number}",
        request.user.get_username(),
    )
    form = None
    try:
        told = card_of(cut)
        if request.method == "POST":
            what = request.POST.get("what", "")
            if what == "sizes":
                form = SizesForm(request.POST, sizes=told.card.sizes)
                if form.is_valid():
                    keep_sizes(cut, form.measured(), form.typed(), by=by)
                    return redirect(here)
            elif what == "anew":
                begin_anew(cut, by=by)
                return redirect(here)
            else:
                tick_step(cut, request.POST.get("step", ""), done="undo" not in request.POST, by=by)
                return redirect(f"{here}#{request.POST.get('at', '')}")
        context["told"] = told
    except CoreError as refused:
        if request.method == "POST" and form is None:
            messages.warning(request, units.said(refused.message))
            return redirect(here)
        context["error"] = refused
        told = None
    if told is not None:
        context["form"] = form or SizesForm(initial=shown_sizes(told.work), sizes=told.card.sizes)
        context["size_rows"] = [(judged, context["form"][judged.size.key]) for judged in told.sizes]
    return render(
        request, "patch/card.html", context, status=422 if form is not None or context.get("error") else 200
    )
