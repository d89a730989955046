"""A vehicle's rates and rules for planning."""

from typing import Any

from yellow_sill.core.cut.rates import Prices, Rates, Weights
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.shells.models import Vehicle

from .models import PlanRules

#: The clearances that a new repair starts with.
CLEARANCES = ("margin_mm", "corner_radius_mm", "web_mm")
#: Those that every plan of the vehicle counts with.
AROUND_CLEARANCES = ("step_mm", "row_clear_mm", "snap_mm")


def rules_of(vehicle: Vehicle) -> PlanRules:
    """The vehicle's rules; unsaved, as usual, where it has none yet."""
    return getattr(vehicle, "plan_rules", None) or PlanRules(
        vehicle=vehicle, version=0
    )  # Django keeps the answer with the vehicle, also a "none"


def told_rules(vehicle: Vehicle) -> dict[str, Any]:
    """Rates, prices, weights and processes as the core's requests take them."""
    rules = rules_of(vehicle)
    return {
        "rates": Rates(**rules.rates).model_dump(), "prices": Prices(**rules.prices).model_dump(), "weights": Weights(**rules.weights).model_dump(),
        "processes": rules.processes or ["mig"],
    }  # fmt: skip


@one_change
def keep_rules(vehicle: Vehicle, values: dict[str, Any], *, version: int | None, by: str) -> PlanRules:
    """Store a vehicle's rules. Raises: ChangedMeanwhile."""
    stored = PlanRules.objects.filter(vehicle=vehicle).first()
    if stored is None:
        return PlanRules.objects.create(vehicle=vehicle, changed_by=by, **values)
    stored.save_as(version, by, **values)
    return stored
