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

# the thread that replaces the database, which may write while nobody else does
_owner: list[int] = []


@contextmanager
def no_other_writes(database: Path) -> Iterator[None]:
    """Refuse every write of other threads of this process until the end; writers that have begun are waited for.

    Raises sqlite3.OperationalError where one takes longer than `LONGEST_WRITE_S`.
    """
    _owner.append(threading.get_ident())
    try:
        if database.is_file():
            with closing(sqlite3.connect(database, timeout=LONGEST_WRITE_S, isolation_level=None)) as base:
                base.execute("BEGIN IMMEDIATE")
                base.execute("ROLLBACK")
        yield
    finally:
        _owner.clear()


def _refuse_writes(execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
    if _owner and _owner[0] != threading.get_ident() and sql.lstrip().upper().startswith(WRITES):
        raise OperationalError(RESTORING)
    return execute(sql, params, many, context)


def _watch(connection: BaseDatabaseWrapper, **_: object) -> None:
    if _refuse_writes not in connection.execute_wrappers:
        connection.execute_wrappers.append(_refuse_writes)


def watch_writes() -> None:
    """Have every connection to the database ask at the gate."""
    connection_created.connect(_watch, dispatch_uid="write gate")
