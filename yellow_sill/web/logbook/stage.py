from django.db.models import Sum

from yellow_sill.core.repairs.hours import clock
from yellow_sill.core.said import Listed
from yellow_sill.web.frame.stages import Stage, Tab

from .section import SECTION


def _hours(vehicle):
    return vehicle.work_entries.exclude(repair=None).values_list("repair__number", "kind", "minutes")


def _tally(vehicle) -> str:
    return clock(vehicle.work_entries.aggregate(spent=Sum("minutes"))["spent"] or 0)


def _keeps(repair) -> str:
    there = {"hours": repair.work_entries, "notes": repair.notes, "photos": repair.photos}
    return str(Listed(tuple(word for word, kept in there.items() if kept.exists())))


STAGE = Stage(
    place=70,
    key="logbook",
    label="Logbook",
    url_name="logbook:logbook",
    tally=_tally,
    hours=_hours,
    keeps=_keeps,
    tabs=(
        Tab(place=80, key="log", label="Log", url_name="logbook:log"),
        Tab(place=90, key="record", label="Record", url_name="logbook:record"),
    ),
    bundle=SECTION,
)
