"""Forms of suppliers, arrival checks, surplus and customer's sheets."""

from typing import Any

from django import forms

from yellow_sill.core.errors import BadField
from yellow_sill.core.parts.arrival import COATINGS
from yellow_sill.core.parts.bank import amount_typed, day_typed
from yellow_sill.core.parts.customer import PAPERS
from yellow_sill.web.frame import days
from yellow_sill.web.frame.fields import DateField, NumberField, QuickTicks

from .forms import CommaDecimalField, plain
from .models import ArrivalCheck, Supplier, Surplus


def _amount(label: str, *, required: bool = True, **more) -> CommaDecimalField:
    return CommaDecimalField(
        max_digits=12, decimal_places=3, min_value=0, max_value=1_000_000, label=label, required=required, **more
    )  # fmt: skip


class SupplierForm(forms.Form):
    """A supplier's terms."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="Name")
    carriage = _amount("Carriage of an order", initial=0)
    carriage_kg = _amount("and for each kg", initial=0)
    free_above = _amount("Free above", required=False)
    minimum = _amount("Least order", initial=0)
    discounts = forms.CharField(
        required=False, max_length=400, label="Discount days, one a line: first day, last day, per cent",
        widget=forms.Textarea(attrs={"rows": 2, "placeholder": "2026-11-27, 2026-11-30, 25"}),
    )  # fmt: skip
    address = forms.CharField(
        required=False, max_length=200, label="Address of its catalogue, where it has one that answers"
    )
    note = forms.CharField(required=False, max_length=300, label="Note")

    NAMES = ("name", "carriage", "carriage_kg", "free_above", "minimum", "discounts", "address", "note")

    @classmethod
    def of(cls, stored: Supplier) -> dict:
        told = {name: getattr(stored, name) for name in (*cls.NAMES, "version")}
        told |= {name: plain(told[name]) for name in ("carriage", "carriage_kg", "free_above", "minimum") if told[name] is not None}  # fmt: skip
        return told | {"discounts": "\n".join(f"{each['first']}, {each['last']}, {each['percent']}" for each in stored.discounts)}  # fmt: skip

    def clean_discounts(self) -> list[dict[str, str]]:
        found = []
        for line in self.cleaned_data["discounts"].splitlines():
            if not line.strip():
                continue
            parts = [part.strip() for part in line.split(",", 2)]
            if len(parts) != 3:
                raise forms.ValidationError(
                    f"'{line.strip()[:40]}' is not a first day, a last day and per cent."
                )
            try:
                first, last = day_typed(parts[0]), day_typed(parts[1])
                percent = amount_typed(parts[2].removesuffix("%"))
            except BadField as error:
                raise forms.ValidationError(error.message) from None
            if not 0 < percent <= 100:
                raise forms.ValidationError(f"{percent} % is out of range: above 0 to 100 %.")
            found.append({"first": str(first), "last": str(last), "percent": str(percent)})
        if len(found) > 6:
            raise forms.ValidationError("Six times of discount can be kept.")
        return found

    def values(self) -> dict:
        return {name: self.cleaned_data[name] for name in self.NAMES}


def _size(label: str, **more) -> NumberField:
    return NumberField(least=0.0, most=20_000.0, label=label, required=False, **more)


class ArrivalForm(forms.Form):
    """What came, held against the car. What is left open was not looked at."""

    came = forms.ChoiceField(
        choices=[("", "nobody has said"), ("left", "a left one"), ("right", "a right one")], required=False, label="It is"
    )  # fmt: skip
    sizes = forms.CharField(
        required=False, max_length=1000, label="Sizes, one a line: what, wanted, as it came (mm)",
        widget=forms.Textarea(attrs={"rows": 3, "placeholder": "length, 1480, 1481.5"}),
    )  # fmt: skip
    marks = _size("Distance of the two marks, for holes by tape")
    holes = forms.CharField(
        required=False, max_length=2000,
        label="Holes, one a line: what, wanted from mark 1 and 2, as it came from mark 1 and 2; without marks: along and up (mm)",
        widget=forms.Textarea(attrs={"rows": 3, "placeholder": "front drain, 310, 620, 311, 619"}),
    )  # fmt: skip
    has_ribs = forms.ChoiceField(
        choices=[("yes", "it has some"), ("no", "it has none")], label="Ribs and swages", required=False, initial="yes"
    )  # fmt: skip
    ribs_off = _size("Off at worst beside the car's")
    bow = _size("From straight, on a straight edge")
    looked = forms.ChoiceField(
        choices=[("", "nobody has looked"), ("yes", "looked over")], required=False, label="For missing pieces"
    )  # fmt: skip
    missing = forms.CharField(
        required=False, max_length=1000, label="Missing, one a line", widget=forms.Textarea(attrs={"rows": 2})
    )  # fmt: skip
    coating = forms.ChoiceField(choices=list(COATINGS.items()), required=False, label="What is on it")
    note = forms.CharField(required=False, max_length=300, label="Note")

    @classmethod
    def of(cls, check: ArrivalCheck | None, sizes: str) -> dict:
        """As it was typed last; before the first check the sizes that the need asks for."""
        if check is None:
            return {"sizes": "", "has_ribs": "yes"}
        told = check.asked
        rows = lambda each: ", ".join("" if part is None else f"{part:g}" if isinstance(part, (int, float)) else part for part in each)  # noqa: E731  # fmt: skip
        return {
            "came": told["came"], "marks": told["marks"], "ribs_off": told["ribs_off"], "bow": told["bow"], "coating": told["coating"],
            "has_ribs": "yes" if told["ribs"] else "no", "looked": "" if told["missing"] is None else "yes", "missing": "\n".join(told["missing"] or []),
            "sizes": "\n".join(rows((each["what"], each["wanted"], each["came"])) for each in told["sizes"]),
            "holes": "\n".join(rows((each["what"], *each["wanted"], *(each["came"] or ("", "")))) for each in told["holes"]), "note": check.note,
        }  # fmt: skip

    def _rows(self, name: str, most: int) -> list[list[Any]]:
        """The lines of a field: words first, then figures; an empty one is None."""
        found = []
        for line in self.cleaned_data[name].splitlines():
            if not line.strip():
                continue
            what, *rest = [part.strip() for part in (line.split(";") if ";" in line else line.split(","))]
            if len(rest) > most or not what:
                raise forms.ValidationError(
                    f"'{line.strip()[:40]}': write what it is, then at most {most} figures, with commas between "
                    "(semicolons where a figure has a comma)."
                )  # fmt: skip
            try:
                figures = [float(amount_typed(each, ".")) if each else None for each in rest]
            except BadField as error:
                raise forms.ValidationError(error.message) from None
            if any(each is not None and not -20_000 <= each <= 20_000 for each in figures):
                raise forms.ValidationError(f"'{line.strip()[:40]}': lengths go up to 20000 mm.")
            found.append([what[:80], *figures, *[None] * (most - len(figures))])
        return found

    def clean_sizes(self) -> list[dict]:
        rows = self._rows("sizes", 2)
        if any(wanted is None for _, wanted, _ in rows):
            raise forms.ValidationError("Say what each should be.")
        return [{"what": what, "wanted": wanted, "came": came} for what, wanted, came in rows]

    def clean_holes(self) -> list[dict]:
        found = []
        for what, a, b, c, d in self._rows("holes", 4):
            if a is None or b is None or (c is None) != (d is None):
                raise forms.ValidationError(f"'{what}' needs both figures of its place.")
            found.append({"what": what, "wanted": [a, b], "came": None if c is None else [c, d]})
        return found

    def clean_missing(self) -> list[str]:
        return [line.strip()[:80] for line in self.cleaned_data["missing"].splitlines() if line.strip()][:30]

    def asked(self) -> dict:
        """The core's request, but for what the need knows itself."""
        clean = self.cleaned_data
        looked = clean["looked"] == "yes" or clean["missing"]
        return {
            "came": clean["came"], "sizes": clean["sizes"], "marks": clean["marks"], "holes": clean["holes"], "ribs": clean["has_ribs"] != "no",
            "ribs_off": clean["ribs_off"], "bow": clean["bow"], "missing": clean["missing"] if looked else None, "coating": clean["coating"],
        }  # fmt: skip


