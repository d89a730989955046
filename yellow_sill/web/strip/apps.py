from yellow_sill.web.frame.apps import StageConfig


class StripConfig(StageConfig):
    name = "yellow_sill.web.strip"
    label = "strip"
    default = True
