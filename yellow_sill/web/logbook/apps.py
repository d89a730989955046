from yellow_sill.web.frame.apps import StageConfig


class LogbookConfig(StageConfig):
    name = "yellow_sill.web.logbook"
    label = "logbook"
    default = True
