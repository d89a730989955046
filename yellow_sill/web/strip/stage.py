from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION
from .services import burning, missing


def _tally(vehicle) -> str:
    off = vehicle.strip_parts.filter(refitted_on=None).exclude(state__in=("sold", "scrap")).count()
    return f"{off} off"


STAGE = Stage(
    place=64,
    key="strip",
    label="Strip",
    url_name="strip:register",
    tally=_tally,
    burns=burning,
    lacks=missing,
    bundle=SECTION,
)
