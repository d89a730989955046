from yellow_sill.web.frame.apps import StageConfig


class CutConfig(StageConfig):
    name = "yellow_sill.web.cut"
    label = "cut"
    default = True

    def ready(self) -> None:
        from yellow_sill.web.repairs.services import repair_opened

        super().ready()
        repair_opened.connect(_propose)


def _propose(sender, repair, **_more) -> None:
    """A repair that is opened comes with proposed cuts. Raises: BadOutline."""
    from .services import propose_cuts

    propose_cuts(repair, by=repair.changed_by)
