from functools import partial

from yellow_sill.web.frame.apps import StageConfig


class CutConfig(StageConfig):
    name = "yellow_sill.web.cut"
    label = "cut"
    default = True

    def ready(self) -> None:
        from yellow_sill.web.repairs.services import repair_opening

        super().ready()
        repair_opening.connect(_propose)


def _propose(sender, repair, findings, **_more):
    """A repair that is opened comes with proposed cuts. Raises: BadOutline."""
    from .services import proposed_cuts, store_cuts

    cuts = proposed_cuts(repair, findings, by=repair.changed_by)
    return partial(store_cuts, repair, cuts)
