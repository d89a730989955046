"""The form of a dial's reading."""

from django import forms

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import NumberField


class DialForm(forms.Form):
    node = forms.ChoiceField(label="Weight and dial at")
    kg = NumberField(least=1, most=200, unit="kg", label="Weight, kg")
    read_mm = NumberField(least=-100, most=100, label="Dial went down, mm")

    def __init__(self, *args, places=(), **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["node"].choices = list(places)

    def refuse(self, error: CoreError) -> None:
        """Put a refusal of the core beside its field."""
        self.add_error(error.where if error.where in self.fields else None, units.said(error.message))
