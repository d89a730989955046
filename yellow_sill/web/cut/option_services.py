"""A panel's ways to be renewed: put together from survey, drawing, log and hold; one chosen, with its reason, into the record."""

from collections.abc import Callable, Mapping
from dataclasses import asdict
from datetime import date
from functools import lru_cache
from itertools import count
from typing import Any

from yellow_sill.core.cut.asked import WORTH_TURNING_PCT
from yellow_sill.core.cut.options import NAMES, cut_options, with_hold
from yellow_sill.core.cut.plans import MOST_OWN, Option, Options, OptionsRequest
from yellow_sill.core.errors import BadField
from yellow_sill.core.geometry import bounds_of, middle_of
from yellow_sill.core.hold.condition import Opening, share_of_panel
from yellow_sill.core.outlines import area_of, touch
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.stages import Lack
from yellow_sill.web.hold.services import has_structure, verdicts_out
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.rule_services import rules_of
from yellow_sill.web.shells.models import Panel, Vehicle

from .around_services import around_of, seams, spot_request, swages
from .hours import pace_of
from .layer_services import Stack
from .models import OwnPlan, PanelChoice
from .services import checked_with, cuts_of, drafted
from .stretch_services import meets_of

#: Until then a repair still waits for the panel it is made from.
BEFORE_MADE = STATES[: STATES.index("made")]
#: What the page says that a choice keeps, so that its ways can be looked at again as they were priced.
PRICED = ("whole", "part", "prices", "weights")


def options_of(repair: Repair, stack: Stack, told: Mapping[str, Any]) -> Options:
    """The ways to renew a panel of a repair, and what lies behind it.

    Args: told: what the page says of prices, availability and weights, as ``OptionsRequest`` takes it.
    Raises: BadField, BadOutline.
    """
    panel, vehicle = stack.front, repair.vehicle
    request = _sheet(stack, panel) | {
        "behind": [{"name": each.code} | _sheet(stack, each) for each in stack.behind], "seams": seams(panel), "margin_mm": repair.margin_mm,
        "corner_radius_mm": repair.corner_radius_mm, "web_mm": repair.web_mm, "step_mm": rules_of(vehicle).step_mm, "style": repair.style,
        "worth_turning_pct": WORTH_TURNING_PCT, "currency": vehicle.currency,
        "own": [{"name": own.name, "outlines": own.outlines} for own in repair.own_plans.filter(panel=panel)],
        "logged": {kind: logged.model_dump() for kind, logged in pace_of(vehicle).items()},
    } | dict(told)  # fmt: skip
    asked = OptionsRequest.read(request)
    options = _worked_out(asked.model_dump_json())
    if not has_structure(vehicle):
        return options
    return with_hold(
        asked,
        options,
        verdicts_out(
            vehicle,
            repair.code,
            {option.name: _openings(repair, stack, option) for option in options.options},
        ),
    )


@lru_cache(maxsize=32)
def _worked_out(asked: str) -> Options:
    """Ways are looked at again and again, chosen and looked back at: the same question is worked out once. Raises: CoreError."""
    return cut_options(OptionsRequest.model_validate_json(asked))


def _sheet(stack: Stack, panel: Panel) -> dict[str, Any]:
    """One sheet as the core takes it."""
    spots = spot_request(panel)
    return {
        "panel": {"outline": panel.outline, "thickness_mm": panel.thickness_mm}, "findings": [each.model_dump() for each in stack.cut_findings(panel)],
        "stiff": swages(panel), "rows": [row.model_dump() for row in spots.rows] if spots else [], "meets": meets_of(panel),
        "around": around_of(panel).model_dump(),
    }  # fmt: skip


def _openings(repair: Repair, stack: Stack, option: Option) -> list[Opening]:
    """The holes that a plan leaves in every sheet."""
    inner = {each.name: each.outlines for each in option.inner}
    return [
        Opening(
            panel=panel.code, plane=panel.view.plane, outline=tuple((u, v) for u, v in outline),
            share=share_of_panel(area_of(outline), panel.outline), why=repair.code,
        )
        for panel in stack.panels
        for outline in (option.outlines if panel == stack.front else inner[panel.code])
    ]  # fmt: skip


