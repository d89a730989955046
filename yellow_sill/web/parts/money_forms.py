"""Forms of lines of cost, receipts, budgets and terms."""

from decimal import Decimal

from django import forms

from yellow_sill.core.parts.amount import CURRENCIES
from yellow_sill.web.frame import days
from yellow_sill.web.frame.fields import DateField, QuickSelect, QuickTicks

from .forms import CommaDecimalField, CostForm, TaxField, plain
from .models import KINDS, Budget, CostLine, Receipt, Terms

_CODES = [(code, code) for code in CURRENCIES]


def _amount(label: str, *, required: bool = True, **more) -> CommaDecimalField:
    return CommaDecimalField(
        max_digits=14, decimal_places=4, min_value=0, label=label, required=required, **more
    )


def _rate() -> CommaDecimalField:
    return CommaDecimalField(
        max_digits=12, decimal_places=6, min_value=Decimal("0.000001"), initial=1, label="Rate of its day",
        error_messages={"min_value": "A rate of 0 makes it worth nothing. Type the rate of its day."},
    )  # fmt: skip


def _percent(label: str, **more) -> CommaDecimalField:
    return CommaDecimalField(
        max_digits=7, decimal_places=4, min_value=0, max_value=100, label=label, **more
    )  # fmt: skip


def _belongs(label: str) -> forms.TypedChoiceField:
    return forms.TypedChoiceField(
        coerce=lambda text: int(text) if text else None,
        empty_value=None,
        required=False,
        label=label,
        widget=QuickSelect,
    )


