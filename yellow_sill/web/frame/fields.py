"""Form fields that take what a garage types: commas, several ways to write a day."""

from typing import ClassVar

from django import forms
from django.conf import settings
from django.forms.utils import flatatt
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe

from yellow_sill.core.errors import CoreError
from yellow_sill.core.units import exact_length, parse_length

from . import days, units
from .typed import place_typed


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


def length_typed(text: str, unit: str) -> float | None:
    """A length as typed, mm; None for nothing.

    Raises: ValidationError.
    """
    if not (text or "").strip():
        return None
    try:
        value = parse_length(text, unit)
    except CoreError as error:
        number = comma_float(text) if unit == "mm" else None  # its words are the older ones
        if number is None:
            raise forms.ValidationError(error.message) from None
        return number
    if not abs(value) < 1e9:
        raise forms.ValidationError("That number cannot be measured.")
    return value


class NumberField(forms.CharField):
    """A decimal number, comma or point, with a range told in the error."""

    def __init__(self, *, least: float, most: float, unit: str = "mm", sheet: bool = False, **kwargs) -> None:
        """``unit`` mm is a length, typed and shown in the person's own unit; ``sheet`` is a sheet's thickness, always shown in mm."""
        kwargs.setdefault(
            "widget", forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off", "class": "mm"})
        )
        super().__init__(max_length=20, **kwargs)
        self.least, self.most, self.unit, self.sheet = least, most, unit, sheet

    @property
    def shown_in(self) -> str:
        """The unit that a bare number has in this field."""
        if self.unit == "°C":
            return f"°{units.degrees.get()}"
        return units.unit.get() if self.unit == "mm" and not self.sheet else self.unit

    def prepare_value(self, value):
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            return value  # as it was typed
        return exact_length(value, "in") if self.shown_in == "in" else self.shown(value)

    def shown(self, value: float) -> str:
        """A value of this field that is no length in inches, in the person's own unit."""
        return f"{round(units.celsius_in(value), 1):g}" if self.unit == "°C" else f"{value:g}"

    def number(self, text: str) -> float | None:
        """What was typed, whatever its range; None for nothing. Raises: ValidationError."""
        if self.unit == "mm":
            return length_typed(text, self.shown_in)
        number = comma_float(text.removesuffix(self.shown_in) if self.unit == "°C" else text)
        return units.in_celsius(number) if self.unit == "°C" and number is not None else number

    def clean(self, value):
        text = super().clean(value)
        number = self.number(text)
        if number is not None and not self.least <= number <= self.most:
            least, most, said = (
                exact_length(each, self.shown_in) if self.unit == "mm" else self.shown(each)
                for each in (self.least, self.most, number)
            )
            raise forms.ValidationError(
                f"{said} {self.shown_in} is out of range: {least} to {most} {self.shown_in}."
            )
        return number


class DateField(forms.DateField):
    """A day, not in the future but where it is one ``to_come``."""

    def __init__(self, *, to_come: bool = False, **kwargs) -> None:
        self.to_come = to_come
        kwargs.setdefault("widget", forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))
        kwargs.setdefault("error_messages", {"invalid": "Type the day like 2026-02-14 or 14.2.2026."})
        super().__init__(input_formats=settings.DATE_INPUT_FORMATS, **kwargs)  # not the locale's own list

    def clean(self, value):
        day = super().clean(value)
        if day and day > days.today() and not self.to_come:
            raise forms.ValidationError("That day has not come yet.")
        if day and day.year > 2199:
            raise forms.ValidationError("That day is too far off.")
        if day and day.year < 1900:
            raise forms.ValidationError("That day is too long ago.")
        return day


class QuickSelect(forms.Select):
    """A select that writes its options itself: a form with hundreds of them is drawn as fast as one with two."""

    def render(self, name, value, attrs=None, renderer=None) -> SafeString:
        values = value if isinstance(value, (list, tuple)) else [value]
        chosen = {"" if each is None else str(each) for each in values}
        options = format_html_join(
            "",
            '<option value="{}"{}>{}</option>',
            (
                (key, mark_safe(" selected") if key in chosen else "", words)
                for key, words in (("" if key is None else str(key), words) for key, words in self.choices)
            ),
        )
        told = (attrs or {}) | {"name": name, "multiple": self.allow_multiple_selected}
        return format_html("<select{}>{}</select>", flatatt(self.build_attrs(self.attrs, told)), options)


class QuickSelectMany(QuickSelect, forms.SelectMultiple):
    """The same for some of many."""


class QuickTicks(forms.CheckboxSelectMultiple):
    """Tick boxes, each in its label, written as quickly."""

    def render(self, name, value, attrs=None, renderer=None) -> SafeString:
        chosen = {str(each) for each in value or ()}
        return format_html_join(
            "",
            '<label><input type="checkbox" name="{}" value="{}"{}> {}</label>',
            (
                (name, key, mark_safe(" checked") if str(key) in chosen else "", words)
                for key, words in self.choices
            ),
        )


class YesNoField(forms.TypedChoiceField):
    """Yes, no, or what nobody has said (None)."""

    WORDS: ClassVar = {None: ("", "nobody has said"), True: ("yes", "yes"), False: ("no", "no")}

    def __init__(self, **kwargs) -> None:
        super().__init__(
            choices=list(self.WORDS.values()),
            coerce=lambda word: word == "yes",
            empty_value=None,
            required=False,
            **kwargs,
        )

    def prepare_value(self, value):
        return self.WORDS[value][0] if value is None or isinstance(value, bool) else value


class PlaceField(forms.CharField):
    """A place tapped on a drawing, mm in its view; nothing where none is tapped."""

    def __init__(self, **kwargs) -> None:
        super().__init__(required=False, max_length=80, widget=forms.HiddenInput, **kwargs)

    def prepare_value(self, value):
        return " ".join(map(str, value)) if isinstance(value, list) else value

    def to_python(self, value):
        text = super().to_python(value).strip()
        place = place_typed(text) if text else []
        if place is None:
            raise forms.ValidationError("That place is not on the drawing. Tap it again.")
        return place
