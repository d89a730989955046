import re
from decimal import Decimal

from django import forms

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.amount import CURRENCIES
from yellow_sill.core.parts.bank import amount_typed
from yellow_sill.core.parts.landed import SOURCES
from yellow_sill.core.parts.needs import STATES
from yellow_sill.web.frame.fields import DateField, PlaceField, QuickSelect

from .models import HANDS, CostLine, Need, NeedQuote


class CommaDecimalField(forms.DecimalField):
    """A decimal that takes 12,50 as well as 12.50, 1.234,56, 1,234.56 and 1 200; ``1,234`` could be two and is asked."""

    widget = forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})

    def to_python(self, value):
        if isinstance(value, str):
            value = value.strip()
            try:
                if value and not re.fullmatch(r"-?\d+\.\d+", value):  # as the program writes it itself
                    value = str(amount_typed(value))
            except BadField as error:
                raise forms.ValidationError(error.message) from None
        return super().to_python(value)


class TaxField(forms.TypedChoiceField):
    """Whether tax is in a price (True) or comes on top."""

    def __init__(self) -> None:
        choices = [("yes", "is in the price"), ("no", "comes on top")]
        super().__init__(choices=choices, coerce=lambda value: value == "yes", initial="yes", label="Tax")

    def prepare_value(self, value):
        return ("yes" if value else "no") if isinstance(value, bool) else value


def plain(amount: Decimal) -> str:
    """A stored amount as it is typed, without zeros at its end."""
    return f"{amount.normalize():f}"


