from collections.abc import Mapping
from datetime import date

from django import forms

from yellow_sill.core.cut.around import ROW_CLEAR_MM, SNAP_MM, STEP_MM
from yellow_sill.core.cut.asked import CORNER_RADIUS_MM, MARGIN_MM, WEB_MM
from yellow_sill.core.cut.lost import LOST_KINDS
from yellow_sill.core.cut.rates import MONEY, RATES_MIN, Weights
from yellow_sill.core.cut.rows import PITCH_MM as SPOT_PITCH_MM
from yellow_sill.core.errors import CoreError
from yellow_sill.core.patch.sides import Side
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.said import Mm, Said, joined
from yellow_sill.core.weld.settings import JOINTS, PROCESSES
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import DateField, NumberField

from .models import Surrounding, TransferMark

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


TREATMENTS = [
    ("butt", "Butt"),
    ("free", "Free edge"),
    ("lap", "Lap"),
    ("joggle", "Joggle"),
    ("flange", "Flange"),
]


class PatchForm(forms.Form):
    """The patch of a cut: sheet, gap, and each side's treatment. Field names of a side end in its name."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    thickness_mm = NumberField(least=0.4, most=6, sheet=True, label="Sheet, mm")
    gap_mm = NumberField(least=0, most=5, label="Gap at butt, mm")
    k_factor = NumberField(least=0, most=1, unit="", label="K-factor")
    trim_allowance_mm = NumberField(least=0, most=50, label="Trim allowance, mm")
    mirror_hand = forms.BooleanField(required=False, label="Mirror hand")

    def __init__(
        self, *args, sides: list[Side], usual: Mapping[str, str], stored: dict, version: int, **kwargs
    ) -> None:
        """Args: usual: the treatment of a side that nobody has chosen one for."""
        initial = {**stored, "version": version}
        for name in ("thickness_mm", "gap_mm", "k_factor", "trim_allowance_mm"):
            initial[name] = float(initial[name])
        super().__init__(*args, initial=initial, **kwargs)
        self.sides = [side for side in sides if not (side.curved and "-" in side.name)]
        for side in self.sides:
            chosen = stored["sides"].get(side.name, {})
            choices = TREATMENTS[:4] if side.curved else TREATMENTS
            number = lambda key, usual, least, most, label, unit="mm", chosen=chosen, side=side: NumberField(  # noqa: E731
                least=least,
                most=most,
                unit=unit,
                required=False,
                label=f"{label}, side {side.name}",
                initial=float(chosen.get(key, usual)),
            )
            treatment = chosen.get("treatment", usual.get(side.name, "butt"))
            self.fields[f"treatment_{side.name}"] = forms.ChoiceField(
                choices=choices, label=f"Side {side.name}", initial=treatment
            )
            self.fields[f"width_{side.name}"] = number("width_mm", 15, 0.1, 500, "width")
            self.fields[f"angle_{side.name}"] = number("angle_deg", 90, 0.1, 170, "angle", "°")
            self.fields[f"radius_{side.name}"] = number(
                "inside_radius_mm", float(stored["thickness_mm"]), 0, 50, "inside radius"
            )
            self.fields[f"direction_{side.name}"] = forms.ChoiceField(
                choices=[("up", "up"), ("down", "down")],
                required=False,
                label=f"direction, side {side.name}",
                initial=chosen.get("direction", "up"),
            )

    def rows(self):
        for side in self.sides:
            yield {
                "side": side,
                **{
                    key: self[f"{key}_{side.name}"]
                    for key in ("treatment", "width", "angle", "radius", "direction")
                },
            }

    def values(self) -> dict:
        """The fields of Patch."""
        clean = self.cleaned_data
        sides = {}
        for side in self.sides:
            treatment = clean[f"treatment_{side.name}"]
            spec: dict = {"treatment": treatment}
            if treatment not in ("butt", "free"):
                spec["width_mm"] = clean[f"width_{side.name}"]
            if treatment == "flange":
                spec |= {
                    "angle_deg": clean[f"angle_{side.name}"],
                    "direction": clean[f"direction_{side.name}"] or "up",
                }
            if treatment in ("flange", "joggle"):
                spec["inside_radius_mm"] = clean[f"radius_{side.name}"]
            sides[side.name] = {key: value for key, value in spec.items() if value is not None}
        return {
            name: clean[name]
            for name in ("thickness_mm", "gap_mm", "k_factor", "trim_allowance_mm", "mirror_hand")
        } | {"sides": sides}

    def clean(self):
        clean = super().clean()
        for side in self.sides:
            needs_width = clean.get(f"treatment_{side.name}") not in (None, "butt", "free")
            if (
                needs_width
                and f"width_{side.name}" not in self.errors
                and not clean.get(f"width_{side.name}")
            ):
                self.add_error(f"width_{side.name}", f"Side {side.name} needs its width in mm.")
        return clean


class WeldForm(forms.Form):
    """Joint, process and the limits of the heat."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    process = forms.ChoiceField(choices=list(PROCESSES.items()))
    joint = forms.ChoiceField(choices=list(JOINTS.items()))
    pitch_mm = NumberField(least=5, most=200, label="First tacks every, mm")
    cooling = forms.ChoiceField(choices=[("still", "Still air"), ("blown", "Blown with air")])
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


