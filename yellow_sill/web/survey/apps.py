from django.db.models.signals import post_save

from yellow_sill.web.frame.apps import StageConfig


class SurveyConfig(StageConfig):
    name = "yellow_sill.web.survey"
    label = "survey"
    default = True

    def ready(self) -> None:
        super().ready()
        post_save.connect(_forget_cover, sender="shells.Panel")


def _forget_cover(instance, **_more) -> None:
    """A corrected panel's cover is worked out anew when it is next asked for."""
    from .models import PanelCover

    PanelCover.objects.filter(panel=instance).delete()
