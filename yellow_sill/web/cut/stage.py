from yellow_sill.web.frame.stages import Stage, Tab

from .bundle import SECTION
from .cost_services import expected
from .gate_services import gates, open_sheets, pieces, repair_subjects, repair_work, require_far_sides
from .option_services import to_buy
from .sheet_services import follow

STAGE = Stage(
    place=42,
    key="cut",
    tabs=(
        Tab(place=10, key="options", label="Ways", url_name="cut:options"),
        Tab(place=20, key="cut", label="Cut", url_name="cut:cut", of_cut=True, cuts=True, board=True),
        Tab(place=30, key="around", label="Around", url_name="cut:around", of_cut=True, board=True),
        Tab(place=40, key="release", label="Release", url_name="cut:release"),
    ),
    subjects=repair_subjects,
    works=repair_work,
    pieces=pieces,
    sheets=open_sheets,
    gates=gates,
    forbids=require_far_sides,
    follows=follow,
    lacks=to_buy,
    expects=expected,
    bundle=SECTION,
)
