"""The gates that cuts ask: what is looked at before the cut, what the rounds say before a later step; and what cuts have done to the metal."""

import json
from collections.abc import Iterable
from datetime import date
from hashlib import sha256

from django.db.models import Max, Prefetch

from yellow_sill.core.datum.compare import way_words
from yellow_sill.core.datum.walk import points_near
from yellow_sill.core.days import day_words
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.hold.condition import Opening, share_of_panel
from yellow_sill.core.outlines import touching
from yellow_sill.core.repairs.gate import (
    ASKED,
    Before,
    CheckRound,
    Gate,
    LookedBehind,
    Ready,
    before_cut,
    datum_gate,
    hold_gate,
    not_behind,
    ready_gate,
)
from yellow_sill.core.repairs.ribbon import STATES, BadMove
from yellow_sill.core.said import Said
from yellow_sill.web.datums.round_services import fit_of
from yellow_sill.web.datums.subjects import Subject
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import Piece, told
from yellow_sill.web.hold.services import Along, along, both_sides_of, cure_of, has_structure
from yellow_sill.web.hold.works import SheetOn, Work
from yellow_sill.web.repairs.models import Repair, RibbonStep
from yellow_sill.web.shells.models import Panel, Vehicle
from yellow_sill.web.survey.models import FarSide, Inspection

from .models import Cut, TransferMark
from .sheet_services import sheets_of


def far_sides(repair: Repair, day: date | None = None) -> list[tuple[Panel, FarSide | None, str]]:
    """Each panel that will be cut, with what was answered about its far side, and why that does not count for these cuts (empty where it does).

    Args: day: what happened after it does not count against an answer; None for all that is known.
    """
    panels = (
        Panel.objects.filter(cuts__repair=repair)
        .distinct()
        .select_related("far_side")
        .defer("outline", "holes")
    )
    found = []
    for panel in panels:
        answer = getattr(panel, "far_side", None)
        cuts = list(panel.cuts.filter(repair=repair).values_list("outline", flat=True))
        behind = (
            LookedBehind(
                answer=answer.answer, looked_on=answer.answered_on, whole=answer.whole, boxes=answer.boxes
            )
            if answer
            else None
        )
        found.append((panel, answer, not_behind(behind, cuts, _changed_behind(repair, panel, cuts, day))))
    return found


def _changed_behind(repair: Repair, panel: Panel, cuts: list, day: date | None) -> date | None:
    """The last day on which something was found, or another repair worked, where a repair cuts a panel."""
    found = list(panel.findings.values_list("pk", "outline"))
    cut_too = list(panel.cuts.exclude(repair=repair).values_list("repair_id", "outline"))
    there = [found[i][0] for i in touching(cuts, [outline for _, outline in found])]
    others = [cut_too[i][0] for i in touching(cuts, [outline for _, outline in cut_too])]
    looks = Inspection.objects.filter(finding__in=there).values_list("made_on", flat=True)
    steps = (
        RibbonStep.objects.filter(repair__in=others)
        .exclude(state=STATES[0])
        .values_list("made_on", flat=True)
    )
    return max((each for each in (*looks, *steps) if day is None or each <= day), default=None)


def require_far_sides(repair: Repair, to: str, day: date) -> None:
    """Nothing is cut before somebody has looked behind it: there, and since anything changed there.

    Raises: BadMove, naming the panels whose far-side question is open.
    """
    if to != "cut" or repair.state != "opened":
        return
    open_ones = [(panel.code, answer, why) for panel, answer, why in far_sides(repair, day) if why]
    if open_ones:
        names = ", ".join(code for code, _, _ in open_ones)
        why = (
            "; ".join(f"{code}: {why}" for code, answer, why in open_ones if answer)
            or "Nobody has answered yet"
        )
        raise BadMove(
            f"What is fixed behind {names}? {why}.",
            "state",
            "Answer on the panel's sheet; 'nothing there, looked with lamp' is an answer.",
        )


