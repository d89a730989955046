from yellow_sill.web.frame.apps import StageConfig


class WeldConfig(StageConfig):
    name = "yellow_sill.web.weld"
    label = "weld"
    default = True

    def ready(self) -> None:
        from yellow_sill.web.cut.services import cut_redrawn

        super().ready()
        cut_redrawn.connect(_replan)


def _replan(sender, cut, **_more) -> None:
    """A line that moved has other tacks. Raises: CoreError."""
    from .services import replan

    if weld := getattr(cut, "weld", None):
        replan(weld)
