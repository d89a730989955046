from django.apps import AppConfig


class PartsConfig(AppConfig):
    name = "yellow_sill.web.parts"
    label = "parts"
