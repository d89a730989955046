from yellow_sill.web.frame.apps import StageConfig


class ProtectConfig(StageConfig):
    name = "yellow_sill.web.protect"
    label = "protect"
    default = True
