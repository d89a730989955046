"""The weld of a cut: starting setting, order of the tacks, the plate's heat at any step."""

from collections.abc import Mapping
from datetime import date, datetime
from functools import lru_cache
from typing import Any

from yellow_sill.core.calc import plain
from yellow_sill.core.cut.joints import JointChoice, JointRequest, joint_choice, place_of_joint
from yellow_sill.core.errors import BadField, CoreError
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.core.said import first_low
from yellow_sill.core.weld.cautions import HOT_WORK
from yellow_sill.core.weld.heat import (
    HAND_WARM_C,
    STANDS_C,
    TEMPER_C,
    Isotherm,
    Plate,
    isotherms,
    peak_k,
    reached_mm,
)
from yellow_sill.core.weld.island import IslandRequest, edged, field_after, rings_above
from yellow_sill.core.weld.progress import pace_s
from yellow_sill.core.weld.seam import seams_of
from yellow_sill.core.weld.settings import StartingSetting, starting_setting
from yellow_sill.core.weld.tacks import MOVE_S, TACK_S, TackRequest, tack_order
from yellow_sill.web.cut.layer_services import holes_in
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.stretch_services import paths_said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.patch.models import Patch
from yellow_sill.web.patch.services import developed_as_stored
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.rule_services import told_rules

from .models import WeldPlan

#: The board shows the plate this long after a tack ends: the last tack is just losing its blue.
SHOWN_AFTER_S = 1.2


def weld_of(cut: Cut) -> WeldPlan:
    """The stored weld plan of a cut; unsaved, worked out with usual settings, where nobody has stored one yet. Raises: CoreError."""
    try:
        return cut.weld
    except WeldPlan.DoesNotExist:
        weld = WeldPlan(cut=cut, version=0)
        weld.tack_plans = tacks_of(weld, edges=False)
        return weld


def known_of_joint(cut: Cut) -> dict[str, Any]:
    """What the drawing tells of the place of a cut's joint: a box is closed by any sheet with another behind it, and the skin is seen."""
    panel = cut.panel
    deeper = panel.view.panels.filter(layer__gt=panel.layer) if panel.view.layered else ()
    return place_of_joint(
        panel.name,
        panel.layer if panel.view.layered else None,
        cut.outline,
        [other.outline for other in deeper],
    )


def joint_of(cut: Cut, place: Mapping[str, Any]) -> JointChoice:
    """Which joint for a cut, by what is said of its place and the processes owned. Raises: BadField."""
    return joint_choice(
        JointRequest.read(
            dict(place)
            | {"thickness_mm": thickness_of(cut), "processes": told_rules(cut.repair.vehicle)["processes"]}
        )
    )


def thickness_of(cut: Cut) -> float:
    """The thinner of panel and patch: the one that burns through."""
    try:
        return min(cut.panel.thickness_mm, cut.patch.thickness_mm)
    except Patch.DoesNotExist:
        return cut.panel.thickness_mm


def setting(weld: WeldPlan) -> StartingSetting:
    """The core's starting setting for a plan.

    Raises: BadField where the process cannot make the joint.
    """
    return starting_setting(weld.process, weld.joint, thickness_of(weld.cut))


def energy_j(weld: WeldPlan) -> float:
    """The energy of one tack: the person's own figure, else that of the starting setting."""
    return weld.tack_energy_j or setting(weld).tack_energy_j


def plate_of(weld: WeldPlan) -> Plate:
    """The endless plate that a plan welds."""
    return Plate(
        thickness_mm=thickness_of(weld.cut),
        energy_j=energy_j(weld),
        cooling=weld.cooling,
        ambient_c=weld.ambient_c,
    )


def stack_of(weld: WeldPlan) -> list[float]:
    """The sheets of the joint that a plan is for, mm, from this side inwards: one for a butt, the panel's own beneath for a lap or a plug."""
    own = thickness_of(weld.cut)
    return [own] if weld.joint == "butt" else [own, weld.cut.panel.thickness_mm]