class CostForm(forms.ModelForm):
    """One line of a receipt."""

    quantity = CommaDecimalField(max_digits=10, decimal_places=3, min_value=Decimal("0.001"), initial=1)
    unit_price = CommaDecimalField(max_digits=12, decimal_places=4, min_value=0, label="Unit price")
    tax_rate = CommaDecimalField(
        max_digits=5, decimal_places=2, min_value=0, max_value=100, initial=20, label="Tax, %"
    )
    tax_included = TaxField()

    class Meta:
        model = CostLine
        fields = [
            "bought_on",
            "supplier",
            "item",
            "kind",
            "quantity",
            "unit_price",
            "tax_rate",
            "tax_included",
        ]
        widgets = {"bought_on": forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")}
        labels = {"bought_on": "Day"}

    def __init__(self, *args, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        if self.instance.pk:
            for name in ("quantity", "unit_price", "tax_rate"):
                self.initial[name] = plain(getattr(self.instance, name))


class NeedForm(forms.Form):
    """What is wanted."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    at = PlaceField()
    name = forms.CharField(max_length=80, label="What is wanted")
    quantity = CommaDecimalField(
        max_digits=10, decimal_places=3, min_value=Decimal("0.001"), initial=1, label="How many"
    )
    hand = forms.ChoiceField(
        choices=[("", "not said"), *list(HANDS.items())[1:]], required=False, label="Hand"
    )
    needed_by = DateField(required=False, label="Needed by", to_come=True)
    repair = forms.TypedChoiceField(
        coerce=lambda text: int(text) if text else None,
        empty_value=None,
        required=False,
        label="For repair",
        widget=QuickSelect,
    )
    kg = CommaDecimalField(
        max_digits=7,
        decimal_places=3,
        min_value=0,
        max_value=1000,
        initial=0,
        required=False,
        label="Weighs, kg",
    )
    variant = forms.CharField(max_length=200, required=False, label="Year, body, which of two systems")
    sizes = forms.CharField(max_length=200, required=False, label="Sizes that must fit")
    note = forms.CharField(
        max_length=500, required=False, label="Note", widget=forms.Textarea(attrs={"rows": 2})
    )
    photo = forms.FileField(
        required=False, label="Photo or sketch", widget=forms.FileInput(attrs={"accept": "image/*"})
    )

    NAMES = ("name", "quantity", "hand", "needed_by", "kg", "variant", "sizes", "note")

    def __init__(self, *args, repairs: list, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["repair"].choices = [("", "the vehicle"), *((each.pk, each.code) for each in repairs)]

    @classmethod
    def of(cls, need: Need) -> dict:
        told = {name: getattr(need, name) for name in (*cls.NAMES, "version")}
        return told | {
            "at": need.at,
            "repair": need.repair_id or "",
            "quantity": plain(need.quantity),
            "kg": f"{need.kg:g}",
        }

    def values(self) -> dict:
        """The fields of Need, but for the view."""
        told = {name: self.cleaned_data[name] for name in (*self.NAMES, "at")}
        return told | {"repair_id": self.cleaned_data["repair"], "kg": float(told["kg"] or 0)}


class QuoteForm(forms.Form):
    """What somebody asks."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="From whom")
    source = forms.ChoiceField(choices=[("", "choose"), *SOURCES.items()], label="It is")
    price = CommaDecimalField(max_digits=14, decimal_places=4, min_value=0, label="Price of one")
    currency = forms.ChoiceField(
        choices=[(code, code) for code in CURRENCIES], label="Currency", widget=QuickSelect
    )
    rate = CommaDecimalField(
        max_digits=12, decimal_places=6, min_value=Decimal("0.000001"), initial=1, label="Rate of its day"
    )
    tax_rate = CommaDecimalField(
        max_digits=7, decimal_places=4, min_value=0, max_value=100, initial=20, label="Tax, %"
    )
    tax_in = TaxField()
    carriage = CommaDecimalField(max_digits=14, decimal_places=4, min_value=0, initial=0, label="Carriage")
    back = CommaDecimalField(
        max_digits=14, decimal_places=4, min_value=0, required=False, label="Sending it back costs"
    )
    back_until = DateField(required=False, label="Goes back until", to_come=True)
    days = forms.IntegerField(min_value=0, max_value=2000, initial=7, label="Days, likely")
    late_days = forms.IntegerField(min_value=0, max_value=2000, required=False, label="Days, at the latest")
    fit_h = CommaDecimalField(
        max_digits=7,
        decimal_places=2,
        min_value=0,
        max_value=2000,
        required=False,
        label="Hours to make it fit",
    )
    hours = CommaDecimalField(
        max_digits=7, decimal_places=2, min_value=0, max_value=2000, initial=0, label="Own hours to make it"
    )
    lacks = forms.CharField(
        max_length=600,
        required=False,
        label="What it comes without, one a line",
        widget=forms.Textarea(attrs={"rows": 2}),
    )
    grade = forms.CharField(max_length=40, required=False, label="Grade")
    note = forms.CharField(
        max_length=300, required=False, label="Note", widget=forms.Textarea(attrs={"rows": 2})
    )

    DECIMALS = ("price", "rate", "tax_rate", "carriage", "back")
    NAMES = (
        "name", "source", "price", "currency", "rate", "tax_rate", "tax_in", "carriage", "back", "back_until", "days", "late_days", "fit_h", "hours",
        "lacks", "grade", "note",
    )  # fmt: skip

    def paired(self) -> list[forms.BoundField]:
        """The short fields, two beside each other."""
        return [self[name] for name in self.NAMES if name not in ("name", "lacks", "note")]

    @classmethod
    def of(cls, quote: NeedQuote) -> dict:
        told = {name: getattr(quote, name) for name in (*cls.NAMES, "version")}
        told |= {name: plain(told[name]) for name in cls.DECIMALS if told[name] is not None}
        told |= {name: f"{told[name]:g}" for name in ("fit_h", "hours") if told[name] is not None}
        return told | {"lacks": "\n".join(quote.lacks)}

    def clean_lacks(self) -> list[str]:
        return [line.strip()[:80] for line in self.cleaned_data["lacks"].splitlines() if line.strip()][:30]

    def values(self) -> dict:
        """The fields of NeedQuote."""
        told = {name: self.cleaned_data[name] for name in self.NAMES}
        return told | {name: None if told[name] is None else float(told[name]) for name in ("fit_h", "hours")}


class StepForm(forms.Form):
    """A step of a need."""

    state = forms.ChoiceField(choices=[("", "choose"), *STATES.items()], label="It is now")
    made_on = DateField(label="Since")
    why = forms.CharField(max_length=300, required=False, label="Why, where it is not the usual step")
