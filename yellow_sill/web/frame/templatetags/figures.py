"""How figures are written: millimetres, areas, hours, money. No arithmetic beyond the change of unit."""

import random

from django import template
from django.utils.html import format_html_join
from django.utils.safestring import SafeString

from yellow_sill.core.repair import hours

register = template.Library()


@register.filter
def mm(value: float | None, digits: int = 0) -> str:
    """A length without its unit: 158, or 0.8 with one digit."""
    return "" if value is None else f"{value:.{digits}f}"


@register.filter
def figure(value: float | None) -> str:
    """A number as short as it is exact: 1, 0.8, 12.06."""
    return "" if value is None else f"{value:.3f}".rstrip("0").rstrip(".")


@register.filter
def clock(minutes: int) -> str:
    return hours.clock(int(minutes))


@register.filter
def cm2(area_mm2: float) -> str:
    return f"{area_mm2 / 100:.1f}"


@register.filter
def flat_size(pattern) -> str:
    x0, y0, x1, y1 = pattern.bounding_box_mm
    return f"{x1 - x0:.1f} × {y1 - y0:.1f}"


@register.simple_tag
def stamped(text: str, x: float, y: float, advance: float) -> SafeString:
    """Characters of a stamped plate, each nudged a little, always the same way."""
    rng = random.Random(text)  # noqa: S311 - only a drawing
    return format_html_join(
        "",
        '<text class="st" transform="translate({} {}) rotate({})">{}</text>',
        ((f"{x + i * advance:.1f}", f"{y + rng.uniform(-0.9, 0.9):.1f}", f"{rng.uniform(-2.5, 2.5):.1f}", c) for i, c in enumerate(text)),
    )


@register.filter
def percent(share: float | None) -> str:
    """A share of one as whole per cent, with a narrow space."""
    return "–" if share is None else f"{share * 100:.0f}\u202f%"


@register.filter
def share_of(share: float, whole: float) -> str:
    """How much of a drawn bar a share fills."""
    return f"{share * whole:.1f}"


@register.filter
def looked_share(cover) -> float:
    """Share looked at of a panel's stored cover."""
    return cover.looked_mm2 / cover.area_mm2 if cover else 0.0


@register.filter
def whole_cm2(area_mm2: float) -> str:
    return f"{area_mm2 / 100:,.0f}".replace(",", "\u202f")


@register.filter
def metres(length_mm: float) -> str:
    return f"{length_mm / 1000:.1f}"
