from django.apps import AppConfig
from django.db.models import Sum

from yellow_sill.core.repairs.hours import clock
from yellow_sill.web.frame.rail import Stage, add_stage


class LogbookConfig(AppConfig):
    name = "yellow_sill.web.logbook"
    label = "logbook"

    def ready(self) -> None:
        from yellow_sill.web.repairs.hours import add_hours  # models are there only now

        add_hours(_hours)
        add_stage(Stage(place=70, key="logbook", label="Logbook", url_name="logbook:logbook", tally=_tally))


def _hours(vehicle):
    return vehicle.work_entries.exclude(repair=None).values_list("repair__number", "kind", "minutes")


def _tally(vehicle) -> str:
    return clock(vehicle.work_entries.aggregate(spent=Sum("minutes"))["spent"] or 0)
