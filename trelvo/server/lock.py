"""One server on a data folder: a lock that the system lets go of when its holder ends, however that happens."""

import json
import os
from pathlib import Path
from typing import IO

from django.core.management.base import CommandError

NAME = "server.lock"


class FolderLock:
    """Held from `take` on until the process ends. The file says who holds it."""

    def __init__(self, data: Path) -> None:
        self.file = data / NAME
        self._held: IO[str] | None = None

    def take(self, doing: str) -> None:
        """Raises CommandError, saying who has the folder, where another process holds it."""
        held = self.file.open("a+", encoding="utf-8")
        if not _lock(held):
            held.close()
            raise CommandError(
                f"{self.file.parent} is in use by {holder(self.file.parent)}. One Trelvo works on a data folder at a time: "
                "use that one, stop it, or choose another folder with TRELVO_DATA."
            )
        self._held = held
        self.say(doing)

    def say(self, doing: str) -> None:
        """Writes down what the holder does, for whoever asks."""
        if self._held is None:
            return
        self._held.seek(0)
        self._held.truncate()
        json.dump({"process": os.getpid(), "doing": doing}, self._held)
        self._held.flush()

    def release(self) -> None:
        if self._held is not None:
            self._held.close()
            self._held = None


def holder(data: Path) -> str:
    """Who holds a data folder, in words."""
    try:
        said = json.loads((data / NAME).read_text(encoding="utf-8"))
        return f"process {int(said['process'])} ({said['doing']})"
    except (OSError, ValueError, KeyError, TypeError):
        return "another process"


def _lock(file: IO[str]) -> bool:
    try:
        if os.name == "nt":
            import msvcrt

            # a byte far beyond what is written, so that the words can still be read
            file.seek(1_000_000)
            msvcrt.locking(file.fileno(), msvcrt.LK_NBLCK, 1)  # type: ignore[attr-defined,unused-ignore]
        else:
            import fcntl

            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True
