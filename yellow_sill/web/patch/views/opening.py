"""The opening of a patch as it was templated: typed, taped, or traced on a photo; shown beside the cut's line, and kept."""

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from yellow_sill.core.errors import CoreError
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.web.cut.views.common import chosen_cut, repair_context
from yellow_sill.web.frame import units
from yellow_sill.web.frame.meanwhile import say_meanwhile
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.repairs.access import with_repair
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.drawing import shell_svg

from ..opening_services import keep_line, read_line, traces_of
from ..services import patch_of
from ..stock_forms import CornersField

#: Metal shown round the opening, mm.
ROUND_MM = 120.0


class OpeningForm(forms.Form):
    """An opening: corners, or points taped from two marks, or a photo that was traced."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    corners = CornersField(
        required=False, label="Corners, one a line", help_text="As the drawing counts: along, up."
    )
    first = CornersField(
        required=False,
        label="Or taped: first mark",
        widget=forms.TextInput(attrs={"class": "mm", "placeholder": "2500, 300"}),
    )
    second = CornersField(
        required=False,
        label="Second mark",
        widget=forms.TextInput(attrs={"class": "mm", "placeholder": "2900, 300"}),
    )
    side = forms.ChoiceField(
        choices=[("left", "left of the way from first to second"), ("right", "right of it")],
        required=False,
        label="The points lie",
    )
    taped = forms.CharField(
        required=False,
        max_length=8000,
        label="Points, one a line: from the first, from the second",
        widget=forms.Textarea(
            attrs={"rows": 5, "class": "mm", "placeholder": "212 318\n305 240\n1 to 2: 118"}
        ),
    )
    photo = forms.ChoiceField(required=False, label="Or a traced photo of this panel")

    def __init__(self, *args, photos: list, view, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.view = view
        rows = [(str(photo.pk), f"{photo.taken_on:%d.%m.%Y} {photo.caption}".strip()) for photo, _ in photos]
        self.fields["photo"].choices = [("", "none"), *rows]

    def values(self) -> dict:
        """What was typed, places in the view's plane."""
        clean = self.cleaned_data
        placed = {name: self.view.in_shell(clean[name]) for name in ("corners", "first", "second")}
        return clean | placed | {"side": clean["side"] or "left"}


@with_repair
def opening(request: HttpRequest, repair: Repair) -> HttpResponse:
    """A POST shows what was typed ("try"), keeps it, or takes the cut's line again ("drop")."""
    cuts, cut = chosen_cut(request, repair, "patch")
    context = repair_context(repair, "patch", cuts, cut)
    if cut is None:
        return render(request, "patch/opening.html", context)
    patch, view, photos = patch_of(cut), cut.panel.view, traces_of(cut)
    here = f"{reverse('patch:patch', args=[repair.vehicle_id, repair.number])}?cut={cut.number}"
    initial = {"version": patch.version, "corners": view.in_shell(patch.opening) if patch.opening else ""}
    form = OpeningForm(request.POST or None, photos=photos, view=view, initial=initial)
    line, status, what = None, 200, request.POST.get("what", "")
    if request.method == "POST":
        status = 422
        try:
            if what == "drop":
                keep_line(
                    cut,
                    [],
                    version=whole_number(request.POST.get("version", "")),
                    by=request.user.get_username(),
                )
                messages.success(request, "The patch fills the cut's own line again.")
                return redirect(here)
            if form.is_valid():
                line = read_line(cut, form.values())
                status = 200
                if what == "keep":
                    keep_line(
                        cut,
                        line.outline,
                        version=form.cleaned_data["version"],
                        by=request.user.get_username(),
                    )
                    messages.success(request, "The patch fills the opening as templated.")
                    return redirect(here)
        except ChangedMeanwhile as changed:
            say_meanwhile(request, changed, "this pattern", then="keep the opening")
            return redirect(request.get_full_path())
        except CoreError as error:
            status = 422
            form.add_error(error.where if error.where in form.fields else None, units.said(error.message))
    shown = line.outline if line else patch.opening
    context |= {
        "form": form, "line": line, "shown": shown, "patch": patch, "photos": photos, "tags": [], "svg": shell_svg(view, cut.panel.layer), "view": view,
        "bounds": list(widened(bounds_of([*cut.outline, *shown]), ROUND_MM)),
        "cells": [
            ("Repair", repair.code), ("Body no.", repair.vehicle.body_no or "–"), ("Cut", cut.number),
            ("Opening", "as templated" if patch.opening else "as cut"), ("Corners", len(shown or cut.outline)), ("Units", units.unit.get()),
        ],
    }  # fmt: skip
    return render(request, "patch/opening.html", context, status=status)
