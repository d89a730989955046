"""A repair on its way along the ribbon: gates before a step, what is looked at before the cut, what its work has done to the metal."""

from collections.abc import Iterable
from datetime import date
from functools import lru_cache

import numpy as np
from django.db import transaction
from django.db.models import Count, Max, Prefetch

from yellow_sill.core.datum.compare import way_words
from yellow_sill.core.datum.walk import STAGES, points_near
from yellow_sill.core.errors import BadField
from yellow_sill.core.hold.condition import Opening, share_of_panel
from yellow_sill.core.repair.gate import ASKED, CheckRound, Gate, Ready, before_cut, datum_gate, hold_gate, ready_gate
from yellow_sill.core.repair.ribbon import STATES, BadMove, Step, check_move
from yellow_sill.core.weld.cautions import HOT_WORK
from yellow_sill.web.datums.round_services import fit_of
from yellow_sill.web.datums.subjects import Subject
from yellow_sill.web.frame.models import ChangedMeanwhile
from yellow_sill.web.hold.services import Along, along, both_sides_of, cure_of, has_structure
from yellow_sill.web.hold.works import Work
from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.survey.models import FarSide
from yellow_sill.web.survey.panel_services import unanswered

from .models import Cut, Repair, RibbonStep, TransferMark


def far_sides(repair: Repair) -> list[tuple[Panel, FarSide | None]]:
    """Each panel that will be cut, with what was answered about its far side."""
    panels = Panel.objects.filter(cuts__repair=repair).distinct().select_related("far_side").defer("outline", "holes")
    return [(panel, getattr(panel, "far_side", None)) for panel in panels]


def require_far_sides(repair: Repair) -> None:
    """Nothing is cut before somebody has looked behind it.

    Raises: BadMove, naming the panels whose far-side question is open.
    """
    open_ones = unanswered(Panel.objects.filter(cuts__repair=repair).distinct())
    if open_ones:
        names = ", ".join(panel.code for panel in open_ones)
        raise BadMove(
            f"What is fixed behind {names}? Nobody has answered yet.", "state", "Answer on the panel's sheet; 'nothing there, looked with lamp' is an answer."
        )


def box_of(cuts: Iterable[Cut]) -> dict[str, tuple[float, float]]:
    """The box round cuts along the shell's axes, as far as their views show them."""
    found: dict[str, list[float]] = {}
    for cut in cuts:
        view = cut.panel.view
        for axis, values in zip((view.u_axis, view.v_axis), zip(*cut.outline, strict=True), strict=True):
            sign = -1 if axis.startswith("-") else 1
            found.setdefault(axis[-1], []).extend(sign * value for value in values)
    return {axis: (min(values), max(values)) for axis, values in found.items()}


def repair_subjects(vehicle: Vehicle) -> list[Subject]:
    """The open repairs, for rounds that are taken for one of them."""
    repairs = vehicle.repairs.exclude(state=STATES[-1]).prefetch_related(Prefetch("cuts", Cut.objects.without_drawings()))
    return [Subject(code=repair.code, title=repair.title, box=box_of(repair.cuts.all())) for repair in repairs]


#: A repair is open metal from the cut until it is welded in: fitted and tacked, it carries little.
OUT = ("cut", "made", "fitted")
#: What must be ticked of the hot-work list before sparks fly.
MUST_TICK = ("watch", "extinguisher")


def repair_work(vehicle: Vehicle, day: date | None = None) -> Work:
    """What repairs have done to the metal, now or at the end of a day: pieces out, and findings whose rust went with them."""
    stamps = (
        vehicle.repairs.aggregate(count=Count("pk"), last=Max("changed_at")),
        Cut.objects.filter(repair__vehicle=vehicle).aggregate(count=Count("pk"), last=Max("changed_at")),
    )
    return _repair_work(vehicle.pk, day, *(value for stamp in stamps for value in stamp.values()))


@lru_cache(maxsize=32)
def _repair_work(vehicle_id: int, day: date | None, *_stamp) -> Work:
    repairs = Repair.objects.filter(vehicle_id=vehicle_id)
    states = dict(repairs.values_list("number", "state"))
    if day is not None:
        steps = RibbonStep.objects.filter(repair__vehicle_id=vehicle_id, made_on__lte=day).values_list("repair__number", "state")
        states = dict.fromkeys(states, STATES[0]) | dict(steps)  # the last step of each stands
    begun = [number for number, state in states.items() if STATES.index(state) >= STATES.index("cut")]
    return Work(
        openings=tuple(opening for repair in repairs if states[repair.number] in OUT for opening in openings_of(repair)),
        mended=frozenset(repairs.filter(number__in=begun).values_list("findings__number", flat=True)),
    )


def openings_of(repair: Repair) -> list[Opening]:
    """The holes that a repair's cuts leave."""
    return [
        Opening(
            panel=cut.panel.code, u_axis=cut.panel.view.u_axis, v_axis=cut.panel.view.v_axis, outline=tuple((u, v) for u, v in cut.outline),
            share=share_of_panel(cut.area_mm2, cut.panel.outline), why=repair.code,
        )
        for cut in repair.cuts.without_drawings()
    ]  # fmt: skip


def gate_of(repair: Repair, to: str) -> Gate | None:
    """What the measuring room, or before a cut the hold, says before a repair reaches a state; None where nothing is asked."""
    return asked_before(repair, to)[1]


