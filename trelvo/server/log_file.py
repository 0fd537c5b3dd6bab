"""What goes wrong is written down in a file that stays within its bound; the same trouble only once a minute."""

import logging
import logging.handlers
import time
from pathlib import Path
from typing import Any

FILE_BYTES, FILES = 1_000_000, 4
# The same message from the same place within this time is counted, not written.
QUIET_S = 60.0


class OncePerMinute(logging.Filter):
    """Lets the same trouble through once a minute, and says then how often it came."""

    def __init__(self) -> None:
        super().__init__()
        self._seen: dict[tuple[str, str, str], tuple[float, int]] = {}

    def filter(self, record: logging.LogRecord) -> bool:
        kind = record.exc_info[0].__name__ if record.exc_info and record.exc_info[0] else ""
        key = (record.name, str(record.msg), kind)
        now = time.monotonic()
        since, count = self._seen.get(key, (-QUIET_S, 0))
        if now - since < QUIET_S:
            self._seen[key] = (since, count + 1)
            return False
        if len(self._seen) > 500:
            self._seen.clear()
        self._seen[key] = (now, 0)
        if count:
            record.msg = f"{record.msg} (and {count} times more in the minute before)"
        return True


def log_settings(file: Path | None) -> dict[str, Any]:
    """Django's LOGGING: to the console and, where `file` is given, into that file and a few older ones."""
    handlers: dict[str, Any] = {
        "console": {"class": "logging.StreamHandler", "filters": ["once"], "formatter": "short"}
    }
    if file is not None:
        file.parent.mkdir(parents=True, exist_ok=True)
        # what goes wrong may name runs and machines: for whoever runs Trelvo, as the data folder is
        file.parent.chmod(0o700)
        handlers["file"] = {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": str(file),
            "maxBytes": FILE_BYTES,
            "backupCount": FILES,
            "delay": True,
            "encoding": "utf-8",
            "formatter": "dated",
            "filters": ["once_in_file"],
        }
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "filters": {"once": {"()": OncePerMinute}, "once_in_file": {"()": OncePerMinute}},
        "formatters": {
            "short": {"format": "%(levelname)s %(name)s: %(message)s"},
            "dated": {"format": "%(asctime)s %(levelname)s %(name)s: %(message)s"},
        },
        "handlers": handlers,
        "loggers": {
            "django.request": {"handlers": list(handlers), "level": "ERROR", "propagate": False},
            "trelvo": {"handlers": list(handlers), "level": "WARNING", "propagate": False},
        },
    }
