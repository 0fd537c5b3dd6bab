"""Notices when the machine's clock is set while Trelvo runs: its time of day moves otherwise than time goes by."""

import time
from datetime import datetime

from django.utils import timezone

# Clocks are drawn right by fractions of a second all day; more than this is a jump.
JUMP_S = 5.0


class ClockWatch:
    """Asked now and then; between two questions the time of day and the time gone by are compared with each other."""

    def __init__(self) -> None:
        self._wall, self._gone = self._now()

    def _now(self) -> tuple[datetime, float]:
        return timezone.now(), time.monotonic()

    def moved_s(self) -> float:
        """By how many seconds the clock was moved since the last question; 0 where it was not. Forwards above zero."""
        wall, gone = self._now()
        moved = (wall - self._wall).total_seconds() - (gone - self._gone)
        self._wall, self._gone = wall, gone
        return moved if abs(moved) > JUMP_S else 0.0
