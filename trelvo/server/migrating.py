"""Looks the database over and brings it up to this version: with a copy beside it first, and not at all where that cannot be."""

import sqlite3
from datetime import datetime
from pathlib import Path

from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor

from trelvo.core.problems import Refused
from trelvo.exchange.store.copies import copies_in, make_copy
from trelvo.exchange.store.database_file import look_over
from trelvo.messages.problems import problem_text
from trelvo.server.opening import DATABASE_TROUBLE


def bring_up_to_date(file: Path, now: datetime) -> list[str]:
    """Migrates where that is needed; lines to tell the user. Raises CommandError where the database cannot be used."""
    if file.exists() and file.stat().st_size:
        try:
            look_over(file, thorough=False)
        except Refused as trouble:
            raise CommandError(_in_words(trouble, file, now), returncode=DATABASE_TROUBLE) from None
    try:
        said = _migrate(file, now)
        file.chmod(0o600)
        return said
    except Refused as trouble:
        raise CommandError(_in_words(trouble, file, now), returncode=DATABASE_TROUBLE) from None
    except (DatabaseError, sqlite3.Error) as trouble:
        raise CommandError(
            f"The database {file} could not be opened ({trouble}). Nothing that was kept is lost. {_advice(file, now)}",
            returncode=DATABASE_TROUBLE,
        ) from None


def _migrate(file: Path, now: datetime) -> list[str]:
    is_new = not file.exists() or file.stat().st_size == 0
    executor = MigrationExecutor(connection)
    if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return []
    said = []
    if not is_new:
        copy = make_copy(file, "before", now)
        said.append(f"The database is brought to this version. A copy of it as it was: {copy}")
    call_command("migrate", verbosity=0)
    return said


def _in_words(trouble: Refused, file: Path, now: datetime) -> str:
    return f"{problem_text(trouble.problems[0]).what} Nothing was changed. {_advice(file, now)}"


def _advice(file: Path, now: datetime) -> str:
    """Which copies there are to restore."""
    if not (kept := copies_in(file.parent)):
        return f"There is no copy in {file.parent / 'copies'}. Start with an empty folder: set TRELVO_DATA."
    newest = kept[0]
    hours = max((now - newest.made_at).total_seconds() / 3600, 0.0)
    age = f"{hours:.0f} h" if hours < 48 else f"{hours / 24:.0f} days"
    path = file.parent / "copies" / newest.name
    return f"The newest copy is {age} old ({newest.why}). To put it back: ./run.py restore {path}"
