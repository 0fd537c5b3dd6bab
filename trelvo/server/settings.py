"""Django settings. Everything a user may change comes from the environment; nothing here holds a secret."""

import os
import sys
from pathlib import Path

from trelvo.server.log_file import log_settings
from trelvo.server.opening import insist_on_folder
from trelvo.server.secret import kept_secret

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("TRELVO_DATA") or Path.cwd() / ".trelvo-data").expanduser().resolve()
TESTING = "pytest" in sys.modules

if not TESTING:
    insist_on_folder(DATA)

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
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "trelvo.server.headers.ContentPolicyMiddleware",
    "trelvo.server.refusals.PlainRefusals",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "trelvo.server.compression.CompressionMiddleware",
    "trelvo.server.origin.SameOriginMiddleware",
    "trelvo.server.sessions.Sessions",
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
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
    }
}

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
SESSION_COOKIE_NAME = "trelvo_session"
SESSION_COOKIE_SAMESITE = "Strict"
# Other pages are refused by trelvo.server.origin instead of by tokens in forms (W003). With https nothing else is spoken, so
# there is nothing to lead over (W008); a machine in a club's network has no subdomains and is on no list (W005, W021).
SILENCED_SYSTEM_CHECKS = ["security.W003", "security.W005", "security.W008", "security.W021"]

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

LOG_FILE = DATA / "log" / "trelvo.log"
LOGGING = log_settings(None if TESTING else LOG_FILE)
