"""Django settings. Everything a user may change comes from the environment; nothing here holds a secret."""

import os
import sys
from pathlib import Path

from trelvo.server.secret import kept_secret

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("TRELVO_DATA") or Path.cwd() / ".trelvo-data").expanduser().resolve()
TESTING = "pytest" in sys.modules

DEBUG = False
SECRET_KEY = "only for tests" if TESTING else kept_secret(DATA)
# The server listens on loopback only; a page that resolves another name to this machine is refused.
ALLOWED_HOSTS = ["localhost", "127.0.0.1", "[::1]"]

# True when Trelvo is served to other machines: `serve` sets it, together with the names it answers to.
ACCOUNTS = False

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "django.contrib.sessions",
    "ninja",
    "trelvo.logbook",
    "trelvo.server",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "trelvo.server.compression.CompressionMiddleware",
    "trelvo.server.origin.SameOriginMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "trelvo.server.accounts.AccountsMiddleware",
]
ROOT_URLCONF = "trelvo.server.urls"
ASGI_APPLICATION = "trelvo.server.asgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "trelvo.sqlite3",
        # each thread of the pool keeps its connection
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON;",
        },
    }
}

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
SESSION_COOKIE_NAME = "trelvo_session"

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False

# in the repository as Vite builds them; in an installed package inside it
INSTALLED_SCREENS = ROOT / "trelvo" / "screens"
WEB_DIST = INSTALLED_SCREENS if INSTALLED_SCREENS.is_dir() else ROOT / "web" / "dist"
STATIC_URL = "/static/"
# tests of the API need no screens
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.is_dir() or not TESTING else None
WHITENOISE_INDEX_FILE = True
# the build puts a mark of its content into each name, so such a file never changes
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8}\.\w+$"

# Uploads are bounded per address in trelvo.server.bounds, before Django reads a byte.
DATA_UPLOAD_MAX_MEMORY_SIZE = None
FILE_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False}},
}
