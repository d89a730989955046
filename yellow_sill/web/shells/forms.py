from django import forms

from yellow_sill.core.errors import CoreError
from yellow_sill.core.money.amount import CURRENCIES
from yellow_sill.core.shell import BODY_TYPES
from yellow_sill.web.frame.fields import NumberField


class VehicleForm(forms.Form):
    """The plate and the taped dimensions of a new vehicle."""

    make = forms.CharField(max_length=60, error_messages={"required": "Type the make as on the plate."})
    model = forms.CharField(max_length=60, error_messages={"required": "Type the model, or what you call it."})
    year = forms.IntegerField(min_value=1880, max_value=2100, required=False)
    body_no = forms.CharField(max_length=40, required=False, label="Body number")
    currency = forms.ChoiceField(choices=[(code, code) for code in CURRENCIES], label="Money in")
    body_type = forms.ChoiceField(choices=[(kind.name, kind.label) for kind in BODY_TYPES.values()], label="Body type")

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.body = next(iter(BODY_TYPES.values()))
        for dimension in self.body.dimensions:
            self.fields[dimension.name] = NumberField(
                least=dimension.least_mm, most=dimension.most_mm, label=f"{dimension.label}, mm", help_text=dimension.how, initial=dimension.usual_mm
            )

    def dimension_fields(self):
        return [self[dimension.name] for dimension in self.body.dimensions]

    def plate_fields(self):
        return [self[name] for name in ("make", "model", "year", "body_no")]

    def dimensions(self) -> dict[str, float]:
        return {dimension.name: self.cleaned_data[dimension.name] for dimension in self.body.dimensions if dimension.name in self.cleaned_data}

    def refuse(self, error: CoreError) -> None:
        self.add_error(error.where if error.where in self.fields else None, error.message)
