"""Settings of ``./yellow-sill demo``: a database of its own, rebuilt at each start, signed in already."""

import os
from pathlib import Path

from yellow_sill.home.places import data_folder

from .base import *  # noqa: F403
from .base import DATABASES, INSTALLED_APPS, MIDDLEWARE

DEMO = True
HOME = None
DATA = Path(os.environ.get("YELLOW_SILL_DEMO_HOME") or data_folder() / "demo")
DATABASES["default"]["NAME"] = DATA / "demo.sqlite3"
DATABASES["default"]["OPTIONS"]["init_command"] = (
    "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF; PRAGMA foreign_keys=ON;"
)
MEDIA_ROOT = DATA / "photos"
SESSION_COOKIE_NAME = "demo_sessionid"
MIDDLEWARE = [*MIDDLEWARE]
MIDDLEWARE.insert(
    MIDDLEWARE.index("django.contrib.auth.middleware.AuthenticationMiddleware") + 1,
    "yellow_sill.web.accounts.middleware.DemoOwnerMiddleware",
)
#: The demo's database is always a new one: its tables are made in one go.
MIGRATION_MODULES = {
    app.rpartition(".")[2]: None for app in INSTALLED_APPS if "yellow_sill" in app or "django" in app
}
