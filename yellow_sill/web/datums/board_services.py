"""The datum board's data: everything the drawing shows, as plain values for the page."""

from collections.abc import Sequence
from dataclasses import replace

from django.urls import reverse

from yellow_sill.core.datum.compare import Movement
from yellow_sill.core.datum.drawn import diagonals, ellipse_in_view, flag_of, seen_in
from yellow_sill.core.datum.results import Adjusted
from yellow_sill.core.shell.body_lines import floor_line, half_width, side_line
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.shells.models import Panel, ShellView, Vehicle

from .board_page import Diagonal, Diagonals, DrawnPoint, Height, Strip, TurnPage
from .models import DatumPoint

#: How much deviations, ellipses and heights are drawn larger than they are.
EXAGGERATION = 20


def shown_points(view: ShellView, points: Sequence[DatumPoint]) -> list[DatumPoint]:
    """The points of the book that a view shows."""
    seen = seen_in(view.name, [point.nominal for point in points])
    return [point for point, here in zip(points, seen, strict=True) if here]


def board_points(
    view: ShellView,
    points: Sequence[DatumPoint],
    result: Adjusted | None,
    moves: Sequence[Movement] | None = None,
    chosen: str = "",
    query: str = "",
) -> list[DrawnPoint]:
    """Each point in the view's plane with its deviation (or, when comparing, its movement) and ellipse."""
    adjusted = {point.id: point for point in result.points} if result else {}
    moved = {move.id: move for move in moves} if moves is not None else {}
    out = []
    for point in shown_points(view, points):
        found, move = adjusted.get(point.code), moved.get(point.code)
        plain = DrawnPoint(
            code=point.code, name=point.name, at=view.plane.drawn(point.nominal), trusted=point.trusted, selected=point.code == chosen,
            href=f"?point={point.code}{query}",
        )  # fmt: skip
        if moves is not None and move is not None:
            plain = replace(
                plain,
                off=view.plane.drawn([move.dx_mm, move.dy_mm, move.dz_mm]),
                length=move.length_mm,
                dz=move.dz_mm,
                flag="out" if move.real else "ok",
            )
        elif moves is None and found is not None:
            plain = replace(
                plain,
                off=view.plane.drawn([found.dx_mm, found.dy_mm, found.dz_mm]),
                length=found.length_mm,
                dz=found.dz_mm,
                ellipse=ellipse_in_view(found.covariance_mm2, view.plane),
                flag=flag_of(found.verdict, found.length_mm, found.tolerance_mm),
            )
        out.append(plain)
    return out


def strips(view: ShellView, points: Sequence[DrawnPoint]) -> list[Strip]:
    """Height strips under a view that has x along: one for each side it shows."""
    if view.plane.axes[0] != "x":
        return []
    told = [point for point in points if point.off is not None]
    if view.name in ("left", "right"):
        sides = [(view.title, told)]
    else:
        left_v = 1 if view.plane.left_is_up else -1
        sides = [
            ("Left side", [point for point in told if point.at[1] * left_v >= 0]),
            ("Right side", [point for point in told if point.at[1] * left_v < 0]),
        ]
    return [
        Strip(
            title=title,
            points=[
                Height(u=point.at[0], dz=point.dz, flag=point.flag, code=point.code)
                for point in sorted(group, key=lambda point: point.at[0])
            ],
        )
        for title, group in sides
        if len(group) > 1
    ]


def drawn_diagonals(
    view: ShellView, points: Sequence[DatumPoint], result: Adjusted | None
) -> Diagonals | None:
    """The long diagonals for a plan view, with their ends in its plane."""
    if result is None or not view.plane.is_plan:
        return None
    book = {point.code: point.nominal for point in points}
    found = diagonals(result.points, book)
    if found is None:
        return None
    lines = [
        Diagonal(ends=[view.plane.drawn(book[code]) for code in pair], names=list(pair), mm=mm)
        for pair, mm in zip((found.first, found.second), found.lengths_mm, strict=True)
    ]
    return Diagonals(lines=lines, differ=found.differ_mm)


def turntable(
    vehicle: Vehicle,
    points: Sequence[DatumPoint],
    result: Adjusted | None,
    read: Sequence[Sequence[str]],
    chosen: str,
) -> TurnPage:
    """Points and lines in space for the turntable: nominal and adjusted places, the pairs that were taped, the body as thin lines."""
    adjusted = {point.id: point for point in result.points} if result else {}
    book = {point.code for point in points}
    here = reverse("datums:turntable", args=[vehicle.pk])
    drawn = []
    for point in points:
        found = adjusted.get(point.code)
        drawn.append(
            DrawnPoint(
                code=point.code,
                name=point.name,
                at=point.nominal,
                trusted=point.trusted,
                selected=point.code == chosen,
                href=f"{here}?point={point.code}",
                off=[found.dx_mm, found.dy_mm, found.dz_mm] if found else None,
                length=found.length_mm if found else None,
                flag=flag_of(found.verdict, found.length_mm, found.tolerance_mm) if found else "none",
            )
        )
    return TurnPage(
        points=drawn,
        lines=[list(pair) for pair in read if len(pair) == 2 and set(pair) <= book],
        body=body_lines(vehicle),
        exaggeration=EXAGGERATION,
    )


@by_revision(16, "shells")
def body_lines(vehicle: Vehicle) -> list[list[list[float]]]:
    """Outlines of the skins in space: side panels leaning in as the front view shows, the underside at its floor."""
    views = {view.name: view for view in ShellView.objects.filter(vehicle=vehicle)}
    half_at = half_width(views["front"].silhouette if "front" in views else None)
    out: list[list[list[float]]] = []
    panels = (
        Panel.objects.filter(view__vehicle=vehicle)
        .select_related("view")
        .defer("view__features", "view__silhouette")
    )
    for panel in panels:
        name = panel.view.name
        if name in ("left", "right") and panel.layer == 1:
            out.append(side_line(panel.outline, name == "left", half_at))
        elif name == "underside" and panel.layer == 3:
            out.append(floor_line(panel.outline))
    return out
