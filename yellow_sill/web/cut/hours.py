"""Hours as they were planned, and as the stages have logged them."""

from collections.abc import Container, Iterable

from yellow_sill.core.cut.rates import Logged, Rates, cut_minutes, logged_factor
from yellow_sill.core.errors import BadField
from yellow_sill.core.outlines import perimeter_of
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import told
from yellow_sill.web.repairs.models import PlanRules, Repair
from yellow_sill.web.repairs.rule_services import keep_rules, rules_of
from yellow_sill.web.shells.models import Vehicle

from .models import Cut, PanelChoice

#: A kind of work is done once the repair has reached this state.
DONE_AT = {
    "cut": "cut",
    "make": "made",
    "fit": "fitted",
    "weld": "welded",
    "dress": "dressed",
    "protect": "protected",
}


def _minutes(choice: PanelChoice, what: str) -> dict[str, float]:
    """A chosen way's minutes by kind, as told (``minutes``) or by the rates alone (``thumb``, which older choices lack)."""
    option = next((option for option in choice.options if option["name"] == choice.chosen), {})
    return option.get(what) or option.get("minutes") or {}


def _by_cuts(vehicle: Vehicle, chosen: Container[int]) -> Iterable[tuple[Repair, dict[str, float]]]:
    """What the rates alone say of each cut of repairs for which no way was chosen."""
    rates = Rates(**rules_of(vehicle).rates)
    for cut in (
        Cut.objects.filter(repair__vehicle=vehicle).exclude(repair__in=chosen).select_related("repair")
    ):
        yield (
            cut.repair,
            cut_minutes(
                rates,
                weld_mm=cut.weld_length_mm,
                around_mm=perimeter_of(cut.outline),
                area_mm2=cut.area_mm2,
            ),
        )


def _worked_out(vehicle: Vehicle, what: str) -> dict[Repair, dict[str, float]]:
    """Minutes by repair and kind: of the ways that were chosen, or by the rates from the cuts of a repair without one."""
    worked_out: dict[Repair, dict[str, float]] = {}
    ways = [
        (choice.repair, _minutes(choice, what))
        for choice in PanelChoice.objects.filter(repair__vehicle=vehicle).select_related("repair")
    ]
    for repair, minutes in (*ways, *_by_cuts(vehicle, {repair.pk for repair, _ in ways})):
        kinds = worked_out.setdefault(repair, {})
        for kind, value in minutes.items():
            kinds[kind] = kinds.get(kind, 0.0) + value
    return worked_out


@by_revision(2, "cut", "repairs", "shells")
def planned_hours(vehicle: Vehicle) -> dict[int, dict[str, float]]:
    """What was planned by repair's number and kind of work: as told when its ways were chosen; without a choice what the rates say of its cuts."""
    return {repair.number: minutes for repair, minutes in _worked_out(vehicle, "minutes").items()}


def planned_done(vehicle: Vehicle) -> dict[tuple[int, str], float]:
    """What was planned of the work that is done, by repair's number and kind."""
    return _done(vehicle, "minutes")


def _done(vehicle: Vehicle, what: str) -> dict[tuple[int, str], float]:
    """Minutes of the kinds of work that each repair is past. Args: what: as ``_minutes``."""
    return {
        (repair.number, kind): minutes.get(kind, 0.0)
        for repair, minutes in _worked_out(vehicle, what).items()
        for kind, state in DONE_AT.items() if STATES.index(repair.state) >= STATES.index(state)
    }  # fmt: skip


@by_revision(4, "cut", "repairs", "logbook", "survey", "shells")
def logged_hours(vehicle: Vehicle) -> dict[str, Logged]:
    """By kind of work, what was logged against what the rates gave, over the repairs where that work is done."""
    done = _done(vehicle, "thumb")
    if not done:
        return {}
    spent: dict[tuple[int, str], float] = {}
    for say in told("hours"):
        for number, kind, minutes in say(vehicle):
            spent[number, kind] = spent.get((number, kind), 0.0) + minutes
    factors = {
        kind: logged_factor((planned, spent.get(key, 0.0)) for key, planned in done.items() if key[1] == kind)
        for kind in DONE_AT
    }
    return {kind: logged for kind, logged in factors.items() if logged}


def pace_of(vehicle: Vehicle) -> dict[str, Logged]:
    """The own pace by kind of work, of the kinds for which somebody has said that it is reckoned with."""
    said = rules_of(vehicle).own_pace
    return {kind: logged for kind, logged in logged_hours(vehicle).items() if said.get(kind)}


@one_change
def say_pace(vehicle: Vehicle, kind: str, counts: bool, *, by: str) -> None:
    """Say whether estimates are reckoned with the own pace of a kind of work. Raises: BadField: no such kind."""
    if kind not in DONE_AT:
        raise BadField("There is no pace of that kind.", "kind", "Reload the page.")
    stored = PlanRules.objects.filter(vehicle=vehicle).first()
    said = {**(stored.own_pace if stored else {}), kind: counts}
    keep_rules(vehicle, {"own_pace": said}, version=stored.version if stored else None, by=by)
