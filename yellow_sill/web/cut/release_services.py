"""The release list: the old spot welds that a repair's cuts take, numbered in order, with tools, and ticked off while drilling."""

import json
from collections.abc import Sequence
from datetime import date
from functools import lru_cache
from math import dist
from typing import Any

from yellow_sill.core.cut.shared_rows import (
    SAME_MM,
    Released,
    SharedRows,
    met_edge,
    reach_of,
    taken_out,
    unseen_welds,
)
from yellow_sill.core.errors import BadField
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.repairs.rule_services import told_rules
from yellow_sill.web.shells.models import Panel

from .around_services import sheet_rows
from .models import Cut, NuggetTick
from .stretch_services import meets_of


def release_list(repair: Repair) -> list[dict[str, Any]]:
    """For each panel that is cut: the nuggets that let go with it, each once, by row and how; which are done, minutes; how many nobody has drawn.

    Raises: BadField.
    """
    cuts = list(repair.cuts.without_drawings())
    panels = {cut.panel_id: cut.panel for cut in cuts}
    views = {
        panel.view_id: [each for each in panels.values() if each.view_id == panel.view_id]
        for panel in panels.values()
    }
    told = {}
    for together in views.values():
        for each in _released(repair, sorted(together, key=lambda panel: panel.layer), cuts):
            told[each["panel"].pk] = each
    return [told[pk] for pk in panels]


def _released(repair: Repair, panels: Sequence[Panel], all_cuts: Sequence[Cut]) -> list[dict[str, Any]]:
    """The same for the panels of one view, the outermost first."""
    processes = told_rules(repair.vehicle)["processes"]
    cuts = {panel.code: [cut for cut in all_cuts if cut.panel_id == panel.pk] for panel in panels}
    out = {code: taken_out([cut.outline for cut in mine]) for code, mine in cuts.items()}
    sheets = [sheet_rows(panel, processes) for panel in panels]
    groups = SharedRows(sheets).released({code: reach_of(shape) for code, shape in out.items()})
    edges = [
        _edge(panel.pk, panel.view.drawing, json.dumps([row.path for row in sheet.rows]))
        for panel, sheet in zip(panels, sheets, strict=True)
    ]
    unseen = unseen_welds([(out[panel.code], edge) for panel, edge in zip(panels, edges, strict=True)])
    done = list(repair.nugget_ticks.filter(panel__in=panels))
    return [
        _listed(panel, cuts[panel.code], [group for group in groups if group.code == panel.code], done, count)
        for panel, (count, _) in zip(panels, unseen, strict=True)
    ]


@lru_cache(maxsize=256)
def _edge(panel_id: int, _drawing: tuple, rows: str):
    """A panel's edge where it is a flange on a neighbour without a known row (rows as JSON), as the drawing of that day has it."""
    panel = Panel.objects.select_related("view").get(pk=panel_id)
    return met_edge(panel.outline, [each["path"] for each in meets_of(panel)], json.loads(rows))


def _listed(
    panel: Panel, cuts: Sequence[Cut], groups: Sequence[Released], done: Sequence[NuggetTick], unseen: int
) -> dict[str, Any]:
    """One panel's part of the list, numbered along its rows."""
    rows, number = [], 0
    for group in groups:
        nuggets = [
            {"number": n, "at": at, "flip": -at[1], "tick": _tick_at(at, n, panel, done)}
            for n, at in enumerate(group.at, start=number + 1)
        ]
        number += len(nuggets)
        rows.append(
            {
                "row": group.row, "release": group.release, "new_welds": group.plan.new, "nuggets": nuggets, "minutes": group.release.minutes,
                "new": group.new, "first": nuggets[0]["number"], "last": nuggets[-1]["number"],
            }
        )  # fmt: skip
    ticked = sum(1 for row in rows for nugget in row["nuggets"] if nugget["tick"])
    minutes = round(sum(row["minutes"] for row in rows))
    return {
        "panel": panel,
        "cuts": cuts,
        "rows": rows,
        "count": number,
        "done": ticked,
        "minutes": minutes,
        "unseen": unseen,
    }


def _tick_at(at: Sequence[float], number: int, panel: Panel, done: Sequence[NuggetTick]) -> NuggetTick | None:
    """The tick of the nugget at a place: cuts may be moved and numbers with them, the drilled hole stays where it is, whichever sheet it was ticked on."""
    return next(
        (
            tick
            for tick in done
            if (
                dist(tick.at, at) < SAME_MM
                if tick.at
                else tick.panel_id == panel.pk and tick.number == number
            )
        ),
        None,
    )


@one_change
def tick_nugget(repair: Repair, panel: Panel, number: int, *, done: bool, by: str, today: date) -> None:
    """Tick a nugget off, or take the tick back. Raises: BadField for one that is not on the list."""
    here = next(each for each in release_list(repair) if each["panel"].pk == panel.pk)
    if not 1 <= number <= here["count"]:
        raise BadField(
            "There is no such nugget on the list.",
            "number",
            "The cut may have been moved: look at the list again.",
        )
    nugget = next(each for row in here["rows"] for each in row["nuggets"] if each["number"] == number)
    if done and nugget["tick"] is None:
        NuggetTick.objects.create(
            repair=repair, panel=panel, number=number, at=nugget["at"], done_on=today, by=by
        )
    elif not done and nugget["tick"] is not None:
        nugget["tick"].delete()
