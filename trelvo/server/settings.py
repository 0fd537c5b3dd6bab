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

INSTALLED_APPS = ["ninja", "trelvo.logbook", "trelvo.server"]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "trelvo.server.origin.SameOriginMiddleware",
]
ROOT_URLCONF = "trelvo.server.urls"
ASGI_APPLICATION = "trelvo.server.asgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "trelvo.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON;",
        },
    }
}

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False

WEB_DIST = ROOT / "web" / "dist"
STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_DIST
WHITENOISE_INDEX_FILE = True

# Uploads are bounded per address in trelvo.server.bounds, before Django reads a byte.
DATA_UPLOAD_MAX_MEMORY_SIZE = None
FILE_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {"django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False}},
}
