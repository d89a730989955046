"""The datum board: a round on the drawing, two rounds compared, and the turntable."""

from collections.abc import Sequence

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

from yellow_sill.core.datum.compare import WORTH_SAYING_MM, Movement
from yellow_sill.core.datum.drawn import (
    cure_words,
    flag_of,
    flat_off,
    level_words,
    verdict_words,
    worst_first,
)
from yellow_sill.core.datum.results import PointResult
from yellow_sill.core.days import day_words
from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.access import with_vehicle
from yellow_sill.web.shells.models import ShellView, Vehicle

from ..board_page import DatumPage
from ..board_services import EXAGGERATION, board_points, drawn_diagonals, strips, turntable
from ..forms import RoundCorrectionForm
from ..models import DatumPoint, Round, StandSet
from ..round_services import averages, fit_of, movements, shape_of
from ..stand_services import stands_drawn
from .common import cells, chosen_round, drawing, tools

#: How a verdict along one axis is marked.
AXIS_FLAGS = {"in": "ok", "held": "ok", "out": "out", "cannot tell yet": "unsure"}
#: Views the board opens with, the first that the vehicle has.
FIRST_VIEWS = ("underside", "left")


@require_GET
@with_vehicle
def datums(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    names = list(vehicle.views.values_list("name", flat=True))
    first = next((name for name in FIRST_VIEWS if name in names), names[0])
    return redirect(
        f"{reverse('datums:board', args=[vehicle.pk, first])}{'?' + request.GET.urlencode() if request.GET else ''}"
    )


def _against(request: HttpRequest, vehicle: Vehicle, shown: Round | None) -> Round | None:
    wanted = request.GET.get("against", "")
    return vehicle.rounds.filter(number=whole_number(wanted)).exclude(pk=shown.pk).first() if shown else None


def _query(shown: Round | None, against: Round | None) -> str:
    return (f"&round={shown.number}" if shown else "") + (f"&against={against.number}" if against else "")


def round_context(request: HttpRequest, vehicle: Vehicle) -> dict:
    """A round with its adjustment, words, rows and, where asked, the round it is compared with."""
    points = list(vehicle.datum_points.all())
    shown = chosen_round(request, vehicle)
    against = _against(request, vehicle, shown)
    read = averages(shown) if shown else []
    fit = fit_of(shown) if shown else None
    result = fit.result if fit else None
    context = {
        "points": points,
        "round": shown,
        "correction": RoundCorrectionForm(
            initial={"version": shown.version, "stage": shown.stage, "taken_on": shown.taken_on}
        )
        if shown
        else None,
        "against": against,
        "rounds": list(vehicle.rounds.all()),
        "read": read,
        "fit": fit,
        "result": result,
        "query": _query(shown, against),
        "exaggeration": EXAGGERATION,
    }
    moves = None
    if against and shown:
        try:
            context["moves"] = moves = movements(against, shown)
        except CoreError as error:
            context["compare_error"], context["against"] = error, None
    if result is None:
        return context | {"chosen": _book_point(request, points)}
    adjusted = {point.id: point for point in result.points}
    told = shape_of(result, points)
    wanted = request.GET.get("point", "") or (moves[0].id if moves else worst_first(result)[0].id)
    head, body = verdict_words(result, told)
    context |= {
        "head_words": head,
        "body_words": body,
        "level_words": level_words(result),
        "shape": told,
        "moves": moves,
        "chosen": next((point for point in points if point.code == wanted), None),
        "rows": [_row(point, adjusted.get(point.code)) for point in points],
    }
    if moves is not None:
        context |= _moved(moves, wanted, points)
    if wanted in adjusted:
        context |= _opened(adjusted[wanted])
    return context


def _moved(moves: Sequence[Movement], wanted: str, points: Sequence[DatumPoint]) -> dict:
    """What moved between two rounds."""
    names = {point.code: point.name for point in points}
    return {
        "move_rows": [(move, names.get(move.id, "")) for move in moves],
        "chosen_move": next((move for move in moves if move.id == wanted), None),
        "real_count": sum(move.real for move in moves),
    }


def _opened(found: PointResult) -> dict:
    """The point that is looked at: how far off, along which axes, and what cures it."""
    names = ("Length, aft", "Side, right", "Height, up")
    return {
        "chosen_result": found,
        "chosen_flag": flag_of(found.verdict, found.length_mm, found.tolerance_mm),
        "cure": cure_words([found.dx_mm, found.dy_mm, found.dz_mm]),
        "at_home": found.length_mm < WORTH_SAYING_MM,
        "chosen_axes": [
            (name, each, AXIS_FLAGS[each.verdict]) for name, each in zip(names, found.axes, strict=True)
        ],
    }


def _row(point: DatumPoint, found: PointResult | None) -> tuple:
    """A line of the sheet's table: the point, its result, flag and deviation in plan."""
    if found is None:
        return point, None, "none", None
    return point, found, flag_of(found.verdict, found.length_mm, found.tolerance_mm), flat_off(found)


def _book_point(request: HttpRequest, points: list[DatumPoint]) -> DatumPoint | None:
    wanted = request.GET.get("point", "")
    return next((point for point in points if point.code == wanted), None)


@require_GET
@with_vehicle
def board(request: HttpRequest, vehicle: Vehicle, view_name: str) -> HttpResponse:
    """A round on one view: deviations, ellipses, diagonals, height strips; or what moved since another round."""
    view = get_object_or_404(
        ShellView.objects.defer("features", "silhouette"), vehicle=vehicle, name=view_name
    )
    context = round_context(request, vehicle)
    result, moves = context["result"], context.get("moves")
    chosen = context["chosen"].code if context["chosen"] else ""
    drawn = board_points(view, context["points"], result, moves, chosen, context["query"])
    shown = context["round"]
    context["board_title"] = (
        f"Moved since round {context['against'].number}"
        if moves is not None
        else view.title + (f", round {shown.number}" if shown else "")
    )
    context |= tools(vehicle, view) | drawing(view)
    context["board"] = DatumPage(
        points=drawn,
        strips=strips(view, drawn),
        diagonals=None if moves is not None else drawn_diagonals(view, context["points"], result),
        stands=stands_drawn(StandSet.objects.filter(vehicle=vehicle).first(), view),
        exaggeration=EXAGGERATION,
        moves=moves is not None,
        plan=view.plane.is_plan,
    )
    told = f"{sum(point.off is not None for point in drawn)}/{len(drawn)}"
    context["cells"] = cells(
        vehicle,
        ("Round", shown.number if shown else "–"),
        ("Points", told),
        ("Read", day_words(shown.taken_on) if shown else "–"),
    )
    return render(request, "datums/board.html", context)


@require_GET
@with_vehicle
def turn(request: HttpRequest, vehicle: Vehicle) -> HttpResponse:
    """The points in space, to be turned by hand."""
    context = round_context(request, vehicle) | tools(vehicle, None)
    chosen = context["chosen"].code if context["chosen"] else ""
    context["table"] = turntable(
        vehicle,
        context["points"],
        context["result"],
        [each.codes for each in context["read"] if each.kind == "distance"],
        chosen,
    )
    shown = context["round"]
    context["cells"] = cells(
        vehicle,
        ("Round", shown.number if shown else "–"),
        ("Points", len(context["points"])),
        ("Drawn", f"off ×{EXAGGERATION}"),
    )
    return render(request, "datums/turntable.html", context)
