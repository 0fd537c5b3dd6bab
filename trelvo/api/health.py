import contextlib
import importlib.metadata
import os
import re
import shutil
import sqlite3
import tempfile
import threading
import time
from email.parser import Parser
from pathlib import Path

from django.conf import settings
from django.http import HttpRequest
from ninja import Router

from trelvo.api.schema import Schema

router = Router(tags=["health"])

# Less free than this is said; nothing is refused yet.
LOW_BYTES = 500 * 1024 * 1024
# What was found out is answered again for so long, so that many who ask cost nothing.
FRESH_S = 2.0
_lock = threading.Lock()
_last: tuple[float, "Health"] | None = None


class Health(Schema):
    """status: ready, or in a word what is wrong; writable: whether something can be stored now; free_mb: room on the disk"""

    status: str
    writable: bool
    free_mb: int
    words: str


@router.get("/health", response=Health)
def health(request: HttpRequest) -> Health:
    """Whether the database can be read and the disk written, and how much room there is. Never waits for a busy database."""
    global _last
    with _lock:
        if _last is None or time.monotonic() - _last[0] > FRESH_S:
            _last = (time.monotonic(), _look())
        return _last[1]


def _look() -> Health:
    free = shutil.disk_usage(settings.DATA).free // 1_000_000 if Path(settings.DATA).is_dir() else 0
    name = settings.DATABASES["default"]["NAME"]
    try:
        _read(str(name))
    except sqlite3.Error as trouble:
        return Health(
            status="unreadable", writable=False, free_mb=free, words=f"The database cannot be read ({trouble})."
        )
    try:
        _write(Path(settings.DATA))
    except OSError as trouble:
        words = f"Nothing can be written into the data folder ({trouble.strerror}). What was stored is safe."
        return Health(status="not writable", writable=False, free_mb=free, words=words)
    if free * 1_000_000 < LOW_BYTES:
        return Health(status="low on room", writable=True, free_mb=free, words=f"Only {free} MB are free on the disk.")
    return Health(status="ready", writable=True, free_mb=free, words="")


def _read(name: str) -> None:
    """One row of the database by a connection of its own that waits for nobody."""
    uri = name if name.startswith("file:") else f"{Path(name).resolve().as_uri()}?mode=ro"
    with contextlib.closing(sqlite3.connect(uri, uri=True, timeout=0.05)) as base:
        base.execute("SELECT count(*) FROM sqlite_master").fetchone()


def _write(folder: Path) -> None:
    with tempfile.NamedTemporaryFile(dir=folder, prefix=".write-") as attempt:
        attempt.write(b"x" * 8192)
        attempt.flush()
        os.fsync(attempt.fileno())


class ShippedOut(Schema):
    """A package of others' that the server is built on."""

    name: str
    version: str
    licence: str


@router.get("/licences", response=list[ShippedOut])
def licences(request: HttpRequest) -> list[ShippedOut]:
    """The Python packages that Trelvo runs on, with their licences as they name them."""
    found = []
    for name in _needed():
        said = Parser().parsestr(importlib.metadata.distribution(name).read_text("METADATA") or "", headersonly=True)
        classifiers = [
            line.rsplit(" :: ", 1)[-1] for line in said.get_all("Classifier", []) if line.startswith("License ::")
        ]
        licence = (
            said.get("License-Expression")
            or "; ".join(classifiers)
            or (said.get("License") or "not named").splitlines()[0]
        )
        found.append(ShippedOut(name=said["Name"], version=said["Version"], licence=licence[:80]))
    return sorted(found, key=lambda one: one.name.casefold())


def _needed() -> list[str]:
    """The packages that Trelvo asks for: from the list in the repository, or from the installed package."""
    listed = settings.ROOT / "requirements" / "run.txt"
    lines = listed.read_text().splitlines() if listed.is_file() else importlib.metadata.requires("trelvo") or []
    names = [match[0] for line in lines if (match := re.match(r"[A-Za-z0-9._-]+", line))]
    return [name for name in names if _is_there(name)]


def _is_there(name: str) -> bool:
    try:
        importlib.metadata.distribution(name)
    except importlib.metadata.PackageNotFoundError:
        return False
    return True
