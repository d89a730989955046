from django.apps import AppConfig

from yellow_sill.web.frame.rail import Stage, add_stage


class RepairsConfig(AppConfig):
    name = "yellow_sill.web.repairs"
    label = "repairs"

    def ready(self) -> None:
        from yellow_sill.web.datums.subjects import add_subjects
        from yellow_sill.web.hold.works import add_works

        from .ribbon_services import repair_subjects, repair_work

        add_subjects(repair_subjects)
        add_works(repair_work)
        add_stage(Stage(place=40, key="repairs", label="Repairs", url_name="repairs:repairs", tally=_tally))


def _tally(vehicle) -> str:
    return f"{vehicle.repairs.exclude(state='signed off').count()} open"