def box_of(cuts: Iterable[Cut]) -> dict[str, tuple[float, float]]:
    """The box round cuts along the shell's axes, as far as their views show them."""
    found: dict[str, list[float]] = {}
    for cut in cuts:
        plane = cut.panel.view.plane
        for axis, values in zip(plane.axes, zip(*plane.in_shell(cut.outline), strict=True), strict=True):
            found.setdefault(axis, []).extend(values)
    return {axis: (min(values), max(values)) for axis, values in found.items()}


def repair_subjects(vehicle: Vehicle) -> list[Subject]:
    """The open repairs, for rounds that are taken for one of them."""
    repairs = vehicle.repairs.exclude(state=STATES[-1]).prefetch_related(
        Prefetch("cuts", Cut.objects.without_drawings())
    )
    return [
        Subject(code=repair.code, title=repair.title, box=box_of(repair.cuts.all())) for repair in repairs
    ]


#: A repair is open metal from the cut until it is welded in: fitted and tacked, it carries little.
OUT = ("cut", "made", "fitted")


@by_revision(32, "repairs", "cut", "survey", "shells")
def repair_work(vehicle: Vehicle, day: date | None = None) -> Work:
    """What repairs have done to the metal, now or at the end of a day: pieces out, and findings whose rust went with them."""
    repairs = Repair.objects.filter(vehicle=vehicle)
    states = dict(repairs.values_list("number", "state"))
    if day is not None:
        steps = RibbonStep.objects.filter(repair__vehicle=vehicle, made_on__lte=day).values_list(
            "repair__number", "state"
        )
        states = dict.fromkeys(states, STATES[0]) | dict(steps)  # the last step of each stands
    begun = [number for number, state in states.items() if STATES.index(state) >= STATES.index("cut")]
    return Work(
        openings=tuple(
            opening for repair in repairs if states[repair.number] in OUT for opening in openings_of(repair)
        ),
        mended=frozenset(repairs.filter(number__in=begun).values_list("findings__number", flat=True)),
    )


@by_revision(4, "repairs", "cut", "survey", "shells")
def open_sheets(vehicle: Vehicle) -> list[SheetOn]:
    """The sheets of the repairs that are not signed off; none of a repair whose sheets lie behind one another in a ring."""
    found: list[SheetOn] = []
    for repair in Repair.objects.filter(vehicle=vehicle).exclude(state=STATES[-1]):
        try:
            sheets = sheets_of(repair)
        except CoreError:
            continue
        found += [
            SheetOn(
                repair=repair.number, code=repair.code, sheet=each.told.name, panel=each.cut.panel.code, state=each.told.state,
                since=each.told.since or repair.state_on, opening=opening_of(repair, each.cut),
            )
            for each in sheets
        ]  # fmt: skip
    return found


def pieces(vehicle: Vehicle) -> list[Piece]:
    """What a vehicle's cuts take out of its shell."""
    rows = Cut.objects.filter(repair__vehicle=vehicle).order_by("repair__number", "number")
    return [
        Piece(repair=number, view_id=view, outline=outline)
        for number, view, outline in rows.values_list("repair__number", "panel__view_id", "outline")
    ]


def openings_of(repair: Repair) -> list[Opening]:
    """The holes that a repair's cuts leave."""
    return [opening_of(repair, cut) for cut in repair.cuts.without_drawings()]


def opening_of(repair: Repair, cut: Cut) -> Opening:
    """The hole that a cut leaves."""
    return Opening(
        panel=cut.panel.code, plane=cut.panel.view.plane, outline=tuple((u, v) for u, v in cut.outline),
        share=share_of_panel(cut.area_mm2, cut.panel.outline), why=repair.code,
    )  # fmt: skip


def gates(repair: Repair, to: str, day: date) -> tuple[list[Ready], Gate | None] | None:
    """What is looked at before a repair reaches a state on a day, line by line, and the gate; None where nothing is asked."""
    if to == "cut" and repair.state == "opened":
        lines, hold = readiness(repair, day)
        return lines, ready_gate(lines, hold)
    gate = _round_gate(repair, to)
    return ([], gate) if gate else None


