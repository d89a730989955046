from django.apps import AppConfig
from django.db.models.signals import post_save

from yellow_sill.web.frame.rail import Stage, add_stage


def _forget_cover(instance, **_more) -> None:
    """A corrected panel's cover is worked out anew when it is next asked for."""
    from .models import PanelCover

    PanelCover.objects.filter(panel=instance).delete()


class SurveyConfig(AppConfig):
    name = "yellow_sill.web.survey"
    label = "survey"

    def ready(self) -> None:
        post_save.connect(_forget_cover, sender="shells.Panel")
        add_stage(
            Stage(
                place=20,
                key="survey",
                label="Survey",
                url_name="survey:survey",
                tally=lambda vehicle: f"{vehicle.findings.count()} found",
            )
        )
