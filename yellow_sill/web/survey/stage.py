from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION
from .panel_services import lacking

STAGE = Stage(
    place=20,
    key="survey",
    label="Survey",
    url_name="survey:survey",
    tally=lambda vehicle: f"{vehicle.findings.count()} found",
    lacks=lacking,
    bundle=SECTION,
)
