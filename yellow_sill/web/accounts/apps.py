from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "yellow_sill.web.accounts"
    label = "accounts"
