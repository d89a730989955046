from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION

STAGE = Stage(
    place=60,
    key="parts",
    keeps=lambda repair: "costs" if repair.cost_lines.exists() else "",
    bundle=SECTION,
)
