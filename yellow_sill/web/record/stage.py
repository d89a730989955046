from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION

STAGE = Stage(place=75, key="record", label="Record", url_name="record:line", bundle=SECTION)
