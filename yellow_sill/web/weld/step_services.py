"""Tack by tack: what became of each is stored as it happens, so that a reload or a flat battery loses nothing."""

from datetime import datetime
from typing import Any

from yellow_sill.core.errors import BadField
from yellow_sill.core.weld.progress import HOW, Progress, ProgressRequest, progress
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.changes import one_change

from .models import WeldPlan
from .services import patch_of_plan, weld_of


def progress_of(weld: WeldPlan, seam: int, now: datetime) -> Progress | None:
    """How far a seam is; None where the plan has no such seam. Raises: CoreError."""
    if not 0 <= seam < len(weld.tack_plans):
        return None
    tacks = [tack["at"] for tack in weld.tack_plans[seam]["tacks"]]
    asked: dict[str, Any] = patch_of_plan(weld) | {
        "tacks": tacks,
        "events": [
            {key: each[key] for key in ("at", "what", "when")} for each in weld.events if each["seam"] == seam
        ],
        "now": now.isoformat(),
    }
    return progress(ProgressRequest.read(asked))


@one_change
def record_tack(cut: Cut, seam: int, tack: int, what: str, *, now: datetime, by: str) -> Progress:
    """Store what became of a tack. The latest word counts; no version is asked for: two hands weld one seam.

    Raises: BadField: no such seam or tack, a word that nobody knows; CoreError.
    """
    weld = weld_of(cut)
    if weld.pk is None:
        weld.version = 1
        weld.save()
    _require(weld, seam, tack, what)
    at = weld.tack_plans[seam]["tacks"][tack - 1]["at"]
    weld.events = [
        *weld.events,
        {"seam": seam, "at": at, "what": what, "when": now.isoformat(timespec="seconds"), "by": by},
    ]
    told = progress_of(weld, seam, now)
    assert told is not None
    weld.save(update_fields=["events"])
    return told


@one_change
def take_last_back(cut: Cut, seam: int, *, now: datetime) -> Progress:
    """Take back what was said last of a seam. Raises: BadField where nothing was."""
    weld = weld_of(cut)
    mine = [number for number, each in enumerate(weld.events) if each["seam"] == seam]
    if not mine:
        raise BadField("Nothing of this seam is stored yet.", "tack")
    weld.events = [each for number, each in enumerate(weld.events) if number != mine[-1]]
    weld.save(update_fields=["events"])
    told = progress_of(weld, seam, now)
    if told is None:
        raise BadField("There is no such seam.", "seam", "Reload the page.")
    return told


def _require(weld: WeldPlan, seam: int, tack: int, what: str) -> None:
    if not 0 <= seam < len(weld.tack_plans):
        raise BadField("There is no such seam.", "seam", "Reload the page.")
    if not 1 <= tack <= len(weld.tack_plans[seam]["tacks"]):
        raise BadField("There is no such tack.", "tack", "Reload the page.")
    if what not in HOW:
        raise BadField("Nobody knows that word for a tack.", "what", "Reload the page.")
