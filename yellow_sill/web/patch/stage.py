from yellow_sill.web.frame.stages import Stage, Tab

from .bundle import SECTION

STAGE = Stage(
    place=44,
    key="patch",
    tabs=(
        Tab(
            place=50,
            key="transfer",
            label="Marks",
            url_name="patch:transfer",
            of_cut=True,
            cuts=True,
            board=True,
        ),
        Tab(place=60, key="patch", label="Patch", url_name="patch:patch", of_cut=True, cuts=True, board=True),
    ),
    bundle=SECTION,
)
