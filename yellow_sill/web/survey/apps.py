from django.apps import AppConfig

from yellow_sill.web.frame.rail import Stage, add_stage


class SurveyConfig(AppConfig):
    name = "yellow_sill.web.survey"
    label = "survey"

    def ready(self) -> None:
        add_stage(Stage(place=20, key="survey", label="Survey", url_name="survey:survey", tally=lambda vehicle: f"{vehicle.findings.count()} found"))
