"""Forms of the cut, of its ways and of what is round it."""

from django import forms

from yellow_sill.core.cut.rows import PITCH_MM as SPOT_PITCH_MM
from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import NumberField

from .models import Surrounding


class OptionsForm(forms.Form):
    """What prices and what counts when the ways to renew a panel are compared."""

    whole_price = NumberField(least=0, most=100_000, unit="", label="Whole panel, price", required=False)
    whole_days = NumberField(least=0, most=2000, unit="days", label="Here in, days", required=False)
    part_price = NumberField(least=0, most=100_000, unit="", label="Part panel, price", required=False)
    part_days = NumberField(least=0, most=2000, unit="days", label="Here in, days", required=False)
    hour = NumberField(least=0, most=1000, unit="", label="An hour of work costs")
    steel_kg = NumberField(least=0, most=1000, unit="", label="Steel, a kg")
    money = NumberField(least=0, most=10, unit="", label="Money")
    hours = NumberField(least=0, most=10, unit="", label="Hours")
    originality = NumberField(least=0, most=10, unit="", label="Original metal")
    looks = NumberField(least=0, most=10, unit="", label="Looks")

    WEIGHTS = ("money", "hours", "originality", "looks")

    def __init__(self, *args, rules: dict, priced: dict | None = None, **kwargs) -> None:
        """``rules``: rates, prices and weights of the vehicle, which these fields start from; ``priced``: what a choice was made by, if one was."""
        self.rules = rules
        self.priced = rules | (priced or {})
        self.priced |= {name: rules[name] | self.priced[name] for name in ("prices", "weights")}
        usual = {
            "hour": self.priced["prices"]["hour"],
            "steel_kg": self.priced["prices"]["steel_kg"],
            **self.priced["weights"],
        }
        for name in ("whole", "part"):
            if bought := self.priced.get(name):
                usual |= {f"{name}_price": bought["price"], f"{name}_days": bought["days"] or 0}
        super().__init__(*args, initial={name: f"{value:g}" for name, value in usual.items()}, **kwargs)

    def told(self) -> dict:
        """As the core's ``OptionsRequest`` takes it; a panel without a price is not sold."""
        values = self.cleaned_data
        bought = {
            name: {"price": values[f"{name}_price"], "days": int(values[f"{name}_days"] or 0)}
            for name in ("whole", "part")
            if values[f"{name}_price"] is not None
        }
        prices = self.rules["prices"] | {"hour": values["hour"], "steel_kg": values["steel_kg"]}
        return (
            self.rules | bought | {"prices": prices, "weights": {name: values[name] for name in self.WEIGHTS}}
        )


class SurroundingForm(forms.Form):
    """Something that cuts of a panel meet. Places are in the shell's axes as the rulers show them."""

    kind = forms.ChoiceField(choices=list(Surrounding.KINDS.items()), label="What it is")
    name = forms.CharField(
        max_length=60,
        label="Its name",
        widget=forms.TextInput(attrs={"placeholder": "row under the tread plate"}),
    )
    points = forms.CharField(
        label="Places, tapped on the board",
        widget=forms.Textarea(attrs={"rows": 4, "class": "mm", "spellcheck": "false"}),
    )
    marked = forms.BooleanField(required=False, label="Each place is an old spot weld")
    pitch_mm = NumberField(least=8, most=200, label="Or: a spot weld every", required=False)
    survives = forms.CharField(max_length=60, required=False, label="Sheet that must survive")
    drill_here = forms.BooleanField(required=False, label="A drill reaches it from this side")
    drill_behind = forms.BooleanField(required=False, label="A drill reaches it from behind")
    both_sides = forms.BooleanField(required=False, label="A spot welder's arms reach both sides")
    version = forms.IntegerField(required=False, widget=forms.HiddenInput)

    ROW_FIELDS = ("marked", "drill_here", "drill_behind", "both_sides")

    def __init__(self, *args, view, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.view = view

    def clean_points(self) -> list[list[float]]:
        try:
            return self.view.in_shell(units.corners_typed(self.cleaned_data["points"]))
        except CoreError as error:
            raise forms.ValidationError(error.message) from None

    def clean_pitch_mm(self) -> float:
        return self.cleaned_data["pitch_mm"] or SPOT_PITCH_MM
