from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION
from .round_services import out_count


def _keeps(repair) -> str:
    return "a measuring round" if repair.vehicle.rounds.filter(about=repair.code).exists() else ""


STAGE = Stage(
    place=30,
    key="datums",
    label="Datums",
    url_name="datums:datums",
    tally=out_count,
    keeps=_keeps,
    bundle=SECTION,
)
