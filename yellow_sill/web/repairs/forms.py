"""Forms of a repair: opened, moved on, and the rules it is planned by."""

from datetime import date

from django import forms

from yellow_sill.core.cut.around import ROW_CLEAR_MM, SNAP_MM, STEP_MM
from yellow_sill.core.cut.asked import CORNER_RADIUS_MM, MARGIN_MM, WEB_MM
from yellow_sill.core.cut.rates import MONEY, RATES_MIN, Weights
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.said import Mm, Said, joined
from yellow_sill.core.weld.settings import PROCESSES
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import DateField, NumberField

#: What each rate and price counts, as the page of rules says it.
RATE_WORDS = {
    "cut_m": "Cut out, a metre of line", "make_piece": "Make a patch, a piece", "make_m": "and a metre of its outline", "fit_m": "Fit up, a metre of outline",
    "weld_m": "Weld, a metre of butt", "plug": "A plug weld", "dress_m": "Dress, a metre of weld", "protect_dm2": "Protect, a square decimetre",
    "panel_prepare": "Prepare a bought panel",
}  # fmt: skip
PRICE_WORDS = {
    "steel_kg": "Steel, a kg", "weld_m": "Wire, gas and discs, a metre of weld", "nugget": "Drills and wire, a spot weld",
    "hour": "An hour of your own (0: not counted)",
}  # fmt: skip
WEIGHT_WORDS = {"money": "Money", "hours": "Hours", "originality": "Original metal", "looks": "Looks"}
OWNED = {name: PROCESSES[name] for name in ("mig", "tig", "spot", "braze")}


def _clearance(label: str, usual: float, words: str) -> NumberField:
    help_text = joined((Said("Usual: {usual}.", usual=Mm(usual)), words))
    return NumberField(least=0, most=200, label=label, help_text=help_text)


class RulesForm(forms.Form):
    """A vehicle's rates, prices, weights and clearances, each with its default."""

    margin_mm = _clearance(
        "Margin to sound metal", MARGIN_MM, "Bright, full-thickness metal beyond the rust."
    )
    corner_radius_mm = _clearance(
        "Corner radius", CORNER_RADIUS_MM, "A round corner fits and welds better; a sharp one cracks."
    )
    web_mm = _clearance(
        "Join cuts nearer than", WEB_MM, "A narrow strip between two welds burns and buckles."
    )
    step_mm = _clearance("Step of a window", STEP_MM, "Wider than the cut behind, to weld there.")
    row_clear_mm = _clearance(
        "Clear of spot-weld rows", ROW_CLEAR_MM, "Nearer, and the whole flange is taken."
    )
    snap_mm = _clearance(
        "End on a line within", SNAP_MM, "Seams, swages and flanges this near hide the weld."
    )
    processes = forms.MultipleChoiceField(
        choices=list(OWNED.items()), widget=forms.CheckboxSelectMultiple, label="What you weld with"
    )
    version = forms.IntegerField(required=False, widget=forms.HiddenInput)

    GROUPS = (
        ("rates", RATE_WORDS, RATES_MIN, 600),
        ("prices", PRICE_WORDS, MONEY, 1000),
        ("weights", WEIGHT_WORDS, Weights().model_dump(), 10),
    )

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        for group, words, usual, most in self.GROUPS:
            for name, label in words.items():
                field = NumberField(
                    least=0, most=most, unit="", label=label, help_text=f"Usual: {usual[name]:g}"
                )
                self.fields[f"{group}-{name}"] = field

    def group(self, name: str) -> list:
        """The fields of a group, bound."""
        return [self[field] for field in self.fields if field.startswith(f"{name}-")]

    def values(self) -> dict:
        """As they are stored."""
        told = {
            group: {name: self.cleaned_data[f"{group}-{name}"] for name in words}
            for group, words, *_ in self.GROUPS
        }
        return told | {
            name: self.cleaned_data[name]
            for name in (
                "margin_mm",
                "corner_radius_mm",
                "web_mm",
                "step_mm",
                "row_clear_mm",
                "snap_mm",
                "processes",
            )
        }


class ClearancesForm(forms.Form):
    """How far a repair's cuts keep from rust, from their corners and from one another."""

    margin_mm = NumberField(least=0, most=200, label="Margin to sound metal, mm", initial=MARGIN_MM)
    corner_radius_mm = NumberField(least=0, most=200, label="Corner radius, mm", initial=CORNER_RADIUS_MM)
    web_mm = NumberField(least=0, most=300, label="Join cuts nearer than, mm", initial=WEB_MM)


class OpenRepairForm(ClearancesForm):
    """What a new repair mends and how its cuts are proposed."""

    findings = forms.ModelMultipleChoiceField(
        queryset=None,
        to_field_name="number",
        widget=forms.CheckboxSelectMultiple,
        error_messages={"required": "A repair needs at least one finding. Tick what it will mend."},
    )
    title = forms.CharField(
        max_length=80, required=False, label="Name", widget=forms.TextInput(attrs={"autocomplete": "off"})
    )
    style = forms.ChoiceField(
        choices=[("rectangle", "Rectangle, least metal"), ("hull", "Close to the rust")],
        label="Shape of the cut",
    )
    opened_on = DateField(label="Day")

    def __init__(self, *args, findings, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["findings"].queryset = findings
        self.fields["findings"].label_from_instance = lambda f: (
            f"{f.number} {f.grade or '?'}: {units.said(f.head) if not f.title else f.title} ({units.said(f.panel.name)})"
        )
        self.fields["opened_on"].initial = date.today


class RibbonForm(forms.Form):
    """One step on the ribbon; before a cut each line that is open has a reason of its own, beside it."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    state = forms.ChoiceField(choices=[(state, state) for state in STATES])
    made_on = DateField(label="Day")
    note = forms.CharField(max_length=300, required=False, label="Why, when going back")
    despite = forms.CharField(max_length=300, required=False, label="It goes on all the same, because")