def replan(weld: WeldPlan) -> None:
    """Work out the tacks of every seam and store them. Raises: CoreError."""
    store_tacks(weld, tacks_of(weld))


def store_tacks(weld: WeldPlan, plans: list[dict[str, Any]]) -> None:
    """Store the tacks of every seam as they were worked out."""
    weld.tack_plans = plans
    weld.save(update_fields=["tack_plans"])


def tacks_of(weld: WeldPlan, *, edges: bool = True) -> list[dict[str, Any]]:
    """The tacks of all seams of a cut, planned together, by the plan's settings.

    Args: edges: whether the gap, edges and holes are counted (half a second for a large patch), else the plate is endless.
    Raises: CoreError.
    """
    cut = weld.cut
    unwelded, welded = paths_said(cut)
    seams = seams_of(cut.outline, cut.panel.outline, [*unwelded, *rows_of(cut)], welded)
    if not seams:
        return []
    asked = {
        "path": seams[0].path, "closed": seams[0].closed, "more": [{"path": seam.path, "closed": seam.closed} for seam in seams[1:]],
        "thickness_mm": thickness_of(cut), "pitch_mm": weld.pitch_mm, "tack_energy_J": energy_j(weld), "cooling": weld.cooling, "limit_C": weld.limit_c,
        "ambient_C": weld.ambient_c, "move_s": moves_s(weld),
    }  # fmt: skip
    plan = tack_order(TackRequest.read(asked))
    if edges:
        tacks = [{"at": tack.at, "start_s": tack.start_s} for tack in plan.tacks]
        plan = edged(plan, IslandRequest.read(patch_of_plan(weld) | {"tacks": tacks}), moves_s(weld))
    paths = [{"path": seam.path, "closed": seam.closed} for seam in seams]
    return [{"path": seams[0].path, "closed": seams[0].closed, "paths": paths, "edges": edges, **plain(plan)}]


def rows_of(cut: Cut) -> list[list[list[float]]]:
    """Edges of a cut's patch that are no seam by how the patch is made: they lie on a flange, or are hemmed."""
    try:
        result = developed_as_stored(cut)
    except CoreError:
        return []
    return [
        [list(at) for at in edge.path]
        for edge in result.seen
        if result.made[edge.name].treatment in NO_SEAM and edge.kind in ("joint", "")
    ]


#: How an edge is made that gets no seam.
NO_SEAM = ("flange", "return", "open hem", "closed hem", "free")


def patch_of_plan(weld: WeldPlan) -> dict[str, Any]:
    """The patch in its panel as the core's heat takes it."""
    cut = weld.cut
    return {
        "patch": cut.outline, "panel": cut.panel.outline, "holes": holes_in(cut.panel)[:60], "thickness_mm": thickness_of(cut), "energy_j": energy_j(weld),
        "cooling": weld.cooling, "backing": weld.backing, "ambient_c": weld.ambient_c, "limit_c": weld.limit_c,
    }  # fmt: skip


