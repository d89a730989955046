"""What each stretch of a cut's outline is: worked out from the shell, corrected by hand; the one answer for patch, weld, ways and record."""

import json
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from yellow_sill.core.cut.drawn import meeting
from yellow_sill.core.cut.stretches import AS_CUT, KINDS, Stretch, StretchRequest, stretches
from yellow_sill.core.errors import BadField
from yellow_sill.web.frame.once import once
from yellow_sill.web.shells.models import Panel
from yellow_sill.web.shells.whole_services import stretches_of as edges_of_panel

from .around_services import around_of
from .models import Cut


def meets_of(panel: Panel) -> list[dict[str, Any]]:
    """The outlines of the panels that meet a panel at its edge, as the core takes them."""
    return _meets(panel.pk, panel.view.drawing)


@lru_cache(maxsize=256)
def _meets(panel_id: int, _drawing: tuple) -> list[dict[str, Any]]:
    panel = Panel.objects.select_related("view").get(pk=panel_id)
    others = list(panel.view.panels.exclude(pk=panel_id).only("code", "name", "named_by_hand", "outline"))
    return [
        {"name": others[i].name[:60], "path": [*others[i].outline, others[i].outline[0]]}
        for i in meeting(panel.outline, [other.outline for other in others])
    ]


def stretches_of(cut: Cut, outline: Sequence[Sequence[float]] | None = None) -> list[Stretch]:
    """The stretches of a cut, or of a line that is tried for it. Raises: BadOutline."""
    asked = {
        "outline": outline or cut.outline,
        "panel": cut.panel.outline,
        "neighbours": meets_of(cut.panel),
        "rows": _rows_round(cut.panel),
        "edges": _edges_said(cut.panel),
        "said": cut.said,
    }
    return list(_told(json.dumps(asked)))


@once
def _rows_round(panel: Panel) -> list[dict[str, Any]]:
    return [{"name": row.name, "path": row.path} for row in around_of(panel).rows]


@once
def _edges_said(panel: Panel) -> list[dict[str, Any]]:
    """What a person said of the panel's own edge, as the core takes it."""
    if not panel.edge_words.exists():
        return []
    return [
        {"kind": AS_CUT[each.kind], "meets": ", ".join(each.meets)[:60], "path": each.path}
        for each in edges_of_panel(panel.view.vehicle, panel)
        if each.by_hand
    ]


@lru_cache(maxsize=128)
def _told(asked: str) -> tuple[Stretch, ...]:
    """Patch, weld, record and log ask the same of a line again and again. Raises: BadOutline."""
    return tuple(stretches(StretchRequest.read(json.loads(asked))))


def paths_said(cut: Cut) -> tuple[list[list[list[float]]], list[list[list[float]]]]:
    """Paths along a cut that a person said are no joint, and those along the panel's own edge that are one; for who welds along it."""
    ring = [*cut.outline, cut.outline[0]]
    said = [each for each in stretches_of(cut) if each.by_hand]

    def paths(joint: bool) -> list[list[list[float]]]:
        return [ring[i : i + 2] for each in said if (each.kind == "joint") == joint for i in each.edges]

    return paths(False), paths(True)


def say_stretches(cut: Cut, kinds: Sequence[str], *, version: int | None, by: str) -> None:
    """Keep what a person says of each stretch, in the order of the outline; one that is as worked out is not kept as said.

    Raises: BadField for another number of stretches or a kind that is none; ChangedMeanwhile.
    """
    found = stretches_of(cut)
    if len(kinds) != len(found):
        raise BadField(
            "The line has changed since you looked at its stretches.", "stretches", "Look at them again."
        )
    if unknown := [kind for kind in kinds if kind not in KINDS]:
        raise BadField(
            f"'{unknown[0][:20]}' is no kind of stretch.",
            "stretches",
            f"Choose one of: {', '.join(KINDS.values())}.",
        )
    plain = [each.kind for each in _worked_out(cut)]
    said = [
        {"at": each.middle, "kind": kind}
        for each, kind, usual in zip(
            found, kinds, plain if len(plain) == len(found) else [None] * len(found), strict=True
        )
        if kind != usual
    ]
    cut.save_as(version, by, said=said)


def _worked_out(cut: Cut) -> list[Stretch]:
    before, cut.said = cut.said, []
    try:
        return stretches_of(cut)
    finally:
        cut.said = before
