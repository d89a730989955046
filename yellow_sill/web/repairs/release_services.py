"""The release list: the old spot welds that a repair's cuts take, numbered in order, with tools, and ticked off while drilling."""

from datetime import date
from typing import Any

from django.db import transaction
from shapely.geometry import Point, Polygon
from shapely.ops import unary_union

from yellow_sill.core.cut.spots import REACH_MM, RowPlan
from yellow_sill.core.errors import BadField
from yellow_sill.web.shells.models import Panel

from .models import NuggetTick, Repair
from .option_services import spot_plan


def release_list(repair: Repair) -> list[dict[str, Any]]:
    """For each panel that is cut: its rows as far as the cuts take them, which nuggets are done, minutes. Raises: BadField."""
    out = []
    for panel in Panel.objects.filter(cuts__repair=repair).distinct().select_related("view"):
        plan = spot_plan(panel)
        cuts = [cut for cut in repair.cuts.all() if cut.panel_id == panel.pk]
        reach = unary_union([Polygon(cut.outline) for cut in cuts]).buffer(REACH_MM)
        done = {tick.number: tick for tick in repair.nugget_ticks.filter(panel=panel)}
        rows, number = [], 0
        for row in plan.rows if plan else ():
            taken = [nugget for nugget in row.nuggets if reach.contains(Point(nugget.at))]
            if not taken:
                continue
            nuggets = [{"number": number + k, "at": nugget.at, "flip": -nugget.at[1], "tick": done.get(number + k)} for k, nugget in enumerate(taken, start=1)]
            number += len(taken)
            rows.append(_row(row, nuggets))
        out.append({"panel": panel, "cuts": cuts, "rows": rows, "count": number, "done": len(done), "minutes": round(sum(row["minutes"] for row in rows))})
    return out


def _row(row: RowPlan, nuggets: list[dict[str, Any]]) -> dict[str, Any]:
    share = len(nuggets) / len(row.nuggets)
    new = max(len(nuggets), round(row.new.count * share))
    return {"row": row, "nuggets": nuggets, "minutes": row.release.minutes * share, "new": new, "first": nuggets[0]["number"], "last": nuggets[-1]["number"]}


@transaction.atomic
def tick_nugget(repair: Repair, panel: Panel, number: int, *, done: bool, by: str, today: date) -> None:
    """Tick a nugget off, or take the tick back. Raises: BadField for one that is not on the list."""
    here = next((each for each in release_list(repair) if each["panel"].pk == panel.pk), None)
    if here is None or not 1 <= number <= here["count"]:
        raise BadField("There is no such nugget on the list.", "number", "The cut may have been moved: look at the list again.")
    if done:
        NuggetTick.objects.get_or_create(repair=repair, panel=panel, number=number, defaults={"done_on": today, "by": by})
    else:
        NuggetTick.objects.filter(repair=repair, panel=panel, number=number).delete()
