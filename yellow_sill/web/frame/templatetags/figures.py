"""How figures are written: millimetres, areas, hours, money. No arithmetic beyond the change of unit."""

import random

from django import template
from django.forms import CharField
from django.utils.html import format_html, format_html_join, json_script
from django.utils.safestring import SafeString

from yellow_sill.core.repairs import hours
from yellow_sill.core.said import Said, drawn_name, first_up
from yellow_sill.core.units import INCH_MM
from yellow_sill.web.frame import units
from yellow_sill.web.frame.units import FOOT_MM, SQUARE_INCH_MM2

register = template.Library()

#: Stamped characters are not made smaller than this share of their size.
LEAST_STAMP = 0.55


@register.filter
def mm(value: float | None, digits: int = 0) -> str:
    """A length without its unit, in the person's own: 158, 0.8 with one digit, or 6 1/4."""
    return "" if value is None else units.length(value, digits)


@register.filter
def large(value: float | None) -> str:
    """A length as the one large figure of a sheet: 158, or 6.23 in inches, where a fraction would be too wide."""
    return "" if value is None else f"{value:.0f}" if units.unit.get() == "mm" else f"{value / INCH_MM:.2f}"


@register.filter
def reading(value: float | None) -> str:
    """A reading, or by how much a place is off, without its unit: 4.3, or 11/64."""
    return "" if value is None else units.reading(value)


@register.filter
def signed(value: float | None) -> str:
    """By how much a place is off, with its sign: +0.6, −6.8, 0.0, or −17/64."""
    if value is None:
        return ""
    text = units.reading(abs(value))
    return text if text in ("0", "0.0") else f"{'−' if value < 0 else '+'}{text}"


@register.filter
def size_in(value: float, unit_mm: str) -> str:
    """A size of a body word, mm or mm per m, in the person's own unit."""
    if units.unit.get() == "mm":
        return f"{value:.1f}"
    return f"{value * FOOT_MM / 1000 / INCH_MM:.3f}" if unit_mm == "mm per m" else units.reading(value)


@register.filter
def signed_in(value: float, unit_mm: str) -> str:
    """The same with its sign."""
    text = size_in(abs(value), unit_mm)
    return text if text.strip("0.") == "" else f"{'−' if value < 0 else '+'}{text}"


@register.filter
def unit_of(unit_mm: str) -> str:
    """The person's own unit instead of mm or mm per m."""
    if units.unit.get() == "mm":
        return unit_mm
    return "in per ft" if unit_mm == "mm per m" else "in"


@register.filter
def said(text: str) -> str:
    """A message or a fixed sentence of ours in the person's units and terms; a message does so by itself."""
    return units.said(text)


@register.filter
def sheet_name(row) -> str:
    """The panel's name of a row of findings."""
    return row.panel__name if row.panel__named_by_hand else drawn_name(row.panel__name)


@register.filter
def record_key(record) -> str:
    """A record as the page of changes names it in its address."""
    return f"{record._meta.app_label}.{record._meta.model_name}.{record.pk}"


@register.filter
def opening(message: str) -> str:
    """A message that opens a sentence: its first letter a capital."""
    return first_up(message)


@register.filter
def after(name: str, lead: str) -> str:
    """A name with what it is the title of before it: ``Cut line, Outer sill, left``."""
    return Said("{lead}, {name}", lead=Said(str(lead)), name=name)


@register.filter
def drawn(name: str) -> str:
    """The name of a sheet of our drawings in the reader's terms."""
    return units.said(drawn_name(name))


@register.filter
def spoken_json(value, element_id: str) -> SafeString:
    """A board's data as a script element, every message in it said."""
    return json_script(units.spoken(value), element_id)


@register.filter
def heat(value_c: float | None) -> str:
    """A temperature without its unit, in the person's own."""
    return "" if value_c is None else units.temperature(value_c)


