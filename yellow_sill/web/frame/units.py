"""The unit and the terms of whoever is asking now, for forms, filters and drawings."""

from collections.abc import Sequence
from contextvars import ContextVar
from math import ceil, floor

from yellow_sill.core.survey.extent import typed_corners
from yellow_sill.core.units import INCH_MM, exact_length, format_length

unit: ContextVar[str] = ContextVar("unit", default="mm")
american_terms: ContextVar[bool] = ContextVar("american_terms", default=False)


def length(value_mm: float, digits: int = 0) -> str:
    return format_length(value_mm, unit.get(), digits)


def span(least_mm: float, most_mm: float) -> str:
    """A range in words, its ends drawn in to whole steps so that both can be taken."""
    step = INCH_MM / 16 if unit.get() == "in" else 1.0
    least, most = ceil(least_mm / step - 1e-6) * step, floor(most_mm / step + 1e-6) * step
    return f"{exact_length(least, unit.get())} to {exact_length(most, unit.get())} {unit.get()}"


def corners_typed(text: str) -> list[tuple[float, float]]:
    """Corners as typed in the person's unit, mm. Raises: BadOutline."""
    return typed_corners(text, unit.get())


def corners_text(points: Sequence[Sequence[float]]) -> str:
    """Corners for a field, in the person's unit, one a line."""
    return "\n".join(", ".join(exact_length(value, unit.get()) for value in point) for point in points)
