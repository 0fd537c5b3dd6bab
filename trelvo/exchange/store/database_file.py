"""A database file from outside: whether it is one, whole, Trelvo's, and not of a newer version."""

import sqlite3
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from django.apps import apps
from django.db.migrations.loader import MigrationLoader

from trelvo.core.problems import Problem, Refused
from trelvo.exchange.store.cells import foreign_object, wrong_cell

MAGIC = b"SQLite format 3\x00"
# What is in every file of Trelvo's, of any version.
OURS = {"django_migrations", "logbook_campaign", "logbook_run"}


@dataclass(frozen=True)
class Contents:
    """What a database file holds. newest: the time of its newest run as it is stored, empty where there is none"""

    campaigns: int
    runs: int
    newest: str
    migration: str


def look_over(file: Path, *, thorough: bool, to_restore: bool = False) -> Contents:
    """What is in a database file. Raises Refused, saying what is wrong with it; nothing is written.

    thorough: every page and every index is read, which takes some seconds a gigabyte; else only the structure
    to_restore: it is to take the logbook's place, so every cell and trigger is looked at too. A copy of what is in use is made
    whatever it holds
    """
    if not file.is_file():
        raise Refused(Problem("file", "no_such_file", {"file": file}))
    if file.stat().st_size == 0:
        raise Refused(Problem("file", "file_empty", {"file": file}))
    try:
        with file.open("rb") as start:
            begins = start.read(len(MAGIC))
    except OSError as trouble:
        raise Refused(Problem("file", "file_unreadable", {"file": file, "reason": trouble.strerror})) from None
    if begins != MAGIC:
        raise Refused(Problem("file", "not_a_database", {"file": file}))
    try:
        with closing(sqlite3.connect(f"{file.resolve().as_uri()}?mode=ro", uri=True)) as base:
            return _contents(base, file, thorough=thorough, to_restore=to_restore)
    except sqlite3.DatabaseError as trouble:
        raise Refused(_damaged(file, str(trouble))) from None


def _contents(base: sqlite3.Connection, file: Path, *, thorough: bool, to_restore: bool) -> Contents:
    check = "integrity_check(3)" if thorough else "quick_check(3)"
    found = [row[0] for row in base.execute(f"PRAGMA {check}")]
    if found != ["ok"]:
        raise Refused(_damaged(file, str(found[0])))
    if thorough and (lost := base.execute("PRAGMA foreign_key_check").fetchone()):
        raise Refused(_damaged(file, f"a row of {lost[0]} names a row of {lost[2]} that is not there"))
    tables = {row[0] for row in base.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    if not tables >= OURS:
        raise Refused(Problem("file", "not_trelvos_database", {"file": file}))
    applied = [row[0] for row in base.execute("SELECT name FROM django_migrations WHERE app = 'logbook' ORDER BY name")]
    refuse_newer(file, applied)
    if applied and applied[-1] == newest_migration():
        _refuse_other_tables(base, file)
        if to_restore and (foreign := foreign_object(base)):
            raise Refused(_damaged(file, f"it has a {foreign}, which Trelvo did not make"))
        if to_restore and (wrong := wrong_cell(base)):
            raise Refused(_damaged(file, wrong))
    campaigns = base.execute("SELECT count(*) FROM logbook_campaign").fetchone()[0]
    runs, newest = base.execute("SELECT count(*), coalesce(max(started_at), '') FROM logbook_run").fetchone()
    return Contents(campaigns, runs, str(newest)[:16], applied[-1] if applied else "")


def newest_migration() -> str:
    """The logbook's newest migration that this Trelvo knows."""
    disk = MigrationLoader(None, ignore_no_migrations=True).disk_migrations
    return max(name for app, name in disk if app == "logbook")


def _refuse_other_tables(base: sqlite3.Connection, file: Path) -> None:
    """Raises Refused where a file of this version lacks a table or a column."""
    for model in apps.get_models(include_auto_created=True):
        table = model._meta.db_table
        there = {row[1] for row in base.execute(f'PRAGMA table_info("{table}")')}
        lacking = {str(field.column) for field in model._meta.concrete_fields} - there
        if lacking:
            raise Refused(_damaged(file, f"{table} has no column {sorted(lacking)[0]}"))


def refuse_newer(file: Path, applied: list[str]) -> None:
    """Raises Refused where a file was written by a newer Trelvo. applied: the logbook's migrations that it has seen"""
    known = {name for app, name in MigrationLoader(None, ignore_no_migrations=True).disk_migrations if app == "logbook"}
    if newer := sorted(set(applied) - known):
        raise Refused(Problem("file", "written_by_newer", {"file": file, "version": newer[-1]}))


def _damaged(file: Path, trouble: str) -> Problem:
    return Problem("file", "database_damaged", {"file": file, "reason": trouble})
