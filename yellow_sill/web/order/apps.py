from yellow_sill.web.frame.apps import StageConfig


class OrderConfig(StageConfig):
    name = "yellow_sill.web.order"
    label = "order"
    default = True
