from yellow_sill.web.frame.stages import Stage

from .arrival_services import require_fitting_part
from .bundle import SECTION
from .need_services import late_today
from .services import book


def _tally(vehicle) -> str:
    count = vehicle.needs.count()
    return f"{count} need{'' if count == 1 else 's'}"


STAGE = Stage(
    place=60,
    key="parts",
    label="Parts",
    url_name="parts:wanted",
    tally=_tally,
    today=late_today,
    forbids=require_fitting_part,
    books=book,
    keeps=lambda repair: "costs" if repair.cost_lines.exists() else "",
    bundle=SECTION,
)
