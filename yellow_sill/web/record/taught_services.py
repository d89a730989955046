"""What the shell taught: gathered from hours, plans, looks and coupons; bars to scale for the page."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import Max, Sum

from yellow_sill.core.errors import CoreError
from yellow_sill.core.record.taught import Taught, TaughtRequest, taught
from yellow_sill.core.repairs.hours import KIND_WORDS, clock
from yellow_sill.core.survey.growth import FINAL_STAGES, STAGES
from yellow_sill.web.cut.hours import planned_done
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.shells.models import Vehicle
from yellow_sill.web.survey.listing import forecast
from yellow_sill.web.survey.models import Inspection

#: The longest bar, px.
BAR_PX = 420.0


@by_revision(4, "repairs", "cut", "logbook", "survey", "shells", "weld")
def taught_of(vehicle: Vehicle) -> Taught:
    """Raises: CoreError."""
    return taught(TaughtRequest.read(_asked(vehicle)))


def _asked(vehicle: Vehicle) -> dict[str, Any]:
    opened = _opened(vehicle)
    try:
        ahead = forecast(vehicle).ratio.p50 if vehicle.findings.exists() else None
    except CoreError:
        ahead = None
    hours = (
        vehicle.work_entries.order_by("worked_on")
        .values_list("worked_on", "kind")
        .annotate(spent=Sum("minutes"))
    )
    return {
        "jobs": _jobs(vehicle), "opened": opened, "forecast": ahead,
        "hours": [{"day": day, "kind": kind, "minutes": min(1440, spent)} for day, kind, spent in hours],
        "settings": [(f"{each.process} {each.joint}", each.result == "held") for each in vehicle.coupons.exclude(result="")],
    }  # fmt: skip


def _jobs(vehicle: Vehicle) -> list[dict[str, Any]]:
    """Kinds of work that are done, of repairs for which both a plan and hours are there."""
    rows = vehicle.work_entries.exclude(repair=None).order_by().values_list("repair__number", "kind")
    spent = {
        (number, kind): (total, last)
        for number, kind, total, last in rows.annotate(total=Sum("minutes"), last=Max("worked_on"))
    }
    return [
        {"repair": key[0], "kind": key[1], "planned": planned, "spent": spent[key][0], "ended": spent[key][1]}
        for key, planned in planned_done(vehicle).items()
        if planned and key in spent
    ]


def _opened(vehicle: Vehicle) -> list[dict[str, float]]:
    """Of each finding that was looked at again once it was opened: its first area and its last."""
    looks: dict[int, list[tuple[str, float]]] = {}
    rows = Inspection.objects.filter(finding__vehicle=vehicle).order_by("finding__number", "made_on", "pk")
    for number, stage, area in rows.values_list("finding__number", "stage", "area_mm2"):
        looks.setdefault(number, []).append((stage, area))
    return [
        {"first_mm2": seen[0][1], "then_mm2": seen[-1][1]}
        for seen in looks.values()
        if seen[0][0] == STAGES[0] and seen[-1][0] in FINAL_STAGES and seen[0][1] > 0 and seen[-1][1] > 0
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Bar:
    """A bar: what, its length px, what it says; ``beside``: the length of what was planned, px (None: nothing was)."""

    what: str
    width: float
    words: str
    beside: float | None = None


def kind_bars(told: Taught) -> list[Bar]:
    """Planned and spent by kind of work, to one scale."""
    longest = max((max(each.planned, each.spent) for each in told.kinds), default=1.0)
    return [
        Bar(
            what=KIND_WORDS[each.kind], width=_px(each.spent, longest), beside=_px(each.planned, longest),
            words=f"{clock(round(each.spent))}, planned {clock(round(each.planned))}",
        )
        for each in told.kinds
    ]  # fmt: skip


def went_bars(told: Taught) -> list[Bar]:
    """Where the hours went."""
    longest = max((spent for _, spent in told.went), default=1)
    return [
        Bar(what=KIND_WORDS[kind], width=_px(spent, longest), words=clock(spent)) for kind, spent in told.went
    ]


def quarter_bars(told: Taught) -> list[Bar]:
    """The pace by quarters of a year; as planned is one."""
    longest = max([1.0, *(each.times for each in told.quarters)])
    return [
        Bar(
            what=f"{each.begins:%b %Y}",
            width=_px(each.times, longest),
            beside=_px(1.0, longest),
            words=f"{each.times:.2f} times the plan, {each.jobs}",
        )
        for each in told.quarters
    ]


def grew_bars(told: Taught) -> list[Bar]:
    """How large what was opened had become, beside what the forecast says of the rest; seen before is one."""
    values: Sequence[tuple[str, float | None]] = (
        ("As first seen", 1.0), ("Once opened", told.grew), ("Forecast, the rest", told.forecast),
    )  # fmt: skip
    known = [(what, value) for what, value in values if value is not None]
    longest = max(value for _, value in known)
    return (
        [Bar(what=what, width=_px(value, longest), words=f"{value:.1f} times") for what, value in known]
        if told.grew
        else []
    )


def _px(value: float, longest: float) -> float:
    return round(BAR_PX * value / (longest or 1.0), 1)