class LineForm(CostForm):
    """A line of cost by itself, for a repair or the vehicle, in any currency, spent or come back."""

    currency = forms.ChoiceField(choices=_CODES, label="Currency", widget=QuickSelect)
    rate = _rate()
    discount = _percent("Discount, %", initial=0)
    repair = _belongs("For")
    need = _belongs("Pays")
    back = forms.TypedChoiceField(
        choices=[("", "it was spent"), ("yes", "it came back")], coerce=bool, empty_value=False, required=False, label="Money"
    )  # fmt: skip

    MORE = ("currency", "rate", "discount", "back")

    def __init__(self, *args, vehicle, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        stored = self.instance if self.instance.pk else None
        self.fields["repair"].choices = [("", "the vehicle"), *((each.pk, f"{each.code} {each.title}") for each in vehicle.repairs.all())]  # fmt: skip
        self.fields["need"].choices = needs_to_pay(vehicle)
        self.initial |= {
            "currency": stored.currency or vehicle.currency if stored else vehicle.currency, "rate": plain(stored.rate) if stored else "1",
            "discount": plain(stored.discount) if stored else "0", "repair": stored.repair_id or "" if stored else "",
            "need": stored.need_id or "" if stored else "", "back": "yes" if stored and stored.back else "",
        }  # fmt: skip
        if not stored:
            self.initial["bought_on"] = days.today()

    def values(self) -> dict:
        """The fields of CostLine."""
        told = {name: self.cleaned_data[name] for name in (*self.Meta.fields, *self.MORE)}
        return told | {"repair_id": self.cleaned_data["repair"], "need_id": self.cleaned_data["need"]}


def needs_to_pay(vehicle) -> list[tuple]:
    """The needs that a line may pay."""
    rows = vehicle.needs.order_by("number").values_list("pk", "number", "name")
    return [("", "no need"), *((pk, f"{number} {name}") for pk, number, name in rows)]


class ReceiptForm(forms.Form):
    """The head of a receipt."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    day = DateField(label="Day", initial=days.today)
    supplier = forms.CharField(max_length=80, label="From whom")
    reference = forms.CharField(max_length=60, required=False, label="Its number")
    currency = forms.ChoiceField(choices=_CODES, label="Currency", widget=QuickSelect)
    rate = _rate()
    tax_in = TaxField()
    rounds = forms.ChoiceField(
        choices=[("line", "by line"), ("total", "on the total of each rate")], label="Tax is rounded"
    )
    discount = _percent("Discount on all, %", initial=0)
    discount_after = forms.TypedChoiceField(
        choices=[("", "before tax"), ("yes", "off what is to be paid")], coerce=bool, empty_value=False, required=False, label="Discount is taken"
    )  # fmt: skip
    carriage = _amount("Carriage, to share", initial=0)
    printed = _amount("Total as printed", required=False)
    credit = forms.TypedChoiceField(
        choices=[("", "a receipt"), ("yes", "a credit note")], coerce=bool, empty_value=False, required=False, label="It is"
    )  # fmt: skip
    despite = forms.CharField(max_length=300, required=False, label="Why it stands, where it does not add up")
    note = forms.CharField(max_length=300, required=False, label="Note")
    file = forms.FileField(
        required=False, label="Photo or PDF", widget=forms.FileInput(attrs={"accept": "image/*,application/pdf"})
    )  # fmt: skip

    NAMES = (
        "day", "supplier", "reference", "currency", "rate", "tax_in", "rounds", "discount", "discount_after", "carriage", "printed", "credit", "despite",
        "note",
    )  # fmt: skip

    def paired(self) -> list[forms.BoundField]:
        """The short fields, two beside each other."""
        return [self[name] for name in self.NAMES if name not in ("supplier", "despite", "note")]

    @classmethod
    def of(cls, receipt: Receipt) -> dict:
        told = {name: getattr(receipt, name) for name in (*cls.NAMES, "version")}
        told |= {name: plain(told[name]) for name in ("rate", "discount", "carriage", "printed") if told[name] is not None}  # fmt: skip
        return told | {name: "yes" if told[name] else "" for name in ("discount_after", "credit")}

    def values(self) -> dict:
        return {name: self.cleaned_data[name] for name in self.NAMES}


class ReceiptLineForm(forms.Form):
    """A line of a receipt; an empty one is none."""

    pk = forms.IntegerField(required=False, widget=forms.HiddenInput)
    item = forms.CharField(max_length=120, required=False, label="Item")
    quantity = CommaDecimalField(
        max_digits=10, decimal_places=3, min_value=Decimal("0.001"), required=False, label="How many"
    )
    unit_price = CommaDecimalField(max_digits=12, decimal_places=4, min_value=0, required=False, label="Price of one")  # fmt: skip
    tax_rate = CommaDecimalField(max_digits=5, decimal_places=2, min_value=0, max_value=100, required=False, label="Tax, %")  # fmt: skip
    discount = _percent("Discount, %", required=False)
    kind = forms.ChoiceField(
        choices=[("", "choose"), *KINDS], required=False, label="Kind", widget=QuickSelect
    )
    repair = _belongs("For")
    need = _belongs("Pays")

    def __init__(self, *args, vehicle, repairs: list, needs: list, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.vehicle = vehicle
        self.fields["repair"].choices, self.fields["need"].choices = repairs, needs
        for name, field in self.fields.items():  # they stand beside the form, not in it
            field.widget.attrs |= {
                "form": "receipt",
                "aria-label": f"{field.label or name}, line {self.prefix.removeprefix('line')}",
            }

    def figures(self) -> list[forms.BoundField]:
        """What is added up."""
        return [self[name] for name in ("quantity", "unit_price", "tax_rate", "discount")]

    def belongs(self) -> list[forms.BoundField]:
        """What it is for."""
        return [self[name] for name in ("kind", "repair", "need")]

    def clean(self) -> dict:
        told = super().clean()
        if not told.get("item"):
            if told.get("unit_price") is not None:
                self.add_error("item", "Say what this is.")
            return told
        for name, words in (("unit_price", "Type the price of one."), ("tax_rate", "Type the rate, 0 for none."), ("kind", "Choose one.")):  # fmt: skip
            if told.get(name) in (None, "") and name not in self.errors:
                self.add_error(name, words)
        return told

    @property
    def is_line(self) -> bool:
        return bool(self.cleaned_data.get("item"))

    @staticmethod
    def of(line: CostLine) -> dict:
        told = {
            name: plain(getattr(line, name)) for name in ("quantity", "unit_price", "tax_rate", "discount")
        }
        return told | {
            "pk": line.pk, "item": line.item, "kind": line.kind, "repair": line.repair_id or "", "need": line.need_id or "",
        }  # fmt: skip

    def values(self) -> dict:
        """A line as ``keep_receipt`` takes it."""
        clean = self.cleaned_data
        return {
            "pk": clean["pk"], "item": clean["item"], "quantity": Decimal(1) if clean["quantity"] is None else clean["quantity"],
            "unit_price": clean["unit_price"], "tax_rate": clean["tax_rate"], "discount": clean["discount"] or Decimal(0), "kind": clean["kind"],
            "repair_id": clean["repair"], "need_id": clean["need"],
        }  # fmt: skip


class BudgetForm(forms.Form):
    """What may be spent on an area."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    name = forms.CharField(max_length=60, label="Area")
    amount = _amount("Set aside, with tax")
    repairs = forms.TypedMultipleChoiceField(
        coerce=int, required=False, label="Its repairs", widget=QuickTicks
    )
    kinds = forms.MultipleChoiceField(
        choices=[each for each in KINDS if each[0] != "sold"], required=False, label="Its kinds of cost, where no repair says more",
        widget=QuickTicks,
    )  # fmt: skip

    NAMES = ("name", "amount", "repairs", "kinds")

    def __init__(self, *args, repairs: list, **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["repairs"].choices = [(each.number, each.code) for each in repairs]

    @classmethod
    def of(cls, budget: Budget) -> dict:
        return {name: getattr(budget, name) for name in (*cls.NAMES, "version")} | {"amount": plain(budget.amount)}  # fmt: skip

    def values(self) -> dict:
        return {name: self.cleaned_data[name] for name in self.NAMES}


class TermsForm(forms.Form):
    """What an hour is worth, and what a customer pays."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    hour = _amount("An hour of yours is worth")
    charge = _amount("A customer's hour, without tax")
    mark_up = CommaDecimalField(
        max_digits=7, decimal_places=2, min_value=-100, max_value=1000, label="Mark-up on parts, %"
    )
    tax_rate = _percent("A customer's tax, %")

    NAMES = ("hour", "charge", "mark_up", "tax_rate")

    @classmethod
    def of(cls, terms: Terms) -> dict:
        return {name: plain(getattr(terms, name)) if isinstance(getattr(terms, name), Decimal) else getattr(terms, name) for name in cls.NAMES} | {
            "version": terms.version or ""
        }  # fmt: skip

    def values(self) -> dict:
        return {name: self.cleaned_data[name] for name in self.NAMES}
