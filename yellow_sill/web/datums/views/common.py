"""What the pages of the datum stage share."""

from django.http import HttpRequest

from yellow_sill.web.frame import units
from yellow_sill.web.frame.typed import whole_number
from yellow_sill.web.shells.drawing import shell_svg
from yellow_sill.web.shells.models import ShellView, Vehicle
from yellow_sill.web.shells.view_bar import view_bar

from ..models import Round
from ..round_services import latest_round


def chosen_round(request: HttpRequest, vehicle: Vehicle) -> Round | None:
    """The round that ``?round=`` names, else the last with readings, else the last of all."""
    wanted = request.GET.get("round", "")
    if (number := whole_number(wanted)) is not None:
        return vehicle.rounds.filter(number=number).first()
    return latest_round(vehicle) or vehicle.rounds.last()


def tools(vehicle: Vehicle, view: ShellView | None) -> dict:
    """The tool row: views with their silhouettes."""
    views = list(vehicle.views.defer("features", "silhouette"))
    return {
        "current_stage": "datums",
        "views": [button[:2] for button in view_bar(views, view)],
        "view": view,
    }


def drawing(view: ShellView) -> dict:
    return {"svg": shell_svg(view, 1), "view": view}


def cells(vehicle: Vehicle, *more: tuple) -> list[tuple]:
    return [
        ("Vehicle", vehicle.model),
        ("Body no.", vehicle.body_no or "–"),
        *more,
        ("Units", units.unit.get()),
    ]
