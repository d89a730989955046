"""Hours that were logged for repairs: the logbook puts its source here when it starts."""

from collections.abc import Callable, Iterable

from yellow_sill.core.cut.rates import Logged, logged_factor
from yellow_sill.core.repair.ribbon import STATES
from yellow_sill.web.shells.models import Vehicle

from .models import PanelChoice

#: A kind of work is done once the repair has reached this state.
DONE_AT = {"cut": "cut", "make": "made", "fit": "fitted", "weld": "welded", "dress": "dressed", "protect": "protected"}
#: (repair's number, kind, minutes) of a vehicle.
Source = Callable[[Vehicle], Iterable[tuple[int, str, int]]]
_sources: list[Source] = []


def add_hours(source: Source) -> None:
    _sources.append(source)


def logged_hours(vehicle: Vehicle) -> dict[str, Logged]:
    """By kind of work, what was logged against what was worked out when a way was chosen, over the repairs where that work is done."""
    worked_out: dict[tuple[int, str], float] = {}
    for choice in PanelChoice.objects.filter(repair__vehicle=vehicle).select_related("repair"):
        minutes = next((option["minutes"] for option in choice.options if option["name"] == choice.chosen), {})
        for kind, state in DONE_AT.items():
            if STATES.index(choice.repair.state) >= STATES.index(state):
                key = choice.repair.number, kind
                worked_out[key] = worked_out.get(key, 0.0) + minutes.get(kind, 0.0)
    if not worked_out:
        return {}
    spent: dict[tuple[int, str], float] = {}
    for source in _sources:
        for number, kind, minutes in source(vehicle):
            spent[number, kind] = spent.get((number, kind), 0.0) + minutes
    told = {kind: logged_factor((planned, spent.get(key, 0.0)) for key, planned in worked_out.items() if key[1] == kind) for kind in DONE_AT}
    return {kind: logged for kind, logged in told.items() if logged}
