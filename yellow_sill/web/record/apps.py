from yellow_sill.web.frame.apps import StageConfig


class RecordConfig(StageConfig):
    name = "yellow_sill.web.record"
    label = "record"
    default = True
