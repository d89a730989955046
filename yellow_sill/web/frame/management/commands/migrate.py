"""``migrate``: a database that is empty gets its tables as they are today at once; one with tables is brought up step by step."""

from typing import Any

from django.apps import apps
from django.core.management.commands import migrate
from django.db import DEFAULT_DB_ALIAS, connections
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder


class Command(migrate.Command):
    """Django's own, which takes a minute for the hundred and sixty tables of a first start: it works every model out anew after every step.

    So a migration that fills in data is written for databases that have some; a first start does not run it.
    """

    def handle(self, *args: Any, **options: Any) -> None:
        alias = options.get("database") or DEFAULT_DB_ALIAS
        if not options.get("app_label") and not connections[alias].introspection.table_names():
            _make_tables(alias)
        super().handle(*args, **options)


def _make_tables(alias: str) -> None:
    """Make every table of this build and note its migrations as done, wholly or not at all."""
    connection = connections[alias]
    loader = MigrationLoader(connection)
    with connection.schema_editor() as editor:
        for app in loader.migrated_apps:
            for model in apps.get_app_config(app).get_models():
                if model._meta.can_migrate(connection):
                    editor.create_model(model)
        recorder = MigrationRecorder(connection)
        recorder.ensure_schema()
        for app, name in loader.disk_migrations:
            recorder.record_applied(app, name)
