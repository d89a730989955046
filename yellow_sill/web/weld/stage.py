from yellow_sill.web.frame.stages import Stage, Tab

from .bundle import SECTION
from .services import hot_work_open

STAGE = Stage(
    place=46,
    key="weld",
    tabs=(Tab(place=70, key="weld", label="Weld", url_name="weld:weld", of_cut=True, cuts=True, board=True),),
    facts=lambda repair, day: {"hot_work": hot_work_open(repair, day)},
    bundle=SECTION,
)
