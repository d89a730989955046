from django.apps import AppConfig


class ShellsConfig(AppConfig):
    name = "yellow_sill.web.shells"
    label = "shells"
