from django.apps import AppConfig

from yellow_sill.web.frame.rail import Stage, add_stage


def _starting_set(sender, vehicle, **_more) -> None:
    """A new shell brings the datum points of its body type."""
    from .book_services import bring_starting_set

    bring_starting_set(vehicle, by=vehicle.changed_by)


def _tally(vehicle) -> str:
    from .round_services import out_count

    return out_count(vehicle)


class DatumsConfig(AppConfig):
    name = "yellow_sill.web.datums"
    label = "datums"

    def ready(self) -> None:
        from yellow_sill.web.shells.services import shell_stored

        shell_stored.connect(_starting_set)
        add_stage(Stage(place=30, key="datums", label="Datums", url_name="datums:datums", tally=_tally))
