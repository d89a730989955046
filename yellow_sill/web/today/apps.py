from yellow_sill.web.frame.apps import StageConfig


class TodayConfig(StageConfig):
    name = "yellow_sill.web.today"
    label = "today"
    default = True
