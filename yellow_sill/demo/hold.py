"""What holds the demo vehicle: braces as they were fitted, and the order of work accepted for its sills."""

from dataclasses import replace
from datetime import date, timedelta

from yellow_sill.web.hold.order_services import accept_order
from yellow_sill.web.hold.setups import Fitted, Setup, setup_of, store_setup
from yellow_sill.web.shells.models import Vehicle

#: (days ago, from, to, tube, ends)
BRACES = [
    (86, "ATL", "BBL", "25x2", "bolted"),
    (86, "ABL", "BWL", "25x2", "bolted"),
    (85, "TWL", "TWR", "30x2", "bolted"),
]
#: (days ago, engine and doors in, stands; None for the usual ones): the first round was taken heavy and under the cabin, the next light and at the ends.
STOOD = [
    (205, True, ("RBL", "RBR", "RHL", "RHR")),
    (204, False, ("FML", "FMR", "RRL", "RRR")),
    (100, False, None),
]
#: The left side is closed before the right is opened.
ORDER = [
    "-sill_outer_L",
    "-sill_diaph_L",
    "+sill_diaph_L",
    "+sill_outer_L",
    "-sill_outer_R",
    "+sill_outer_R",
]
ORDER_AGO = 70


def brace(vehicle: Vehicle, today: date, by: str) -> None:
    """How it stood with its engine and without, then the braces, each on its day; then the order is accepted."""
    for ago, heavy, stands in STOOD:
        setup = replace(Setup.of(setup_of(vehicle)), engine_in=heavy, doors_on=heavy, stands=stands)
        store_setup(vehicle, setup, version=None, by=by, today=today - timedelta(ago))
    for ago, start, end, tube, ends in BRACES:
        day = today - timedelta(ago)
        setup = Setup.of(setup_of(vehicle))
        fitted = Fitted(start=start, end=end, tube=tube, ends=ends, fitted_on=day.isoformat())
        store_setup(vehicle, replace(setup, braces=(*setup.braces, fitted)), version=None, by=by, today=day)
    parts = list(dict.fromkeys(step[1:] for step in ORDER))
    accept_order(vehicle, parts, ORDER, version=None, by=by, today=today - timedelta(ORDER_AGO))
