from django.apps import AppConfig

from yellow_sill.web.frame.rail import Stage, add_stage
from yellow_sill.web.frame.strip import add_hold


def _hold(vehicle):
    from .services import strip_hold

    return strip_hold(vehicle)


def _tally(vehicle) -> str:
    from .setups import setup_of

    return f"{len(setup_of(vehicle).braces)} braces"


class HoldConfig(AppConfig):
    name = "yellow_sill.web.hold"
    label = "hold"

    def ready(self) -> None:
        add_hold(_hold)
        add_stage(Stage(place=35, key="hold", label="Hold", url_name="hold:hold", tally=_tally))