@register.simple_tag
def degrees() -> str:
    """The person's unit of temperature."""
    return f"°{units.degrees.get()}"


@register.filter
def num(value: float | None, digits: int = 0) -> str:
    """A number that is no length."""
    return "" if value is None else f"{value:.{digits}f}"


@register.simple_tag
def unit() -> str:
    """The person's unit of length."""
    return units.unit.get()


@register.filter
def unit_label(field) -> str:
    """A field's label with the unit that a bare number has in it."""
    shown, label = getattr(field.field, "shown_in", "mm"), str(field.label)
    if isinstance(field.field, CharField) and field.name == "corners":
        shown = units.unit.get()
    for unit_ in (", mm", ", °C"):
        if label.endswith(unit_):
            return f"{label.removesuffix(unit_)}, {shown}"
    return label


@register.filter
def figure(value: float | None) -> str:
    """A number as short as it is exact: 1, 0.8, 12.06."""
    return "" if value is None else f"{value:.3f}".rstrip("0").rstrip(".")


@register.filter
def clock(minutes: int) -> str:
    return hours.clock(int(minutes))


@register.filter
def cm2(area_mm2: float) -> str:
    return f"{area_mm2 / (SQUARE_INCH_MM2 if units.unit.get() == 'in' else 100):.1f}"


@register.simple_tag
def area_unit() -> str:
    return "in²" if units.unit.get() == "in" else "cm²"


@register.simple_tag
def long_unit() -> str:
    """The unit of a length of weld."""
    return "ft" if units.unit.get() == "in" else "m"


@register.filter
def flat_size(pattern) -> str:
    x0, y0, x1, y1 = pattern.bounding_box_mm
    return f"{units.length(x1 - x0, 1)} × {units.length(y1 - y0, 1)}"


@register.simple_tag
def stamped(text: str, x: float, y: float, advance: float, room: float = 0) -> SafeString:
    """Characters of a stamped plate, each nudged a little, always the same way; smaller ones where the room is too small for them."""
    rng = random.Random(text)  # noqa: S311 - only a drawing
    size = max(LEAST_STAMP, min(1.0, room / (len(text) * advance))) if room and text else 1.0
    if room and len(text) * advance * size > room:
        text = f"{text[: int(room / (advance * size)) - 1]}…"
    return format_html_join(
        "",
        '<text class="st" transform="translate({} {}) rotate({}) scale({})">{}</text>',
        (
            (
                f"{x + i * advance * size:.1f}",
                f"{y + rng.uniform(-0.9, 0.9):.1f}",
                f"{rng.uniform(-2.5, 2.5):.1f}",
                f"{size:.2f}",
                c,
            )
            for i, c in enumerate(text)
        ),
    )


@register.filter
def squeezed(text: str, room: str) -> SafeString:
    """Attributes that press a text of a drawing into its room: ``room`` says from how many characters on, and into what width."""
    most, width = room.split()
    return (
        format_html(' textLength="{}" lengthAdjust="spacingAndGlyphs"', width)
        if len(text) > int(most)
        else SafeString("")
    )


@register.filter
def bar(percentage: float) -> SafeString:
    """A figure as a bar under it, as long as it is per cent of the largest."""
    return format_html(
        '<svg class="bar" viewBox="0 0 100 5" preserveAspectRatio="none" aria-hidden="true"><rect width="{}" height="5"/></svg>',
        f"{percentage:.0f}",
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
    return f"{area_mm2 / (SQUARE_INCH_MM2 if units.unit.get() == 'in' else 100):,.0f}".replace(",", "\u202f")


@register.filter
def metres(length_mm: float, digits: int = 1) -> str:
    """A length of weld in metres, or feet."""
    return f"{length_mm / (FOOT_MM if units.unit.get() == 'in' else 1000):.{digits}f}"


@register.filter
def yesno_is(value: str, other: str) -> str:
    """``true`` or ``false`` for an attribute: whether two words are the same."""
    return "true" if value == other else "false"
