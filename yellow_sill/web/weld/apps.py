from functools import partial

from yellow_sill.web.frame.apps import StageConfig


class WeldConfig(StageConfig):
    name = "yellow_sill.web.weld"
    label = "weld"
    default = True

    def ready(self) -> None:
        from yellow_sill.web.cut.services import cut_redrawn

        super().ready()
        cut_redrawn.connect(_replan)


def _replan(sender, cut, **_more):
    """A line that moved has other tacks; they are worked out here and stored by what is answered. Raises: CoreError."""
    from .services import store_tacks, tacks_of

    weld = getattr(cut, "weld", None)
    return partial(store_tacks, weld, tacks_of(weld)) if weld else None