class SurplusForm(forms.Form):
    """Something that can be sold on."""

    version = forms.IntegerField(required=False, widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="What")
    asking = _amount("Asking price", required=False)
    note = forms.CharField(max_length=300, required=False, label="State, what it fits")
    photo = forms.FileField(
        required=False, label="Photo", widget=forms.FileInput(attrs={"accept": "image/*"})
    )

    NAMES = ("name", "asking", "note")

    @classmethod
    def of(cls, stored: Surplus) -> dict:
        told = {name: getattr(stored, name) for name in (*cls.NAMES, "version")}
        return told | ({} if stored.asking is None else {"asking": plain(stored.asking)})

    def values(self) -> dict:
        return {name: self.cleaned_data[name] for name in self.NAMES}


class SaleForm(forms.Form):
    """A sale."""

    price = _amount("It fetched")
    to = forms.CharField(max_length=80, label="Bought by", initial="")
    sold_on = DateField(label="Day", initial=days.today)


class PaperForm(forms.Form):
    """A sheet for a customer."""

    paper = forms.ChoiceField(choices=[("", "choose"), *PAPERS.items()], label="Sheet")
    customer = forms.CharField(max_length=120, required=False, label="For whom")
    codes = forms.MultipleChoiceField(label="Repairs", widget=QuickTicks)
    note = forms.CharField(
        max_length=500, required=False, label="What changes, or what is to be known", widget=forms.Textarea(attrs={"rows": 2})
    )  # fmt: skip

    def __init__(self, *args, codes: list[tuple[str, str]], **kwargs) -> None:
        super().__init__(*args, **kwargs)
        self.fields["codes"].choices = codes


class AgreeForm(forms.Form):
    """Who agreed."""

    agreed_by = forms.CharField(max_length=120, label="Who agreed")
    agreed_on = DateField(label="On", initial=days.today)