class RibbonForm(forms.Form):
    """One step on the ribbon; before a cut each line that is open has a reason of its own, beside it."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    state = forms.ChoiceField(choices=[(state, state) for state in STATES])
    made_on = DateField(label="Day")
    note = forms.CharField(max_length=300, required=False, label="Why, when going back")
    despite = forms.CharField(max_length=300, required=False, label="It goes on all the same, because")


#: A place that is tapped on the board, or typed.
ON_BOARD = {"class": "mm", "placeholder": "tap the board"}


class TransferForm(forms.Form):
    """Something that the cut takes, measured to two marks that stay. Places are in the shell's axes as the rulers show them."""

    name = forms.CharField(
        max_length=60,
        label="What is lost",
        widget=forms.TextInput(attrs={"placeholder": "stud of the cable guide"}),
    )
    kind = forms.ChoiceField(choices=list(LOST_KINDS.items()), label="Kind")
    first_name = forms.CharField(
        max_length=40,
        label="First mark",
        widget=forms.TextInput(attrs={"placeholder": "hole in the hinge box"}),
    )
    second_name = forms.CharField(max_length=40, label="Second mark")
    first_at = forms.CharField(max_length=60, label="Its place", widget=forms.TextInput(attrs=ON_BOARD))
    second_at = forms.CharField(max_length=60, label="Its place", widget=forms.TextInput(attrs=ON_BOARD))
    near = forms.CharField(
        max_length=60, label="About where the lost thing is", widget=forms.TextInput(attrs=ON_BOARD)
    )
    apart_mm = NumberField(least=1, most=20_000, required=False, label="From mark to mark by tape, mm")
    way = forms.ChoiceField(choices=list(TransferMark.WAYS.items()), label="Measured by")
    first_mm = NumberField(least=-20_000, most=20_000, label="From the first mark, or along, mm")
    second_mm = NumberField(least=-20_000, most=20_000, label="From the second, or across (left +), mm")
    version = forms.IntegerField(required=False, widget=forms.HiddenInput)

    def __init__(self, *args, view, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.view = view

    def _place(self, name: str) -> list[float]:
        try:
            points = units.corners_typed(self.cleaned_data[name])
        except CoreError as error:
            raise forms.ValidationError(error.message) from None
        if len(points) != 1:
            raise forms.ValidationError("Give one place, such as 684, 292.")
        return self.view.in_shell(points)[0]

    def clean_first_at(self) -> list[float]:
        return self._place("first_at")

    def clean_second_at(self) -> list[float]:
        return self._place("second_at")

    def clean_near(self) -> list[float]:
        return self._place("near")


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


class JointForm(forms.Form):
    """Where a joint is, to choose which."""

    on_flange = forms.BooleanField(required=False, label="On a flange")
    visible = forms.BooleanField(required=False, label="Seen when finished")
    both_sides = forms.BooleanField(required=False, label="Both sides can be reached")
    drains_here = forms.BooleanField(required=False, label="Water runs here")
    closed_section = forms.BooleanField(required=False, label="Closes a box")
    made_brazed = forms.BooleanField(required=False, label="The maker brazed it")
    layers = forms.IntegerField(min_value=1, max_value=5, label="Sheets that meet")
