from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION

STAGE = Stage(
    place=40,
    key="repairs",
    label="Repairs",
    url_name="repairs:repairs",
    tally=lambda vehicle: f"{vehicle.repairs.exclude(state='signed off').count()} open",
    bundle=SECTION,
)
