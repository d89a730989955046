from yellow_sill.web.frame.apps import StageConfig


class ShellsConfig(StageConfig):
    name = "yellow_sill.web.shells"
    label = "shells"
    default = True
