"""The datum board's data: everything the drawing shows, as plain values for the page."""

from collections.abc import Sequence
from functools import lru_cache
from typing import Any

import numpy as np
from django.urls import reverse
from shapely.geometry import LineString, Polygon

from yellow_sill.core.datum.compare import Movement
from yellow_sill.core.datum.drawn import diagonals, ellipse_in_view, flag_of, in_view, seen_in
from yellow_sill.core.datum.results import Adjusted
from yellow_sill.web.frame.models import stamp
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle

from .models import DatumPoint

#: How much deviations, ellipses and heights are drawn larger than they are.
EXAGGERATION = 20
#: Body lines of the turntable are simplified to this, mm.
BODY_LINE_MM = 8.0


def shown_points(view: ShellView, points: Sequence[DatumPoint]) -> list[DatumPoint]:
    """The points of the book that a view shows."""
    seen = seen_in(view.name, np.array([point.nominal for point in points]).reshape(-1, 3))
    return [point for point, here in zip(points, seen, strict=True) if here]


def board_points(
    view: ShellView,
    points: Sequence[DatumPoint],
    result: Adjusted | None,
    moves: Sequence[Movement] | None = None,
    chosen: str = "",
    query: str = "",
) -> list[dict[str, Any]]:
    """Each point in the view's plane with its deviation (or, when comparing, its movement) and ellipse."""
    adjusted = {point.id: point for point in result.points} if result else {}
    moved = {move.id: move for move in moves} if moves is not None else {}
    out = []
    for point in shown_points(view, points):
        entry = {
            "code": point.code,
            "name": point.name,
            "at": in_view(point.nominal, view.u_axis, view.v_axis),
            "trusted": point.trusted,
            "selected": point.code == chosen,
            "href": f"?point={point.code}{query}",
            "off": None,
            "flag": "none",
        }
        found, move = adjusted.get(point.code), moved.get(point.code)
        if moves is not None:
            if move is not None:
                off = [move.dx_mm, move.dy_mm, move.dz_mm]
                entry |= {
                    "off": in_view(off, view.u_axis, view.v_axis),
                    "length": move.length_mm,
                    "dz": move.dz_mm,
                    "flag": "out" if move.real else "ok",
                }
        elif found is not None:
            off = [found.dx_mm, found.dy_mm, found.dz_mm]
            entry |= {
                "off": in_view(off, view.u_axis, view.v_axis),
                "length": found.length_mm,
                "dz": found.dz_mm,
                "ellipse": ellipse_in_view(found.covariance_mm2, view.u_axis, view.v_axis),
                "flag": flag_of(found.verdict, found.length_mm, found.tolerance_mm),
            }
        out.append(entry)
    return out


