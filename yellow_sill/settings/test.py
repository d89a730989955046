"""Settings of the test runner: nothing of the person's own is touched."""

import os
import tempfile
from pathlib import Path

os.environ.setdefault("YELLOW_SILL_HOME", tempfile.mkdtemp(prefix="yellow-sill-test-"))

from .base import *  # noqa: F403
from .base import DATA, DATABASES

DATABASES["default"]["NAME"] = Path(DATA) / "test.sqlite3"
# A file, not memory: the browser tests serve from a second thread, and WAL is what people run.
DATABASES["default"]["TEST"] = {"NAME": str(Path(DATA) / "test-run.sqlite3")}
DATABASES["default"]["OPTIONS"]["init_command"] = (
    "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF; PRAGMA foreign_keys=ON;"
)
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
TIME_ZONE = "Pacific/Chatham"  # an odd one, so that a naive date shows itself
ALLOWED_HOSTS = ["*"]
WHITENOISE_AUTOREFRESH = True
JOBS_BESIDE = False
