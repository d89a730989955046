"""What the chosen ways still cost: steel and consumables of what is not made and not welded yet."""

from yellow_sill.core.parts.forecast import work_cost
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import Expected
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.listing import forecast

from .models import Cut, PanelChoice

#: What a chosen way's money goes on: which kind of cost that is, in words, and from which state of the repair on it is spent.
SPENT_AT = {"steel": ("steel", "Steel", "made"), "consumables": ("consumable", "Wire, gas, discs", "welded")}


@by_revision(4, "cut", "repairs", "survey", "shells")
def expected(vehicle: Vehicle) -> list[Expected]:
    """Steel and consumables of the ways that were chosen, with the growth of what is not opened yet; a cut repair without a way is told without a price."""
    ratio, found, told = None, [], set()
    choices = PanelChoice.objects.filter(repair__vehicle=vehicle).exclude(repair__state=STATES[-1])
    for choice in choices.select_related("repair"):
        repair = choice.repair
        told.add(repair.pk)
        option: dict = next((each for each in choice.options if each["name"] == choice.chosen), {})
        if repair.state == "found" and ratio is None:
            growth = forecast(vehicle).ratio
            ratio = (growth.p50, growth.p80)
        for what, (kind, words, state) in SPENT_AT.items():
            planned = option.get("cost", {}).get(what) or 0.0
            if not planned or STATES.index(repair.state) >= STATES.index(state):
                continue
            cost = work_cost(planned, vehicle.currency, ratio=ratio if repair.state == "found" else None)
            found.append(
                Expected(
                    what=f"{words}, {repair.code}", repair=repair.number, kind=kind,
                    low=cost.low.amount, likely=cost.likely.amount, high=cost.high.amount,
                )
            )  # fmt: skip
    return found + [_unchosen(repair) for repair in _without(vehicle, told)]


def _without(vehicle: Vehicle, told: set[int]) -> list[Repair]:
    """Repairs that are not made yet and for which no way was chosen."""
    early = STATES[: STATES.index("made")]
    return [each for each in vehicle.repairs.filter(state__in=early) if each.pk not in told]


def _unchosen(repair: Repair) -> Expected:
    drawn = Cut.objects.filter(repair=repair).exists()
    return Expected(
        what=f"{repair.code}, {'no way chosen' if drawn else 'nothing drawn'}",
        repair=repair.number,
        kind="steel",
    )
