"""The form of an offer-up."""

from django import forms

from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import length_typed

from .fit_services import readings


class OfferForm(forms.Form):
    """An offer-up: process, school, note; the places with their gaps come as lists of their own."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    process = forms.ChoiceField(
        choices=[("mig", "MIG"), ("tig", "TIG"), ("braze", "brazed"), ("spot", "spot")], label="It will be"
    )
    school = forms.ChoiceField(
        choices=[("template", "trimmed to fit"), ("overlay", "laid over, cut through")],
        label="How it is fitted",
    )
    note = forms.CharField(
        required=False, max_length=2000, label="Note", widget=forms.Textarea(attrs={"rows": 2})
    )

    def __init__(self, data=None, **kwargs) -> None:
        super().__init__(data, **kwargs)
        self.rows: list[tuple[str, str, str]] = []

    def clean(self) -> dict:
        """Every gap is a length or empty; the rows stay as they were typed."""
        at, gaps = self.data.getlist("at"), self.data.getlist("gap")
        lengths, faults = [], 0
        for place, text in zip(at, gaps, strict=False):
            fault = ""
            try:
                lengths.append(length_typed(text, units.unit.get()))
            except forms.ValidationError as error:
                lengths.append(None)
                fault, faults = error.messages[0], faults + 1
            self.rows.append((place, text, fault))
        if faults:
            raise forms.ValidationError("A gap cannot be read: see beside it.")
        self.cleaned_data["gaps"] = readings(at, gaps, lengths)
        return self.cleaned_data

    def values(self) -> dict:
        return {name: self.cleaned_data[name] for name in ("process", "school", "note", "gaps")}
