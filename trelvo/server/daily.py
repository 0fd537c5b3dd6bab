"""Makes a copy of the database once a day, beside the server's work."""

import logging
import threading
from pathlib import Path

from django.utils import timezone

from trelvo.core.problems import Refused
from trelvo.exchange.store.copies import daily_copy_is_due, make_copy
from trelvo.messages.problems import refusal_text

# Waits a little after the start, so that it costs no one who begins a run; then looks once an hour.
FIRST_S, EVERY_S = 60.0, 3600.0
log = logging.getLogger(__name__)


class DailyCopies:
    """A thread that copies where a copy is due."""

    def __init__(self, database: Path) -> None:
        self.database = database
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._work, name="daily copies", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stop.set()
        self._thread.join(timeout=5)

    def _work(self) -> None:
        wait_s = FIRST_S
        while not self._stop.wait(wait_s):
            wait_s = EVERY_S
            self.copy_if_due()

    def copy_if_due(self) -> Path | None:
        """The copy that was made, None where none was due or none could be made; that is written to the log."""
        try:
            if daily_copy_is_due(self.database.parent, timezone.now()):
                return make_copy(self.database, "daily", timezone.now())
        except Refused as trouble:
            log.warning("No daily copy could be made: %s", refusal_text(trouble))
        except Exception:
            log.exception("The daily copy stumbled; it is tried again in an hour.")
        return None