def own_plan(repair: Repair, panel: Panel, name: str, *, by: str) -> OwnPlan:
    """Keep the cuts of a panel, as they are drawn now, as a plan of the person's own, to be compared with the others.

    Raises: BadField: no name, one that is taken, nothing drawn, too many.
    """
    name, outlines = name.strip()[:60], [cut.outline for cut in repair.cuts.filter(panel=panel)]
    if not name:
        raise BadField("Give your plan a name.", "own_name", "Two words will do.")
    if (
        name.lower() in {*NAMES, *(words.lower() for words in NAMES.values())}
        or repair.own_plans.filter(panel=panel, name=name).exists()
    ):
        raise BadField(f"There is a plan called {name} already.", "own_name", "Give it another name.")
    if not outlines:
        raise BadField(f"Nothing is drawn on {panel.code} yet.", "own_name", "Draw its cut first.")
    if repair.own_plans.filter(panel=panel).count() >= MOST_OWN:
        raise BadField(
            f"{MOST_OWN} plans of your own are compared at most.", "own_name", "Take one out first."
        )
    return OwnPlan.objects.create(repair=repair, panel=panel, name=name, outlines=outlines, changed_by=by)


@one_change
def choose_option(
    repair: Repair,
    stack: Stack,
    name: str,
    told: Mapping[str, Any],
    *,
    why: str,
    version: int | None,
    by: str,
    today: date,
) -> PanelChoice:
    """Write down which way a panel is renewed and why; the other ways are kept beside it, and the repair's cuts follow while nothing is cut.

    Raises: ChangedMeanwhile; BadField: no such plan, one that cannot be done, no reason, a repair that is cut already.
    """
    panel = stack.front
    options = options_of(repair, stack, told)
    chosen = next((option for option in options.options if option.name == name), None)
    if chosen is None or not chosen.possible:
        raise BadField(
            f"{chosen.words}: {chosen.why_not}" if chosen else "There is no such plan.",
            "name",
            "Choose one that can be done.",
        )
    if not why.strip():
        raise BadField("Write in a few words why this way.", "why", "The next restorer reads it.")
    if repair.state not in ("found", "opened"):
        raise BadField(
            f"{repair.code} is {repair.state} already: its cuts stand.",
            "name",
            "Go back on the ribbon first, with a reason.",
        )
    kept = {
        "chosen": name, "words": chosen.words, "why": why.strip()[:300], "tips": options.tips, "turns": options.turns, "decided_on": today,
        "priced": {name: told[name] for name in PRICED if name in told},
        "options": [asdict(option) | {"outlines": [], "corners": [], "inner": []} for option in options.options],
    }  # fmt: skip
    store = _cut_as(repair, stack, chosen, by)
    stored = PanelChoice.objects.filter(repair=repair, panel=panel).first()
    if stored is None:
        stored = PanelChoice.objects.create(repair=repair, panel=panel, changed_by=by, **kept)
    else:
        stored.save_as(version, by, **kept)
    store()
    return stored


def _cut_as(repair: Repair, stack: Stack, option: Option, by: str) -> Callable[[], None]:
    """Make the cuts of a panel and of what lies behind it those of a plan: what does so. Patterns and weld plans of the old ones go with them."""
    stay = [cut for cut in cuts_of(repair) if cut.panel not in stack.panels]
    taken = {cut.number for cut in stay}
    drafts = []
    free = (number for number in count(1) if number not in taken)
    inner = {each.name: each for each in option.inner}
    for panel in stack.panels:
        plan = option if panel == stack.front else inner[panel.code]
        for corners, outline in zip(plan.corners, plan.outlines, strict=False):
            held = [
                finding for finding in stack.findings.get(panel.pk, []) if touch(outline, finding.outline)
            ]
            drafts.append(drafted(repair, next(free), panel, corners, outline, held, by=by))
    checked = checked_with(repair, drafts, stay)

    def store() -> None:
        repair.cuts.filter(panel__in=stack.panels).delete()
        checked()

    return store


def to_buy(vehicle: Vehicle) -> list[Lack]:
    """The panels that chosen ways are made from, whole ones and part panels, of repairs for which nothing is made yet."""
    choices = PanelChoice.objects.filter(
        repair__vehicle=vehicle, chosen__in=("part", "whole"), repair__state__in=BEFORE_MADE
    )
    return [
        Lack(
            key=f"way-{each.pk}", name=f"{each.panel.name}, {NAMES[each.chosen].lower()}"[:80], why=f"chosen for {each.repair.code}",
            view=each.panel.view, at=middle_of(bounds_of(each.panel.outline)), repair=each.repair,
        )
        for each in choices.select_related("repair", "panel__view")
    ]  # fmt: skip
