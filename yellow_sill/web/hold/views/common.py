"""What the pages of the hold stage share."""

from collections.abc import Sequence

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from yellow_sill.core.errors import CoreError
from yellow_sill.web.frame import units
from yellow_sill.web.shells.models import Vehicle

from ..services import Facts, facts_of, request_of
from ..setups import Setup, setup_of


def cells(vehicle: Vehicle, *more: tuple) -> list[tuple]:
    return [
        ("Vehicle", vehicle.model),
        ("Body no.", vehicle.body_no or "–"),
        *more,
        ("Units", units.unit.get()),
    ]


def none_yet(request: HttpRequest, error: CoreError | None = None) -> HttpResponse:
    """A shell that nothing can be worked out for: another kind of body, or sizes that cannot be."""
    return render(
        request, "hold/none.html", {"current_stage": "hold", "error": error}, status=422 if error else 200
    )


def kept_facts(vehicle: Vehicle) -> tuple[Setup, Facts]:
    """The setup as kept and its facts, checked. Raises: BadField."""
    setup = Setup.of(setup_of(vehicle))
    facts = facts_of(vehicle, setup)
    request_of(facts)
    return setup, facts


def choices(data, name: str) -> Sequence[str]:
    """What a query or form ticks, each once."""
    return tuple(dict.fromkeys(data.getlist(name)))
