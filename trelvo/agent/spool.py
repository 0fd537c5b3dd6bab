"""What waits on disk to be sent: every message is written here first, so that neither a crash nor a lost line loses it.

One file a run, one JSON line a message; a second file says how many of them the server has. Each line is flushed to the
disk before it counts, since the machine may go down at any moment.
"""

import json
import os
import time
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

SUFFIX = ".run"


class Spool:
    """Messages of one run, in order. A last line that the crash cut off is not a message."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.sent_path = path.with_suffix(".sent")
        self._file = path.open("ab")
        self._place = (0, 0)
        self._mend()

    @classmethod
    def new(cls, folder: Path) -> "Spool":
        folder.mkdir(parents=True, exist_ok=True)
        return cls(folder / f"{time.strftime('%Y%m%d-%H%M%S')}-{uuid.uuid4().hex[:8]}{SUFFIX}")

    def _mend(self) -> None:
        """Ends a line that was cut off, so that what follows stands on its own."""
        content = self.path.read_bytes()
        if content and not content.endswith(b"\n"):
            self._file.write(b"\n")
            self._file.flush()

    def add(self, message: dict[str, Any]) -> None:
        """Writes a message and waits until the disk has it."""
        self._file.write(json.dumps(message, allow_nan=False).encode() + b"\n")
        self._file.flush()
        os.fsync(self._file.fileno())

    def messages(self, first: int = 0) -> Iterator[tuple[int, dict[str, Any]]]:
        """Whole messages from number `first` on; a line that was cut off keeps its number and is left out.

        Where the last one asked for ended is remembered, so that a long run is not read again from its beginning.
        """
        number, at = self._place if self._place[0] <= first else (0, 0)
        with self.path.open("rb") as lines:
            lines.seek(at)
            while (line := lines.readline()).endswith(b"\n"):
                if number >= first:
                    try:
                        message = json.loads(line)
                    except ValueError:
                        message = None
                    if message is not None:
                        yield number, message
                number += 1
                self._place = (number, lines.tell())

    @property
    def sent(self) -> int:
        """How many lines the server has."""
        try:
            return int(self.sent_path.read_text())
        except (OSError, ValueError):
            return 0

    def mark_sent(self, count: int) -> None:
        """Notes it in a way that a crash leaves either the old number or the new."""
        beside = self.sent_path.with_suffix(".new")
        beside.write_text(str(count))
        beside.replace(self.sent_path)

    def close(self) -> None:
        self._file.close()

    def drop(self) -> None:
        """All of it has arrived."""
        self.close()
        self.path.unlink(missing_ok=True)
        self.sent_path.unlink(missing_ok=True)

    def keep_refused(self) -> Path:
        """Sets aside what the server will not take; nothing is thrown away."""
        self.close()
        self.sent_path.unlink(missing_ok=True)
        return self.path.rename(self.path.with_suffix(".refused"))


def waiting_spools(folder: Path) -> list[Path]:
    """Runs that an earlier agent could not send to the end, oldest first."""
    return sorted(folder.glob(f"*{SUFFIX}")) if folder.exists() else []
