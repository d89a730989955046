"""The release list: the old spot welds that a repair's cuts take, numbered in order, with tools, and ticked off while drilling."""

from collections.abc import Sequence
from datetime import date
from math import dist
from typing import Any

from django.db import transaction
from shapely.geometry import Point, Polygon
from shapely.ops import unary_union

from yellow_sill.core.cut.spots import REACH_MM, RowPlan
from yellow_sill.core.errors import BadField
from yellow_sill.web.shells.models import Panel

from .around_services import spot_plan
from .models import Cut, NuggetTick, Repair
from .rule_services import told_rules

#: A nugget this near to one that was ticked off is the same, mm.
SAME_MM = 4.0


def release_list(repair: Repair) -> list[dict[str, Any]]:
    """For each panel that is cut: its rows as far as the cuts take them, which nuggets are done, minutes. Raises: BadField."""
    cuts = list(repair.cuts.without_drawings())
    panels = {cut.panel_id: cut.panel for cut in cuts}
    return [panel_release(repair, panel, cuts) for panel in panels.values()]


def panel_release(repair: Repair, panel: Panel, all_cuts: Sequence[Cut]) -> dict[str, Any]:
    """The same for one panel of a repair, whose cuts are all given. Raises: BadField."""
    cuts = [cut for cut in all_cuts if cut.panel_id == panel.pk]
    plan = spot_plan(panel, told_rules(repair.vehicle)["processes"], [cut for cut in all_cuts if cut.panel.view_id == panel.view_id])
    reach = unary_union([Polygon(cut.outline) for cut in cuts]).buffer(REACH_MM)
    done = list(repair.nugget_ticks.filter(panel=panel))
    rows, number = [], 0
    for row in plan.rows if plan else ():
        taken = [nugget.at for nugget in row.nuggets if reach.contains(Point(nugget.at))]
        if taken:
            nuggets = [{"number": n, "at": at, "flip": -at[1], "tick": _tick_at(at, n, done)} for n, at in enumerate(taken, start=number + 1)]
            number += len(taken)
            rows.append(_row(row, nuggets))
    ticked = sum(1 for row in rows for nugget in row["nuggets"] if nugget["tick"])
    minutes = round(sum(row["minutes"] for row in rows))
    return {"panel": panel, "cuts": cuts, "rows": rows, "count": number, "done": ticked, "minutes": minutes}


def _tick_at(at: Sequence[float], number: int, done: Sequence[NuggetTick]) -> NuggetTick | None:
    """The tick of the nugget at a place: cuts may be moved and numbers with them, the drilled hole stays where it is."""
    return next((tick for tick in done if (dist(tick.at, at) < SAME_MM if tick.at else tick.number == number)), None)


def _row(row: RowPlan, nuggets: list[dict[str, Any]]) -> dict[str, Any]:
    share = len(nuggets) / len(row.nuggets)
    new = max(len(nuggets), round(row.new.count * share))
    return {"row": row, "nuggets": nuggets, "minutes": row.release.minutes * share, "new": new, "first": nuggets[0]["number"], "last": nuggets[-1]["number"]}


@transaction.atomic
def tick_nugget(repair: Repair, panel: Panel, number: int, *, done: bool, by: str, today: date) -> None:
    """Tick a nugget off, or take the tick back. Raises: BadField for one that is not on the list."""
    here = panel_release(repair, panel, list(repair.cuts.without_drawings()))
    if not 1 <= number <= here["count"]:
        raise BadField("There is no such nugget on the list.", "number", "The cut may have been moved: look at the list again.")
    nugget = next(each for row in here["rows"] for each in row["nuggets"] if each["number"] == number)
    if done and nugget["tick"] is None:
        NuggetTick.objects.create(repair=repair, panel=panel, number=number, at=nugget["at"], done_on=today, by=by)
    elif not done and nugget["tick"] is not None:
        nugget["tick"].delete()
