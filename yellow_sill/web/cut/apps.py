from functools import partial

from yellow_sill.web.frame.apps import StageConfig


class CutConfig(StageConfig):
    name = "yellow_sill.web.cut"
    label = "cut"
    default = True

    def ready(self) -> None:
        from yellow_sill.web.repairs.services import repair_opening
        from yellow_sill.web.shells.whole_services import edges_said

        super().ready()
        repair_opening.connect(_propose)
        edges_said.connect(_follow)


def _propose(sender, repair, findings, **_more):
    """A repair that is opened comes with proposed cuts. Raises: BadOutline."""
    from .services import proposed_cuts, store_cuts

    cuts = proposed_cuts(repair, findings, by=repair.changed_by)
    return partial(store_cuts, repair, cuts)


def _follow(sender, panel, **_more):
    """What is said of a sheet's edge counts for the cuts that reach it, and their welds. Raises: CoreError."""
    from .models import Cut
    from .services import follow_stretches

    for cut in Cut.objects.filter(panel=panel).select_related("repair__vehicle", "panel__view"):
        follow_stretches(cut)
