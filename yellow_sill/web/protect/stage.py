from yellow_sill.web.frame.stages import Stage, Tab

from .bundle import SECTION
from .clock_services import alerts, running_today
from .closing_services import closing_gate
from .need_services import short

STAGE = Stage(
    place=48,
    key="protect",
    tabs=(Tab(place=75, key="protect", label="Protect", url_name="protect:protect"),),
    benches=(("products and the garage's warmth", "protect:products"),),
    gates=closing_gate,
    alerts=alerts,
    lacks=short,
    today=running_today,
    bundle=SECTION,
)
