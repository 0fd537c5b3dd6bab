"""Writes refused while the database is replaced: what would be acknowledged meanwhile would be lost with it."""

import sqlite3
import threading
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

from django.db import OperationalError
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.backends.signals import connection_created

RESTORING = "a backup is being restored"
# Statements that change something, or begin a transaction that may.
WRITES = ("INSERT", "UPDATE", "DELETE", "REPLACE", "BEGIN", "CREATE", "DROP", "ALTER")
# So long a writer that has begun may take.
LONGEST_WRITE_S = 20.0

# the thread that replaces the database, which may write while nobody else does; and how many statements of others go on
_owner: list[int] = []
_going_on: set[object] = set()
_gate = threading.Condition()


@contextmanager
def no_other_writes(database: Path) -> Iterator[None]:
    """Refuse every write of other threads of this process until the end; writers that have begun are waited for.

    Raises sqlite3.OperationalError where one takes longer than `LONGEST_WRITE_S`.
    """
    with _gate:
        _owner.append(threading.get_ident())
    try:
        # a statement that was let through may not have reached the database yet
        with _gate:
            if not _gate.wait_for(lambda: not _going_on, LONGEST_WRITE_S):
                raise sqlite3.OperationalError("database is locked")
        if database.is_file():
            with closing(sqlite3.connect(database, timeout=LONGEST_WRITE_S, isolation_level=None)) as base:
                base.execute("BEGIN IMMEDIATE")
                base.execute("ROLLBACK")
        yield
    finally:
        with _gate:
            _owner.clear()


def _refuse_writes(execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
    if not sql.lstrip().upper().startswith(WRITES) or threading.get_ident() in _owner:
        return execute(sql, params, many, context)
    statement = object()
    with _gate:
        if _owner:
            raise OperationalError(RESTORING)
        _going_on.add(statement)
    try:
        return execute(sql, params, many, context)
    finally:
        with _gate:
            _going_on.remove(statement)
            _gate.notify_all()


def _watch(connection: BaseDatabaseWrapper, **_: object) -> None:
    if _refuse_writes not in connection.execute_wrappers:
        connection.execute_wrappers.append(_refuse_writes)


def watch_writes() -> None:
    """Have every connection to the database ask at the gate."""
    connection_created.connect(_watch, dispatch_uid="write gate")
