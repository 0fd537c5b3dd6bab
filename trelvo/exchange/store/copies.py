"""Copies of the database: made while it is in use, kept for a week, and restore.

A copy is one file and holds everything that Trelvo keeps: logbook, logs, queue, tokens, accounts. Method: the database's own
online backup, which takes in what is still in the write-ahead log, then a full check of the copy before it gets its name.
"""

import contextlib
import re
import shutil
import sqlite3
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from trelvo.core.problems import Problem, Refused
from trelvo.exchange.store.database_file import Contents, look_over

FOLDER = "copies"
# Automatic copies: one a day for a week; what was there before a migration or a restore, the last few.
DAILY_KEPT, BEFORE_KEPT = 7, 5
DAILY_AFTER = timedelta(hours=24)
PAGES_AT_ONCE = 2000
# What has to be free besides the copy itself.
SPARE_BYTES = 64 * 1024 * 1024
_NAME = re.compile(r"^(daily|before|replaced|asked)-(\d{8}-\d{6})(?:-\d+)?\.sqlite3$")
MEANING = {
    "daily": "made by itself, once a day",
    "before": "before a newer Trelvo changed the database",
    "replaced": "what was there before a copy was put back",
    "asked": "made when asked for",
}

Progress = Callable[[float], None]


@dataclass(frozen=True)
class Copy:
    """A copy in the data folder. why: in words what made it"""

    name: str
    why: str
    made_at: datetime
    size: int


def copies_in(data: Path) -> list[Copy]:
    """All copies of a data folder, newest first."""
    found = []
    for file in (data / FOLDER).glob("*.sqlite3"):
        if match := _NAME.match(file.name):
            made_at = datetime.strptime(match[2], "%Y%m%d-%H%M%S").replace(tzinfo=UTC)
            found.append(Copy(file.name, MEANING[match[1]], made_at, file.stat().st_size))
    return sorted(found, key=lambda copy: (copy.made_at, copy.name), reverse=True)


def copy_file(data: Path, name: str) -> Path:
    """The file of a copy by its name. Raises Refused for anything that is no copy there."""
    file = data / FOLDER / name
    if not _NAME.match(name) or not file.is_file():
        raise Refused(Problem("copy", "no_such_copy"))
    return file


def make_copy(database: Path, kind: str, now: datetime, progress: Progress = lambda share: None) -> Path:
    """Copies the database into its folder of copies, checks the copy, and clears away older ones of its kind.

    kind: daily, before, replaced or asked; progress: told how much of it is done, 0 to 1
    """
    folder = database.parent / FOLDER
    stamp = f"{kind}-{now.astimezone(UTC):%Y%m%d-%H%M%S}"
    target = folder / f"{stamp}.sqlite3"
    number = 1
    while target.exists():
        number += 1
        target = folder / f"{stamp}-{number}.sqlite3"
    copy_to(database, target, progress)
    _rotate(folder)
    return target


def copy_to(database: Path, target: Path, progress: Progress = lambda share: None) -> Contents:
    """A whole, checked copy under the name `target`; it appears only once it is complete.

    Raises Refused where there is no room, the place cannot be written, or the copy is not whole.
    """
    if target.is_dir():
        raise Refused(Problem("file", "target_is_a_folder", {"file": target}))
    unfinished = target.with_name(f".{target.name}.unfinished")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        size = database.stat().st_size
        free = shutil.disk_usage(target.parent).free
        if free < size + SPARE_BYTES:
            raise Refused(
                Problem(
                    "file",
                    "no_room_for_copy",
                    {"needed": _megabytes(size), "free": _megabytes(free), "folder": target.parent},
                )
            )
        _remove(unfinished)
        unfinished.touch(mode=0o600)
        with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(unfinished)) as copy:
            source.backup(copy, pages=PAGES_AT_ONCE, progress=lambda _, left, all_: progress(1 - left / max(all_, 1)))
            # one file, without a log of writes beside it
            copy.execute("PRAGMA journal_mode=DELETE")
        contents = look_over(unfinished, thorough=True)
        unfinished.replace(target)
    except (OSError, sqlite3.Error) as trouble:
        raise Refused(Problem("file", "copy_not_written", {"file": target, "reason": trouble})) from trouble
    finally:
        with contextlib.suppress(OSError):
            _remove(unfinished)
    return contents


def _remove(unfinished: Path) -> None:
    """A file that is still being written, and what SQLite keeps beside it: also what a killed copy left under this name."""
    for suffix in ("", "-journal", "-wal", "-shm"):
        unfinished.with_name(unfinished.name + suffix).unlink(missing_ok=True)


def put_back(copy: Path, database: Path, now: datetime, progress: Progress = lambda share: None) -> Path | None:
    """Replaces what is in the database by a copy; where what was there is kept (None where there was nothing).

    Works on the open database: whoever reads it sees either all of the old or all of the new. Raises Refused before anything
    is changed where the copy is not whole, not Trelvo's, or of a newer version.
    """
    look_over(copy, thorough=True, to_restore=True)
    kept = make_copy(database, "replaced", now) if database.is_file() and database.stat().st_size else None
    database.parent.mkdir(parents=True, exist_ok=True)
    try:
        with closing(sqlite3.connect(copy)) as source, closing(sqlite3.connect(database, timeout=20)) as base:
            source.backup(base, pages=PAGES_AT_ONCE, progress=lambda _, left, all_: progress(1 - left / max(all_, 1)))
            base.execute("PRAGMA journal_mode=WAL")
    except (OSError, sqlite3.Error) as trouble:
        raise Refused(Problem("file", "copy_not_put_back", {"file": copy.name, "reason": trouble})) from trouble
    return kept


def daily_copy_is_due(data: Path, now: datetime) -> bool:
    made = [copy.made_at for copy in copies_in(data) if copy.name.startswith("daily-")]
    # a clock that was set back must not keep it from being made
    return not made or not timedelta(0) <= now - made[0] < DAILY_AFTER


def clear_unfinished(data: Path) -> int:
    """Removes what a killed copy or upload left behind; how many files."""
    # with the journal that SQLite keeps beside a file it writes
    left = [*(data / FOLDER).glob(".*.unfinished*"), *data.glob(".*.unfinished*")]
    for file in left:
        file.unlink(missing_ok=True)
    return len(left)


def _rotate(folder: Path) -> None:
    for kind, most in (("daily", DAILY_KEPT), ("before", BEFORE_KEPT), ("replaced", BEFORE_KEPT)):
        files = sorted((file for file in folder.glob(f"{kind}-*.sqlite3") if _NAME.match(file.name)), reverse=True)
        for file in files[most:]:
            file.unlink(missing_ok=True)


def _megabytes(size: int) -> str:
    return f"{size / 1e6:.0f} MB"
