"""The steps of a vehicle's work: made from its repairs and sheets, and what a person says of them."""

from collections.abc import Mapping, Sequence
from datetime import date, datetime, time
from typing import Any

from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.order.asked import loop_of
from yellow_sill.core.order.steps import StepsTold, made_steps
from yellow_sill.core.order.work import MadeStep, StepsRequest, comes
from yellow_sill.core.protect.products import hours_at
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.core.repairs.sheets import SheetIs
from yellow_sill.core.said import Listed, Quoted, Said
from yellow_sill.web.cut.gate_services import shown_along
from yellow_sill.web.cut.hours import pace_of, planned_hours
from yellow_sill.web.cut.sheet_services import Sheet, sheets_of
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.hold.order_services import removal_of
from yellow_sill.web.parts.need_services import needs_of, state_of, taken
from yellow_sill.web.protect.closing_services import closing_sheet
from yellow_sill.web.protect.product_services import products_at_hand, warmth_of
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.survey.listing import forecast

from .models import StepWord
from .slot_services import limits_of

#: The rooms that the steps are made from, whose changes make them anew.
READ = (
    "repairs",
    "cut",
    "patch",
    "survey",
    "shells",
    "parts",
    "protect",
    "hold",
    "logbook",
    "order",
    "weld",
    "datums",
)
#: Which kinds of product a step puts on: the first of them that is at hand tells its cure.
PUTS_ON = {
    "treat": ("converter",),
    "prime": ("epoxy primer", "weld-through primer", "etch primer"),
    "seal": ("seam sealer",),
}
#: What is cut from below is worked on with the shell so; the view that shows it from there.
UNDER, FROM_BELOW = "stands", "underside"
#: How warm the garage is taken to be where nobody has said.
USUAL_C = 15.0
#: Where a quote comes from if others do the work on what is brought to them; so long it is away at most, h.
OUTSIDE, MOST_AWAY_H = ("made by others", "refurbished"), 2000.0
#: A need in one of these states holds nothing up any more.
THERE = ("checked", "fitted", "returned", "sold")


@by_revision(4, *READ)
def steps_of(vehicle: Vehicle, today: date) -> StepsTold:
    """The open steps of a vehicle. Raises: CoreError."""
    return made_steps(StepsRequest.read(_asked(vehicle, today)))


def _waits(vehicle: Vehicle, today: date) -> dict[int, list[dict[str, Any]]]:
    """What each repair waits for, by its number; others' work that is no repair's under 0."""
    waits: dict[int, list[dict[str, Any]]] = {}
    for need in needs_of(vehicle):
        step = state_of(need)
        state = step.state if step else "wanted"
        if state in THERE:
            continue
        quote = taken(need) or min(need.quotes.all(), key=lambda each: each.days, default=None)
        days = quote.days if quote else None
        there, late, ordered = comes(
            state, step.made_on if step else today, days, quote.late_days if quote else None, today
        )  # fmt: skip
        outside = bool(quote and quote.source in OUTSIDE)
        if need.repair is None and not outside:
            continue
        waits.setdefault(need.repair.number if need.repair else 0, []).append(
            {
                "name": need.name,
                "number": need.number,
                "there": _morning(there),
                "there_late": _morning(late),
                "ordered": ordered,
                "here": state == "arrived",
                "outside": outside,
                "away_h": None if days is None else min(MOST_AWAY_H, 24.0 * days),
            }
        )
    return waits


def _asked(vehicle: Vehicle, today: date) -> dict[str, Any]:
    planned, waits = planned_hours(vehicle), _waits(vehicle, today)
    open_ = [repair for repair in vehicle.repairs.all() if repair.state != STATES[-1]]
    grows = (1.0, 1.0)
    if any(repair.state == STATES[0] for repair in open_):
        growth = forecast(vehicle).ratio
        grows = (max(1.0, growth.p50), max(1.0, growth.p50, growth.p80))
    words = {word.key: word.said for word in vehicle.step_words.all()}
    stood = {
        repair.number: words[key].get("position")
        for repair in open_
        if (key := whole_of(repair.number)) in words
    }
    return {
        "repairs": [_repair(repair, grows, planned.get(repair.number, {}), waits.get(repair.number, []), stood.get(repair.number)) for repair in open_],
        "outside": waits.get(0, []),
        "removal": _removal(vehicle),
        "pace": {kind: {"factor": each.shrunk, "jobs": each.jobs} for kind, each in pace_of(vehicle).items()},
        "changed": [{"key": key, **said} for key, said in words.items()],
        "spent": spent_on(vehicle),
        "cure_h": _cures(vehicle),
        "longest_bare_h": limits_of(vehicle).longest_bare_h,
    }  # fmt: skip


def _removal(vehicle: Vehicle) -> list[dict[str, Any]]:
    """The accepted order of removal; nothing where nothing can be told of it."""
    try:
        return removal_of(vehicle)
    except CoreError:
        return []


