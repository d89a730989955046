"""Forms of bank statements."""

from django import forms

from yellow_sill.web.frame.fields import QuickSelect

from .forms import CommaDecimalField
from .models import KINDS, BankLine, BankStatement


def _column(label: str, **more) -> forms.TypedChoiceField:
    return forms.TypedChoiceField(coerce=int, label=label, **more)


class ColumnsForm(forms.Form):
    """Which column of a statement holds what."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    day = _column("The day")
    text = _column("Who and what for")
    amount = _column("The amount, or what went out")
    credit = _column("What came in, where it has a column of its own", required=False, empty_value=None)
    out_above = forms.TypedChoiceField(
        choices=[("", "below 0, with a minus"), ("yes", "above 0")], coerce=bool, empty_value=False, required=False, label="What went out stands"
    )  # fmt: skip
    months_first = forms.TypedChoiceField(
        choices=[("", "day, month, year"), ("yes", "month, day, year")], coerce=bool, empty_value=False, required=False, label="Days are written"
    )  # fmt: skip
    heading = forms.TypedChoiceField(
        choices=[("yes", "names the columns"), ("", "is a payment already")], coerce=bool, empty_value=False, required=False, label="The first row"
    )  # fmt: skip

    NAMES = ("day", "text", "amount", "credit", "out_above", "months_first")

    def __init__(self, *args, head: list[str], **kwargs) -> None:
        super().__init__(*args, **kwargs)
        columns = [(str(n), f"{n + 1}: {name[:40]}") for n, name in enumerate(head)]
        for name in ("day", "text", "amount", "credit"):
            self.fields[name].choices = [("", "choose" if name != "credit" else "no such column"), *columns]

    @classmethod
    def of(cls, stored: BankStatement) -> dict:
        told = {name: stored.columns.get(name) for name in cls.NAMES}
        told |= {name: "yes" if told[name] else "" for name in ("out_above", "months_first")}
        return told | {"heading": "yes" if stored.heading else "", "version": stored.version}

    def columns(self) -> dict:
        return {name: self.cleaned_data[name] for name in self.NAMES}


class PaymentForm(forms.Form):
    """A payment that becomes a line of cost."""

    supplier = forms.CharField(max_length=80, label="From whom")
    item = forms.CharField(max_length=120, label="What")
    kind = forms.ChoiceField(choices=[("", "choose"), *KINDS], label="Kind")
    tax_rate = CommaDecimalField(
        max_digits=5, decimal_places=2, min_value=0, max_value=100, label="Tax in it, %"
    )
    repair = forms.TypedChoiceField(
        coerce=lambda text: int(text) if text else None,
        empty_value=None,
        required=False,
        label="For",
        widget=QuickSelect,
    )

    def __init__(self, *args, vehicle, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["repair"].choices = [("", "the vehicle"), *((each.pk, each.code) for each in vehicle.repairs.all())]  # fmt: skip

    @staticmethod
    def of(line: BankLine) -> dict:
        return {"supplier": line.text[:80]}

    def values(self) -> dict:
        clean = self.cleaned_data
        return {name: clean[name] for name in ("supplier", "item", "kind", "tax_rate")} | {
            "repair_id": clean["repair"]
        }
