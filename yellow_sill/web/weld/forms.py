"""Forms of the weld."""

from django import forms

from yellow_sill.core.weld.settings import JOINTS, PROCESSES
from yellow_sill.web.frame.fields import NumberField


class WeldForm(forms.Form):
    """Joint, process and the limits of the heat."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    process = forms.ChoiceField(choices=list(PROCESSES.items()))
    joint = forms.ChoiceField(choices=list(JOINTS.items()))
    pitch_mm = NumberField(least=5, most=200, label="First tacks every, mm")
    cooling = forms.ChoiceField(choices=[("still", "Still air"), ("blown", "Blown with air")])
    backing = forms.BooleanField(required=False, label="Copper behind the seam")
    limit_c = NumberField(least=20, most=200, unit="°C", label="No tack above, °C")
    ambient_c = NumberField(least=-20, most=45, unit="°C", label="Garage, °C")
    tack_energy_j = NumberField(least=20, most=5000, unit="J", label="Own tack energy, J", required=False)
    proved = forms.CharField(
        max_length=300,
        required=False,
        label="Proved on scrap",
        widget=forms.TextInput(attrs={"placeholder": "what worked, on which day"}),
    )

    def clean(self):
        clean = super().clean()
        limit, ambient = clean.get("limit_c"), clean.get("ambient_c")
        if limit is not None and ambient is not None and limit <= ambient:
            self.add_error(
                "limit_c",
                "The plate never cools below the air around it. Set this above the garage's temperature.",
            )
        return clean


class JointForm(forms.Form):
    """Where a joint is, to choose which."""

    on_flange = forms.BooleanField(required=False, label="On a flange")
    visible = forms.BooleanField(required=False, label="Seen when finished")
    both_sides = forms.BooleanField(required=False, label="Both sides can be reached")
    drains_here = forms.BooleanField(required=False, label="Water runs here")
    closed_section = forms.BooleanField(required=False, label="Closes a box")
    made_brazed = forms.BooleanField(required=False, label="The maker brazed it")
    layers = forms.IntegerField(min_value=1, max_value=5, label="Sheets that meet")