def spent_on(vehicle: Vehicle) -> dict[str, int]:
    """Minutes that were worked on each step."""
    found: dict[str, int] = {}
    for key, minutes in vehicle.work_times.exclude(minutes=None).values_list("key", "minutes"):
        found[key] = found.get(key, 0) + minutes
    return found


def _morning(day: date | None) -> datetime | None:
    """What comes on a day is there in the morning after: the carrier rings when it likes."""
    return datetime.combine(day, time()) if day else None


def _repair(
    repair: Repair,
    grows: tuple[float, float],
    minutes: Mapping[str, float],
    waits: list[dict[str, Any]],
    stood: str | None,
) -> dict[str, Any]:
    try:
        here = sheets_of(repair)
        closes = closing_sheet(repair) if repair.state in STATES[: STATES.index("welded")] else ""
    except CoreError:
        here, closes = [], ""
    sheets: list[SheetIs] = [each.told for each in here]
    along = shown_along(repair) if repair.state in ("found", "opened") and sheets else []
    share = {kind: value / len(sheets) for kind, value in minutes.items()} if sheets else {}
    return {
        "number": repair.number, "state": repair.state, "waits": waits,
        "sheets": [{"name": each.name, "state": each.state, "behind": list(each.behind), "closes": each.name == closes, "minutes": share} for each in sheets],
        "grows": grows[0] if repair.state == STATES[0] else 1.0, "grows_late": grows[1] if repair.state == STATES[0] else 1.0,
        "position": _stands(here) if stood is None else stood, "loose": len(along) > 1 and along[1].held.verdict == "LOOSE",
    }  # fmt: skip


def _stands(sheets: Sequence[Sheet]) -> str:
    """How the shell must stand for a repair, by its drawing: what is cut from below is reached on stands."""
    return UNDER if sheets and all(each.cut.panel.view.name == FROM_BELOW for each in sheets) else ""


def _cures(vehicle: Vehicle) -> dict[str, float]:
    """Hours that what is put on cures, as warm as the garage was told to be last."""
    warmth = warmth_of(vehicle)
    at_c = warmth[-1]["at_c"] if warmth else USUAL_C
    found = {}
    products = products_at_hand(vehicle)
    for what, kinds in PUTS_ON.items():
        product = next((each for kind in kinds for each in products if each.kind == kind), None)
        if product:
            found[what] = min(2000.0, round(hours_at(product.cured, max(at_c, product.least_c)), 1))
    return found


def panels_of(vehicle: Vehicle) -> list[tuple[str, str]]:
    """Every panel of the shell, its code and what it is called, as a step's place is chosen from them."""
    rows = Panel.objects.filter(view__vehicle=vehicle).order_by("code").only("code", "name", "named_by_hand")
    return list({panel.code: f"{panel.code} {panel.name}" for panel in rows}.items())


def whole_of(repair: int) -> str:
    """The key under which it is said how the shell stands for all of a repair."""
    return f"R{repair}:*"


def word_on(vehicle: Vehicle, key: str) -> dict[str, Any]:
    """What was said of a step."""
    stored = StepWord.objects.filter(vehicle=vehicle, key=key).first()
    return dict(stored.said) if stored else {}


@one_change
def say_of_step(vehicle: Vehicle, key: str, said: Mapping[str, Any], *, today: date, by: str) -> None:
    """Put something onto what a person says of a step; None takes a word away.

    Raises: BadField: a tie of the trade without a reason, ties in a ring.
    """
    stored = StepWord.objects.filter(vehicle=vehicle, key=key).first()
    values = {
        name: value
        for name, value in {**(stored.said if stored else {}), **said}.items()
        if value is not None
    }
    if stored is None:
        StepWord.objects.create(vehicle=vehicle, key=key, said=values, changed_by=by)
    elif values:
        stored.set_fields(by, said=values)
    else:
        stored.delete()
    told = made_steps(StepsRequest.read(_asked(vehicle, today)))
    every: list[MadeStep] = [*told.steps, *told.unplanned]
    if loop := loop_of([step.plain() for step in every]):
        names = {step.key: step.name for step in every}
        raise BadField(
            Said("These wait for one another in a ring: {names}.", names=Listed(tuple(Quoted(names[key]) for key in loop))),
            "after",
            "Untie one of them.",
        )  # fmt: skip


@one_change
def add_step(vehicle: Vehicle, said: Mapping[str, Any], *, today: date, by: str) -> str:
    """A step of a person's own; its key. Raises: BadField."""
    numbers = [
        int(key.removeprefix("own-"))
        for key in StepWord.history.filter(vehicle_id=vehicle.pk, key__startswith="own-").values_list(
            "key", flat=True
        )
        if key.removeprefix("own-").isdigit()
    ]
    key = f"own-{max(numbers, default=0) + 1}"
    say_of_step(vehicle, key, {"own": True, **said}, today=today, by=by)
    return key


@one_change
def drop_step(vehicle: Vehicle, key: str) -> None:
    """Take away a step of a person's own, or all that was said of a made one."""
    StepWord.objects.filter(vehicle=vehicle, key=key).delete()
