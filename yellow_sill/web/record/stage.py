from yellow_sill.web.frame.stages import Stage

STAGE = Stage(place=75, key="record", label="Record", url_name="record:line")
