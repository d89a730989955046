"""The units of whoever is asking now, for forms, filters, drawings and messages; the terms are the active language's."""

from collections.abc import Sequence
from contextvars import ContextVar
from dataclasses import fields, is_dataclass
from math import ceil, floor
from typing import Any

from django.utils.translation import get_language, gettext

from yellow_sill.core.errors import CoreError
from yellow_sill.core.said import Count, DegC, Metres, Mm, Mm2, MmPerM, Said, told
from yellow_sill.core.survey.extent import typed_corners
from yellow_sill.core.units import INCH_MM, exact_length, format_length, format_reading, parse_length

SQUARE_INCH_MM2, FOOT_MM = 645.16, 304.8
THIN_MM = 1.0  #: below this a length in a sentence is said in thousandths of an inch
unit: ContextVar[str] = ContextVar("unit", default="mm")
#: The language in which terms differ from those that are written.
AMERICAN = "en-us"
degrees: ContextVar[str] = ContextVar("degrees", default="C")


def length(value_mm: float, digits: int = 0) -> str:
    return format_length(value_mm, unit.get(), digits)


def reading(value_mm: float) -> str:
    return format_reading(value_mm, unit.get())


def span(least_mm: float, most_mm: float) -> str:
    """A range in words, its ends drawn in to whole steps so that both can be taken."""
    step = INCH_MM / 16 if unit.get() == "in" else 1.0
    least, most = ceil(least_mm / step - 1e-6) * step, floor(most_mm / step + 1e-6) * step
    return f"{exact_length(least, unit.get())} to {exact_length(most, unit.get())} {unit.get()}"


def said(message: str) -> str:
    """A message of the core in the person's units and terms. Never for words that a person wrote."""
    if unit.get() == "mm" and degrees.get() == "C" and get_language() != AMERICAN:
        return str(message)  # as it is written
    return told(message, gettext, _measured)


def spoken(value: Any) -> Any:
    """Plain values for a script, of records too, every message in them said."""
    if isinstance(value, Said):
        return said(value)
    if isinstance(value, dict):
        return {key: spoken(item) for key, item in value.items()}
    if is_dataclass(value) and not isinstance(value, type):
        return {field.name: spoken(getattr(value, field.name)) for field in fields(value)}
    return [spoken(item) for item in value] if isinstance(value, (list, tuple)) else value


def temperature(value_c: float) -> str:
    """A temperature without its unit, in the person's own."""
    return f"{celsius_in(value_c):.0f}"


def celsius_in(value_c: float) -> float:
    """A temperature in the person's own unit."""
    return value_c * 9 / 5 + 32 if degrees.get() == "F" else value_c


def in_celsius(value: float) -> float:
    """A temperature as the person gave it, °C."""
    return round((value - 32) * 5 / 9, 4) if degrees.get() == "F" else value


def _measured(value: Any) -> str:
    """One value of a message: lengths, slopes, areas and temperatures in the person's units."""
    if isinstance(value, DegC):
        return f"{temperature(value.value)} °{degrees.get()}"
    if isinstance(value, Count):
        return f"{value.value} {gettext(value.word)}"
    if unit.get() == "in":
        if isinstance(value, Mm):
            return _inches(value) if value.bare else f"{_inches(value)} in"
        if isinstance(value, MmPerM):
            return f"{value.value * FOOT_MM / 1000 / INCH_MM:.3f} in per ft"
        if isinstance(value, Metres):
            return f"{value.value / FOOT_MM:.{value.digits}f} ft"
        if isinstance(value, Mm2):
            return f"{value.value / SQUARE_INCH_MM2:.2f} in²"
    return str(value)


def _inches(length_mm: Mm) -> str:
    """Whole millimetres as a size, those with decimals as a reading, thin ones in thousandths."""
    if "." not in length_mm.figure and length_mm.sized:
        return length(length_mm.value)
    return (
        reading(length_mm.value)
        if abs(length_mm.value) >= THIN_MM or not length_mm.sized
        else f"{length_mm.value / INCH_MM:.3f}"
    )


def corners_typed(text: str) -> list[tuple[float, float]]:
    """Corners as typed in the person's unit, mm. Raises: BadOutline."""
    return typed_corners(text, unit.get())


def corners_said(corners: Sequence, area_mm2: float) -> str:
    """How many corners an outline has and what it covers, in the person's unit."""
    return said(Said("{count} corners, {area}", count=str(len(corners)), area=Mm2(area_mm2)))


def corners_text(points: Sequence[Sequence[float]]) -> str:
    """Corners for a field, in the person's unit, one a line."""
    return "\n".join(", ".join(exact_length(value, unit.get()) for value in point) for point in points)


def as_typed(text: str | None, value_mm: float) -> str:
    """A length for its field: as it was typed where that means the same in the person's unit now, else written in that unit."""
    if text:
        try:
            if abs(parse_length(text, unit.get()) - value_mm) < 0.005:
                return text
        except CoreError:
            pass  # it was read by older rules
    return exact_length(value_mm, unit.get())
