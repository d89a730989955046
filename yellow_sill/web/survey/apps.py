from django.db.models.signals import post_save

from yellow_sill.web.frame.apps import StageConfig


class SurveyConfig(StageConfig):
    name = "yellow_sill.web.survey"
    label = "survey"
    default = True

    def ready(self) -> None:
        from yellow_sill.web.shells.services import shell_stored

        super().ready()
        post_save.connect(_cover_anew, sender="shells.Panel")
        shell_stored.connect(_cover_all)


def _cover_anew(instance, raw: bool = False, **_more) -> None:
    """A corrected panel's cover is worked out anew."""
    from .coverage_services import refresh_cover

    refresh_cover([instance])


def _cover_all(sender, vehicle, **_more) -> None:
    """A new shell is known to be unknown."""
    from .coverage_services import cover_all

    cover_all(vehicle)
