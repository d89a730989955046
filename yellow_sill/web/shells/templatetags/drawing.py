"""Outlines as SVG paths in the view's millimetres."""

from collections.abc import Iterable

from django import template
from django.utils.safestring import SafeString, mark_safe

from ..drawing import path_d

register = template.Library()


@register.filter
def open_path(points) -> str:
    """Points of a line as SVG path data."""
    return path_d(points, False)


@register.filter
def path(points) -> str:
    """A closed outline, v up turned to y down."""
    return path_d(points, True)


@register.filter
def rust(findings: Iterable, chosen=None) -> SafeString:
    """The findings' outlines, hatched by grade, the chosen one in ink. Hundreds at once, so drawn without the template's loop."""
    return mark_safe(  # noqa: S308 - one letter and numbers only
        "".join(
            f'<path class="fd fd-{finding.grade or "X"}{" is-sel" if chosen and finding.pk == chosen.pk else ""}" d="{path_d(finding.outline, True)}"/>'
            for finding in findings
        )
    )


@register.filter
def metal_class(piece) -> str:
    """How a piece of the metal map is drawn: out, new, new with something on it."""
    if not piece.is_new:
        return "at-out"
    return "at-coated" if any(piece.faces.values()) else "at-new"


@register.filter
def view_box(bounds) -> str:
    """A view box round bounds, for pictures that work without a script."""
    u0, v0, u1, v1 = bounds
    edge = 0.04 * max(u1 - u0, v1 - v0)
    return f"{u0 - edge:g} {-v1 - edge:g} {u1 - u0 + 2 * edge:g} {v1 - v0 + 2 * edge:g}"


@register.filter
def moved(by) -> str:
    """How a part of a drawing is moved, v up turned to y down."""
    return f"translate({by[0]:g} {-by[1]:g})"


@register.filter
def dot(at) -> str:
    """A place as a path of no length: drawn as a dot by a round stroke."""
    return f"M{at[0]:g} {-at[1]:g}h.01"


@register.filter
def down(v: float) -> str:
    """A height of the drawing, v up turned to y down."""
    return f"{-v:g}"


@register.filter
def drawn_body(body: str) -> SafeString:
    """The body of a sketch, written by the core: shapes, and labels that it has escaped."""
    return mark_safe(body)  # noqa: S308
