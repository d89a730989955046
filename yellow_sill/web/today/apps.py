from django.apps import AppConfig

from yellow_sill.web.frame.rail import Stage, add_stage


class TodayConfig(AppConfig):
    name = "yellow_sill.web.today"
    label = "today"

    def ready(self) -> None:
        add_stage(
            Stage(place=10, key="today", label="Today", url_name="today:today", tally=lambda vehicle: "")
        )
