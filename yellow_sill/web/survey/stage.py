from yellow_sill.web.frame.stages import Stage

STAGE = Stage(
    place=20,
    key="survey",
    label="Survey",
    url_name="survey:survey",
    tally=lambda vehicle: f"{vehicle.findings.count()} found",
)
