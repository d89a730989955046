from yellow_sill.web.frame.stages import Stage

STAGE = Stage(place=10, key="today", label="Today", url_name="today:today")
