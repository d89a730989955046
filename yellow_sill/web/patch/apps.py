from yellow_sill.web.frame.apps import StageConfig


class PatchConfig(StageConfig):
    name = "yellow_sill.web.patch"
    label = "patch"
    default = True
