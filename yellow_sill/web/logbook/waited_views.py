"""Notes, hours and photos that a browser kept while nothing answered, stored when it is back; answered to its script."""

from django import forms
from django.http import HttpRequest, JsonResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_POST

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame.board_json import answer
from yellow_sill.web.frame.middleware import error_json
from yellow_sill.web.frame.waited import stored_once
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.access import open_to, own_only, with_vehicle
from yellow_sill.web.shells.models import Role, Vehicle

from .forms import ENTRIES, NoteForm
from .models import Note
from .services import WrittenMeanwhile, add_entry, as_written, change_note


def _refused(form: forms.Form) -> JsonResponse:
    """What is wrong with a form, in one sentence."""
    said = [
        f"{form.fields[name].label or name.capitalize()}: {errors[0]}" for name, errors in form.errors.items()
    ]
    return error_json(
        CoreError(" ".join(said), next(iter(form.errors)), "It waits here until you change it.")
    )


@require_POST
@with_repair
@open_to(Role.HELPER, what=tuple(ENTRIES))
@stored_once
def added(request: HttpRequest, repair: Repair) -> JsonResponse:
    """A note, hours or a photo of a repair, as the form of its log sends them; ``what`` says which."""
    what = request.POST.get("what", "")
    form = ENTRIES.get(what, NoteForm)(request.POST, request.FILES, prefix=what)
    if not form.is_valid():
        return _refused(form)
    add_entry(repair, what, form.cleaned_data, by=request.user.get_username())
    return answer({"stored": True})


@require_POST
@with_vehicle
@open_to(Role.HELPER)
@stored_once
def note_changed(request: HttpRequest, vehicle: Vehicle, pk: int) -> JsonResponse:
    """A note corrected; 409 with the one that is stored where somebody else changed it meanwhile."""
    note = get_object_or_404(Note, repair__vehicle=vehicle, pk=pk)
    own_only(request, note.by)
    form = NoteForm(request.POST)
    if not form.is_valid():
        return _refused(form)
    try:
        change_note(note, form.cleaned_data, was=request.POST.get("was", ""))
    except WrittenMeanwhile:
        now = Note.objects.get(pk=pk)
        error = CoreError(
            "Somebody changed this note while yours waited.", "text", "Choose which of the two stays."
        )
        told = {"text": now.text, "written_on": f"{now.written_on:%Y-%m-%d}", "was": as_written(now)}
        return answer(
            {"stored": told, "error": {"what": error.what, "mend": error.mend, "where": error.where}},
            status=409,
        )
    return answer({"stored": True})
