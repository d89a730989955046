"""Settings of ``./yellow-sill run``: one person's own database and photos."""

import hashlib
import os
from datetime import timedelta
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

from yellow_sill.home.places import Home, data_folder, secret_key

ROOT = Path(__file__).resolve().parent.parent.parent
PACKAGE = ROOT / "yellow_sill"


def statics_mark(package: Path) -> str:
    """A short mark of all scripts, styles and pictures as they are: part of their address, so that a browser may keep them for good."""
    files = sorted(path for path in package.glob("**/static/**/*") if path.is_file())
    told = [f"{path.relative_to(package)} {path.stat().st_size} {path.stat().st_mtime_ns}" for path in files]
    return hashlib.sha256("\n".join(told).encode()).hexdigest()[:10]


DATA = data_folder()
#: The data folder as backups and the start see it; None where it is not a person's own.
HOME: Home | None = Home.at(DATA)
SECRET_KEY = secret_key(DATA)
DEBUG = False
DEMO = False
ALLOWED_HOSTS = [
    host for host in os.environ.get("YELLOW_SILL_HOSTS", "localhost,127.0.0.1,[::1]").split(",") if host
]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "csp",
    "axes",
    "simple_history",
    *(
        f"yellow_sill.web.{app}"
        for app in (
            "frame",
            "accounts",
            "keeping",
            "shells",
            "survey",
            "datums",
            "hold",
            "repairs",
            "cut",
            "patch",
            "weld",
            "protect",
            "parts",
            "strip",
            "logbook",
            "order",
            "record",
            "today",
        )
    ),
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "yellow_sill.web.frame.middleware.TextCompressedMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "yellow_sill.web.accounts.middleware.NotKeptMiddleware",
    "yellow_sill.web.shells.unchanged.UnchangedMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "yellow_sill.web.accounts.middleware.OwnerMiddleware",
    "yellow_sill.web.frame.once.OnceMiddleware",
    "yellow_sill.web.accounts.middleware.PreferencesMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "yellow_sill.web.frame.middleware.CoreErrorMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "yellow_sill.web.urls"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "builtins": ["django.templatetags.i18n", "yellow_sill.web.frame.templatetags.figures"],
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "csp.context_processors.nonce",
                "yellow_sill.web.frame.context.frame",
                "yellow_sill.web.shells.context.role",
            ],
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "yellow-sill.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON; PRAGMA temp_store=MEMORY;",
        },
    }
}
#: Long work runs beside the pages; tests do it when they want it.
JOBS_BESIDE = True
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
#: So many wrong passwords for one name from one machine shut the door for so long. Counted in memory: a full disk keeps nobody out.
AXES_FAILURE_LIMIT, AXES_COOLOFF_TIME = 8, timedelta(minutes=5)
AXES_HANDLER = "axes.handlers.cache.AxesCacheHandler"
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_LOCKOUT_CALLABLE = "yellow_sill.web.accounts.views.shut"
AXES_VERBOSE = AXES_ENABLE_ADMIN = False
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "OPTIONS": {"MAX_ENTRIES": 20_000},
    }
}
SILENCED_SYSTEM_CHECKS = ["axes.W001"]  # one process serves all: what it counts in memory is all there is
#: What a first visit must know where others can reach this address; empty where they cannot.
WELCOME_CODE = ""
LOGIN_URL = "accounts:sign_in"
LOGIN_REDIRECT_URL = "today:home"
LOGOUT_REDIRECT_URL = "accounts:sign_in"
SESSION_ENGINE = "yellow_sill.web.accounts.sessions"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 60
#: How others reach this: empty where they cannot, "https", or "http" where the person asked for that.
SHARED = os.environ.get("YELLOW_SILL_SHARED", "")
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SHARED == "https"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "yellow_sill.web.frame.views.expired"

LANGUAGE_CODE = "en-gb"
USE_I18N = True
LOCALE_PATHS = [PACKAGE / "locale"]
USE_TZ = True
TIME_ZONE = os.environ.get("TZ", "UTC").lstrip(":") or "UTC"
DATE_INPUT_FORMATS = ["%Y-%m-%d", "%d.%m.%Y", "%d/%m/%Y", "%d %b %Y"]

STATIC_URL = f"/static/{statics_mark(PACKAGE)}/"
WHITENOISE_USE_FINDERS = True
WHITENOISE_IMMUTABLE_FILE_TEST = lambda path, url: True  # noqa: E731
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
MEDIA_ROOT = DATA / "photos"
DEVICES = {  # host:port of a thickness gauge, a digital tape and a laser level's receiver, docs/formats.md
    "gauge": os.environ.get("YELLOW_SILL_GAUGE", "127.0.0.1:8499"),
    "tape": os.environ.get("YELLOW_SILL_TAPE", "127.0.0.1:8489"),
    "level": os.environ.get("YELLOW_SILL_LEVEL", "127.0.0.1:8479"),
}

DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024  # text fields of one form
FILE_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024  # larger files go to a temporary file
DATA_UPLOAD_MAX_NUMBER_FIELDS = 3000

X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF, NONCE],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django": {"handlers": ["console"], "level": "ERROR"}, "waitress.queue": {"level": "ERROR"}},
}
