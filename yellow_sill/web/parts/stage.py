from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION
from .services import book

STAGE = Stage(
    place=60,
    key="parts",
    books=book,
    keeps=lambda repair: "costs" if repair.cost_lines.exists() else "",
    bundle=SECTION,
)
