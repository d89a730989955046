from yellow_sill.web.frame.apps import StageConfig


class HoldConfig(StageConfig):
    name = "yellow_sill.web.hold"
    label = "hold"
    default = True