def strips(view: ShellView, points: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Height strips under a view that has x along: one for each side it shows."""
    if view.u_axis[-1] != "x":
        return []
    told = [point for point in points if point["off"] is not None]
    if view.name in ("left", "right"):
        sides = [(view.title, told)]
    else:
        left_v = -1 if view.v_axis == "y" else 1
        sides = [
            ("Left side", [p for p in told if p["at"][1] * left_v >= 0]),
            ("Right side", [p for p in told if p["at"][1] * left_v < 0]),
        ]
    return [
        {
            "title": title,
            "points": [
                {"u": p["at"][0], "dz": p["dz"], "flag": p["flag"], "code": p["code"]}
                for p in sorted(group, key=lambda p: p["at"][0])
            ],
        }
        for title, group in sides
        if len(group) > 1
    ]


def is_plan(view: ShellView) -> bool:
    """Whether a view looks along z: there stands and diagonals lie at true size."""
    return {view.u_axis[-1], view.v_axis[-1]} == {"x", "y"}


def drawn_diagonals(
    view: ShellView, points: Sequence[DatumPoint], result: Adjusted | None
) -> dict[str, Any] | None:
    """The long diagonals for a plan view, with their ends in its plane."""
    if result is None or not is_plan(view):
        return None
    book = {point.code: point.nominal for point in points}
    found = diagonals(result.points, book)
    if found is None:
        return None
    place = lambda pair: [in_view(book[code], view.u_axis, view.v_axis) for code in pair]  # noqa: E731
    return {
        "lines": [
            {"ends": place(pair), "names": list(pair), "mm": mm}
            for pair, mm in zip((found.first, found.second), found.lengths_mm, strict=True)
        ],
        "differ": found.differ_mm,
    }


def turntable(
    vehicle: Vehicle,
    points: Sequence[DatumPoint],
    result: Adjusted | None,
    read: Sequence[Sequence[str]],
    chosen: str,
) -> dict[str, Any]:
    """Points and lines in space for the turntable: nominal and adjusted places, the pairs that were taped, the body as thin lines."""
    adjusted = {point.id: point for point in result.points} if result else {}
    book = {point.code for point in points}
    return {
        "points": [
            {
                "code": point.code,
                "name": point.name,
                "at": point.nominal,
                "off": [found.dx_mm, found.dy_mm, found.dz_mm]
                if (found := adjusted.get(point.code))
                else None,
                "length": found.length_mm if found else None,
                "flag": flag_of(found.verdict, found.length_mm, found.tolerance_mm) if found else "none",
                "trusted": point.trusted,
                "selected": point.code == chosen,
                "href": f"{reverse('datums:turntable', args=[vehicle.pk])}?point={point.code}",
            }
            for point in points
        ],
        "lines": [list(pair) for pair in read if len(pair) == 2 and set(pair) <= book],
        "body": body_lines(vehicle),
        "exaggeration": EXAGGERATION,
    }


def body_lines(vehicle: Vehicle) -> list[list[list[float]]]:
    return _body_lines(vehicle.pk, stamp(vehicle.views))


@lru_cache(maxsize=16)
def _body_lines(vehicle_id: int, _stamp) -> list[list[list[float]]]:
    """Outlines of the skins in space: side panels leaning in as the front view shows, the underside at its floor."""
    views = {view.name: view for view in ShellView.objects.filter(vehicle_id=vehicle_id)}
    half_at = _half_width(views.get("front"))
    out: list[list[list[float]]] = []
    panels = (
        Panel.objects.filter(view__vehicle_id=vehicle_id)
        .select_related("view")
        .defer("view__features", "view__silhouette")
    )
    for panel in panels:
        name = panel.view.name
        ring = [*panel.outline, panel.outline[0]]
        if name in ("left", "right") and panel.layer == 1:
            sign, along = (-1, 1) if name == "left" else (1, -1)
            out.append([[round(along * u), round(sign * half_at(v)), round(v)] for u, v in _simple(ring)])
        elif name == "underside" and panel.layer == 3:
            out.append([[round(u), round(-v), 240] for u, v in _simple(ring)])
    return out


def _simple(ring) -> list[tuple[float, float]]:
    return list(LineString(ring).simplify(BODY_LINE_MM).coords)


def _half_width(front: ShellView | None):
    """How wide the body is at a height, from the silhouette of its front."""
    if front is None:
        return lambda _: 780.0
    shape = max((Polygon(part[0]) for part in front.silhouette), key=lambda part: part.area)
    low, high = shape.bounds[1], shape.bounds[3]
    heights = np.linspace(low + 1, high - 1, 60)
    widths = []
    for z in heights:
        cut = shape.intersection(LineString([(-3000, z), (3000, z)]))
        widths.append(max(abs(cut.bounds[0]), abs(cut.bounds[2])) if not cut.is_empty else 0.0)
    sill = float(np.interp(low + 0.25 * (high - low), heights, widths))
    widths = [
        max(width, 0.94 * sill) if z < low + 0.35 * (high - low) else width
        for z, width in zip(heights, widths, strict=True)
    ]
    return lambda z: float(np.interp(z, heights, widths))
