"""Forms of protection."""

from datetime import datetime

from django import forms
from django.utils import timezone

from yellow_sill.core.protect.products import Product
from yellow_sill.core.protect.systems import SURFACE_WORDS
from yellow_sill.web.frame.fields import DateField, NumberField, comma_float

from .models import OwnProduct

METALS = [
    ("", "nobody has said"),
    ("bright", "bright"),
    ("tight rust", "tight rust"),
    ("thin", "thin"),
    ("holed", "holed"),
]
KINDS = list(Product.model_fields["kind"].annotation.__args__)  # type: ignore[union-attr]


class MomentField(forms.DateTimeField):
    """A day and time by the garage's clock."""

    def __init__(self, **kwargs) -> None:
        kwargs.setdefault(
            "widget", forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M")
        )
        super().__init__(input_formats=["%Y-%m-%dT%H:%M", "%Y-%m-%d %H:%M", "%d.%m.%Y %H:%M"], **kwargs)
        self.error_messages["invalid"] = "Type the day and time like 2026-02-14 16:30."

    def prepare_value(self, value):
        return (
            timezone.localtime(value) if isinstance(value, datetime) and timezone.is_aware(value) else value
        )


class CoatForm(forms.Form):
    """A coat: which product, on which faces of one sheet, when, and how warm it was."""

    product = forms.ChoiceField(label="What was put on")
    faces = forms.MultipleChoiceField(label="On", widget=forms.CheckboxSelectMultiple)
    put_on = MomentField(label="When")
    at_c = NumberField(
        least=-40,
        most=60,
        unit="°C",
        required=False,
        label="Garage then, °C",
        help_text="Empty: as it was last written down.",
    )
    note = forms.CharField(max_length=300, required=False, label="Note")

    def __init__(self, *args, products: list[str], faces: list[tuple[str, str]], **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["product"].choices = [("", "choose"), *((name, name) for name in products)]
        self.fields["faces"].choices = faces


class FaceForm(forms.Form):
    """What a person says of a face."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    surface = forms.ChoiceField(
        choices=[("", "as worked out"), *SURFACE_WORDS.items()], required=False, label="It is"
    )
    metal = forms.ChoiceField(choices=METALS, required=False, label="The metal is")
    bared_on = DateField(required=False, label="Bared on")


class HoursField(forms.CharField):
    """Hours by temperature as the tin says: ``20: 2`` a line or with commas; a bare number is for 20 °C."""

    def __init__(self, **kwargs) -> None:
        kwargs.setdefault("widget", forms.TextInput(attrs={"class": "mm", "placeholder": "10: 4; 20: 2"}))
        super().__init__(max_length=200, **kwargs)

    def prepare_value(self, value):
        if not isinstance(value, list):
            return value
        return "; ".join(f"{each['at_c']:g}: {each['hours']:g}" for each in value)

    def to_python(self, value):
        text = super().to_python(value)
        found = []
        for part in (part.strip() for part in text.replace("\n", ";").split(";")):
            if not part:
                continue
            at, _, hours = part.rpartition(":")
            number, warm = comma_float(hours), comma_float(at) if at.strip() else 20.0
            if number is None or warm is None or not 0 < number <= 10_000 or not -40 <= warm <= 60:
                raise forms.ValidationError(
                    "Type degrees and hours like 20: 2, several with a semicolon between."
                )
            found.append({"at_c": warm, "hours": number})
        return found


class ProductForm(forms.Form):
    """A product as its tin says."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    name = forms.CharField(max_length=60, label="Name")
    kind = forms.ChoiceField(choices=[(kind, kind) for kind in KINDS], label="Kind")
    over = forms.MultipleChoiceField(
        choices=[("bare", "bare metal"), *((kind, kind) for kind in KINDS)], widget=forms.CheckboxSelectMultiple, label="It may go over"
    )  # fmt: skip
    opens = HoursField(label="Next coat from, °C: h")
    closes = HoursField(required=False, label="and until, °C: h", help_text="Empty: it never closes.")
    cured = HoursField(label="Through after, °C: h")
    least_c = NumberField(least=-40, most=60, unit="°C", label="Does not cure below, °C", initial=5.0)
    litre_m2 = NumberField(least=0.1, most=100, unit="m²", label="A litre covers, m²", initial=8.0)
    burns_c = NumberField(least=30, most=1000, unit="°C", label="Stands behind a weld, °C", initial=200.0)
    shelf_months = NumberField(least=1, most=600, unit="months", label="Shelf life, months", initial=24)
    bought_on = DateField(required=False, label="Bought on")
    litres = NumberField(least=0, most=1000, unit="l", required=False, label="Left of it, l")
    weld_through = forms.BooleanField(required=False, label="A weld may go through it")
    isocyanate = forms.BooleanField(required=False, label="It holds isocyanate")

    @staticmethod
    def of(product: OwnProduct) -> dict:
        return {name: getattr(product, name) for name in ProductForm.base_fields}

    def values(self) -> dict:
        clean = {name: value for name, value in self.cleaned_data.items() if name != "version"}
        return clean | {"shelf_months": round(clean["shelf_months"])}


class WarmthForm(forms.Form):
    """How warm the garage is from a moment on."""

    at_c = NumberField(least=-40, most=60, unit="°C", label="The garage has, °C")
    since = MomentField(label="From")


class BoxForm(forms.Form):
    """The box that closes: its cavity; pockets, what is still to be done and where water was poured come as lists of their own."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    cavity = forms.ChoiceField(required=False, label="Which box")

    def __init__(self, data=None, *, cavities: list[tuple[str, str]], **kwargs) -> None:
        super().__init__(data, **kwargs)
        self.fields["cavity"].choices = [("", "as drawn"), *cavities]

    def rows(self, *names: str) -> list[tuple[str, ...]]:
        """The rows that were typed, by their columns; rows of nothing left out."""
        lists = [self.data.getlist(name) for name in names] if self.is_bound else []
        return [row for row in zip(*lists, strict=False) if row and row[0].strip()]

    def values(self) -> dict:
        """The fields of BoxWord."""
        pockets = [
            {"name": name.strip(), "to": [part.strip() for part in to.split(",") if part.strip()], "litres": self._litres(litres)}
            for name, to, litres in self.rows("pocket", "to", "litres")
        ]  # fmt: skip
        still = [
            {"what": what.strip(), "tool": tool.strip() or "hand", "reaches": {"yes": True, "no": False}.get(reaches)}
            for what, tool, reaches in self.rows("what_still", "tool", "reaches")
        ]  # fmt: skip
        poured = [name for name, *_ in self.rows("poured")]
        return {"cavity": self.cleaned_data["cavity"], "pockets": pockets, "still": still, "poured": poured}

    @staticmethod
    def _litres(text: str) -> float:
        return comma_float(text) or 0.0

    def clean(self) -> dict:
        for _, _, litres in self.rows("pocket", "to", "litres"):
            self._litres(litres)
        return self.cleaned_data
