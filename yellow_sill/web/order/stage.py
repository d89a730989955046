from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION

STAGE = Stage(place=68, key="order", label="Plan", url_name="order:plan", bundle=SECTION)
