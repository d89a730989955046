"""Forms of the steel in stock and of the nest."""

from decimal import Decimal

from django import forms

from yellow_sill.core.errors import CoreError
from yellow_sill.core.patch.nest_stock import NestRequest
from yellow_sill.web.frame import units
from yellow_sill.web.frame.fields import NumberField

from .models import StockSheet
from .stock_services import OpenPattern

GRAINS = [("any", "any way"), ("along", "along the sheet"), ("across", "across it")]


class CornersField(forms.CharField):
    """Corners of an outline as typed, in the person's unit."""

    def __init__(self, **kwargs) -> None:
        kwargs.setdefault(
            "widget",
            forms.Textarea(attrs={"rows": 3, "class": "mm", "placeholder": "0, 0\n400, 0\n380, 260"}),
        )
        super().__init__(max_length=20_000, **kwargs)

    def to_python(self, value):
        text = super().to_python(value)
        if not text.strip():
            return []
        try:
            return [list(at) for at in units.corners_typed(text)]
        except CoreError as error:
            raise forms.ValidationError(units.said(error.message)) from None

    def prepare_value(self, value):
        return units.corners_text(value) if isinstance(value, list) else value


class StockForm(forms.Form):
    """A sheet or an offcut."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    thickness_mm = NumberField(least=0.3, most=12, sheet=True, label="Thickness, mm")
    length_mm = NumberField(least=20, most=6000, required=False, label="Length along the rolling, mm")
    width_mm = NumberField(least=20, most=6000, required=False, label="Width, mm")
    outline = CornersField(
        required=False, label="Or an offcut's corners", help_text="One a line, from its lower left corner; the way it was rolled first."
    )  # fmt: skip
    coating = forms.CharField(
        max_length=40, required=False, label="Coating", help_text="Zinc, weld-through primer; empty: bare."
    )
    price = NumberField(least=0, most=100_000, unit="", required=False, label="What it cost, with tax")
    supplier = forms.CharField(max_length=80, required=False, label="From whom")
    place = forms.CharField(max_length=60, required=False, label="Where it stands")

    @staticmethod
    def of(sheet: StockSheet) -> dict:
        values = {name: getattr(sheet, name) for name in StockForm.base_fields}
        return values | {"price": None if sheet.price is None else float(sheet.price)}

    def values(self) -> dict:
        """The fields of StockSheet."""
        clean = {name: value for name, value in self.cleaned_data.items() if name != "version"}
        price = clean.pop("price")
        return clean | {"price": None if price is None else Decimal(str(price)).quantize(Decimal("0.01"))}


class NestForm(forms.Form):
    """Which patterns, on which pieces, with what kerf and margin."""

    kerf_mm = NumberField(least=0, most=20, label="The cut takes, mm", initial=2.0)
    margin_mm = NumberField(least=0, most=100, label="Kept for the clamp, mm", initial=5.0)
    keep_mm = NumberField(least=10, most=1000, label="Scrap if narrower than, mm", initial=60.0)
    turn_deg = forms.TypedChoiceField(
        coerce=int, choices=[(90, "quarter turns"), (45, "45°"), (30, "30°"), (15, "15°")], label="Turns on an offcut", initial=90
    )  # fmt: skip

    def __init__(self, *args, patterns: list[OpenPattern], sheets: list[StockSheet], **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.patterns = [each for each in patterns if not each.fault]
        self.sheets = sheets
        for each in self.patterns:
            name = each.name
            self.fields[f"take_{name}"] = forms.BooleanField(required=False, label=name)
            self.fields[f"grain_{name}"] = forms.ChoiceField(
                choices=GRAINS, required=False, label=f"Grain of {name}"
            )
            self.fields[f"faces_{name}"] = forms.BooleanField(
                required=False, label=f"{name}: both faces serve"
            )
        for sheet in sheets:
            self.fields[f"from_{sheet.name}"] = forms.BooleanField(required=False, label=sheet.name)

    @staticmethod
    def of(asked: NestRequest) -> dict:
        """What stands in the form of a nest that was asked before."""
        told = {name: getattr(asked, name) for name in ("kerf_mm", "margin_mm", "keep_mm", "turn_deg")}
        for part in asked.parts:
            told |= {
                f"take_{part.name}": True,
                f"grain_{part.name}": part.grain,
                f"faces_{part.name}": part.both_faces,
            }
        return told | {f"from_{piece.name}": True for piece in asked.stock}

    def pattern_rows(self):
        return [
            (each, self[f"take_{each.name}"], self[f"grain_{each.name}"], self[f"faces_{each.name}"])
            for each in self.patterns
        ]

    def sheet_rows(self):
        return [(sheet, self[f"from_{sheet.name}"]) for sheet in self.sheets]

    def chosen(self) -> dict[str, dict]:
        clean = self.cleaned_data
        return {
            each.name: {
                "grain": clean[f"grain_{each.name}"] or "any",
                "both_faces": clean[f"faces_{each.name}"],
            }
            for each in self.patterns
            if clean[f"take_{each.name}"]
        }

    def stock(self) -> list[StockSheet]:
        return [sheet for sheet in self.sheets if self.cleaned_data[f"from_{sheet.name}"]]

    def how(self) -> dict:
        return {name: self.cleaned_data[name] for name in ("kerf_mm", "margin_mm", "keep_mm", "turn_deg")}
