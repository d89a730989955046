from yellow_sill.web.frame.apps import StageConfig


class DatumsConfig(StageConfig):
    name = "yellow_sill.web.datums"
    label = "datums"
    default = True

    def ready(self) -> None:
        from yellow_sill.web.shells.services import shell_stored

        super().ready()
        shell_stored.connect(_starting_set)


def _starting_set(sender, vehicle, **_more) -> None:
    """A new shell brings the datum points of its body type."""
    from .book_services import bring_starting_set

    bring_starting_set(vehicle, by=vehicle.changed_by)