def _round_gate(repair: Repair, to: str) -> Gate | None:
    """What the rounds of the measuring room say before a repair reaches a state."""
    if to not in ASKED or STATES.index(to) != STATES.index(repair.state) + 1:
        return None
    points = list(repair.vehicle.datum_points.all())
    ids = [point.code for point in points]
    near = (
        set(
            points_near(
                ids,
                [point.nominal for point in points],
                box_of(repair.cuts.without_drawings()),
            )
        )
        if points
        else set()
    )
    rounds = []
    for each in repair.vehicle.rounds.filter(stage=ASKED[to], about__in=("", repair.code)):
        result = fit_of(each).result
        here = (
            [point for point in result.points if point.id in near and not point.holds_the_frame]
            if result
            else []
        )
        way = lambda point: Said(  # noqa: E731
            "{id} {off}", id=point.id, off=way_words([point.dx_mm, point.dy_mm, point.dz_mm])
        )
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
        return Gate(stage="hold", open=False, reason=error.message, round=None)
    return hold_gate(now.held.verdict, out.held.verdict, out.why, mend, both_sides_of(out.facts))


def readiness(repair: Repair, day: date) -> tuple[list[Ready], Gate | None]:
    """What is looked at before a repair's cut on a day, line by line, and what the hold says of it."""
    hold = _hold_gate(repair)
    looked = far_sides(repair, day)
    last = (
        repair.vehicle.rounds.filter(readings__isnull=False, taken_on__lte=day)
        .order_by("taken_on", "number")
        .last()
    )
    worked = RibbonStep.objects.filter(
        repair__vehicle=repair.vehicle, state__in=("cut", "welded"), made_on__lte=day
    ).aggregate(last=Max("made_on"))["last"]
    known = Before(
        far_sides={panel.code: answer.answer if answer else "" for panel, answer, _ in looked},
        not_looked={panel.code: why for panel, _, why in looked},
        listed={
            panel.code: panel.items.filter(kind__in=("behind", "salvage")).count() for panel, _, _ in looked
        },
        nothing_lost=nothing_lost(repair),
        marks=TransferMark.objects.filter(cut__repair=repair).count(),
        hold=hold,
        last_round=(last.number, last.taken_on) if last else None,
        since=max(filter(None, (repair.state_on, worked))),
        **{name: fact for say in told("facts") for name, fact in say(repair, day).items()},
    )
    return before_cut(known), hold


def _cuts_mark(repair: Repair) -> str:
    """What a repair's cuts are now, as one short mark: another when any of them moves."""
    cuts = list(repair.cuts.order_by("number").values_list("number", "panel__code", "outline"))
    return sha256(json.dumps(cuts).encode()).hexdigest()[:16]


def nothing_lost(repair: Repair) -> str:
    """Who said when that nothing goes with this repair's pieces, in words; empty where nobody did, or the cuts are others since."""
    said = repair.nothing_lost
    if not said or said.get("cuts") != _cuts_mark(repair):
        return ""
    return f"{said['by']}, {day_words(date.fromisoformat(said['on']))}"


def say_nothing_lost(repair: Repair, *, undo: bool, by: str, today: date) -> None:
    """A person says, or takes back, that nothing goes with the pieces as they are cut now."""
    repair.nothing_lost = {} if undo else {"on": today.isoformat(), "by": by, "cuts": _cuts_mark(repair)}
    repair.save(update_fields=["nothing_lost"])


def hold_along(repair: Repair) -> list[Along]:
    """The verdict as the shell stands, with this repair's pieces out, and with the new ones in. Raises: BadField."""
    return along(
        repair.vehicle,
        repair.code,
        openings_of(repair),
        list(repair.findings.values_list("number", flat=True)),
    )


def shown_along(repair: Repair) -> list[Along]:
    """The same for a page: nothing where nothing can be told."""
    try:
        return hold_along(repair) if has_structure(repair.vehicle) else []
    except BadField:
        return []
