from yellow_sill.web.frame.apps import StageConfig


class PartsConfig(StageConfig):
    name = "yellow_sill.web.parts"
    label = "parts"
    default = True
