from yellow_sill.web.frame.stages import Stage, Tab

from .bundle import SECTION
from .lack_services import lacking_steel, worth_in_hand

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
        Tab(place=65, key="fit", label="Fit", url_name="patch:fit", of_cut=True, cuts=True, board=True),
    ),
    benches=(("Steel in stock", "patch:stock"), ("bench sums", "patch:sums")),
    lacks=lacking_steel,
    in_hand=worth_in_hand,
    bundle=SECTION,
)
