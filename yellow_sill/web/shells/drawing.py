"""The shell as SVG paths in the view's own millimetres, v turned down. Drawn once a view and layer, then kept."""

from functools import lru_cache

from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

from yellow_sill.core.shell import LAYERS
from yellow_sill.web.frame.units import said

from .models import ShellView

_AROUND = ("beyond", "tyre", "centre")


def path_d(points, closed: bool) -> str:
    """Points as SVG path data, v up turned to y down."""
    return "M" + "L".join([f"{u:g} {-v:g}" for u, v in points]) + ("Z" if closed else "")


def shell_svg(view: ShellView, layer: int) -> SafeString:
    """The whole drawing of a view at a layer; line weights come from the style sheet and stay the same at any zoom."""
    return _shell_svg(view.pk, view.vehicle_id, layer, view.drawing)


@lru_cache(maxsize=128)
def _shell_svg(view_id: int, vehicle_id: int, layer: int, _drawing: tuple) -> SafeString:
    # Every correction of the view stamps it anew, so that a key is enough.
    view = ShellView.objects.prefetch_related("panels").get(pk=view_id)
    panels = [p for p in view.panels.all() if not view.layered or p.layer == layer]
    if not view.layered:
        panels.sort(key=lambda p: p.tone or 0.5)
    shown = {layer} if view.layered else set(range(1, len(LAYERS) + 1))
    outermost = layer == 1 or not view.layered
    out: list[str] = []

    def line(kind: str, points, closed: bool) -> None:
        out.append(f'<path class="sh-{kind}" d="{path_d(points, closed)}"/>')

    if not outermost:
        out += [
            f'<path class="sh-ghost" d="{path_d(ring, True)}"/>' for part in view.silhouette for ring in part
        ]
    for f in view.features:
        if f["kind"] == "beyond" and outermost:
            line("beyond", f["points"], f["closed"])
    for f in view.features:
        if f["kind"] == "under" and outermost:
            out.append(f'<path class="sh-panel sh-t3" d="{path_d(f["points"], True)}"/>')
    for p in panels:
        d = path_d(p.outline, True) + "".join(path_d(hole, True) for hole in p.holes)
        out.append(
            f'<path class="sh-panel sh-t{p.tone}" data-panel="{escape(p.code)}" fill-rule="evenodd" d="{d}"><title>{escape(said(p.told))}</title></path>'
        )
    for f in view.features:
        if f["kind"] in ("tyre", "centre"):
            line(f["kind"], f["points"], f["closed"])
    for f in view.features:
        if f["kind"] in (*_AROUND, "under", "weld") or (f["layer"] and f["layer"] not in shown):
            continue
        line(f["kind"], f["points"], f["closed"])
    welds = [
        point for f in view.features if f["kind"] == "weld" and f["layer"] in shown for point in f["points"]
    ]
    out.append(f'<path class="sh-weld" d="{"".join(f"M{u:g} {-v:g}h.01" for u, v in welds)}"/>')
    if outermost:
        out += [
            f'<path class="sh-out" d="{"".join(path_d(ring, True) for ring in part)}"/>'
            for part in view.silhouette
        ]
    return mark_safe("".join(out))  # noqa: S308 - numbers and escaped codes only


def silhouette_svg(view: ShellView) -> SafeString:
    return _silhouette(view.pk, view.vehicle_id, view.drawing)


@lru_cache(maxsize=64)
def _silhouette(view_id: int, vehicle_id: int, _drawing: tuple) -> SafeString:
    """A small filled outline for the view buttons."""
    view = ShellView.objects.get(pk=view_id)
    u0, v0, u1, v1 = view.bounds
    rings = [ring[:: max(1, len(ring) // 70)] for part in view.silhouette for ring in part]
    d = "".join(path_d(ring, True) for ring in rings)
    edge = (u1 - u0) * 0.03
    box = f"{u0 - edge:g} {-v1 - edge:g} {u1 - u0 + 2 * edge:g} {v1 - v0 + 2 * edge:g}"
    return mark_safe(  # noqa: S308
        f'<svg class="sil" viewBox="{box}" width="54" height="26" aria-hidden="true"><path d="{d}" fill-rule="evenodd"/></svg>'
    )
