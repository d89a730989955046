from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION
from .services import strip_hold
from .setups import setup_of

STAGE = Stage(
    place=35,
    key="hold",
    label="Hold",
    url_name="hold:hold",
    tally=lambda vehicle: f"{len(setup_of(vehicle).braces)} braces",
    hold=strip_hold,
    bundle=SECTION,
)
