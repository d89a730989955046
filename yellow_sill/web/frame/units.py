"""The unit and the terms of whoever is asking now, for forms, filters and drawings."""

import re
from collections.abc import Sequence
from contextvars import ContextVar
from math import ceil, floor

from yellow_sill.core.survey.extent import typed_corners
from yellow_sill.core.units import INCH_MM, exact_length, format_length, format_reading

SQUARE_INCH_MM2, FOOT_MM = 645.16, 304.8
THIN_MM = 1.0  #: below this a length in a sentence is said in thousandths of an inch
_LENGTH_SAID = re.compile(
    r"(± )?(?<![\d.])(\d+(?:\.\d+)?) (mm per m\b|mm|left|right|low|high|up|down|aft|forward)\b"
)
_SPAN_SAID = re.compile(r"(?<![\d.])(\d+(?:\.\d+)?) (×|to) (\d+(?:\.\d+)?) mm\b")
_AREA_SAID = re.compile(r"(?<![\d.])(\d+(?:\.\d+)?) ([mc])m²")

unit: ContextVar[str] = ContextVar("unit", default="mm")
american_terms: ContextVar[bool] = ContextVar("american_terms", default=False)


def length(value_mm: float, digits: int = 0) -> str:
    return format_length(value_mm, unit.get(), digits)


def reading(value_mm: float) -> str:
    return format_reading(value_mm, unit.get())


def span(least_mm: float, most_mm: float) -> str:
    """A range in words, its ends drawn in to whole steps so that both can be taken."""
    step = INCH_MM / 16 if unit.get() == "in" else 1.0
    least, most = ceil(least_mm / step - 1e-6) * step, floor(most_mm / step + 1e-6) * step
    return f"{exact_length(least, unit.get())} to {exact_length(most, unit.get())} {unit.get()}"


def said(text: str) -> str:
    """A sentence of the core: its millimetres, and square ones, in the person's unit. Never for words that a person wrote."""
    if unit.get() == "mm":
        return text
    text = _AREA_SAID.sub(
        lambda m: f"{float(m[1]) * (100 if m[2] == 'c' else 1) / SQUARE_INCH_MM2:.2f} in²", text
    )
    text = _SPAN_SAID.sub(lambda m: f"{_shown(m[1])} {m[2]} {_shown(m[3])} in", text)
    return _LENGTH_SAID.sub(_said_in_inches, text)


def _shown(number: str) -> str:
    value = float(number)
    return (
        length(value)
        if "." not in number
        else reading(value)
        if value >= THIN_MM
        else f"{value / INCH_MM:.3f}"
    )


def _said_in_inches(found: re.Match) -> str:
    """One length of a sentence: a slope in inches per foot; whole millimetres as a size, those with decimals as a reading, thin ones in thousandths."""
    unsure, number, word = found.groups(default="")
    value = float(number)
    if word == "mm per m":
        return f"{unsure}{value * FOOT_MM / 1000 / INCH_MM:.3f} in per ft"
    shown = reading(value) if unsure else _shown(number)
    return f"{unsure}{shown} {'in' if word == 'mm' else word}"


def corners_typed(text: str) -> list[tuple[float, float]]:
    """Corners as typed in the person's unit, mm. Raises: BadOutline."""
    return typed_corners(text, unit.get())


def corners_text(points: Sequence[Sequence[float]]) -> str:
    """Corners for a field, in the person's unit, one a line."""
    return "\n".join(", ".join(exact_length(value, unit.get()) for value in point) for point in points)
