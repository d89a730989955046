from decimal import Decimal, InvalidOperation

from django import forms

from .models import CostLine


class CommaDecimalField(forms.DecimalField):
    """A decimal that takes 12,50 as well as 12.50 and 1 200."""

    widget = forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})

    def to_python(self, value):
        if isinstance(value, str):
            value = value.strip().replace("\u202f", "").replace(" ", "")
            value = value.replace(",", ".") if "." not in value else value.replace(",", "")
            try:
                if value and not Decimal(value).is_finite():
                    raise forms.ValidationError("Type a number, such as 12.50.")
            except InvalidOperation:
                raise forms.ValidationError("Type a number, such as 12.50.") from None
        return super().to_python(value)


class CostForm(forms.ModelForm):
    """One line of a receipt."""

    quantity = CommaDecimalField(max_digits=10, decimal_places=3, min_value=Decimal("0.001"), initial=1)
    unit_price = CommaDecimalField(max_digits=12, decimal_places=4, min_value=0, label="Unit price")
    tax_rate = CommaDecimalField(
        max_digits=5, decimal_places=2, min_value=0, max_value=100, initial=20, label="Tax, %"
    )
    tax_included = forms.TypedChoiceField(
        choices=[("yes", "is in the price"), ("no", "comes on top")],
        coerce=lambda value: value == "yes",
        initial="yes",
        label="Tax",
    )

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
            self.initial["tax_included"] = "yes" if self.instance.tax_included else "no"
            for name in ("quantity", "unit_price", "tax_rate"):
                self.initial[name] = f"{getattr(self.instance, name).normalize():f}"
