"""Form fields that take what a garage types: commas, several ways to write a day."""

from datetime import date

from django import forms
from django.conf import settings


def comma_float(text: str) -> float | None:
    """A number typed with a comma or a point; None for nothing.

    Raises: ValidationError.
    """
    if not (text or "").strip():
        return None
    try:
        value = float(text.strip().lower().removesuffix("mm").strip().replace(",", "."))
    except ValueError:
        raise forms.ValidationError(f"'{text.strip()[:20]}' is not a number. Type it like 0.8.") from None
    if not abs(value) < 1e9:
        raise forms.ValidationError("That number cannot be measured.")
    return value


class NumberField(forms.CharField):
    """A decimal number, comma or point, with a range told in the error."""

    def __init__(self, *, least: float, most: float, unit: str = "mm", **kwargs) -> None:
        kwargs.setdefault("widget", forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "class": "mm"}))
        super().__init__(max_length=20, **kwargs)
        self.least, self.most, self.unit = least, most, unit

    def prepare_value(self, value):
        return f"{value:g}" if isinstance(value, float) else value

    def clean(self, value):
        number = comma_float(super().clean(value))
        if number is not None and not self.least <= number <= self.most:
            raise forms.ValidationError(f"{number:g} {self.unit} is out of range: {self.least:g} to {self.most:g} {self.unit}.")
        return number


class DateField(forms.DateField):
    """A day, not in the future."""

    def __init__(self, **kwargs) -> None:
        kwargs.setdefault("widget", forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))
        kwargs.setdefault("error_messages", {"invalid": "Type the day like 2026-02-14 or 14.2.2026."})
        super().__init__(input_formats=settings.DATE_INPUT_FORMATS, **kwargs)  # not the locale's own list

    def clean(self, value):
        day = super().clean(value)
        if day and day > date.today():  # noqa: DTZ011 - the garage's own day
            raise forms.ValidationError("That day has not come yet.")
        if day and day.year < 1900:
            raise forms.ValidationError("That day is too long ago.")
        return day
