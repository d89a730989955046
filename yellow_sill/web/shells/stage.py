from yellow_sill.web.frame.stages import Stage

from .bundle import SECTION

#: The shell itself has no button of its own on the rail: it is opened from the survey.
STAGE = Stage(place=5, key="shells", bundle=SECTION)
