"""The weld of a cut: starting setting, order of the tacks, the plate's heat at any step."""

from collections.abc import Mapping
from datetime import date
from typing import Any

from yellow_sill.core.calc import plain
from yellow_sill.core.cut.joints import JointChoice, JointRequest, joint_choice, place_of_joint
from yellow_sill.core.errors import BadField
from yellow_sill.core.geometry import bounds_of, widened
from yellow_sill.core.said import first_low
from yellow_sill.core.weld.cautions import HOT_WORK
from yellow_sill.core.weld.heat import HAND_WARM_C, TEMPER_C, Plate, isotherms
from yellow_sill.core.weld.seam import seams_of
from yellow_sill.core.weld.settings import StartingSetting, starting_setting
from yellow_sill.core.weld.tacks import TACK_S, TackRequest, tack_order
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.cut.stretch_services import paths_said
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.patch.models import Patch
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
        weld.tack_plans = tacks_of(weld)
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


def replan(weld: WeldPlan) -> None:
    """Work out the tacks of every seam and store them. Raises: CoreError."""
    store_tacks(weld, tacks_of(weld))


def store_tacks(weld: WeldPlan, plans: list[dict[str, Any]]) -> None:
    """Store the tacks of every seam as they were worked out."""
    weld.tack_plans = plans
    weld.save(update_fields=["tack_plans"])


def tacks_of(weld: WeldPlan) -> list[dict[str, Any]]:
    """The tacks of every seam, by the plan's settings. Raises: CoreError."""
    cut = weld.cut
    plans = []
    for seam in seams_of(cut.outline, cut.panel.outline, *paths_said(cut)):
        plan = tack_order(
            TackRequest.read(
                {
                    "path": seam.path,
                    "closed": seam.closed,
                    "thickness_mm": thickness_of(cut),
                    "pitch_mm": weld.pitch_mm,
                    "tack_energy_J": energy_j(weld),
                    "cooling": weld.cooling,
                    "limit_C": weld.limit_c,
                    "ambient_C": weld.ambient_c,
                }
            )
        )
        plans.append({"path": seam.path, "closed": seam.closed, **plain(plan)})
    return plans


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
    plate = Plate(
        thickness_mm=thickness_of(weld.cut),
        energy_j=energy_j(weld),
        cooling=weld.cooling,
        ambient_c=weld.ambient_c,
    )
    frame = widened(bounds_of(plan["path"]), 40)
    at, starts, now = (
        [t["at"] for t in done],
        [t["start_s"] for t in done],
        done[-1]["start_s"] + TACK_S + SHOWN_AFTER_S,
    )
    levels = isotherms(plate, at, starts, now, {"hand-warm": HAND_WARM_C}, frame, cells=72)
    # The temper bands are rings of millimetres round the newest tack: a finer grid there.
    levels += isotherms(plate, at, starts, now, TEMPER_C, widened(bounds_of(at[-1:]), 24), cells=64)
    return {"step": step, "levels": plain(levels), "after_s": SHOWN_AFTER_S}
