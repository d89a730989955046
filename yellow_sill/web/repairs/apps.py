from yellow_sill.web.frame.apps import StageConfig


class RepairsConfig(StageConfig):
    name = "yellow_sill.web.repairs"
    label = "repairs"
    default = True
