"""Copies of the whole database: listed, made, downloaded, restore; and the check of the database on request."""

import tempfile
import threading
from datetime import datetime
from pathlib import Path

from django.conf import settings
from django.db import connection, connections
from django.http import FileResponse, HttpRequest
from django.utils import timezone
from ninja import File, Router, UploadedFile

from trelvo.api.errors import Problems
from trelvo.api.schema import Schema
from trelvo.bench.queue import hold_after_stop
from trelvo.core.problems import Problem, Refused
from trelvo.exchange.store.copies import Copy, copies_in, copy_file, make_copy, put_back
from trelvo.exchange.store.database_file import Contents, look_over
from trelvo.exchange.store.write_gate import no_other_writes
from trelvo.logbook.commands.live import find_left_open
from trelvo.logbook.models import LiveRun
from trelvo.logbook.store import empty_store

router = Router(tags=["copies"])

# One copy or restore at a time; how far it is, for whoever asks meanwhile.
_busy = threading.Lock()
_share: list[float] = []


class CopyOut(Schema):
    """name: its file in the folder of copies; why: in words what made it"""

    name: str
    why: str
    made_at: datetime
    size_mb: float


class CopiesOut(Schema):
    """folder: where copies lie; working: how much of a copy is done (0 to 1), None where none is being made"""

    folder: str
    log_file: str
    database_mb: float
    working: float | None
    copies: list[CopyOut]


class ContentsOut(Schema):
    """What a database file holds."""

    campaigns: int
    runs: int
    newest: str


class RestoreWish(Schema):
    name: str


def _database() -> Path:
    return Path(str(settings.DATABASES["default"]["NAME"]))


def _out(copy: Copy) -> CopyOut:
    return CopyOut(name=copy.name, why=copy.why, made_at=copy.made_at, size_mb=copy.size / 1e6)


def _contents(found: Contents) -> ContentsOut:
    return ContentsOut(campaigns=found.campaigns, runs=found.runs, newest=found.newest)


@router.get("/copies", response=CopiesOut)
def list_copies(request: HttpRequest) -> CopiesOut:
    """All copies in the data folder, newest first."""
    database = _database()
    return CopiesOut(
        folder=str(settings.DATA / "copies"),
        log_file=str(settings.LOG_FILE),
        database_mb=database.stat().st_size / 1e6 if database.is_file() else 0.0,
        working=_share[-1] if _share else None,
        copies=[_out(copy) for copy in copies_in(settings.DATA)],
    )


@router.post("/copies", response={201: CopyOut, 422: Problems})
def add_copy(request: HttpRequest) -> tuple[int, CopyOut]:
    """Copies the database as it is now, and checks the copy in full."""
    with _alone():
        file = make_copy(_database(), "asked", timezone.now(), _share.append)
    return 201, next(_out(copy) for copy in copies_in(settings.DATA) if copy.name == file.name)


@router.get("/copies/{name}/contents", response={200: ContentsOut, 422: Problems})
def copy_contents(request: HttpRequest, name: str) -> ContentsOut:
    """What a copy holds, before it is restored; the copy is checked in full."""
    return _contents(look_over(copy_file(settings.DATA, name), thorough=True))


@router.get(
    "/copies/{name}/file", response={422: Problems}, openapi_extra={"responses": {200: {"description": "The copy."}}}
)
def download_copy(request: HttpRequest, name: str) -> FileResponse:
    """A copy as a file."""
    return FileResponse(copy_file(settings.DATA, name).open("rb"), as_attachment=True, filename=f"trelvo-{name}")


@router.post("/copies/restore", response={200: ContentsOut, 422: Problems})
def restore_copy(request: HttpRequest, wish: RestoreWish) -> ContentsOut:
    """Puts a copy back in place of the logbook; what is there now is kept as another copy."""
    return _restore(copy_file(settings.DATA, wish.name))


@router.post("/copies/restore-file", response={200: ContentsOut, 413: Problems, 422: Problems})
def restore_file(request: HttpRequest, file: File[UploadedFile]) -> ContentsOut:
    """The same with a file that is sent."""
    with tempfile.NamedTemporaryFile(dir=settings.DATA, prefix=".sent-", suffix=".unfinished") as sent:
        for piece in file.chunks():
            sent.write(piece)
        sent.flush()
        return _restore(Path(sent.name))


@router.post("/database/check", response={200: ContentsOut, 422: Problems})
def check_database(request: HttpRequest) -> ContentsOut:
    """Reads every page and index of the database, and says what it holds."""
    return _contents(look_over(_database(), thorough=True))


def _restore(copy: Path) -> ContentsOut:
    found = look_over(copy, thorough=True, to_restore=True)
    if found.migration != _newest_migration():
        raise Refused(Problem("copy", "copy_of_earlier_version"))
    # from the copy of what is there now to the end nobody else writes: it would be in neither
    with _alone(), no_other_writes(_database()):
        if LiveRun.objects.filter(state=LiveRun.State.OPEN).exists():
            raise Refused(Problem("copy", "run_goes_on"))
        put_back(copy, _database(), timezone.now(), _share.append)
        connections.close_all()
        empty_store()
        find_left_open(timezone.now())
        hold_after_stop()
    return _contents(found)


def _newest_migration() -> str:
    with connection.cursor() as cursor:
        cursor.execute("SELECT max(name) FROM django_migrations WHERE app = 'logbook'")
        return str(cursor.fetchone()[0])


class _alone:
    """One at a time; a second is refused at once."""

    def __enter__(self) -> None:
        if not _busy.acquire(blocking=False):
            raise Refused(Problem("copy", "copy_under_way"))
        _share.append(0.0)

    def __exit__(self, *trouble: object) -> None:
        _share.clear()
        _busy.release()
