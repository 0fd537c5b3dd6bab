"""Brings the database up to this version: with a copy beside it first, and not at all where it is from a newer one."""

import sqlite3
from datetime import datetime
from pathlib import Path

from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.db.migrations.executor import MigrationExecutor


def bring_up_to_date(file: Path, now: datetime) -> list[str]:
    """Migrates where that is needed; lines to tell the user. Raises CommandError for a database of a newer Trelvo."""
    is_new = not file.exists() or file.stat().st_size == 0
    executor = MigrationExecutor(connection)
    known = set(executor.loader.disk_migrations)
    if newer := sorted(
        name for app, name in executor.loader.applied_migrations if app == "logbook" and (app, name) not in known
    ):
        raise CommandError(
            f"{file} was written by a newer Trelvo ({newer[-1]}). It is as it was. Start that Trelvo, or a newer one; or "
            "choose another data folder with TRELVO_DATA."
        )
    if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return []
    said = []
    if not is_new:
        copy = file.with_name(f"{file.stem}.before-{now:%Y%m%d-%H%M%S}{file.suffix}")
        copy_database(file, copy)
        said.append(f"The database is brought to this version. A copy of it as it was: {copy}")
    call_command("migrate", verbosity=0)
    return said


def copy_database(file: Path, copy: Path) -> None:
    """A whole copy, whatever is still in the write-ahead log; by the database's own online backup."""
    with sqlite3.connect(file) as source, sqlite3.connect(copy) as target:
        source.backup(target)
    source.close()
    target.close()
