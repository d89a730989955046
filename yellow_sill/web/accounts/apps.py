from django.apps import AppConfig


def _signed_in(sender, user, request=None, **_more) -> None:
    """When somebody came in last; a database that cannot be written keeps nobody out."""
    from django.contrib.auth.models import update_last_login
    from django.db import OperationalError, transaction

    from .door import remember

    if request is not None:
        remember(request)
    try:
        with transaction.atomic():
            update_last_login(sender, user)
    except OperationalError:
        return


class AccountsConfig(AppConfig):
    name = "yellow_sill.web.accounts"
    label = "accounts"

    def ready(self) -> None:
        from django.contrib.auth.signals import user_logged_in

        user_logged_in.disconnect(dispatch_uid="update_last_login")
        user_logged_in.connect(_signed_in, dispatch_uid="yellow-sill-signed-in")
