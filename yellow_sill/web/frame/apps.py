from django.apps import AppConfig


class FrameConfig(AppConfig):
    name = "yellow_sill.web.frame"
    label = "frame"