def asked_before(repair: Repair, to: str) -> tuple[list[Ready], Gate | None]:
    """What is looked at before a repair reaches a state, line by line, and the gate; neither where nothing is asked."""
    if to == "cut" and repair.state == "opened":
        lines, hold = readiness(repair)
        return lines, ready_gate(lines, hold)
    return [], _round_gate(repair, to)


def _round_gate(repair: Repair, to: str) -> Gate | None:
    """What the rounds of the measuring room say before a repair reaches a state."""
    if to not in ASKED or STATES.index(to) != STATES.index(repair.state) + 1:
        return None
    points = list(repair.vehicle.datum_points.all())
    ids = [point.code for point in points]
    near = set(points_near(ids, np.array([point.nominal for point in points]).reshape(-1, 3), box_of(repair.cuts.without_drawings()))) if points else set()
    rounds = []
    for each in repair.vehicle.rounds.filter(stage=ASKED[to], about__in=("", repair.code)):
        result = fit_of(each).result
        here = [point for point in result.points if point.id in near and not point.holds_the_frame] if result else []
        way = lambda point: f"{point.id} {way_words(np.array([point.dx_mm, point.dy_mm, point.dz_mm]))}"  # noqa: E731
        rounds.append(
            CheckRound(
                number=each.number, stage=each.stage, taken_on=each.taken_on, told=len(here), out=tuple(way(p) for p in here if p.verdict == "out"),
                unsure=tuple(p.id for p in here if p.verdict == "cannot tell yet"),
            )
        )  # fmt: skip
    return datum_gate(to, rounds, repair.state_on)


def _hold_gate(repair: Repair) -> Gate | None:
    """The hold as it stands and with this repair's pieces out; None where nobody can tell."""
    if not has_structure(repair.vehicle):
        return None
    try:
        now, out, _ = hold_along(repair)
        mend = cure_of(out.facts) if out.held.verdict == "LOOSE" else ""
    except BadField as error:
        return Gate(stage="hold", open=False, reason=f"{error.what} {error.mend}", round=None)
    return hold_gate(now.held.verdict, out.held.verdict, out.why, mend, both_sides_of(out.facts))


def readiness(repair: Repair) -> tuple[list[Ready], Gate | None]:
    """What is looked at before a repair's cut, line by line, and what the hold says of it."""
    hold = _hold_gate(repair)
    panels = far_sides(repair)
    last = repair.vehicle.rounds.filter(readings__isnull=False).order_by("taken_on", "number").last()
    ticked = {code for cut in repair.cuts.select_related("weld") if hasattr(cut, "weld") for code in cut.weld.cautions}
    missing = [caution.head.lower() for caution in HOT_WORK if caution.key in MUST_TICK and caution.key not in ticked]
    lines = before_cut(
        {panel.code: answer.answer if answer else "" for panel, answer in panels}, {panel.code: panel.items.count() for panel, _ in panels},
        TransferMark.objects.filter(cut__repair=repair).count(), hold, (last.number, last.taken_on) if last else None, missing,
    )  # fmt: skip
    return lines, hold


def hold_along(repair: Repair) -> list[Along]:
    """The verdict as the shell stands, with this repair's pieces out, and with the new ones in. Raises: BadField."""
    return along(repair.vehicle, repair.code, openings_of(repair), list(repair.findings.values_list("number", flat=True)))


def shown_along(repair: Repair) -> list[Along]:
    """The same for a page: nothing where nothing can be told."""
    try:
        return hold_along(repair) if has_structure(repair.vehicle) else []
    except BadField:
        return []


def require_gate(repair: Repair, to: str, despite: str) -> str:
    """Nothing goes on out of tolerance, unchecked or loose, unless somebody writes why.

    Returns: the reason to keep, empty where none was needed.
    Raises: BadMove with the gate's reason.
    """
    gate = gate_of(repair, to)
    if gate is None or gate.open:
        return ""
    if not despite.strip():
        cures = {"hold": "Fit braces on the Hold page", "before": "See to it"}
        cure = cures.get(gate.stage) or f"Take a round at stage '{STAGES[gate.stage].lower()}' for {repair.code}"
        raise BadMove(gate.reason, "despite", f"{cure}, or write why it goes on all the same.")
    return despite.strip()


@transaction.atomic
def move_on_ribbon(repair: Repair, to: str, *, version: int | None, made_on: date, note: str, by: str, today: date, despite: str = "") -> RibbonStep:
    """Record one step, forward or back; ``despite`` is why it goes on although the gate is shut.

    Raises: ChangedMeanwhile, BadMove.
    """
    stored = Repair.objects.get(pk=repair.pk)
    if version is not None and stored.version != version:
        raise ChangedMeanwhile(stored)
    last = repair.steps.last()
    if to == "cut" and last.state == "opened":
        require_far_sides(repair)
    check_move(Step(state=last.state, made_on=last.made_on, by=last.by), to, made_on, note, today)
    kept = require_gate(stored, to, despite)
    repair.save_as(version, by, state=to, state_on=made_on)
    return RibbonStep.objects.create(repair=repair, state=to, made_on=made_on, by=by, note=note.strip(), despite=kept)


def ribbon(repair: Repair, steps: Iterable[RibbonStep]) -> list[dict]:
    """The ribbon as shown: each state with the last step that reached it, and whether it is reached now."""
    latest = {step.state: step for step in steps}
    here = STATES.index(repair.state)
    return [
        {"state": state, "reached": place <= here, "is_now": place == here, "step": latest.get(state) if place <= here else None}
        for place, state in enumerate(STATES)
    ]
