"""What waits on disk to be sent: every message is written here first, so that neither a crash nor a lost line loses it.

One file a run, one JSON line a message; a second file says how many of them the server has. Each line is flushed to the
disk before it counts, since the machine may go down at any moment. What a full disk does not take waits in memory, in its
place behind the rest, and is written as soon as there is room.
"""

import contextlib
import errno
import json
import os
import threading
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
        # without a buffer: what was not written must not be written later by itself
        self._file = path.open("ab", buffering=0)
        self._held: list[bytes] = []
        self._lock = threading.Lock()
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

    def add(self, message: dict[str, Any]) -> None:
        """Writes a message and waits until the disk has it; on a full disk it is held until there is room."""
        line = json.dumps(message, allow_nan=False).encode() + b"\n"
        with self._lock:
            self._held.append(line)
            self._write_held()

    def _write_held(self) -> None:
        """As much of what is held as there is room for."""
        with contextlib.suppress(OSError):
            while self._held:
                self._write(self._held[0])
                del self._held[0]

    @property
    def unwritten(self) -> int:
        """How many messages the disk has not taken yet."""
        return len(self._held)

    def _write(self, line: bytes) -> None:
        """All of a line, or nothing of it."""
        before = os.fstat(self._file.fileno()).st_size
        try:
            if self._file.write(line) != len(line):
                raise OSError(errno.ENOSPC, "no room for all of it")
            os.fsync(self._file.fileno())
        except OSError:
            self._file.truncate(before)
            raise

    def messages(self, first: int = 0) -> Iterator[tuple[int, dict[str, Any]]]:
        """Whole messages from number `first` on; a line that was cut off keeps its number and is left out.

        Where the last one asked for ended is remembered, so that a long run is not read again from its beginning.
        """
        # what is held is told behind what the file has at the same moment
        with self._lock:
            held, end = list(self._held), self.path.stat().st_size
        number, at = self._place if self._place[0] <= first else (0, 0)
        with self.path.open("rb") as lines:
            lines.seek(at)
            while lines.tell() < end and (line := lines.readline()).endswith(b"\n"):
                if number >= first:
                    try:
                        message = json.loads(line)
                    except ValueError:
                        message = None
                    if message is not None:
                        yield number, message
                number += 1
                self._place = (number, lines.tell())
        for line in held:
            if number >= first:
                yield number, json.loads(line)
            number += 1

    @property
    def sent(self) -> int:
        """How many lines the server has."""
        try:
            return int(self.sent_path.read_text())
        except (OSError, ValueError):
            return 0

    def mark_sent(self, count: int) -> None:
        """Notes it in a way that a crash leaves either the old number or the new; on a full disk the old one stays.

        What is sent twice for that is known to the server by its number.
        """
        beside = self.sent_path.with_suffix(".new")
        with contextlib.suppress(OSError):
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
        """Sets aside what the server will not take, with what was held as far as there is room; `unwritten` says what is lost."""
        with self._lock:
            self._write_held()
        self.close()
        self.sent_path.unlink(missing_ok=True)
        return self.path.rename(self.path.with_suffix(".refused"))


def waiting_spools(folder: Path) -> list[Path]:
    """Runs that an earlier agent could not send to the end, oldest first."""
    return sorted(folder.glob(f"*{SUFFIX}")) if folder.exists() else []
