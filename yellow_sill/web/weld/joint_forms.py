"""Forms of the sheets and joints."""

from django import forms

from yellow_sill.core.weld.settings import PROCESSES
from yellow_sill.web.frame.fields import DateField, YesNoField


class JointWordForm(forms.Form):
    """What a person says of a joint."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    process = forms.ChoiceField(
        choices=[("", "as worked out"), *PROCESSES.items()], required=False, label="Made with"
    )
    both_sides = YesNoField(label="Both sides can be reached")
    from_side = forms.CharField(
        max_length=60, required=False, label="The torch comes from", help_text="Outside, the wheel arch, the cabin."
    )  # fmt: skip
    tight_end = forms.ChoiceField(
        choices=[("", "neither"), ("first", "its beginning"), ("last", "its end")], required=False, label="A row is held fast at"
    )  # fmt: skip
    fixes_datum = forms.BooleanField(required=False, label="It fixes a datum: weld it first")
    made_brazed = forms.BooleanField(required=False, label="The maker brazed it")

    def values(self) -> dict:
        """The fields of JointWord."""
        return {name: value for name, value in self.cleaned_data.items() if name != "version"}


class MadeForm(forms.Form):
    """That a joint is made: the day and how."""

    made_on = DateField(label="Made on")
    how = forms.CharField(
        max_length=300, required=False, label="How", help_text="Setting, wire, what was different."
    )


class StepForm(forms.Form):
    """A step of a sheet."""

    made_on = DateField(label="On which day")
    note = forms.CharField(max_length=300, required=False, label="Why back")
    despite = forms.CharField(max_length=2000, required=False, label="All the same, because")
