from django.apps import AppConfig


class KeepingConfig(AppConfig):
    name = "yellow_sill.web.keeping"
    label = "keeping"