def moves_s(weld: WeldPlan) -> float:
    """How long the person takes to the next place: learnt from what was welded on this vehicle, else as usual, s."""
    events = WeldPlan.objects.filter(cut__repair__vehicle=weld.cut.repair.vehicle_id).values_list(
        "events", flat=True
    )
    paces = [
        pace for each in events if (pace := pace_s([datetime.fromisoformat(event["when"]) for event in each]))
    ]
    return max(0.0, min(120.0, sorted(paces)[len(paces) // 2] - TACK_S)) if paces else MOVE_S


@one_change
def save_weld(weld: WeldPlan, values: Mapping[str, Any], *, version: int | None, by: str) -> None:
    """Store changed settings and work the tacks out again.

    Raises: ChangedMeanwhile, CoreError.
    """
    starting_setting(values["process"], values["joint"], thickness_of(weld.cut))
    stored = WeldPlan.objects.filter(cut=weld.cut).first()
    if stored is None:
        stored = WeldPlan.objects.create(cut=weld.cut, changed_by=by, **values)
    else:
        stored.save_as(version, by, **values)
    stored.cut = weld.cut
    replan(stored)


@one_change
def tick_cautions(weld: WeldPlan, keys: list[str], day: date) -> list[str]:
    """Store which hot-work cautions are seen to, for one day's work, and return them. The latest tick wins; no version is asked for."""
    known = [caution.key for caution in HOT_WORK]
    weld = WeldPlan.objects.filter(cut=weld.cut).first() or weld
    if weld.pk is None:
        weld.version = 1
        weld.save()
    weld.cautions = [key for key in known if key in keys]
    weld.cautions_on = day
    weld.save(update_fields=["cautions", "cautions_on"])
    return weld.cautions


def ticked_on(weld: WeldPlan, day: date) -> list[str]:
    """The cautions seen to on a day; yesterday's ticks say nothing about today."""
    return weld.cautions if weld.cautions_on == day else []


#: What must be ticked of the hot-work list before sparks fly.
MUST_TICK = ("watch", "extinguisher")


def hot_work_open(repair: Repair, day: date) -> list[str]:
    """What of the hot-work list must be seen to and is not, on a day."""
    ticked = {key for weld in WeldPlan.objects.filter(cut__repair=repair) for key in ticked_on(weld, day)}
    return [
        first_low(caution.head)
        for caution in HOT_WORK
        if caution.key in MUST_TICK and caution.key not in ticked
    ]


@lru_cache(maxsize=256)
def _hand_warm(asked: str) -> tuple[Isotherm, ...]:
    """Where the same patch is still hand-warm after the same tacks, worked out once."""
    field = field_after(IslandRequest.model_validate_json(asked), TACK_S + SHOWN_AFTER_S)
    return tuple(rings_above(field, {"hand-warm": HAND_WARM_C}))


def heat_at(weld: WeldPlan, seam: int, step: int) -> dict:
    """Isotherms just after a tack, for the board.

    Args: seam: index of the seam; step: how many tacks are done, 0 or more.
    Raises: BadField for a step that the plan does not have.
    """
    if not 0 <= seam < len(weld.tack_plans):
        raise BadField("There is no such seam.", "seam", "Reload the page.")
    plan = weld.tack_plans[seam]
    tacks = plan["tacks"]
    if not 0 <= step <= len(tacks):
        raise BadField(f"The plan has {len(tacks)} tacks.", "step", "Reload the page.")
    if step == 0:
        return {"step": 0, "levels": [], "after_s": SHOWN_AFTER_S}
    done = tacks[:step]
    frame = bounds_of(weld.cut.outline)
    told = [{"at": tack["at"], "start_s": tack["start_s"]} for tack in done]
    levels = list(_hand_warm(IslandRequest.read(patch_of_plan(weld) | {"tacks": told}).model_dump_json()))
    # The temper bands are rings of millimetres round the newest tack, smaller than a cell: there the plate itself is told.
    plate = plate_of(weld)
    now = done[-1]["start_s"] + TACK_S + SHOWN_AFTER_S
    at, starts = [each["at"] for each in done], [each["start_s"] for each in done]
    levels += isotherms(plate, at, starts, now, TEMPER_C, widened(bounds_of(at[-1:]), 24), cells=64)
    return {"step": step, "levels": plain(levels), "after_s": SHOWN_AFTER_S, "frame": frame}


def hot_behind(weld: WeldPlan) -> list[tuple[str, float, float | None]]:
    """What stands how much behind the seam, °C, and how far from it that is exceeded, mm (None: everywhere)."""
    plate = plate_of(weld)
    hottest = max((plan["hottest_before_tack_C"] for plan in weld.tack_plans), default=weld.ambient_c)
    return [(name, stands, reached_mm(plate, stands, hottest)) for name, stands in STANDS_C.items()]


def hottest_behind(weld: WeldPlan) -> float:
    """How hot the back of the sheet gets close beside the seam, °C."""
    return round(weld.ambient_c + peak_k(plate_of(weld), BESIDE_MM), 0)


#: The back is looked at so far beside the seam, mm.
BESIDE_MM = 4.0
