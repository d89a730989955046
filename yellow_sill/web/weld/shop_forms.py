"""Forms of the settings book, of stock and bottles, of hot work and of the checks."""

from django import forms

from yellow_sill.core.weld.book import RESULTS
from yellow_sill.core.weld.consumables import KINDS, UNITS, WORDS
from yellow_sill.core.weld.settings import JOINTS, PROCESSES
from yellow_sill.web.frame.fields import DateField, NumberField, comma_float

from .models import Coupon, WeldShop

#: The dials that are asked for, as the starting settings name them.
DIALS = ("Current", "Arc", "Feed", "Gas", "Tack", "Time", "Force")


class CouponForm(forms.Form):
    """A joint tried on scrap."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    process = forms.ChoiceField(choices=list(PROCESSES.items()), label="Made with")
    joint = forms.ChoiceField(choices=list(JOINTS.items()), label="Joint")
    sheets = forms.CharField(
        max_length=60, label="Its sheets, mm", help_text="From this side inwards: 1 or 1 + 0.8"
    )
    gap_mm = NumberField(least=0, most=10, required=False, label="Gap, mm")
    wire_mm = NumberField(least=0.3, most=3, sheet=True, required=False, label="Wire, mm")
    result = forms.ChoiceField(choices=[("", "say it"), *RESULTS.items()], label="Bent or peeled, it")
    made_on = DateField(label="Tried on")
    note = forms.CharField(max_length=300, required=False, label="What you saw")
    photo = forms.FileField(required=False, label="Photo of the torn joint", widget=forms.FileInput(attrs={"accept": "image/*"}))  # fmt: skip

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        for dial in DIALS:
            self.fields[f"dial-{dial}"] = forms.CharField(max_length=40, required=False, label=dial)

    @staticmethod
    def of(coupon: Coupon) -> dict:
        names = ("process", "joint", "gap_mm", "wire_mm", "result", "made_on", "note", "version")
        dials = {f"dial-{name}": value for name, value in coupon.dials.items()}
        sheets = " + ".join(f"{t:g}" for t in coupon.thicknesses_mm)
        return {name: getattr(coupon, name) for name in names} | dials | {"sheets": sheets}

    @property
    def dials(self) -> list:
        return [self[f"dial-{dial}"] for dial in DIALS]

    def clean_sheets(self) -> list[float]:
        parts = [part for part in self.cleaned_data["sheets"].replace("/", "+").split("+") if part.strip()]
        found = [comma_float(part) for part in parts]
        if not found or not all(t and 0.3 <= t <= 4 for t in found) or len(found) > 5:
            raise forms.ValidationError("Type each sheet's thickness in mm, 0.3 to 4, such as 1 + 0.8.")
        return found

    def values(self) -> dict:
        """The fields of Coupon."""
        clean = self.cleaned_data
        dials = {dial: clean[f"dial-{dial}"] for dial in DIALS if clean[f"dial-{dial}"]}
        names = ("process", "joint", "gap_mm", "wire_mm", "result", "made_on", "note")
        return {name: clean[name] for name in names} | {"thicknesses_mm": clean["sheets"], "dials": dials}


class ShopForm(forms.Form):
    """What there is: the stock by kind, the bottle, the resistance welder. What is left empty is not known."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    bottle_l = NumberField(least=1, most=50_000, unit="l", required=False, label="Gas in a full bottle, l")
    full_bar = NumberField(least=1, most=400, unit="bar", required=False, label="Its gauge when full, bar")
    reach_mm = NumberField(least=10, most=2000, required=False, label="Arms of the spot welder reach, mm")
    in_mm = NumberField(least=0, most=2000, required=False, label="Rows lie in from the edge, mm")
    most_mm = NumberField(least=0.5, most=12, sheet=True, required=False, label="It takes a stack of, mm")
    most_layers = NumberField(least=2, most=5, unit="", required=False, label="and so many sheets")
    timer_cycles = NumberField(least=1, most=200, unit="cycles", required=False, label="Its timer, cycles")

    WELDER = ("reach_mm", "in_mm", "most_mm", "most_layers", "timer_cycles")

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        for kind in KINDS:
            if kind != "gas":
                words = f"{WORDS[kind]}, {UNITS[kind]}" if UNITS[kind] else WORDS[kind]
                self.fields[f"stock-{kind}"] = NumberField(
                    least=0, most=100_000, unit=UNITS[kind], required=False, label=words
                )

    @property
    def stock(self) -> list:
        return [self[name] for name in self.fields if name.startswith("stock-")]

    @property
    def welder(self) -> list:
        return [self[name] for name in self.WELDER]

    @staticmethod
    def of(shop: WeldShop) -> dict:
        stock = {f"stock-{kind}": amount for kind, amount in shop.stock.items()}
        return (
            stock
            | shop.welder
            | {"bottle_l": shop.bottle_l, "full_bar": shop.full_bar, "version": shop.version}
        )

    def values(self) -> dict:
        """The fields of WeldShop."""
        clean = self.cleaned_data
        stock = {kind: value for kind in KINDS if (value := clean.get(f"stock-{kind}")) is not None}
        welder = {name: clean[name] for name in self.WELDER if clean[name] is not None}
        for name in ("most_layers", "timer_cycles"):
            if name in welder:
                welder[name] = round(welder[name])
        return {
            "stock": stock,
            "welder": welder,
            "bottle_l": clean["bottle_l"],
            "full_bar": clean["full_bar"],
        }


class BottleForm(forms.Form):
    """A reading of the bottle's gauge."""

    bar = NumberField(least=0, most=500, unit="bar", label="The gauge shows, bar")
    on = DateField(label="Read on")


class WatchForm(forms.Form):
    """The end of a fire watch."""

    watched_by = forms.CharField(max_length=150, label="Who watched", required=False)
    note = forms.CharField(max_length=300, required=False, label="If it ends early: why")


class ThicknessForm(forms.Form):
    """A reading on the dressed weld: its place comes from a tap."""

    at = forms.CharField(max_length=60, widget=forms.HiddenInput)
    thickness_mm = NumberField(least=0.05, most=20, sheet=True, label="Thickness there, mm")
